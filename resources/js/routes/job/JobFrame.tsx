import { useEffect, useState } from 'react';
import { Link, Navigate, Outlet, useMatch, useNavigate } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { useJob, useJobId, useJobWrite } from '@/lib/job';
import { count, when } from '@/lib/format';
import { writes } from '@/lib/keys';
import { Aside, Button } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { STAGES, StageRail } from '@/parts/StageRail';
import { visit } from '@/parts/KnownPack';
import { LookStrip } from './LookStrip';
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
            if (writes(e)) return;
            const step = e.key === '[' ? -1 : e.key === ']' ? 1 : 0;
            const to = STAGES[STAGES.findIndex((s) => s.stage === here) + step];
            if (step === 0) return;
            e.preventDefault();
            if (to) void navigate(`/jobs/${id}/${to.stage}`);
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    }, [here, id, navigate]);
    const job = query.data ?? remembered(id);
    useEffect(() => {
        if (query.data) localStorage.setItem(`heartwood.job.${id}`, JSON.stringify({ by: screens(), job: query.data }));
    }, [query.data, id]);
    if (!job) {
        return <QueryState of={query} what="Fetching the job ..." />;
    }
    if (!here) return <Navigate to={`/jobs/${id}/${job.stage}`} replace />;
    return (
        <>
            <Head job={job} />
            <StageRail job={job.id} at={job.stage}>
                <Wait job={job} />
            </StageRail>
            <SafetyBanner job={job} />
            {here !== 'intake' && here !== 'report' && <LookStrip job={job} />}
            {job.comeback && job.status === 'open' && <CameBack job={job} came={job.comeback} />}
            {here !== 'work' && here !== 'report' && <BackToWork job={job} />}
            {here !== 'guided' && here !== 'report' && <UnderWay job={job} />}
            <Outlet context={job} />
        </>
    );
}

/** From whatever room the evidence of a step is taken in, the way back to the work, and what the step still wants. */
export function BackToWork({ job }: { job: Job }) {
    const steps = job.stage === 'work' && job.status === 'open' ? (job.decision?.steps ?? []) : [];
    const at = steps.findIndex((s) => s.state === 'open');
    if (steps.length === 0) return null;
    const step = steps[at];
    return (
        <nav aria-label="The work" className="no-print mx-4 mb-1 px-3 flex items-baseline gap-x-3 border-l-4 border-bark bg-knot rounded-r">
            <Link
                to={`/jobs/${job.id}/work`}
                className="whitespace-nowrap min-h-[44px] inline-flex items-center underline underline-offset-4"
            >
                Back to the work
            </Link>
            <p className="truncate min-w-0">
                {step ? (
                    <>
                        <b>
                            {at + 1} of {steps.length}: {step.title}.
                        </b>{' '}
                        <span className="text-muted">{step.proof}</span>
                    </>
                ) : (
                    <b>✓ Every step is closed.</b>
                )}
            </p>
        </nav>
    );
}

/** It went back before and came in again: by which job, under which promise, and why as far as anything tells. */
export function CameBack({ job, came }: { job: Job; came: NonNullable<Job['comeback']> }) {
    return (
        <nav
            aria-label="It came back"
            className="no-print mx-4 mb-1 px-3 flex items-baseline gap-x-3 border-l-4 border-amber bg-knot rounded-r"
        >
            <Link
                to={`/packs/${job.pack_id}`}
                className="whitespace-nowrap min-h-[44px] inline-flex items-center underline underline-offset-4 font-bold"
            >
                Back after {count(came.days, 'day')}
            </Link>
            <p className="truncate min-w-0">
                It went back by{' '}
                <Link to={`/jobs/${came.job_id}/report`} className="underline underline-offset-4">
                    job {came.number}
                </Link>
                . {came.promise ? (came.promise.runs ? 'The promise runs. ' : 'The promise has ended. ') : ''}
                {came.suggests && `Looks like ${came.suggests.words}: ${came.suggests.why}.`}
            </p>
        </nav>
    );
}

