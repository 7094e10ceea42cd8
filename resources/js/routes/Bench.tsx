import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { api, type BenchRow, unwrap } from '@/api/client';
import { when } from '@/lib/format';
import { Button, Go, Waiting } from '@/parts/basics';
import { CoreSample } from '@/parts/CoreSample';

const LANES: { lane: BenchRow['lane']; title: string; empty: string }[] = [
    { lane: 'hands', title: 'Wants hands now', empty: 'Nothing wants hands. Take a pack in, or look at what waits.' },
    { lane: 'waiting', title: 'Waits', empty: 'Nothing waits for its time.' },
    { lane: 'held', title: 'Held', empty: 'No pack is held or in quarantine.' },
    { lane: 'done', title: 'Gone', empty: 'Nothing has left yet.' },
];

export function Component() {
    const bench = useQuery({ queryKey: ['bench'], queryFn: () => unwrap(api.GET('/api/bench')), refetchInterval: 30_000 });
    const [params, setParams] = useSearchParams();
    const find = (params.get('find') ?? '').toLowerCase();
    const batch = params.get('batch') ?? '';
    if (!bench.data)
        return bench.isError ? (
            <p role="alert" className="p-6">
                {bench.error.message}
            </p>
        ) : (
            <Waiting what="Looking over the bench ..." />
        );
    const jobs = bench.data.jobs.filter(
        (j) => (batch === '' || j.batch === batch) && (find === '' || `${j.name} ${j.customer}`.toLowerCase().includes(find)),
    );
    const batches = [...new Set(bench.data.jobs.map((j) => j.batch).filter((b) => b !== ''))];
    return (
        <div className="p-5 grid gap-5">
            <div className="flex flex-wrap items-center gap-3">
                <h1 className="mr-auto">Bench</h1>
                {batches.length > 0 && (
                    <label className="flex items-center gap-2">
                        <span className="eyebrow">Batch</span>
                        <select value={batch} onChange={(e) => setParams(e.target.value ? { batch: e.target.value } : {})}>
                            <option value="">all packs</option>
                            {batches.map((b) => (
                                <option key={b}>{b}</option>
                            ))}
                        </select>
                    </label>
                )}
                {find !== '' && <Button onClick={() => setParams({})}>Only “{params.get('find')}”: show all</Button>}
                <Go to="/import">Import a record</Go>
                <Go to="/intake" look="main">
                    Take a pack in
                </Go>
            </div>
            <div className="grid gap-5 lg:grid-cols-[2fr_1fr] items-start">
                <Lane {...LANES[0]!} jobs={jobs.filter((j) => j.lane === 'hands')} wide />
                <div className="grid gap-5">
                    {LANES.slice(1).map((l) => (
                        <Lane key={l.lane} {...l} jobs={jobs.filter((j) => j.lane === l.lane)} />
                    ))}
                </div>
            </div>
        </div>
    );
}

function Lane({ title, empty, jobs, wide = false }: { title: string; empty: string; jobs: BenchRow[]; wide?: boolean }) {
    return (
        <section aria-label={title} className="grid gap-2">
            <h2>
                {title} <span className="text-muted font-normal">{jobs.length}</span>
            </h2>
            {jobs.length === 0 && <p className="text-muted">{empty}</p>}
            <ul className={`grid gap-3 ${wide ? 'xl:grid-cols-2' : ''}`}>
                {jobs.map((j) => (
                    <li key={j.id}>
                        <Card job={j} compact={!wide} />
                    </li>
                ))}
            </ul>
        </section>
    );
}

function Card({ job, compact }: { job: BenchRow; compact: boolean }) {
    const bands =
        job.groups.length > 0
            ? job.groups.map((g, i) => ({ group: i + 1, ...g }))
            : Array.from({ length: job.series }, (_, i) => ({ group: i + 1, v: null, state: null, probability: 0 }));
    return (
        <Link
            to={`/jobs/${job.id}/${job.stage}`}
            className={`sheet flex gap-4 p-3 no-underline hover:border-bark ${job.lane === 'held' ? 'border-l-8 border-l-ember' : ''}`}
        >
            {!compact && <CoreSample bands={bands} thumb width={54} height={104} />}
            <div className="min-w-0 grow grid content-start gap-0.5">
                <p className="font-bold text-lg leading-tight">{job.next}</p>
                <p>
                    {job.name} <span className="text-muted">job {job.number}</span>
                </p>
                <p className="text-muted text-[0.92rem]">
                    {job.customer}
                    {job.batch && `, batch ${job.batch}`}
                </p>
                {job.first_finding && !compact && <p className="text-[0.95rem]">{job.first_finding}</p>}
                {job.waits_until && job.lane === 'waiting' && <p className="font-bold">until {when(job.waits_until)}</p>}
            </div>
        </Link>
    );
}
