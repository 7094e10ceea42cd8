import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useOutletContext, useParams } from 'react-router';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import { useKeep, useMay } from '@/lib/bench';
import { percent, when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Beside } from '@/parts/Beside';
import { Button, Field, Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { Sheet } from '@/parts/Sheet';
import { left, named, OUTCOMES, type Run, saidOf, type Step } from './guided';
import { StepForm } from './StepForm';

/** One guided run: what is next, what was done, what is watched meanwhile, and what it came to. */
export function Component() {
    const job = useOutletContext<Job>();
    const id = Number(useParams()['run']);
    const query = useQuery({
        queryKey: slots.job(job.id, 'guided', id),
        queryFn: () => unwrap(api.GET('/api/guided/{guidedRun}', { params: { path: { guidedRun: id } } })),
        refetchInterval: 15_000,
    });
    if (!query.data) return <QueryState of={query} what="Fetching the guided run ..." />;
    return (
        <Beside job={job} stage="probe" narrow>
            <Body job={job} run={query.data} />
        </Beside>
    );
}

function Body({ job, run }: { job: Job; run: Run }) {
    const may = useMay('probe') && job.status === 'open' && run.ended_at === null;
    const queries = useQueryClient();
    const [leaving, setLeaving] = useState(false);
    const end = useMutation({
        mutationFn: (leave: string | null) =>
            unwrap(
                api.POST('/api/guided/{guidedRun}/end', {
                    params: { path: { guidedRun: run.id }, header: key() },
                    body: leave === null ? {} : { leave },
                }),
            ),
        onSuccess: (data) => {
            queries.setQueryData(slots.job(job.id, 'guided', run.id), data);
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            void queries.invalidateQueries({ queryKey: slots.bench() });
            setLeaving(false);
        },
        onError: (e) => toast.error(e.message),
    });
    const keep = useKeep();
    const last = run.steps
        .flatMap((s) => (s.kind === 'log' ? s.rows : s.entry && s.entry.found === '' ? [s.entry] : []))
        .sort((a, b) => (a.at < b.at ? -1 : 1))
        .at(-1);
    const came = run.outcome ?? run.preview;
    return (
        <>
            <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
                <h2>{named(run)}</h2>
                <span className="text-muted">
                    begun {when(run.started_at)} by {run.by}
                    {run.revision !== job.revision && `, on revision ${run.revision} of the pack`}
                </span>
                <Go to={`/jobs/${job.id}/guided`} look="quiet" className="ml-auto">
                    All guided runs
                </Go>
            </div>
            <p>{run.why}</p>
            {run.watch.length > 0 && run.ended_at === null && (
                <ul aria-label="Watched meanwhile" className="border-l-4 border-ember pl-3 grid gap-0.5">
                    {run.watch.map((w) => (
                        <li key={w} className="font-bold">
                            {w}
                        </li>
                    ))}
                </ul>
            )}
            <ol aria-label="Steps" className="grid gap-2">
                {run.steps.map((s, i) => (
                    <StepRow key={s.code} job={job} run={run} step={s} n={i + 1} may={may} />
                ))}
            </ol>
            {run.trial && (run.trial.coverage.some((c) => c.cycles > 0) || run.ended_at !== null) && <Trial run={run} />}
            {came && (
                <section aria-label="What it came to" className="sheet p-4 grid gap-2">
                    <p className="text-lg">
                        <b className={OUTCOMES[came.word].ink}>
                            <span aria-hidden="true">{OUTCOMES[came.word].sign}</span> {OUTCOMES[came.word].word}
                        </b>
                        : {came.text}.
                    </p>
                    {came.reasons.length > 0 && (
                        <ul className="list-disc pl-5">
                            {came.reasons.map((r) => (
                                <li key={r}>{r}</li>
                            ))}
                        </ul>
                    )}
                    {run.ended_at === null && may && (
                        <div>
                            <Button look="main" disabled={end.isPending} onClick={() => end.mutate(null)}>
                                Keep what it came to
                            </Button>
                        </div>
                    )}
                </section>
            )}
            {run.ended_at && (
                <div className="flex flex-wrap items-center gap-3">
                    <span>
                        {run.left ? `Left without an outcome: ${run.left}` : 'On the record'}, {when(run.ended_at)}.
                    </span>
                    <Go to={`/jobs/${job.id}/verdict`} look="main">
                        See the verdict
                    </Go>
                    {job.stage === 'proof' && <Go to={`/jobs/${job.id}/proof`}>Back to the proof</Go>}
                </div>
            )}
            {may && (
                <div className="flex flex-wrap gap-2">
                    {last && (
                        <Button
                            look="quiet"
                            onClick={() => void keep({ kind: 'guided', job: job.id, data: { run: run.id, withdraws: last.id } })}
                        >
                            Take back the last entry
                        </Button>
                    )}
                    <Button look="quiet" onClick={() => setLeaving(true)}>
                        Leave this run
                    </Button>
                </div>
            )}
            {leaving && <Leave onClose={() => setLeaving(false)} leave={(reason) => end.mutate(reason)} />}
        </>
    );
}

const SIGN = { done: '✓', next: '▸', later: '·', left: '◇' };

function StepRow({ job, run, step, n, may }: { job: Job; run: Run; step: Step; n: number; may: boolean }) {
    const now = step.state === 'next' && run.ended_at === null;
    return (
        <li
            className={clsx(
                'px-4 grid gap-x-4',
                now || step.kind === 'log' ? 'sheet py-2.5 gap-y-2' : 'py-0.5',
                now && 'border-l-8 !border-l-bark',
            )}
            aria-current={now ? 'step' : undefined}
        >
            <div className="flex items-baseline gap-x-3">
                <span className={clsx('whitespace-nowrap', step.state === 'done' && 'text-moss')}>
                    <span aria-hidden="true">{SIGN[step.state]}</span> {n}
                </span>
                <span className={clsx('grow', now ? 'text-lg font-bold' : step.state === 'later' && 'text-muted')}>{step.text}</span>
                {step.room && step.open && (
                    <Go to={`/jobs/${job.id}/${step.room}`} className="whitespace-nowrap">
                        {step.door}
                    </Go>
                )}
            </div>
            {step.state === 'left' && <p className="text-muted">left out</p>}
            {step.entry && step.kind !== 'log' && step.state === 'done' && (
                <p className="text-muted pl-8 text-[0.95rem]">
                    {[saidOf(step, step.entry), when(step.entry.at), step.entry.by].filter(Boolean).join(', ')}
                </p>
            )}
            {step.kind === 'log' && step.rows.length > 0 && <Rows step={step} />}
            {step.kind === 'wait' && now && step.due && <Waiting due={step.due} />}
            {step.open && may && <StepForm key={step.code} run={run} step={step} name={NAMES[step.kind]} />}
        </li>
    );
}

const NAMES = { do: 'Done', wait: '', read: 'Keep the reading', log: 'Keep the row', ask: 'Keep it' };

function Rows({ step }: { step: Step }) {
    return (
        <ul className="digits text-[0.95rem] max-h-52 overflow-auto" aria-label="Rows">
            {step.rows.map((r) => (
                <li key={r.id} className="border-b border-line py-0.5">
                    <span className="text-muted">{when(r.at)}</span> {String(r.values['groups_v'] ?? '')}
                    {r.values['current_a'] !== undefined && `, ${String(r.values['current_a'])} A`}
                    {r.values['hottest_c'] !== undefined && `, ${String(r.values['hottest_c'])} degC`}
                </li>
            ))}
        </ul>
    );
}

function Waiting({ due }: { due: string }) {
    const [now, setNow] = useState(() => Date.now());
    useEffect(() => {
        const timer = setInterval(() => setNow(Date.now()), 1000);
        return () => clearInterval(timer);
    }, []);
    const more = left(due, now);
    return (
        <p>
            {more ? (
                <>
                    <b className="digits">{more}</b> to go, until {when(due)}. It stands on the bench meanwhile. What is done sooner is
                    taken, and said.
                </>
            ) : (
                <b>Its time is over.</b>
            )}
        </p>
    );
}

function Trial({ run }: { run: Run }) {
    const trial = run.trial!;
    return (
        <section aria-label="What was tried" className="grid gap-4 md:grid-cols-2">
            <div className="sheet p-4">
                <h3 className="font-bold">What was tried</h3>
                <ul>
                    {trial.coverage.map((c) => (
                        <li key={c.what} className="flex justify-between border-b border-line py-0.5">
                            <span>
                                <span aria-hidden="true">{c.cycles > 0 ? '✓' : '◌'}</span> {c.what}
                            </span>
                            <span className={c.cycles > 0 ? 'digits' : 'text-amber'}>{c.cycles > 0 ? c.cycles : 'not tried'}</span>
                        </li>
                    ))}
                </ul>
            </div>
            <div className="sheet p-4">
                <h3 className="font-bold">How it is weighed now</h3>
                <ul>
                    {trial.odds.map((o) => (
                        <li key={o.cause} className="border-b border-line py-0.5">
                            <span className="flex justify-between">
                                <span>{o.title}</span>
                                <b className="digits">{o.share < 0.005 ? 'under 1 %' : percent(o.share)}</b>
                            </span>
                            <span className="text-muted text-sm">{o.why}</span>
                        </li>
                    ))}
                </ul>
                <p className="pt-2">
                    <a href={`/api/guided/${run.id}/sheet.pdf`} target="_blank" rel="noreferrer" className="underline underline-offset-4">
                        The sheet for the customer
                    </a>
                </p>
            </div>
        </section>
    );
}

function Leave({ onClose, leave }: { onClose: () => void; leave: (reason: string) => void }) {
    const [why, setWhy] = useState('');
    const navigate = useNavigate();
    return (
        <Sheet title="Leave this run" onClose={onClose}>
            <form
                className="grid gap-3"
                onSubmit={(e) => {
                    e.preventDefault();
                    leave(why);
                    void navigate('..', { relative: 'path' });
                }}
            >
                <p>What was written stays on the record. It has no outcome.</p>
                <Field label="Why it is left">
                    {(p) => <input {...p} required value={why} onChange={(e) => setWhy(e.target.value)} />}
                </Field>
                <div>
                    <Button type="submit" look="main">
                        Leave it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
