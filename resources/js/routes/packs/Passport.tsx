import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import { ApiError, api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { day, when } from '@/lib/format';
import { pasted, type PastedReading } from '@/lib/servicePaste';
import { slots } from '@/lib/slots';
import { Basis, Button, Field, Waiting } from '@/parts/basics';
import { WatchChart } from '@/parts/WatchChart';
import { Given } from '@/routes/probe/PackLogs';
import { LabelSheet } from './LabelSheet';

type Passport = components['schemas']['Passport'];
type Reading = Passport['readings'][number];

/** One pack over all its jobs and owners: whether the repair holds, what was read of it, what was done to it. */
export function Component() {
    const id = Number(useParams()['pack']);
    const page = useQuery({
        queryKey: slots.pack(id),
        queryFn: () => unwrap(api.GET('/api/packs/{pack}', { params: { path: { pack: id } } })),
    });
    if (page.isError)
        return (
            <p role="alert" className="p-5">
                {page.error.message}
            </p>
        );
    if (!page.data) return <Waiting what="Opening the passport ..." />;
    return <Page pack={page.data} />;
}

/** A write of a pack: what it answers is the pack as it is now. */
function usePackWrite<V, P extends Passport>(id: number, write: (v: V) => Promise<P>, done?: (p: P) => void) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: (p) => {
            queries.setQueryData(slots.pack(id), p);
            void queries.invalidateQueries({ queryKey: slots.bench() });
            void queries.invalidateQueries({ queryKey: slots.packs() });
            done?.(p);
        },
        onError: (e) => {
            if (!(e instanceof ApiError && Object.keys(e.fields).length > 0)) toast.error(e.message);
        },
    });
}

function Page({ pack }: { pack: Passport }) {
    const [label, setLabel] = useState(false);
    const may = useMay('return');
    return (
        <div className="p-5 grid gap-6 max-w-6xl">
            <header className="flex flex-wrap gap-x-6 gap-y-2 items-baseline">
                <h1>{pack.name}</h1>
                <span className="digits text-xl">{pack.code}</span>
                <span className="text-muted">
                    {pack.serial && `serial ${pack.serial}, `}
                    {pack.series} groups{pack.parallel ? ` of ${pack.parallel}` : ''}, {pack.chemistry}
                    {pack.cells > 0 && `, ${pack.cells} cells out of the drawer`}
                </span>
                <span className="grow" />
                {may && (
                    <Button onClick={() => setLabel(true)}>
                        {pack.link ? 'Label and owner’s page' : 'Label with a page for its owner'}
                    </Button>
                )}
            </header>
            {label && <LabelSheet pack={pack} onClose={() => setLabel(false)} />}
            <section aria-label="Does the repair hold?" className="sheet p-5 grid gap-3">
                {pack.watch ? (
                    <Watched pack={pack} watch={pack.watch} />
                ) : (
                    <>
                        <p>It is at the workshop or never went back: what is read after its return stands here.</p>
                        <Readings pack={pack} />
                    </>
                )}
            </section>
            {pack.capacity && pack.capacity.tests.length > 0 && (
                <section aria-label="Capacity" className="max-w-xl">
                    <Given history={pack.capacity} />
                </section>
            )}
            <section aria-label="Jobs" className="grid gap-2">
                <h2>Jobs</h2>
                <ul>
                    {pack.jobs.map((j) => (
                        <li key={j.id} className="border-t border-line py-2 flex flex-wrap gap-x-4">
                            <Link
                                to={`/jobs/${j.id}/${j.status === 'open' ? j.stage : 'report'}`}
                                className="font-bold underline underline-offset-4"
                            >
                                Job {j.number}
                            </Link>
                            <span className="text-muted">
                                {day(j.opened_at)}
                                {j.closed_at && ` to ${day(j.closed_at)}`}
                            </span>
                            <span>{j.status}</span>
                            <span className="grow">
                                {j.found ?? 'Nothing was found.'}
                                {j.truth !== null && <span className="text-muted"> In the end: {j.truth}.</span>}
                            </span>
                        </li>
                    ))}
                </ul>
            </section>
            <Owners pack={pack} />
        </div>
    );
}

