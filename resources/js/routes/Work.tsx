import { useNavigate, useOutletContext } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { rooms, when } from '@/lib/format';
import { useJobWrite } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { Button, Field, Go } from '@/parts/basics';
import { Beside } from '@/parts/Beside';

const ROOMS: Record<string, string> = {
    recover: 'At the supply: bring the group up',
    balance: 'At the supply: bring them level',
    charge: 'At the supply: charge the pack, watched',
    wake: 'At the supply: wake the board',
    build: 'Build: deal, budget, sheet, pins',
};

/** The room in which the chosen way is done, with the right tab open; null where it is done by hand alone. */
export function doorOf(action: string, job: number): { to: string; text: string } | null {
    const room = rooms[action];
    if (!room) return null;
    return { to: room === 'build' ? `/jobs/${job}/build` : `/jobs/${job}/supply?do=${room}`, text: ROOMS[room] ?? room };
}

export function Component() {
    const job = useOutletContext<Job>();
    const navigate = useNavigate();
    const on = useJobWrite(
        () => unwrap(api.POST('/api/jobs/{job}/stage', { params: { path: { job: job.id }, header: key() }, body: { stage: 'proof' } })),
        () => void navigate(`/jobs/${job.id}/proof`),
    );
    const decision = job.decision;
    if (!decision) {
        return (
            <div className="p-6 grid gap-3">
                <p>The work follows from what is chosen under Plan.</p>
                <div>
                    <Go to={`/jobs/${job.id}/plan`} look="main">
                        Choose what to do
                    </Go>{' '}
                    <Go to={`/jobs/${job.id}/teardown`}>Teardown and the way back</Go>
                </div>
            </div>
        );
    }
    const door = doorOf(decision.action, job.id);
    const open = decision.steps.findIndex((s) => s.done_at === null);
    return (
        <Beside job={job} stage="work">
            <div>
                <h2 className="text-xl">{decision.option.title}</h2>
                <p className="text-muted">
                    {decision.reason} ({decision.by})
                </p>
            </div>
            <ol className="grid gap-3">
                {decision.steps.map((s, i) => (
                    <li key={s.id}>
                        <Step job={job} step={s} number={i + 1} now={i === open} />
                    </li>
                ))}
            </ol>
            {job.status === 'open' && (
                <div className="flex flex-wrap gap-3">
                    <Button look={open === -1 ? 'main' : 'plain'} onClick={() => on.mutate(undefined)}>
                        On to the proof
                    </Button>
                    {door && open !== -1 && (
                        <Go to={door.to} look="main">
                            {door.text}
                        </Go>
                    )}
                    {!door?.to.endsWith('/build') && <Go to={`/jobs/${job.id}/build`}>Build: deal, budget, sheet, pins</Go>}
                    {!door?.to.includes('/supply') && <Go to={`/jobs/${job.id}/supply`}>At the supply: bring up, balance, wake</Go>}
                    <Go to={`/jobs/${job.id}/teardown`}>Teardown and the way back</Go>
                    <Go to={`/jobs/${job.id}/probe`}>Read the groups</Go>
                </div>
            )}
        </Beside>
    );
}

const NOTHING = '';

function Step({ job, step, number, now }: { job: Job; step: NonNullable<Job['decision']>['steps'][number]; number: number; now: boolean }) {
    const [entry, setEntry, clear] = useDraft(`step.${step.id}.${usePerson().id}`, step.typed || NOTHING);
    const tick = useJobWrite(
        (done: boolean) =>
            unwrap(
                api.POST('/api/jobs/{job}/steps/{step}', {
                    params: { path: { job: job.id, step: step.id }, header: key() },
                    body: { done, entry },
                }),
            ),
        clear,
    );
    const done = step.done_at !== null;
    return (
        <article
            className={`sheet ${done ? 'px-4 py-2' : 'p-4'} grid gap-2 ${now ? 'border-l-8 border-l-bark' : ''}`}
            aria-current={now ? 'step' : undefined}
        >
            <h3 className={`text-lg leading-tight ${now ? 'font-bold' : ''}`}>
                <span className="text-muted">{number}.</span> {step.title}
            </h3>
            {step.caution && !done && <p className="border-l-4 border-amber pl-3">{step.caution}</p>}
            {step.alters && !done && (
                <p className="text-muted text-sm">
                    Opens the next revision of the pack: what is measured from then on counts for the changed pack.
                </p>
            )}
            {done ? (
                <p className="flex flex-wrap items-center gap-3">
                    <b className="text-moss">✓ done</b> {step.typed}{' '}
                    <span className="text-muted">
                        {step.by}, {when(step.done_at!)}
                    </span>
                    {job.status === 'open' && (
                        <Button look="quiet" onClick={() => tick.mutate(false)}>
                            Take it back
                        </Button>
                    )}
                </p>
            ) : (
                <div className="flex flex-wrap items-end gap-3">
                    {step.entry && (
                        <div className="grow max-w-md">
                            <Field label={step.entry}>
                                {(p) => (
                                    <input
                                        {...p}
                                        value={entry}
                                        onChange={(e) => setEntry(e.target.value)}
                                        onKeyDown={(e) => e.key === 'Enter' && tick.mutate(true)}
                                    />
                                )}
                            </Field>
                        </div>
                    )}
                    <Button
                        look={now ? 'main' : 'plain'}
                        disabled={tick.isPending || job.status !== 'open'}
                        onClick={() => tick.mutate(true)}
                    >
                        Done
                    </Button>
                </div>
            )}
        </article>
    );
}
