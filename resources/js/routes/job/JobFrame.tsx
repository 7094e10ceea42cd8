import { useEffect, useState } from 'react';
import { Link, Navigate, Outlet, useMatch, useNavigate } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { useJob, useJobId, useJobWrite } from '@/lib/job';
import { when } from '@/lib/format';
import { Button, Go, Waiting } from '@/parts/basics';
import { STAGES, StageRail } from '@/parts/StageRail';
import { SafetyBanner } from './SafetyBanner';
import { WaitSheet } from './WaitSheet';

/** What is the same on every screen of a job: its name, its safety state, where it is. */
export function Component() {
    const id = useJobId();
    const query = useJob(id);
    const navigate = useNavigate();
    const here = useMatch('/jobs/:job/:stage/*')?.params.stage;
    useEffect(() => {
        const onKey = (e: KeyboardEvent) => {
            if (e.target instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(e.target.tagName)) return;
            const step = e.key === '[' ? -1 : e.key === ']' ? 1 : 0;
            const to = STAGES[STAGES.findIndex((s) => s.stage === here) + step];
            if (step !== 0 && to) void navigate(`/jobs/${id}/${to.stage}`);
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    }, [here, id, navigate]);
    const job = query.data ?? remembered(id);
    useEffect(() => {
        if (query.data) localStorage.setItem(`heartwood.job.${id}`, JSON.stringify(query.data));
    }, [query.data, id]);
    if (!job) {
        return query.isError ? (
            <div role="alert" className="p-6 grid gap-3">
                <p>{query.error.message}</p>
                <div>
                    <Go to="/">Back to the bench</Go>
                </div>
            </div>
        ) : (
            <Waiting what="Fetching the job ..." />
        );
    }
    if (!here) return <Navigate to={`/jobs/${id}/${job.stage}`} replace />;
    return (
        <>
            <Head job={job} />
            <StageRail job={job.id} at={job.stage} />
            <SafetyBanner job={job} />
            <Outlet context={job} />
        </>
    );
}

/** The job as last seen on this bench, so that probing goes on while the server is away. */
export function remembered(id: number): Job | null {
    try {
        return JSON.parse(localStorage.getItem(`heartwood.job.${id}`) ?? 'null') as Job | null;
    } catch {
        return null;
    }
}

function Head({ job }: { job: Job }) {
    const [waiting, setWaiting] = useState(false);
    const mayWait = useMay('wait');
    const end = useJobWrite(() => unwrap(api.POST('/api/jobs/{job}/wait', { params: { path: { job: job.id }, header: key() }, body: { until: null } })));
    return (
        <div className="no-print px-5 pt-3 pb-2 flex flex-wrap items-baseline gap-x-5 gap-y-1">
            <h1>
                {job.name} <span className="font-normal text-muted text-lg">job {job.number}</span>
            </h1>
            <p className="text-muted">
                <Link to={`/customers/${job.customer_id}`} className="underline underline-offset-4">
                    {job.customer}
                </Link>
                . {job.series} groups{job.parallel ? ` of ${job.parallel}` : ''}, {job.chemistry}, {job.full_v.toFixed(1)} V full.
                {job.revision > 1 && ` Pack revision ${job.revision}.`} {job.energy}
            </p>
            <span className="grow" />
            {job.waits_until && new Date(job.waits_until) > new Date() ? (
                <p>
                    <b>Waits until {when(job.waits_until)}</b>{' '}
                    <Button look="quiet" onClick={() => end.mutate(undefined)}>
                        End the wait
                    </Button>
                </p>
            ) : (
                mayWait &&
                job.status === 'open' && (
                    <Button look="quiet" onClick={() => setWaiting(true)}>
                        Let it wait
                    </Button>
                )
            )}
            {waiting && <WaitSheet job={job} onClose={() => setWaiting(false)} />}
        </div>
    );
}
