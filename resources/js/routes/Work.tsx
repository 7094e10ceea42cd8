import { useNavigate, useOutletContext } from 'react-router';
import { useState } from 'react';
import { ApiError, api, type Job, key, unwrap } from '@/api/client';
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
    // Of a plan of several parts each step says of which places it speaks.
    const several = ((decision.option as { parts?: unknown[] }).parts ?? []).length > 1;
    const open = decision.steps.findIndex((s) => s.state === 'open');
    const room = open === -1 ? '' : decision.steps[open]!.room;
    return (
        <Beside job={job} stage="work">
            <div>
                <h2 className="text-xl">{decision.said}</h2>
                <p className="text-muted">
                    {decision.reason} ({decision.by})
                </p>
            </div>
            <ol className="grid gap-3">
                {decision.steps.map((s, i) => (
                    <li key={s.id}>
                        <Step job={job} step={s} number={i + 1} now={i === open} parts={several} />
                    </li>
                ))}
            </ol>
            {job.status === 'open' && (
                <div className="flex flex-wrap gap-3">
                    <Button look={open === -1 ? 'main' : 'plain'} onClick={() => on.mutate(undefined)}>
                        On to the proof
                    </Button>
                    {door && open !== -1 && !door.to.endsWith(room) && <Go to={door.to}>{door.text}</Go>}
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

type WorkStep = NonNullable<Job['decision']>['steps'][number];

const SIGN = { open: '○', done: '✓', skipped: '◇' } as const;

/** A step: closed by its evidence, whose room is one touch away; by a word where nothing can prove it; or left, and why. */
function Step({ job, step, number, now, parts }: { job: Job; step: WorkStep; number: number; now: boolean; parts: boolean }) {
    const navigate = useNavigate();
    const [entry, setEntry, clear] = useDraft(`step.${step.id}.${usePerson().id}`, step.typed || NOTHING);
    const [leaving, setLeaving] = useState(false);
    const [why, setWhy, forget] = useDraft(`step.${step.id}.left.${usePerson().id}`, NOTHING);
    const say = useJobWrite(
        (body: { done?: boolean; entry?: string; skip?: string; start?: boolean }) =>
            unwrap(api.POST('/api/jobs/{job}/steps/{step}', { params: { path: { job: job.id, step: step.id }, header: key() }, body })),
        () => {
            clear();
            forget();
            setLeaving(false);
        },
    );
    const open = step.state === 'open' && job.status === 'open';
    const wrong = say.error instanceof ApiError ? say.error : null;
    const enter = () => {
        // Its time runs from the first touch; the room does not wait for that to be written down.
        if (!step.started_at) say.mutate({ start: true });
        void navigate(`/jobs/${job.id}/${step.room}`);
    };
    return (
        <article
            className={`sheet ${step.state === 'open' ? 'p-4' : 'px-4 py-2'} grid gap-2 ${now ? 'border-l-8 border-l-bark' : ''}`}
            aria-current={now ? 'step' : undefined}
        >
            <h3 className={`text-lg leading-tight ${now ? 'font-bold' : ''}`}>
                <span className="text-muted">{number}.</span> {step.title}
                {parts && step.places !== '' && <span className="font-normal text-muted">: {step.places}</span>}
            </h3>
            {step.caution && step.state === 'open' && <p className="border-l-4 border-amber pl-3">{step.caution}</p>}
            {step.alters && step.state === 'open' && (
                <p className="text-muted text-sm">
                    Opens the next revision of the pack: what is measured from then on counts for the changed pack.
                </p>
            )}
            {step.state !== 'open' && (
                <p className="flex flex-wrap items-center gap-x-3">
                    <b className={step.state === 'done' ? 'text-moss' : 'text-amber'}>
                        {SIGN[step.state]} {step.state === 'done' ? 'done' : 'left'}
                    </b>
                    <span>{step.skipped || step.typed || step.proof}</span>
                    <span className="text-muted">
                        {step.by && `${step.by}${step.word || step.skipped ? ', by their word' : ''}, `}
                        {step.done_at && when(step.done_at)}
                        {(step.minutes ?? 0) >= 1 && `, ${step.minutes!.toFixed(0)} min`}
                    </span>
                    {job.status === 'open' && step.by && (
                        <Button look="quiet" onClick={() => say.mutate({ done: false, entry: step.typed })}>
                            Take it back
                        </Button>
                    )}
                </p>
            )}
            {open && !step.word && step.proof && <p className="text-muted">{step.proof}</p>}
            {open && !leaving && (
                <div className="flex flex-wrap items-end gap-3">
                    {step.word && step.entry && (
                        <div className="grow max-w-md">
                            <Field label={step.entry} error={wrong?.fields['entry']}>
                                {(p) => (
                                    <input
                                        {...p}
                                        value={entry}
                                        onChange={(e) => setEntry(e.target.value)}
                                        onKeyDown={(e) => e.key === 'Enter' && say.mutate({ done: true, entry })}
                                    />
                                )}
                            </Field>
                        </div>
                    )}
                    {step.word && step.door && <Button onClick={enter}>{step.door}</Button>}
                    {step.word ? (
                        <Button look={now ? 'main' : 'plain'} disabled={say.isPending} onClick={() => say.mutate({ done: true, entry })}>
                            Done
                        </Button>
                    ) : (
                        <Button look={now ? 'main' : 'plain'} onClick={enter}>
                            {step.door}
                        </Button>
                    )}
                    {/* That nothing flows is proved: it is not left out. */}
                    {step.closed_by !== 'no-current' && (
                        <Button look="quiet" onClick={() => setLeaving(true)}>
                            Leave it
                        </Button>
                    )}
                </div>
            )}
            {open && leaving && (
                <div className="flex flex-wrap items-end gap-3">
                    <div className="grow max-w-md">
                        <Field label="Why it is left: stays on the report" error={wrong?.fields['skip']}>
                            {(p) => (
                                <input
                                    {...p}
                                    autoFocus
                                    value={why}
                                    maxLength={400}
                                    onChange={(e) => setWhy(e.target.value)}
                                    onKeyDown={(e) => e.key === 'Enter' && say.mutate({ skip: why })}
                                />
                            )}
                        </Field>
                    </div>
                    <Button disabled={say.isPending || why.trim() === ''} onClick={() => say.mutate({ skip: why })}>
                        Leave it out
                    </Button>
                    <Button look="quiet" onClick={() => setLeaving(false)}>
                        Do it after all
                    </Button>
                </div>
            )}
        </article>
    );
}
