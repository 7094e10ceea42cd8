import { number } from '@/lib/number';
import { clsx } from 'clsx';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { slots } from '@/lib/slots';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useOutletContext, useParams } from 'react-router';
import { api, ApiError, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { say, tone } from '@/lib/sound';
import { ticker } from '@/lib/ticker';
import { Leave } from '@/lib/watch';
import { Basis, Button, Field, Go, Waiting } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { runName } from './Supply';
import { RunAgainstPlan } from '@/parts/RunAgainstPlan';
import { SimulatedHand } from '@/parts/SimulatedHand';
import { hand } from '@/lib/instruments';

const TimeChart = lazy(() => import('@/parts/TimeChart'));
type Live = components['schemas']['LiveRun'];
type Sample = Live['samples'][number];

const clock = (s: number) =>
    s >= 3600
        ? `${Math.floor(s / 3600)} h ${Math.floor((s % 3600) / 60)} min`
        : `${Math.floor(s / 60)} min ${String(Math.floor(s % 60)).padStart(2, '0')} s`;

export function Component() {
    const { run } = useParams();
    const job = useOutletContext<Job>();
    return <Watch key={run} id={run!} job={job} />;
}

/** Asks so often, from a worker's clock; the asking itself is what tells the runner that somebody watches. */
const ASKS_MS = 400;

function useRun(id: string) {
    const [live, setLive] = useState<Live | null>(null);
    const [away, setAway] = useState<string | null>(null);
    const kept = useRef<{ samples: Sample[]; next: number; opened: Live | null }>({ samples: [], next: 0, opened: null });
    useEffect(() => {
        const leave = new Leave();
        let busy = false;
        let over = false;
        const once = async () => {
            if (busy || over) return;
            busy = true;
            try {
                const from = kept.current.next;
                const look = await leave.by((word) =>
                    unwrap(api.GET('/api/watch/run', { params: { header: { 'X-Heartwood-Watch': word }, query: { from } } })),
                );
                let opened = kept.current.opened;
                const asked = performance.now();
                if (look === null || opened === null) {
                    opened = await unwrap(api.GET('/api/runs/{run}', { params: { path: { run: id }, query: { from } } }));
                    leave.take(opened, asked);
                } else if (look.again) leave.drop();
                const seen = look ?? opened;
                kept.current = { samples: [...kept.current.samples, ...seen.samples].slice(-20_000), next: seen.next, opened };
                over = !opened.run.watched_until_closed;
                setLive({ ...opened, ...seen, samples: kept.current.samples });
                setAway(null);
            } catch (e) {
                setAway(e instanceof ApiError ? e.message : String(e));
            } finally {
                busy = false;
            }
        };
        void once();
        return ticker(ASKS_MS, () => void once());
    }, [id]);
    return { live, away };
}

type State = NonNullable<Live['state']>;
type Word = { do: components['schemas']['RunWord']['do']; why?: string; v?: number; a?: number; c?: number };

const volts = (x: number | null | undefined) => (x === null || x === undefined ? '-.---' : x.toFixed(3));
const amps = (x: number | null | undefined) => (x === null || x === undefined ? '-.--' : x.toFixed(2));

function Watch({ id, job }: { id: string; job: Job }) {
    const { live, away } = useRun(id);
    const may = useMay('recover');
    const tell = useMutation({
        mutationFn: (body: Word) => unwrap(api.POST('/api/runs/{run}/say', { params: { path: { run: id }, header: key() }, body })),
    });
    const state = live?.state ?? null;
    const alarm = state?.alarm ?? (state?.paused ? 'paused' : state?.over ? 'over' : '');
    useEffect(() => {
        if (alarm && live?.run.watched_until_closed) {
            tone('alarm');
            say(state?.alarm ?? (state?.paused ? `Paused. ${state.paused}` : (state?.text ?? '')));
        }
    }, [alarm]); // eslint-disable-line react-hooks/exhaustive-deps
    const queries = useQueryClient();
    const over = state?.over === true;
    useEffect(() => {
        // What it came to is in the job now: evidence, and perhaps a look that is owed.
        if (over) void queries.invalidateQueries({ queryKey: slots.job(job.id) });
    }, [over, job.id, queries]);
    const asks = state !== null && !state.over && (state.confirm_in_s ?? 1e9) < 120 * (state.scale ?? 1);
    useEffect(() => {
        if (asks) {
            tone('question');
            say('Say that you are here');
        }
    }, [asks]);
    const simulated = live?.plan['simulated'] === true;
    const clip = state?.asks_clip && live?.run.kind === 'balance' ? state.group : null;
    useEffect(() => {
        // The hand that does not exist goes where the run asks for its clips.
        if (simulated && clip !== null) void hand({ do: 'clip', group: clip }).catch(() => {});
    }, [simulated, clip]);
    if (!live) return away ? <p className="p-6 text-ember">{away}</p> : <Waiting what="Opening the run ..." />;
    if (!state) return <Waiting what="The runner takes it up ..." />;
    const stopped = state.over && !state.good;
    const every = Math.max(1, Math.floor(live.samples.length / 600));
    const points = live.samples.filter((s, i) => s.v !== null && (i % every === 0 || i === live.samples.length - 1));
    const banded = points.some((p) => p.low !== null);
    return (
        <div className="p-5 grid gap-4">
            <div className="flex flex-wrap gap-x-6 gap-y-1 items-baseline">
                <h2 className="text-2xl">
                    {live.run.kind === 'balance' && state.group ? `Brought level: group ${state.group}` : runName(live.run)}
                </h2>
                <span className="text-muted">
                    started by {live.run.by}, {clock(state.run_s)}
                    {(state.scale ?? 1) > 1 && `, time runs ${state.scale} times`}
                </span>
                <Go to={`/jobs/${job.id}/supply`} look="quiet">
                    All runs
                </Go>
            </div>
            {(state.alarm || live.silent) && (
                <p role="alert" className="border-[3px] border-ember p-4 text-2xl font-bold text-ember">
                    ⬣{' '}
                    {state.alarm ??
                        `Not heard from for ${clock(live.age_s ?? 0)}: what the output does is not known. ` +
                            'Look at the supply; its own timer should have ended it.'}
                </p>
            )}
            <div
                role="status"
                className={clsx(
                    'sheet p-4 flex flex-wrap items-center gap-x-6 gap-y-2',
                    stopped || state.paused ? '!border-[3px] !border-ember' : '',
                )}
            >
                <b className={`text-3xl ${stopped || state.paused ? 'text-ember' : ''}`} data-testid="phase">
                    {stopped ? '⬣ ' : state.paused ? '❚❚ ' : state.over ? '✓ ' : state.output ? '▶ ' : '○ '}
                    {state.over && state.stop_word && stopped ? `stopped: ${state.stop_word}` : state.phase_word}
                </b>
                <span className="text-xl grow">{state.paused ?? state.text}</span>
                <Output state={state} silent={live.silent} />
            </div>
            <Figures state={state} old={live.silent} />
            <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_380px] items-start">
                <section aria-label="Curve" className="grid gap-1">
                    {state.phase === 'prove' && !state.over && <Proofs state={state} tell={may ? tell.mutate : null} />}
                    {points.length > 2 && state.phase !== 'prove' && (
                        <Suspense fallback={<Waiting what="Drawing ..." />}>
                            <TimeChart
                                time={points.map((p) => p.t)}
                                groups={[points.map((p) => p.v!), points.map((p) => p.low), points.map((p) => p.high)]}
                                strong={1}
                                label={`Volts at the clips over ${clock(state.run_s)}: now ${volts(state.v)}`}
                                height={280}
                            />
                        </Suspense>
                    )}
                    {state.planned && <RunAgainstPlan planned={state.planned} />}
                    {banded && state.phase !== 'prove' && (
                        <p className="text-muted">
                            Thick: measured. Between the thin lines: what a sound group of this capacity does. <Basis of="predicted" />
                        </p>
                    )}
                    <ol className="text-[0.95rem]">
                        {state.log.map((l, i) => (
                            <li key={`${i}${l.at}`}>
                                <span className="digits text-muted">{clock(l.at)}</span> {l.text}
                            </li>
                        ))}
                    </ol>
                </section>
                <section aria-label="Rules and hands" className="grid gap-3">
                    {state.items.length > 0 && <Items state={state} />}
                    {may && !state.over && <Hands state={state} asks={asks} tell={tell.mutate} />}
                    {may && state.over && live.run.watched_until_closed && <After state={state} tell={tell.mutate} />}
                    {state.over && (
                        <p className="flex flex-wrap gap-3">
                            <Go to={`/jobs/${job.id}/supply`} look={state.asks_triage ? 'plain' : 'main'}>
                                {state.good ? 'What else is low' : 'Start it again'}
                            </Go>
                            <Go to={`/jobs/${job.id}/probe`}>{state.good ? 'Read all groups at rest' : 'Read the groups again'}</Go>
                        </p>
                    )}
                    {tell.error && (
                        <p role="alert" className="text-ember font-bold">
                            {tell.error.message}
                        </p>
                    )}
                    {state.watch.length > 0 && <Stops state={state} />}
                    {away && <p className="text-ember font-bold">{away} Without this screen the output goes off in three seconds.</p>}
                    {state.fault && <p className="text-ember">{state.fault}</p>}
                    {simulated && live.run.watched_until_closed && <SimulatedHand job={job} />}
                </section>
            </div>
        </div>
    );
}

