import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, useDeferredValue, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { count, money, when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Basis, Button } from '@/parts/basics';
import { CodeLabels } from '@/parts/CodeLabels';
import { QueryState } from '@/parts/QueryState';
import { Figures } from './Figures';

type Lane = components['schemas']['Lane'];
type Name = components['schemas']['LaneName'];

/** Lanes in the order of the work, and the word for each. */
export const LANES: Record<Name, string> = {
    probe: 'to be read',
    decide: 'to be decided',
    work: 'in work',
    supply: 'on a supply',
    shelf: 'on the shelf',
    proof: 'to be proved',
    back: 'to go back',
    held: 'held',
    done: 'done',
};

/** Arrows go from pack to pack, Home and End to the first and the last. */
function onArrows(e: KeyboardEvent<HTMLElement>) {
    if (!['ArrowDown', 'ArrowUp', 'Home', 'End'].includes(e.key)) return;
    const links = [...(e.currentTarget.closest('ol, table')?.querySelectorAll<HTMLElement>('a[data-pack]') ?? [])];
    const at = links.indexOf(e.currentTarget);
    e.preventDefault();
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: links.length - 1 }[e.key]!;
    links[Math.min(links.length - 1, Math.max(0, to))]?.focus();
}

/** A batch as one lane: where each pack stands, what is begun today, what is odd, and what comes of it. */
export function Component() {
    const id = Number(useParams()['batch']);
    const [params, setParams] = useSearchParams();
    const lane = (params.get('lane') ?? '') as Name | '';
    const from = Number(params.get('from') ?? 0) || 0;
    const find = useDeferredValue(params.get('find') ?? '');
    const all = useQuery({
        queryKey: slots.lane(id, lane, from, find),
        queryFn: () =>
            unwrap(
                api.GET('/api/batches/{batch}', {
                    params: {
                        path: { batch: id },
                        query: {
                            ...(lane === '' ? {} : { lane }),
                            ...(from === 0 ? {} : { from }),
                            ...(find === '' ? {} : { find }),
                        },
                    },
                }),
            ),
        placeholderData: (before) => before,
        refetchInterval: 30_000,
    });
    const [labels, setLabels] = useState(false);
    if (!all.data) return <QueryState of={all} what="Looking over the batch ..." />;
    const b = all.data;
    const go = (to: Name | '', page = 0) =>
        setParams({ ...(to === '' ? {} : { lane: to }), ...(page === 0 ? {} : { from: String(page) }) }, { replace: true });
    return (
        <div className="p-5 grid gap-5 grid-cols-[minmax(0,1fr)]">
            <div className="flex flex-wrap gap-x-4 gap-y-2 items-center">
                <h1>{b.batch.name}</h1>
                <p className="text-muted grow">
                    {count(b.packs, 'pack')} of{' '}
                    <Link to={`/customers/${b.batch.customer_id}`} className="underline underline-offset-4">
                        {b.batch.customer}
                    </Link>
                    {b.energy_wh !== null && `. About ${b.energy_wh} Wh in those that are open`}
                </p>
                <Button onClick={() => setLabels(true)}>Labels for all</Button>
                <Link to="/batches" className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    All batches
                </Link>
            </div>
            <div className="grid gap-5 xl:grid-cols-[minmax(0,1fr)_26rem] items-start">
                <div className="grid gap-4 grid-cols-[minmax(0,1fr)]">
                    <Today lane={b} />
                    <nav aria-label="Lanes" className="flex flex-wrap gap-2">
                        <LaneButton on={lane === ''} word="all" n={b.packs} to={() => go('')} />
                        {(Object.keys(LANES) as Name[])
                            .filter((l) => b.lanes[l])
                            .map((l) => (
                                <LaneButton key={l} on={lane === l} word={LANES[l]} n={b.lanes[l]!} to={() => go(l)} />
                            ))}
                        <input
                            type="search"
                            aria-label="Find a pack of it"
                            placeholder="find: serial, job"
                            className="w-44"
                            value={params.get('find') ?? ''}
                            onChange={(e) => setParams(e.target.value === '' ? {} : { find: e.target.value }, { replace: true })}
                            onKeyDown={(e) => {
                                if (e.key !== 'ArrowDown') return;
                                e.preventDefault();
                                document.querySelector<HTMLElement>('table a[data-pack]')?.focus();
                            }}
                        />
                    </nav>
                    <Rows lane={b} />
                    {b.matching > b.page && (
                        <div className="flex gap-3 items-center">
                            <Button disabled={from === 0} onClick={() => go(lane, Math.max(0, from - b.page))}>
                                Those before
                            </Button>
                            <span>
                                {from + 1} to {Math.min(from + b.page, b.matching)} of {b.matching}
                            </span>
                            <Button disabled={from + b.page >= b.matching} onClick={() => go(lane, from + b.page)}>
                                Those after
                            </Button>
                        </div>
                    )}
                </div>
                <aside className="grid gap-4" aria-label="What comes of it">
                    <Worth lane={b} />
                    <Oddities lane={b} />
                    <Shelf lane={b} />
                    <Donors lane={b} />
                    <Figures key={b.batch.version} lane={b} />
                    <Share lane={b} />
                </aside>
            </div>
            {labels && <Labels id={id} onClose={() => setLabels(false)} />}
        </div>
    );
}