function Watched({ pack, watch }: { pack: Passport; watch: components['schemas']['PackWatch'] }) {
    const r = watch.reaches;
    return (
        <>
            <div className="flex flex-wrap gap-x-6 items-baseline">
                <h2 className="!text-2xl">{watch.words}</h2>
                <p className={watch.due ? 'text-amber font-bold' : ''}>
                    {watch.due ? `To be read since ${day(watch.next_at)}` : `To be read on ${day(watch.next_at)}`}
                </p>
            </div>
            {watch.over && (
                <p role="alert" className="border-l-4 border-ember pl-3 font-bold">
                    {watch.notes[0]}
                </p>
            )}
            {watch.notes.slice(watch.over ? 1 : 0).map((n) => (
                <p key={n} className="border-l-4 border-amber pl-3">
                    {n}
                </p>
            ))}
            <WatchChart watch={watch} />
            {watch.slope && (
                <p>
                    The spread changes by {watch.slope.mid.toFixed(2)} mV a day, {watch.slope.low.toFixed(2)} to{' '}
                    {watch.slope.high.toFixed(2)} with 90 %.{' '}
                    {r && (
                        <>
                            It passes {watch.limit_mv.toFixed(0)} mV {r.likely ? `about ${day(r.likely)}` : 'perhaps'}
                            {r.early && `, at the earliest ${day(r.early)}`}
                            {r.late && `, at the latest ${day(r.late)}`}.
                        </>
                    )}{' '}
                    <Basis of="derived" />
                </p>
            )}
            {watch.groups.some((g) => g.state === 'grows') && (
                <p>
                    {watch.groups
                        .filter((g) => g.state === 'grows')
                        .map(
                            (g) =>
                                `Group ${g.group} ${g.mid < 0 ? 'falls behind' : 'runs ahead'} by ${Math.abs(g.mid).toFixed(2)} mV a day`,
                        )
                        .join('; ')}
                    .
                </p>
            )}
            <Enter pack={pack} />
            <Readings pack={pack} />
            {watch.left_out.length > 0 && (
                <details>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                        Readings that do not compare: {watch.left_out.length}
                    </summary>
                    <ul>
                        {watch.left_out.map((l, i) => (
                            <li key={l.at + i}>
                                {when(l.at)}: {l.why}
                            </li>
                        ))}
                    </ul>
                </details>
            )}
        </>
    );
}

const CONDITIONS = { rest: 'rested an hour', full: 'charged full', charge: 'on charge', discharge: 'in use' };