function Output({ state, silent }: { state: State; silent: boolean }) {
    if (silent) return <span className="text-xl text-ember font-bold">? output not known</span>;
    if (state.hands) return <span className="text-xl">{state.order.on ? '● set it on by hand' : '○ supply off, by hand'}</span>;
    return <span className="text-xl">{state.output === null ? '? output not known' : state.output ? '● output on' : '○ output off'}</span>;
}

/** Ordered, as the supply shows it, and measured, side by side. */
function Figures({ state, old }: { state: State; old: boolean }) {
    const o = state.order;
    const given = o.on || Math.abs(o.amps) > 0;
    const c = old ? null : (state.live?.c ?? state.c);
    const figures = [
        [
            'Volts',
            volts(old ? null : (state.live?.v ?? state.v)),
            given ? volts(o.volts) : null,
            state.set.volts === null ? null : volts(state.set.volts),
        ],
        [
            'Amps',
            amps(old ? null : (state.live?.a ?? state.a)),
            given ? amps(o.amps) : null,
            state.set.amps === null ? null : amps(state.set.amps),
        ],
    ] as const;
    return (
        <dl className="grid grid-cols-2 lg:grid-cols-[1.4fr_1.4fr_1fr_1fr] gap-4">
            {figures.map(([name, measured, ordered, shown]) => (
                <div key={name} className="sheet p-3 flex items-end justify-between gap-3">
                    <div>
                        <dt className="eyebrow">{name}, measured</dt>
                        <dd className="digits text-[clamp(2.4rem,4.6vw,4.4rem)] leading-none">{measured}</dd>
                    </div>
                    <dd className="text-right whitespace-nowrap" data-testid={`ordered-${name.toLowerCase()}`}>
                        <span className="block text-muted">{o.on || !given ? 'ordered' : 'to be ordered'}</span>
                        <b className="digits text-xl">{ordered ?? 'none'}</b>
                        {!state.hands && (
                            <span className="block text-muted">
                                supply shows <span className="digits">{shown ?? 'nothing'}</span>
                            </span>
                        )}
                    </dd>
                </div>
            ))}
            <div className="sheet p-3">
                <dt className="eyebrow">degC</dt>
                <dd className="digits text-[clamp(2.4rem,4.6vw,4.4rem)] leading-none">
                    {c === null || c === undefined ? '-.-' : c.toFixed(1)}
                </dd>
                <dd className="text-muted">{state.ambient_c.toFixed(1)} around it</dd>
            </div>
            <div className="sheet p-3">
                <dt className="eyebrow">Ah put in</dt>
                <dd className="digits text-[clamp(2.4rem,4.6vw,4.4rem)] leading-none">{state.ah_in.toFixed(2)}</dd>
                {state.share !== null && <dd className="text-muted">{(100 * state.share).toFixed(1)} % of its capacity</dd>}
            </div>
        </dl>
    );
}