function LaneButton({ on, word, n, to }: { on: boolean; word: string; n: number; to: () => void }) {
    return (
        <button
            type="button"
            aria-pressed={on}
            onClick={to}
            className={clsx('min-h-[44px] px-3 rounded border', on ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel')}
        >
            {word} <span className="digits">{n}</span>
        </button>
    );
}

const clock = (min: number) => `${Math.floor(min / 60)}:${String(min % 60).padStart(2, '0')}`;

function Today({ lane: { today } }: { lane: Lane }) {
    return (
        <section aria-label="Begun today" className="sheet p-4 grid gap-2">
            <h2>
                Begun {today.day} <Basis of="predicted" />
            </h2>
            {today.begun.length === 0 ? (
                <p className="text-muted">Nothing of it can be begun {today.day}.</p>
            ) : (
                <ol className="grid gap-1">
                    {today.begun.map((t) => (
                        <li
                            key={t.id}
                            className="grid gap-x-3 grid-cols-[8.6rem_5rem_minmax(0,1fr)] border-t border-line pt-1 items-baseline"
                        >
                            <span className="digits whitespace-nowrap">
                                {clock(t.from_min)} to {clock(t.to_min)}
                            </span>
                            <Link data-pack onKeyDown={onArrows} to={t.door} className="font-bold underline underline-offset-4 break-words">
                                {t.serial}
                            </Link>
                            <span>
                                <b>{t.supply === null ? 'Hands' : `Supply ${t.supply}, ${(t.needs_min / 60).toFixed(1)} h`}</b>
                                {t.supply !== null && t.from_min + t.needs_min > t.to_min && ' in all, goes on another day'}: {t.text}
                            </span>
                        </li>
                    ))}
                </ol>
            )}
            <p className="text-muted">
                {today.hours} h are there, {today.hands_min} min of hands taken, {count(today.places_left, 'place')} left on the shelf.
                Times from the beginning.
            </p>
            {today.left_count > 0 && (
                <details>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                        {count(today.left_count, 'pack')} not {today.day}, and why
                    </summary>
                    <ul>
                        {today.left.map((l) => (
                            <li key={l.id}>
                                <b>{l.serial}</b>: {l.why}
                            </li>
                        ))}
                    </ul>
                </details>
            )}
        </section>
    );
}

function Rows({ lane: b }: { lane: Lane }) {
    if (b.rows.length === 0) return <p className="text-muted">None of them is there.</p>;
    return (
        <div className="overflow-x-auto">
            <table className="w-full [&_td]:pr-3 [&_th]:pr-3">
                <thead>
                    <tr className="text-left">
                        <th scope="col">Pack</th>
                        <th scope="col" className="text-right">
                            Came
                        </th>
                        <th scope="col">Where</th>
                        <th scope="col">What it waits for</th>
                    </tr>
                </thead>
                <tbody>
                    {b.rows.map((r) => (
                        <tr key={r.id} className={clsx('border-t border-line align-top', r.lane === 'held' && 'text-ember')}>
                            <td className="whitespace-nowrap">
                                <Link
                                    data-pack
                                    onKeyDown={onArrows}
                                    to={r.door}
                                    className="inline-flex items-center min-h-[34px] font-bold underline underline-offset-4"
                                >
                                    {r.serial || `job ${r.number}`}
                                </Link>
                            </td>
                            <td className="digits text-right whitespace-nowrap pt-1">
                                {r.came_v === null ? '' : `${r.came_v.toFixed(1)} V`}
                            </td>
                            <td className="whitespace-nowrap pt-1">{LANES[r.lane]}</td>
                            <td className="pt-1">
                                {r.text}
                                {r.until && <b> until {when(r.until)}</b>}
                                {r.first && <span className="text-muted">. {r.first}</span>}
                                {r.odd && (
                                    <span className="block">
                                        <b>? questionable</b>: {r.odd}
                                    </span>
                                )}
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}

function Worth({ lane: b }: { lane: Lane }) {
    const cash = (c: number) => money(c, b.cost.currency);
    return (
        <section aria-label="Yield" className="sheet p-4 grid gap-2">
            <h2>Yield so far</h2>
            <p>
                {b.yield.text} <Basis of="derived" />
            </p>
            {b.cost.cents !== null && (
                <p>
                    One taken in costs {cash(b.cost.cents)}: {b.cost.minutes} min of hands and parts, over {count(b.cost.of, 'pack')};{' '}
                    {b.cost.timed} of them by the clock.
                </p>
            )}
            {b.ceiling ? (
                <p>
                    <b>At most {cash(b.ceiling.mean)} for one of the next batch</b>, {cash(b.ceiling.low)} to {cash(b.ceiling.high)} with
                    the yield, so that {b.margin_percent} % of what is sold is left.
                    {b.batch.paid_cents !== null && ` Paid for these: ${cash(b.batch.paid_cents)}.`}
                </p>
            ) : (
                <p className="text-muted">
                    {b.batch.sells_cents === null
                        ? 'What one sells for, said below, gives the price of the next batch.'
                        : 'The price of the next batch follows from the first that is finished.'}
                </p>
            )}
            {b.rest && (
                <p>
                    The {count(b.yield.open, 'open pack')} bring {cash(b.rest.mean)} over what they still cost, {cash(b.rest.low)} to{' '}
                    {cash(b.rest.high)}.
                </p>
            )}
        </section>
    );
}

function Oddities({ lane: b }: { lane: Lane }) {
    if (b.odd.length === 0) return null;
    return (
        <section aria-label="Questionable" className="sheet p-4 grid gap-2">
            <h2>Questionable</h2>
            <ul className="grid gap-1">
                {b.odd.map((o) => (
                    <li key={o.id}>
                        <Link to={`/jobs/${o.id}`} className="font-bold underline underline-offset-4">
                            {o.serial}
                        </Link>
                        : {o.why.join('; ')}
                    </li>
                ))}
            </ul>
            <p className="text-muted">Against the others of the batch. Begun after them, and looked at twice.</p>
        </section>
    );
}

function Shelf({ lane: b }: { lane: Lane }) {
    if (b.shelf.length === 0) return null;
    return (
        <section aria-label="On the shelf" className="sheet p-4 grid gap-2">
            <h2>On the shelf</h2>
            <ul>
                {b.shelf.map((s) => (
                    <li key={s.id}>
                        <Link to={`/jobs/${s.id}`} className="font-bold underline underline-offset-4">
                            {s.serial}
                        </Link>{' '}
                        {s.until && when(s.until)}: {s.for}
                    </li>
                ))}
            </ul>
        </section>
    );
}

function Donors({ lane: b }: { lane: Lane }) {
    if (b.donors.length === 0) return null;
    return (
        <section aria-label="Donors" className="sheet p-4 grid gap-2">
            <h2>Donors</h2>
            <ul>
                {b.donors.map((d) => (
                    <li key={d.id}>
                        <Link to={`/jobs/${d.id}`} className="font-bold underline underline-offset-4">
                            {d.serial}
                        </Link>
                        : {d.text}
                    </li>
                ))}
            </ul>
        </section>
    );
}

/** What was found out of one becomes that of the others: its board's limits, its cells, its sheets. */
function Share({ lane: b }: { lane: Lane }) {
    const queries = useQueryClient();
    const may = useMay('decide');
    const [from, setFrom] = useState('');
    const share = useMutation({
        mutationFn: (job: number) =>
            unwrap(api.POST('/api/batches/{batch}/share', { params: { path: { batch: b.batch.id }, header: key() }, body: { job } })),
        onSuccess: (now) => {
            void queries.invalidateQueries({ queryKey: slots.lane(b.batch.id) });
            toast.success(`Written to ${count(now.written ?? 0, 'pack')}.`);
        },
        onError: (e) => toast.error(e.message),
    });
    if (!may || b.packs < 2) return null;
    return (
        <section aria-label="Figures of the first" className="sheet p-4 grid gap-2">
            <h2>Figures of the first</h2>
            <p>
                Cells, board, charger, label and the sheets of one pack go to all that are open. Its teardown leads through the others by
                itself.
            </p>
            <div className="flex flex-wrap gap-3 items-end">
                <label className="grow">
                    <span className="eyebrow block">Pack</span>
                    <select value={from} onChange={(e) => setFrom(e.target.value)}>
                        <option value="">choose</option>
                        {b.rows.map((r) => (
                            <option key={r.id} value={r.id}>
                                {r.serial || r.number}
                            </option>
                        ))}
                    </select>
                </label>
                <Button disabled={from === '' || share.isPending} onClick={() => share.mutate(Number(from))}>
                    Use them for all
                </Button>
            </div>
        </section>
    );
}

function Labels({ id, onClose }: { id: number; onClose: () => void }) {
    const all = useQuery({
        queryKey: slots.lane(id, 'labels'),
        queryFn: () => unwrap(api.GET('/api/batches/{batch}/labels', { params: { path: { batch: id } } })),
    });
    if (!all.data) return null;
    return (
        <CodeLabels
            title={`Labels: ${all.data.labels.length}`}
            labels={all.data.labels.map((l) => ({ code: l.code, lines: [l.serial, `job ${l.number}`] }))}
            onClose={onClose}
        />
    );
}