function Enter({ pack }: { pack: Passport }) {
    const today = new Date().toLocaleDateString('sv');
    const [date, setDate] = useState(today);
    const [condition, setCondition] = useState<PastedReading['condition']>('rest');
    const [text, setText] = useState('');
    const [many, setMany] = useState('');
    const [wrong, setWrong] = useState<string[]>([]);
    const [one, setOne] = useState('');
    const keep = usePackWrite(
        pack.id,
        (readings: PastedReading[]) =>
            unwrap(api.POST('/api/packs/{pack}/readings', { params: { path: { pack: pack.id }, header: key() }, body: { readings } })),
        () => {
            setText('');
            setMany('');
            toast.success('Kept.');
        },
    );
    const refused = keep.error instanceof ApiError ? Object.values(keep.error.fields).join(' ') : '';
    const single = () => {
        const hour = date === today ? new Date().toTimeString().slice(0, 5) : '12:00';
        const { readings, wrong: why } = pasted(`${date} ${hour} ${condition} ${text}`, pack.series);
        setOne(why[0]?.replace(/^Line 1: /, '') ?? '');
        if (readings.length > 0) keep.mutate(readings);
    };
    const several = () => {
        const { readings, wrong: why } = pasted(many, pack.series);
        setWrong(why);
        if (why.length === 0 && readings.length > 0) keep.mutate(readings);
    };
    return (
        <div className="grid gap-3 border-t border-line pt-3">
            <form
                className="grid gap-3 md:grid-cols-[11rem_12rem_minmax(0,1fr)_auto] items-start"
                noValidate
                onSubmit={(e) => {
                    e.preventDefault();
                    single();
                }}
            >
                <Field label="Read on">
                    {(p) => <input {...p} type="date" max={today} value={date} onChange={(e) => setDate(e.target.value)} />}
                </Field>
                <Field label="It had">
                    {(p) => (
                        <select {...p} value={condition} onChange={(e) => setCondition(e.target.value as PastedReading['condition'])}>
                            {Object.entries(CONDITIONS).map(([k, word]) => (
                                <option key={k} value={k}>
                                    {word}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <Field
                    label="Volts of its groups, from B-"
                    error={one || refused || undefined}
                    hint="every group, or the highest and the lowest; 62% before them where the charge is known"
                >
                    {(p) => <input {...p} className="digits" autoComplete="off" value={text} onChange={(e) => setText(e.target.value)} />}
                </Field>
                <div className="pt-7">
                    <Button type="submit" look="main" disabled={keep.isPending || text.trim() === ''}>
                        Keep it
                    </Button>
                </div>
            </form>
            <details>
                <summary className="min-h-[44px] flex items-center underline underline-offset-4">Several at once, pasted</summary>
                <div className="grid gap-2">
                    <Field
                        label="A line each: date, condition, volts"
                        hint="2026-03-04 full 4.181 4.183 4.179"
                        error={wrong.join(' ') || undefined}
                    >
                        {(p) => <textarea {...p} rows={5} className="digits" value={many} onChange={(e) => setMany(e.target.value)} />}
                    </Field>
                    <div>
                        <Button disabled={keep.isPending || many.trim() === ''} onClick={several}>
                            Keep all of them
                        </Button>
                    </div>
                </div>
            </details>
        </div>
    );
}

const FROM: Record<string, string> = { owner: 'said by the owner', bench: 'read here', board: 'the board says', import: 'imported' };
const ANSWER: Record<string, string> = { fine: '✓ fine', again: '↻ read again', stop: '⬣ stop' };

function Readings({ pack }: { pack: Passport }) {
    const [taking, setTaking] = useState<string | null>(null);
    const [reason, setReason] = useState('');
    const back = usePackWrite(
        pack.id,
        (id: string) =>
            unwrap(
                api.POST('/api/packs/{pack}/readings/{serviceReading}/back', {
                    params: { path: { pack: pack.id, serviceReading: id }, header: key() },
                    body: { reason },
                }),
            ),
        () => {
            setTaking(null);
            setReason('');
        },
    );
    const shown = (r: Reading) =>
        r.groups_v
            ? r.groups_v.map((v) => (v === null ? '-' : v.toFixed(3))).join(' ')
            : r.highest_v !== null && r.lowest_v !== null
              ? `${r.highest_v.toFixed(3)} to ${r.lowest_v.toFixed(3)}`
              : r.pack_v !== null
                ? `${r.pack_v} V in all`
                : '';
    return (
        <ul aria-label="What was read">
            {pack.readings.map((r) => (
                <li key={r.id} className={`border-t border-line py-1.5 grid gap-1 ${r.taken_back !== null ? 'text-muted' : ''}`}>
                    <div className="flex flex-wrap gap-x-4 items-center">
                        <b className="w-56 whitespace-nowrap">{when(r.at)}</b>
                        <span className="w-40">
                            {FROM[r.source] ?? r.source}
                            {r.by && `, ${r.by}`}
                        </span>
                        <span className={`digits grow ${r.taken_back !== null ? 'line-through' : ''}`}>
                            {r.soc !== null && `${(100 * r.soc).toFixed(0)} % `}
                            {shown(r)}
                            {r.signs.length > 0 && <b className="text-ember font-sans"> {r.signs.join(', ')}</b>}
                        </span>
                        {r.taken_back === null ? (
                            <>
                                <span className={r.answer?.answer === 'stop' ? 'text-ember font-bold' : ''}>
                                    {r.source === 'owner' || r.answer?.answer === 'stop' ? ANSWER[r.answer?.answer ?? ''] : ''}
                                </span>
                                <Button
                                    look="quiet"
                                    aria-expanded={taking === r.id}
                                    onClick={() => setTaking(taking === r.id ? null : r.id)}
                                >
                                    Take it back
                                </Button>
                            </>
                        ) : (
                            <span>taken back: {r.taken_back}</span>
                        )}
                    </div>
                    {taking === r.id && (
                        <form
                            className="flex flex-wrap gap-3 items-end"
                            onSubmit={(e) => {
                                e.preventDefault();
                                back.mutate(r.id);
                            }}
                        >
                            <div className="grow max-w-md">
                                <Field label="Why it is taken back (needed)">
                                    {(p) => <input {...p} autoFocus value={reason} onChange={(e) => setReason(e.target.value)} />}
                                </Field>
                            </div>
                            <Button type="submit" disabled={reason.trim() === '' || back.isPending}>
                                Take it back
                            </Button>
                        </form>
                    )}
                </li>
            ))}
        </ul>
    );
}

function Owners({ pack }: { pack: Passport }) {
    const may = useMay('customers');
    const [open, setOpen] = useState(false);
    const [name, setName] = useState('');
    const change = usePackWrite(
        pack.id,
        () =>
            unwrap(
                api.PATCH('/api/packs/{pack}', {
                    params: { path: { pack: pack.id }, header: { ...key(), 'If-Match': pack.version } },
                    body: { customer: name.trim() },
                }),
            ),
        () => {
            setOpen(false);
            setName('');
        },
    );
    return (
        <section aria-label="Owners" className="grid gap-2">
            <h2>Owners</h2>
            <ul>
                {pack.owners.map((o, i) => (
                    <li key={o.from_at + i} className="border-t border-line py-1.5 flex flex-wrap gap-x-4">
                        {i === 0 ? (
                            <Link to={`/customers/${pack.customer_id}`} className="font-bold underline underline-offset-4">
                                {o.name}
                            </Link>
                        ) : (
                            <span>{o.name}</span>
                        )}
                        <span className="text-muted">
                            from {day(o.from_at)}
                            {o.to_at && ` to ${day(o.to_at)}`}
                        </span>
                    </li>
                ))}
            </ul>
            {may &&
                (open ? (
                    <form
                        className="flex flex-wrap gap-3 items-end"
                        onSubmit={(e) => {
                            e.preventDefault();
                            change.mutate(undefined);
                        }}
                    >
                        <div className="grow max-w-md">
                            <Field
                                label="Who owns it now"
                                hint="the page of the owner before is withdrawn; nobody is told the other’s name"
                            >
                                {(p) => <input {...p} autoFocus value={name} onChange={(e) => setName(e.target.value)} />}
                            </Field>
                        </div>
                        <Button type="submit" disabled={name.trim() === '' || change.isPending}>
                            It is theirs now
                        </Button>
                    </form>
                ) : (
                    <div>
                        <Button look="quiet" onClick={() => setOpen(true)}>
                            It has another owner
                        </Button>
                    </div>
                ))}
        </section>
    );
}