const PROOF: Record<string, string> = {
    readings: 'Readings',
    place: 'Where the clips sit',
    set: 'What the supply is set to',
    rounds: 'Twice the same',
};

/** The step before any current: what is seen, and what is still wanted. */
function Proofs({ state, tell }: { state: State; tell: ((body: Word) => void) | null }) {
    const [fresh, setFresh] = useState('');
    return (
        <div className="sheet p-4 grid gap-3">
            <h3 className="text-xl">
                {state.asks_clip ? 'First the meter, then the supply' : 'Prove it before current flows'}{' '}
                <span className="text-muted font-normal">output off</span>
            </h3>
            <ul className="grid gap-2 text-lg">
                {state.proofs
                    .filter((p) => !state.asks_clip || p.what !== 'rounds')
                    .map((p) => (
                        <li key={p.what} className={p.ok === false ? 'text-ember font-bold' : ''}>
                            {p.ok ? '✓' : p.ok === false ? '✕' : '○'}{' '}
                            <span className="text-muted font-normal">{PROOF[p.what] ?? p.what}:</span> {p.text}
                        </li>
                    ))}
                {state.proofs.length === 0 && <li>○ nothing read yet</li>}
            </ul>
            {state.asks_clip && (
                <p>
                    The meter&apos;s probes sit {state.group ? `on group ${state.group}` : 'across the whole pack'}; the supply&apos;s clip
                    is still off. When the volts above are right and positive, put the clip on, red on plus, and say so.
                </p>
            )}
            {state.asks_reading && tell && (
                <form
                    className="flex gap-2 items-end"
                    onSubmit={(e) => {
                        e.preventDefault();
                        tell({ do: 'plan', v: number(fresh) });
                        setFresh('');
                    }}
                >
                    <NumberField
                        label={`Group ${state.group} read anew, with the meter, volts`}
                        required
                        value={fresh}
                        onChange={setFresh}
                    />
                    <Button type="submit" look="main">
                        It reads this
                    </Button>
                </form>
            )}
        </div>
    );
}