/** Guided runs that somebody has begun: what each wants next, one touch away from any room. */
function UnderWay({ job }: { job: Job }) {
    const open = job.guided.filter((r) => r.ended_at === null);
    if (open.length === 0 || job.status !== 'open') return null;
    return (
        <nav aria-label="Guided runs under way" className="no-print mx-4 mb-1 px-3 border-l-4 border-amber bg-knot rounded-r">
            {open.map((r) => (
                <Link
                    key={r.id}
                    to={`/jobs/${job.id}/guided/${r.id}`}
                    className="min-h-[44px] flex items-center gap-x-2 underline underline-offset-4"
                >
                    <b className="whitespace-nowrap">{r.title}</b>
                    <span className="truncate">
                        {r.waits_until && new Date(r.waits_until) > new Date() ? `waits until ${when(r.waits_until)}` : r.next}
                    </span>
                </Link>
            ))}
        </nav>
    );
}

/** Which screens these are: their script bears the hash of what is in it. */
const screens = () => document.querySelector<HTMLScriptElement>('script[type=module][src]')?.src ?? '';

/**
 * The job as last seen on this bench, so that probing goes on while the server is away. What other screens saw, before an upgrade, may
 * lack what these need: it is fetched anew.
 */
export function remembered(id: number): Job | null {
    try {
        const kept = JSON.parse(localStorage.getItem(`heartwood.job.${id}`) ?? 'null') as { by?: string; job?: Job } | null;
        return kept?.by === screens() ? (kept.job ?? null) : null;
    } catch {
        return null;
    }
}

/** One line: whose, what and how dangerous; what does not fit is told on the name. */
function Head({ job }: { job: Job }) {
    const said = [
        `${count(job.series, 'group')}${job.parallel ? ` of ${job.parallel}` : ''}, ${job.chemistry}, ${job.full_v.toFixed(1)} V full.`,
        job.revision > 1 ? `Pack revision ${job.revision}.` : '',
        job.energy ?? '',
    ]
        .filter(Boolean)
        .join(' ');
    return (
        <div className="no-print px-4 flex items-baseline gap-x-3 h-[29px]">
            <h1 className="!text-[1.25rem] whitespace-nowrap">
                {job.name} <span className="font-normal text-muted text-base">job {job.number}</span>
            </h1>
            <p className="text-muted truncate min-w-0" title={said}>
                <Link to={`/customers/${job.customer_id}`} className="underline underline-offset-4">
                    {job.customer}
                </Link>
                {job.call && ` ${job.call}`}.{' '}
                {job.batch_id != null && (
                    <>
                        <Link to={`/batches/${job.batch_id}`} title="The lane of its batch" className="underline underline-offset-4">
                            {job.batch}
                        </Link>{' '}
                    </>
                )}
                {job.pack_id != null && job.pack_code != null && (
                    <>
                        <Link
                            to={`/packs/${job.pack_id}`}
                            title="All that is known of this pack"
                            className="digits underline underline-offset-4"
                        >
                            {job.pack_code}
                        </Link>{' '}
                    </>
                )}
                {said}
                {(job.others ?? []).length > 0 && (
                    <>
                        {' '}
                        <Link to={`/jobs/${job.id}/intake`} className="underline underline-offset-4">
                            {`${visit(job.others.length)} visit`}
                        </Link>
                        .
                    </>
                )}
            </p>
            <span className="md:hidden">
                <Aside sign="more" name="What pack this is" quiet>
                    {said}
                </Aside>
            </span>
        </div>
    );
}

function Wait({ job }: { job: Job }) {
    const [waiting, setWaiting] = useState(false);
    const mayWait = useMay('wait');
    const end = useJobWrite(() =>
        unwrap(api.POST('/api/jobs/{job}/wait', { params: { path: { job: job.id }, header: key() }, body: { until: null } })),
    );
    if (job.waits_until && new Date(job.waits_until) > new Date()) {
        return (
            <p className="pl-3 pr-1 whitespace-nowrap">
                <b>Waits until {when(job.waits_until)}</b>{' '}
                <Button look="quiet" onClick={() => end.mutate(undefined)}>
                    End the wait
                </Button>
            </p>
        );
    }
    if (!mayWait || job.status !== 'open') return null;
    return (
        <>
            <Button look="quiet" onClick={() => setWaiting(true)}>
                Let it wait
            </Button>
            {waiting && <WaitSheet job={job} onClose={() => setWaiting(false)} />}
        </>
    );
}
