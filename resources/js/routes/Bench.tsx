import { slots } from '@/lib/slots';
import words from '@contract/words.json';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, type BenchRow, unwrap } from '@/api/client';
import { ago, chosen, type Order, ORDERS, wants } from '@/lib/benchOrder';
import { usePerson } from '@/lib/bench';
import { when } from '@/lib/format';
import { useTour } from '@/lib/tour';
import { Button, Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { CoreSample } from '@/parts/CoreSample';

const LANES: { lane: BenchRow['lane']; title: string; empty: string }[] = [
    { lane: 'hands', title: 'Wants hands now', empty: 'Nothing wants hands. Take a pack in, or look at what waits.' },
    { lane: 'waiting', title: 'Waits', empty: 'Nothing waits for its time.' },
    { lane: 'held', title: 'Held', empty: 'No pack is held or in quarantine.' },
    { lane: 'done', title: 'Gone', empty: 'Nothing has left yet.' },
];

export function Component() {
    const bench = useQuery({ queryKey: slots.bench(), queryFn: () => unwrap(api.GET('/api/bench')), refetchInterval: 30_000 });
    const [params, setParams] = useSearchParams();
    const value = (key: string) => params.get(key) ?? '';
    const order = (value('order') in ORDERS ? value('order') : 'due') as Order;
    const set = (key: string, to: string) =>
        setParams(
            (now) => {
                const next = new URLSearchParams(now);
                if (to === '') next.delete(key);
                else next.set(key, to);
                return next;
            },
            { replace: true },
        );
    if (!bench.data) return <QueryState of={bench} what="Looking over the bench ..." />;
    const all = bench.data.jobs;
    const jobs = chosen(all, { find: value('find'), batch: value('batch'), person: value('person'), stage: value('stage'), order });
    const some = (of: (j: BenchRow) => string | null) => [...new Set(all.map(of))].filter((x): x is string => !!x).sort();
    const lane = value('batch') === '' ? null : (all.find((j) => j.batch === value('batch'))?.batch_id ?? null);
    const now = Date.parse(bench.data.now);
    if (all.length === 0) return <Empty />;
    return (
        <div className="p-4 grid gap-4">
            <div className="flex flex-wrap items-end gap-3">
                <h1 className="pb-1">Bench</h1>
                <Go to="/intake" look="main">
                    Take a pack in
                </Go>
                <Go to={lane ? `/batches/${lane}` : '/batches'} className="mr-auto">
                    {lane ? 'Its lane' : 'Batches'}
                </Go>
                <label className="w-36">
                    <span className="eyebrow block">Show</span>
                    <input
                        type="search"
                        placeholder="name, customer, finding"
                        value={value('find')}
                        onChange={(e) => set('find', e.target.value)}
                    />
                </label>
                <Select
                    label="Stage"
                    value={value('stage')}
                    all="every stage"
                    change={(v) => set('stage', v)}
                    of={Object.entries(words.stages)}
                />
                <Select
                    label="Person"
                    value={value('person')}
                    all="everybody"
                    change={(v) => set('person', v)}
                    of={some((j) => j.by).map((p) => [p, p])}
                />
                {some((j) => j.batch).length > 0 && (
                    <Select
                        label="Batch"
                        value={value('batch')}
                        all="all packs"
                        change={(v) => set('batch', v)}
                        of={some((j) => j.batch).map((b) => [b, b])}
                    />
                )}
                <Select label="Order" value={order} change={(v) => set('order', v)} of={Object.entries(ORDERS)} />
            </div>
            <Offer />
            {jobs.length === 0 && (
                <p>
                    None of {all.length} {all.length === 1 ? 'pack' : 'packs'} is like that.{' '}
                    <Button onClick={() => setParams({}, { replace: true })}>Show all</Button>
                </p>
            )}
            <div className="grid gap-5 lg:grid-cols-[2fr_1fr] items-start">
                <Lane {...LANES[0]!} jobs={jobs.filter((j) => j.lane === 'hands')} now={now} wide />
                <div className="grid gap-5">
                    {LANES.slice(1).map((l) => (
                        <Lane key={l.lane} {...l} jobs={jobs.filter((j) => j.lane === l.lane)} now={now} />
                    ))}
                </div>
            </div>
        </div>
    );
}

function Select({
    label,
    value,
    all,
    of,
    change,
}: {
    label: string;
    value: string;
    all?: string;
    of: [string, string][];
    change: (v: string) => void;
}) {
    return (
        <label className="w-[7.9rem]">
            <span className="eyebrow block">{label}</span>
            <select value={value} onChange={(e) => change(e.target.value)}>
                {all !== undefined && <option value="">{all}</option>}
                {of.map(([v, name]) => (
                    <option key={v} value={v}>
                        {name}
                    </option>
                ))}
            </select>
        </label>
    );
}

/** Whoever is new here is offered the walk once; it stays under Find. */
function Offer() {
    const tour = useTour(usePerson().id);
    if (!tour.fresh) return null;
    return (
        <p className="border-l-4 border-water bg-panel px-4 py-1.5 flex flex-wrap gap-x-4 gap-y-1 items-center">
            <span>
                <b>New here?</b> A walk through the screens, on the packs of this bench, takes five minutes and changes nothing.
            </span>
            <Button onClick={() => tour.go(0)}>Walk through</Button>
            <Button look="quiet" onClick={() => tour.go('done')}>
                Not now
            </Button>
        </p>
    );
}

/** A bench with nothing on it teaches what is done here. */
function Empty() {
    return (
        <div className="p-6 grid gap-4 max-w-2xl">
            <h1>Nothing lies on the bench yet</h1>
            <ol className="grid gap-2 list-decimal pl-6 text-lg">
                <li>Take a pack in: look at it first, then whose it is, what it drives, what is said of it.</li>
                <li>Probe: the screen says where the probes go; what reads oddly is questioned at once.</li>
                <li>The verdict says what is wrong, where, how surely, and which test would tell more.</li>
                <li>Plan, work, prove, hand back: each screen has a door to the next.</li>
            </ol>
            <div className="flex flex-wrap gap-3">
                <Go to="/intake" look="main">
                    Take the first pack in
                </Go>
                <Go to="/batches/new">Take a batch in</Go>
                <Go to="/import">Import a record</Go>
                <Go to="/instruments">Add a meter or a supply</Go>
            </div>
        </div>
    );
}

/** From so many in a lane on, cards are short. */
const DENSE = 24;

/** Cards of a lane that are drawn before one asks for the rest. */
const SHOWN = { wide: 24, narrow: 8 };

function Lane({ title, empty, jobs, now, wide = false }: { title: string; empty: string; jobs: BenchRow[]; now: number; wide?: boolean }) {
    const [whole, setWhole] = useState(false);
    const most = whole ? jobs.length : wide ? SHOWN.wide : SHOWN.narrow;
    // Many at once are told in fewer lines each, and what they want in counts above them.
    const dense = jobs.length > DENSE;
    return (
        <section aria-label={title} className="grid gap-2">
            <h2>
                {title} <span className="text-muted font-normal">{jobs.length}</span>
            </h2>
            {jobs.length === 0 && <p className="text-muted">{empty}</p>}
            {dense && wide && <p className="text-muted">{wants(jobs)}.</p>}
            <ul className={`grid gap-3 ${wide ? 'xl:grid-cols-2' : ''}`}>
                {jobs.slice(0, most).map((j) => (
                    <li key={j.id} className="grid">
                        <Card job={j} now={now} compact={!wide || dense} />
                    </li>
                ))}
            </ul>
            {jobs.length > most && (
                <div>
                    <Button onClick={() => setWhole(true)}>Show the other {jobs.length - most}</Button>
                </div>
            )}
        </section>
    );
}

function Card({ job, now, compact }: { job: BenchRow; now: number; compact: boolean }) {
    const bands =
        job.groups.length > 0
            ? job.groups.map((g, i) => ({ group: i + 1, ...g }))
            : Array.from({ length: job.series }, (_, i) => ({ group: i + 1, v: null, state: null, probability: 0 }));
    const until = job.due_at ?? job.waits_until;
    const to = job.door.startsWith('/') ? job.door : `/jobs/${job.id}/${job.door || job.stage}`;
    const edge = job.lane === 'held' ? 'border-l-8 border-l-ember' : job.due ? 'border-l-8 border-l-amber' : '';
    return (
        <Link to={to} className={`sheet flex gap-4 p-3 no-underline hover:border-bark ${edge}`}>
            {!compact && <CoreSample bands={bands} thumb width={54} height={104} />}
            <div className="min-w-0 grow grid content-start gap-0.5">
                <p className="font-bold text-lg leading-tight">
                    {job.due && <span className="text-amber">Due: </span>}
                    {job.next}
                </p>
                <p>
                    {job.name} <span className="text-muted">job {job.number}</span>
                </p>
                <p className="text-muted text-[0.92rem]">
                    {job.customer}
                    {job.batch && `, batch ${job.batch}`}
                </p>
                {job.first_finding && !compact && <p className="text-[0.95rem]">{job.first_finding}</p>}
                {until && job.lane === 'waiting' && <p className="font-bold">until {when(until)}</p>}
                <p className="text-muted text-[0.88rem]">
                    {job.due && until ? `since ${when(until)}; ` : ''}
                    {job.by ? `${job.by}, ${ago(job.touched_at, now)}` : ago(job.touched_at, now)}
                </p>
            </div>
        </Link>
    );
}