function Items({ state }: { state: State }) {
    return (
        <ul>
            {state.items.map((i) => (
                <li key={i.group} className="flex justify-between border-b border-line py-1">
                    <span>
                        {i.state === 'full' ? '◉' : i.state === 'filling' ? '◐' : '○'} group {i.group}, {i.state}
                    </span>
                    <span className="digits">
                        {i.ah.toFixed(2)}
                        {i.of_ah !== null && ` of ${i.of_ah.toFixed(2)}`} Ah
                    </span>
                </li>
            ))}
            {state.remaining_h !== null && !state.over && <li className="pt-2">About {state.remaining_h.toFixed(1)} h to go.</li>}
        </ul>
    );
}

function Stops({ state }: { state: State }) {
    return (
        <table>
            <caption className="eyebrow text-left">What would stop it</caption>
            <tbody>
                {state.watch.map((w) => (
                    <tr key={w.rule} className="border-t border-line">
                        <td className="py-1.5 pr-2">{w.text}</td>
                        <td className="digits text-right whitespace-nowrap">
                            {w.met ? '✓ met' : w.in_s === null ? 'always' : w.in_s === 0 ? 'at each reading' : `in ${clock(w.in_s)}`}
                        </td>
                    </tr>
                ))}
            </tbody>
        </table>
    );
}

