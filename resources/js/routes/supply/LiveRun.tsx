import { useMutation } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useOutletContext, useParams } from 'react-router';
import { toast } from 'sonner';
import { api, ApiError, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { say, tone } from '@/lib/sound';
import { ticker } from '@/lib/ticker';
import { Basis, Button, Field, Go, Waiting } from '@/parts/basics';
import { SimulatedHand } from '@/parts/SimulatedHand';
import { hand } from '@/lib/instruments';

const TimeChart = lazy(() => import('@/parts/TimeChart'));
type Live = components['schemas']['LiveRun'];
type Sample = Live['samples'][number];

const clock = (s: number) =>
    s >= 3600 ? `${Math.floor(s / 3600)} h ${Math.floor((s % 3600) / 60)} min` : `${Math.floor(s / 60)} min ${String(Math.floor(s % 60)).padStart(2, '0')} s`;

export function Component() {
    const { run } = useParams();
    const job = useOutletContext<Job>();
    return <Watch key={run} id={run!} job={job} />;
}

/** Asks four times a second, from a worker's clock; the asking itself is what tells the runner that somebody watches. */
function useRun(id: string) {
    const [live, setLive] = useState<Live | null>(null);
    const [away, setAway] = useState<string | null>(null);
    const kept = useRef<{ samples: Sample[]; next: number }>({ samples: [], next: 0 });
    useEffect(() => {
        let busy = false;
        let over = false;
        const once = async () => {
            if (busy || over) return;
            busy = true;
            try {
                const answer = await unwrap(api.GET('/api/runs/{run}', { params: { path: { run: id }, query: { from: kept.current.next } } }));
                kept.current = { samples: [...kept.current.samples, ...answer.samples].slice(-20_000), next: answer.next };
                over = answer.run.ended_at !== null;
                setLive({ ...answer, samples: kept.current.samples });
                setAway(null);
            } catch (e) {
                setAway(e instanceof ApiError ? e.message : String(e));
            } finally {
                busy = false;
            }
        };
        void once();
        return ticker(250, () => void once());
    }, [id]);
    return { live, away };
}

function Watch({ id, job }: { id: string; job: Job }) {
    const { live, away } = useRun(id);
    const may = useMay('recover');
    const [why, setWhy] = useState('');
    const tell = useMutation({
        mutationFn: (body: { do: 'confirm' | 'resume' | 'clipped' | 'abort' | 'typed'; why?: string; v?: number; a?: number; c?: number }) =>
            unwrap(api.POST('/api/runs/{run}/say', { params: { path: { run: id }, header: key() }, body })),
        onError: (e) => toast.error(e.message),
    });
    const state = live?.state ?? null;
    const alarm = state?.paused ? 'paused' : state?.over ? 'over' : '';
    useEffect(() => {
        if (alarm && live?.run.ended_at === null) {
            tone('alarm');
            say(state?.paused ? `Paused. ${state.paused}` : (state?.text ?? ''));
        }
    }, [alarm]); // eslint-disable-line react-hooks/exhaustive-deps
    const asks = state !== null && !state.over && (state.confirm_in_s ?? 1e9) < 120;
    useEffect(() => {
        if (asks) {
            tone('question');
            say('Say that you are here');
        }
    }, [asks]);
    if (!live) return away ? <p className="p-6 text-ember">{away}</p> : <Waiting what="Opening the run ..." />;
    const title =
        live.run.kind === 'bypass'
            ? 'Past the board: logged exception'
            : live.run.kind === 'recovery'
              ? `Group ${live.run.group}, brought up`
              : `Bringing the pack level${state ? `: group ${state.group}` : ''}`;
    if (!state) return <Waiting what="The runner takes it up ..." />;
    const stopped = state.over && state.stopped_by !== null && state.stopped_by !== 'done';
    const simulated = (state.scale ?? 1) > 1 || (live.plan['meter'] as { name?: string } | null)?.name?.includes('simulated');
    const every = Math.max(1, Math.floor(live.samples.length / 600));
    const points = live.samples.filter((s, i) => s.v !== null && (i % every === 0 || i === live.samples.length - 1));
    const v = state.live?.v ?? state.v;
    const a = state.output ? (state.live?.a ?? state.a) : 0;
    const c = state.live?.c ?? state.c;
    return (
        <div className="p-5 grid gap-4">
            <div className="flex flex-wrap gap-x-6 gap-y-1 items-baseline">
                <h2 className="text-2xl">{title}</h2>
                <span className="text-muted">
                    started by {live.run.by}, {clock(state.run_s)}
                    {(state.scale ?? 1) > 1 && `, time runs ${state.scale} times`}
                </span>
                <Go to={`/jobs/${job.id}/supply`} look="quiet">
                    All runs
                </Go>
            </div>
            <div
                role="status"
                className={`sheet p-4 flex flex-wrap items-center gap-x-6 gap-y-2 ${stopped || state.paused ? '!border-[3px] !border-ember' : ''}`}
            >
                <b className={`text-4xl ${stopped || state.paused ? 'text-ember' : ''}`} data-testid="phase">
                    {stopped ? '⬣ ' : state.paused ? '❚❚ ' : state.over ? '✓ ' : state.output ? '▶ ' : '○ '}
                    {state.paused ? 'paused, output off' : state.phase_word}
                </b>
                <span className="text-xl grow">{state.paused ?? state.text ?? ''}</span>
                <span className="text-xl">{state.output ? '● output on' : '○ output off'}</span>
            </div>
            <dl className="grid grid-cols-2 lg:grid-cols-4 gap-4">
                {(
                    [
                        [
                            'Volts',
                            v === null || v === undefined ? '-.---' : v.toFixed(3),
                            state.expected_v != null && `healthy: ${state.expected_v.toFixed(3)}`,
                        ],
                        ['Amps', a === null || a === undefined ? '-.--' : a.toFixed(2), state.order.on && `set ${state.order.amps.toFixed(2)}`],
                        ['degC', c === null || c === undefined ? '-.-' : c.toFixed(1), null],
                        ['Ah put in', state.ah_in.toFixed(2), state.share !== null && `${(100 * state.share).toFixed(1)} % of its capacity`],
                    ] as const
                ).map(([name, value, note]) => (
                    <div key={name} className="sheet p-3">
                        <dt className="eyebrow">{name}</dt>
                        <dd className="digits text-[clamp(2.6rem,6vw,5rem)] leading-none">{value}</dd>
                        {note && <dd className="text-muted">{note}</dd>}
                    </div>
                ))}
            </dl>
            <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_340px] items-start">
                <section aria-label="Curve" className="grid gap-1">
                    {points.length > 2 && (
                        <Suspense fallback={<Waiting what="Drawing ..." />}>
                            <TimeChart
                                time={points.map((p) => p.t)}
                                groups={[points.map((p) => p.v!), points.map((p) => p.x as number)]}
                                strong={1}
                                label={`Volts of the group over ${clock(state.run_s)}: now ${v?.toFixed(3) ?? 'not read'}`}
                                height={300}
                            />
                        </Suspense>
                    )}
                    <p className="text-muted">
                        Thick: measured. Thin: what a healthy group would do. <Basis of="predicted" />
                    </p>
                    <ol className="text-[0.95rem]">
                        {state.log.map((l) => (
                            <li key={`${l.at}${l.text}`}>
                                <span className="digits text-muted">{clock(l.at)}</span> {l.text}
                            </li>
                        ))}
                    </ol>
                </section>
                <section aria-label="Rules and hands" className="grid gap-3">
                    {state.items.length > 0 && (
                        <ul>
                            {state.items.map((i) => (
                                <li key={i.group} className="flex justify-between border-b border-line py-1">
                                    <span>
                                        {i.state === 'full' ? '◉' : i.state === 'filling' ? '◐' : '○'} group {i.group}, {i.state}
                                    </span>
                                    <span className="digits">
                                        {i.ah.toFixed(2)} of {i.of_ah.toFixed(2)} Ah
                                    </span>
                                </li>
                            ))}
                            {state.remaining_h !== null && !state.over && <li className="pt-2">About {state.remaining_h.toFixed(1)} h to go.</li>}
                        </ul>
                    )}
                    {state.watch.length > 0 && (
                        <table>
                            <caption className="eyebrow text-left">What would stop it</caption>
                            <tbody>
                                {state.watch.map((w) => (
                                    <tr key={w.rule} className="border-t border-line">
                                        <td className="py-1.5 pr-2">{w.text}</td>
                                        <td className="digits text-right whitespace-nowrap">
                                            {w.in_s === null ? 'always' : w.in_s === 0 ? 'at each reading' : `in ${clock(w.in_s)}`}
                                        </td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    )}
                    {away && <p className="text-ember font-bold">{away} Without this screen the output goes off in three seconds.</p>}
                    {state.fault && <p className="text-ember">{state.fault}</p>}
                    {may && live.run.ended_at === null && !state.over && (
                        <div className="grid gap-3">
                            {state.phase === 'clip' && !state.paused && (
                                <Button
                                    look="main"
                                    onClick={() => {
                                        if (simulated) void hand({ do: 'clip', group: state.group });
                                        tell.mutate({ do: 'clipped' });
                                    }}
                                >
                                    The clips sit on group {state.group}
                                </Button>
                            )}
                            {state.paused && (
                                <Button look="main" onClick={() => tell.mutate({ do: 'resume' })}>
                                    I am here: go on
                                </Button>
                            )}
                            {!state.paused && (
                                <Button look={asks ? 'main' : 'plain'} onClick={() => tell.mutate({ do: 'confirm' })}>
                                    I am here{' '}
                                    <span className="font-normal">
                                        {(state.confirm_in_s ?? 0) > 0 ? `(asked again in ${clock(state.confirm_in_s ?? 0)})` : '(overdue)'}
                                    </span>
                                </Button>
                            )}
                            {state.hands && <Typed tell={(b) => tell.mutate(b)} order={state.order} />}
                            <form
                                className="flex gap-2 items-end"
                                onSubmit={(e) => {
                                    e.preventDefault();
                                    tell.mutate({ do: 'abort', why: why.trim() || 'ended by hand' });
                                }}
                            >
                                <div className="grow">
                                    <Field label="Why end it">{(p) => <input {...p} value={why} onChange={(e) => setWhy(e.target.value)} />}</Field>
                                </div>
                                <Button type="submit" look="stop">
                                    End it
                                </Button>
                            </form>
                        </div>
                    )}
                    {simulated && live.run.ended_at === null && <SimulatedHand job={job} />}
                </section>
            </div>
        </div>
    );
}

/** Without a supply that may be driven: what to set by hand, and the readings typed. */
function Typed({
    tell,
    order,
}: {
    tell: (body: { do: 'typed'; v?: number; a?: number; c?: number }) => void;
    order: { on: boolean; volts: number; amps: number };
}) {
    const [entry, setEntry] = useState({ v: '', a: '', c: '' });
    const number = (t: string) => (t.trim() === '' ? {} : Number(t.replace(',', '.')));
    return (
        <form
            className="sheet p-3 grid gap-2"
            onSubmit={(e) => {
                e.preventDefault();
                const body: { do: 'typed'; v?: number; a?: number; c?: number } = { do: 'typed' };
                for (const k of ['v', 'a', 'c'] as const) {
                    const n = number(entry[k]);
                    if (typeof n === 'number' && !Number.isNaN(n)) body[k] = n;
                }
                tell(body);
                setEntry({ ...entry, v: '' });
            }}
        >
            <p className="text-lg font-bold">
                {order.on ? `Supply by hand: ${order.volts.toFixed(2)} V, ${order.amps.toFixed(2)} A, on` : '⬣ Supply by hand: output OFF'}
            </p>
            <div className="grid grid-cols-3 gap-2">
                {(
                    [
                        ['v', 'Volts'],
                        ['a', 'Amps'],
                        ['c', 'degC'],
                    ] as const
                ).map(([k, label]) => (
                    <Field key={k} label={label}>
                        {(p) => (
                            <input
                                {...p}
                                className="digits"
                                inputMode="decimal"
                                value={entry[k]}
                                onChange={(e) => setEntry({ ...entry, [k]: e.target.value })}
                            />
                        )}
                    </Field>
                ))}
            </div>
            <Button type="submit">Take the reading</Button>
        </form>
    );
}
