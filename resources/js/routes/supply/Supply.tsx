import { before, slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { api, type Job, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { Basis, Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { Beside } from '@/parts/Beside';
import { Tabs, useTab } from '@/parts/Tabs';
import { Balance } from './Balance';
import { Charge } from './Charge';
import { Recover } from './Recover';
import { Wake } from './Wake';

export type Overview = components['schemas']['RecoveryOverview'];
type RunRow = components['schemas']['RunRow'];

const TABS = [
    ['recover', 'Bring a group up'],
    ['balance', 'Bring them level'],
    ['charge', 'Charge the pack, watched'],
    ['wake', 'Wake the board'],
] as const;

export function Component() {
    const job = useOutletContext<Job>();
    const tab = useTab(TABS);
    const overview = useQuery({
        queryKey: slots.recovery(job.id, job.measurements.length, job.tests.length),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/recovery', { params: { path: { job: job.id } } })),
        refetchInterval: 5_000,
        // A reading more does not untick what was confirmed.
        placeholderData: before(job.id),
    });
    if (!overview.data) return <QueryState of={overview} what="Working it out ..." />;
    const o = overview.data;
    const live = o.runs.find((r) => r.watched_until_closed);
    return (
        <Beside job={job} stage="work" narrow>
            <Tabs label="At the supply" tabs={TABS} at={tab} />
            {live && (
                <p className="sheet p-4 flex flex-wrap gap-4 items-center border-l-8 !border-l-amber">
                    <b>
                        {live.ended_at === null
                            ? `${runName(live)}: running`
                            : `${runName(live)}: ended, the pack is watched for half an hour`}
                    </b>
                    , started {when(live.started_at)} by {live.by}.
                    <Go to={`/jobs/${job.id}/runs/${live.id}`} look="main">
                        Watch it
                    </Go>
                </p>
            )}
            {tab === 'recover' && <Recover job={job} overview={o} />}
            {tab === 'balance' && <Balance job={job} overview={o} />}
            {tab === 'charge' && <Charge job={job} overview={o} />}
            {tab === 'wake' && <Wake job={job} overview={o} />}
            {o.runs.length > 0 && <Runs job={job} runs={o.runs} />}
        </Beside>
    );
}

/** What a run is called wherever it is listed. */
export function runName(r: { kind: RunRow['kind']; group: number }) {
    return { recovery: `Group ${r.group} brought up`, balance: 'Brought level', bypass: 'Past the board', charge: 'Charged and watched' }[
        r.kind
    ];
}

function Runs({ job, runs }: { job: Job; runs: RunRow[] }) {
    return (
        <section aria-label="Runs" className="grid gap-2">
            <h2>Runs so far</h2>
            <ul className="grid gap-2">
                {runs.map((r) => (
                    <li key={r.id} className="border-b border-line pb-2">
                        <a href={`/jobs/${job.id}/runs/${r.id}`}>
                            {runName(r)}, {when(r.started_at)}
                        </a>
                        : <b>{r.ended_at === null ? 'running' : r.good ? r.outcome_word : `stopped: ${r.outcome_word}`}</b>{' '}
                        <span className="text-muted">{r.text}</span>
                        {r.hold && (
                            <p>
                                <b>
                                    {r.hold.outcome === 'pass'
                                        ? '✓ Hold test passed.'
                                        : r.hold.outcome === 'reject'
                                          ? '✕ Hold test: rejected.'
                                          : r.hold.outcome === 'moved'
                                            ? '▲ Hold test: something else moved it.'
                                            : '○ Hold test: cannot be told yet.'}
                                </b>{' '}
                                {r.hold.text} <Basis of="derived" />{' '}
                                {r.hold.read_again_in_h !== null &&
                                    `Read again ${r.hold.read_again_in_h > 0 ? `in ${r.hold.read_again_in_h.toFixed(0)} h` : 'now'}.`}
                            </p>
                        )}
                    </li>
                ))}
            </ul>
        </section>
    );
}