function Hands({ state, asks, tell }: { state: State; asks: boolean; tell: (body: Word) => void }) {
    const [why, setWhy] = useState('');
    const [air, setAir] = useState('');
    return (
        <div className="grid gap-3">
            {state.asks_clip && (
                <Button look="main" onClick={() => tell({ do: 'clipped' })}>
                    {state.group ? `The supply's clips sit on group ${state.group}` : "The supply's clips sit on the pack"}
                </Button>
            )}
            {state.hands && <Typed tell={tell} state={state} />}
            {state.ambient_old && (
                <form
                    className="flex gap-2 items-end"
                    onSubmit={(e) => {
                        e.preventDefault();
                        tell({ do: 'ambient', v: number(air) });
                        setAir('');
                    }}
                >
                    <NumberField label="The air around it, again: degC" required value={air} onChange={setAir} />
                    <Button type="submit">Keep it</Button>
                </form>
            )}
            <div className="flex flex-wrap gap-2">
                {state.paused ? (
                    <Button look="main" onClick={() => tell({ do: 'resume' })}>
                        I am here: prove it and go on
                    </Button>
                ) : (
                    <>
                        <Button look={asks ? 'main' : 'plain'} onClick={() => tell({ do: 'present' })}>
                            I am here{' '}
                            <span className="font-normal">
                                {state.confirm_in_s === null
                                    ? ''
                                    : state.confirm_in_s > 0
                                      ? `(asked again in ${clock(state.confirm_in_s / (state.scale ?? 1))})`
                                      : '(overdue)'}
                            </span>
                        </Button>
                        <Button onClick={() => tell({ do: 'pause', why: 'paused by hand' })}>Pause</Button>
                    </>
                )}
            </div>
            <form
                className="flex gap-2 items-end"
                onSubmit={(e) => {
                    e.preventDefault();
                    tell({ do: 'end', why: why.trim() || 'ended by hand' });
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
    );
}

/** Half an hour after every end: does it cool, does nothing flow. */
function After({ state, tell }: { state: State; tell: (body: Word) => void }) {
    const after = state.after;
    if (!after) return null;
    return (
        <div className={`sheet p-4 grid gap-2 ${after.quarantine ? '!border-[3px] !border-ember' : ''}`}>
            <h3 className="text-lg">Watched on, output off</h3>
            {after.quarantine ? (
                <p className="text-ember font-bold text-lg">⬣ Into quarantine: {after.quarantine}.</p>
            ) : (
                <p className="text-lg">
                    {clock(after.left_s)} to go; {after.c === null ? 'temperature not read' : `${after.c.toFixed(1)} degC`}. One that warms
                    now goes into quarantine.
                </p>
            )}
            {!after.over && (
                <Button onClick={() => tell({ do: 'leave', why: 'watched by hand' })}>I watch it myself: free the instruments</Button>
            )}
        </div>
    );
}

/** Without a supply that may be driven: what to set by hand, and three numbers on one line. */
function Typed({ tell, state }: { tell: (body: Word) => void; state: State }) {
    const [line, setLine] = useState('');
    const [wrong, setWrong] = useState('');
    const order = state.order;
    const late = state.ask_in_s !== null && state.ask_in_s < 0 && !state.paused;
    useEffect(() => {
        // A supply that a hand has set goes on until a hand ends it: the tool can only be heard.
        if (!late) return;
        tone('question');
        say(order.on ? 'Read it now, or switch the supply off' : 'Read it now');
    }, [late]); // eslint-disable-line react-hooks/exhaustive-deps
    return (
        <form
            className={`sheet p-3 grid gap-2 ${late ? '!border-[3px] !border-ember' : ''}`}
            onSubmit={(e) => {
                e.preventDefault();
                const n = line
                    .trim()
                    .split(/[\s;/]+/)
                    .map((x) => number(x));
                if (n.length !== 3 || n.some(Number.isNaN)) {
                    setWrong('Three numbers, with spaces between: volts, amps, degC. For example 2.312 0.45 20.5');
                    return;
                }
                setWrong('');
                tell({ do: 'typed', v: n[0]!, a: n[1]!, c: n[2]! });
                setLine('');
            }}
        >
            <p className="text-lg font-bold">
                {order.on
                    ? `Supply by hand: ${order.volts.toFixed(2)} V, ${Math.abs(order.amps).toFixed(2)} A, on`
                    : '⬣ Supply by hand: output OFF'}
                {!order.on && Math.abs(order.amps) > 0 && (
                    <span className="font-normal"> (set {`${order.volts.toFixed(2)} V, ${Math.abs(order.amps).toFixed(2)} A`})</span>
                )}
            </p>
            <Field label="Volts amps degC, on one line" error={wrong}>
                {(p) => (
                    <input
                        {...p}
                        className="digits text-xl"
                        inputMode="text"
                        autoComplete="off"
                        placeholder="2.312 0.45 20.5"
                        value={line}
                        onChange={(e) => setLine(e.target.value)}
                    />
                )}
            </Field>
            <div className="flex gap-3 items-center">
                <Button type="submit" look={late ? 'main' : 'plain'}>
                    Take the reading
                </Button>
                {state.ask_in_s !== null && !state.paused && (
                    <span className={late ? 'text-ember font-bold' : 'text-muted'}>
                        {late ? 'due now' : `next one in ${clock(state.ask_in_s)}`}
                    </span>
                )}
            </div>
        </form>
    );
}
