import { useQuery } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { api, type Job, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { Basis, Go, Waiting } from '@/parts/basics';
import { Tabs, useTab } from '@/parts/Tabs';
import { Balance } from './Balance';
import { Recover } from './Recover';
import { Wake } from './Wake';

export type Overview = components['schemas']['RecoveryOverview'];
type RunRow = components['schemas']['RunRow'];

const TABS = [
    ['recover', 'Bring a group up'],
    ['balance', 'Bring them level'],
    ['wake', 'Wake the board'],
] as const;

export function Component() {
    const job = useOutletContext<Job>();
    const tab = useTab(TABS);
    const overview = useQuery({
        queryKey: ['recovery', job.id, job.measurements.length, job.tests.length],
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/recovery', { params: { path: { job: job.id } } })),
        refetchInterval: 5_000,
    });
    if (!overview.data) return <Waiting what="Working it out ..." />;
    const o = overview.data;
    const live = o.runs.find((r) => r.ended_at === null);
    return (
        <div className="p-5 grid gap-4">
            <Tabs label="At the supply" tabs={TABS} at={tab} />
            {live && (
                <p className="sheet p-4 flex flex-wrap gap-4 items-center border-l-8 !border-l-amber">
                    <b>{live.kind === 'recovery' ? `Group ${live.group} is being brought up` : 'The pack is being brought level'}</b> since{' '}
                    {when(live.started_at)}, started by {live.by}.
                    <Go to={`/jobs/${job.id}/runs/${live.id}`} look="main">
                        Watch it
                    </Go>
                </p>
            )}
            {tab === 'recover' && <Recover job={job} overview={o} />}
            {tab === 'balance' && <Balance job={job} overview={o} />}
            {tab === 'wake' && <Wake job={job} overview={o} />}
            {o.runs.length > 0 && <Runs job={job} runs={o.runs} />}
        </div>
    );
}

const WORD: Record<string, string> = {
    'at-target': 'at its target',
    falls: 'stopped: it fell',
    hangs: 'stopped: it hung',
    warm: 'stopped: warm',
    missing: 'stopped: readings missing',
    jump: 'stopped: a lead was off',
    'too-much-charge': 'stopped: too much in',
    'falls-at-rest': 'rejected at rest',
    'leaks-at-rest': 'rejected: it leaks',
    'more-than-the-gap': 'stopped: more than the gap',
    'will-not-stay': 'stopped: falls back',
    person: 'ended by hand',
    done: 'level',
    'never-started': 'never started',
    limit: 'stopped at a limit',
};

function Runs({ job, runs }: { job: Job; runs: RunRow[] }) {
    return (
        <section aria-label="Runs" className="grid gap-2">
            <h2>Runs so far</h2>
            <ul className="grid gap-2">
                {runs.map((r) => (
                    <li key={r.id} className="border-b border-line pb-2">
                        <a href={`/jobs/${job.id}/runs/${r.id}`}>
                            {r.kind === 'recovery' ? `Group ${r.group}` : r.kind === 'bypass' ? 'Past the board' : 'Balancing'}, {when(r.started_at)}
                        </a>
                        : <b>{r.ended_at === null ? 'running' : (WORD[r.outcome] ?? r.outcome)}</b> <span className="text-muted">{r.text}</span>
                        {r.hold && (
                            <p>
                                <b>
                                    {r.hold.outcome === 'pass'
                                        ? '✓ Hold test passed.'
                                        : r.hold.outcome === 'reject'
                                          ? '✕ Hold test: rejected.'
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
