import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { toast } from 'sonner';
import { useMay, usePerson } from '@/lib/bench';
import { count, money, percent, when } from '@/lib/format';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { slots } from '@/lib/slots';
import { numberOr } from '@/lib/number';
import { Basis, Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { named, OUTCOMES } from './guided/guided';
import { AgreedWords } from './intake/Agreed';
import { ReportPhotos } from '@/parts/ReportPhotos';
import { JobLine } from '@/parts/JobLine';
import { CoreSample } from '@/parts/CoreSample';
import { Truth, type Was } from './Truth';
import { bandsOf } from '@/lib/bands';

type Cause = components['schemas']['Cause'];
const LINK = 'inline-flex items-center min-h-[44px] px-4 py-2 rounded border-[1.5px] border-muted bg-panel hover:bg-knot no-underline';

export function Component() {
    const job = useOutletContext<Job>();
    const person = usePerson();
    const zone = person.workshop.timezone;
    const navigate = useNavigate();
    const may = useMay('return');
    const [truth, setTruth] = useState<Was[] | undefined>();
    const [cause, setCause] = useState<Cause | ''>('');
    const [months, setMonths] = useState(String(job.promise?.months ?? 0));
    const giveBack = useJobWrite(
        () =>
            unwrap(
                api.POST('/api/jobs/{job}/return', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        ...(truth === undefined ? {} : { truth }),
                        ...(cause === '' ? {} : { cause }),
                        ...(job.sign_off ? { promise_months: numberOr(months, job.promise?.months ?? 0) } : {}),
                    },
                }),
            ),
        () => void navigate('/'),
    );
    const [asking, setAsking] = useState(false);
    const left = (job.decision?.steps ?? []).filter((s) => s.state === 'open');
    const d = job.verdict?.document;
    const found = job.decision?.found.findings ?? d?.findings;
    const said = job.decision?.found.statements ?? job.verdict?.detail.statements ?? [];
    const after = job.decision && job.verdict && job.decision.found.verdict_id !== job.verdict.id ? d : undefined;
    const leaving = job.sign_off !== null || ['recycle', 'donor', 'quarantine'].includes(job.decision?.action ?? '');
    return (
        <div className="p-5 grid gap-4">
            <div className="no-print flex flex-wrap gap-3">
                <a
                    className={job.status !== 'open' || !leaving ? `${LINK} !bg-bark !text-on-bark font-bold` : LINK}
                    href={`/api/jobs/${job.id}/report.pdf`}
                    target="_blank"
                    rel="noreferrer"
                >
                    Open as PDF
                </a>
                <Button onClick={() => window.print()}>Print</Button>
                <a className={LINK} href={`/api/jobs/${job.id}/record`} download>
                    Export the job record
                </a>
                {may && job.status === 'open' && leaving && (
                    <Button look="main" onClick={() => setAsking(true)}>
                        {job.sign_off ? 'Hand it back to the customer' : 'Close the job'}
                    </Button>
                )}
                {job.status !== 'open' && (
                    <p className="self-center font-bold">{job.status === 'returned' ? 'Returned to the customer.' : 'Scrapped.'}</p>
                )}
                {may && job.status !== 'open' && job.may_take_back && <TakeBack job={job.id} />}
                {job.status !== 'open' && <Teaches job={job} />}
            </div>
            {asking && (
                <Sheet title={`${job.sign_off ? 'Hand back' : 'Close'} ${job.name}?`} onClose={() => setAsking(false)}>
                    <p>
                        {job.sign_off
                            ? `It goes back to ${job.customer}, signed by ${job.sign_off.by}.`
                            : 'It is no pack any more, and goes to nobody.'}{' '}
                        {left.length > 0 && <b>{count(left.length, 'step')} of the work not closed: </b>}
                        {left.map((s) => s.title).join('; ')}
                    </p>
                    {job.comeback && (
                        <WhyBack came={job.comeback} cause={cause} choose={setCause} error={fieldErrors(giveBack.error)['cause']} />
                    )}
                    {job.sign_off && (
                        <div className="max-w-xs">
                            <Field
                                label="Promise of the work, months"
                                hint="none at 0"
                                error={fieldErrors(giveBack.error)['promise_months']}
                            >
                                {(p) => <input {...p} inputMode="numeric" value={months} onChange={(e) => setMonths(e.target.value)} />}
                            </Field>
                        </div>
                    )}
                    <p className="text-muted">It can be taken back within the day.</p>
                    <div className="flex gap-3">
                        <Button look="main" disabled={giveBack.isPending} onClick={() => giveBack.mutate(undefined)}>
                            {job.sign_off ? 'It goes back' : 'Close it'}
                        </Button>
                        <Button onClick={() => setAsking(false)}>Not yet</Button>
                    </div>
                </Sheet>
            )}
            {may && job.status === 'open' && leaving && <Truth job={job} onChange={setTruth} />}
            <article className="sheet p-7 max-md:p-4 max-w-5xl grid gap-5 grid-cols-[minmax(0,1fr)] md:grid-cols-[minmax(0,1fr)_260px]">
                <div className="grid gap-4 content-start">
                    <header>
                        <p className="text-muted">{person.workshop.name}</p>
                        <h2 className="text-2xl">{job.name}</h2>
                        <p>
                            Job {job.number} for {job.customer}
                            {job.serial && `, serial ${job.serial}`}. {job.series} groups, {job.chemistry}, {job.full_v.toFixed(1)} V when
                            full. Pack revision {job.revision}.
                        </p>
                    </header>
                    {job.safety_state !== 'clear' && (
                        <p className="border-[3px] border-ember p-3">
                            <b>{job.safety_state === 'quarantine' ? 'In quarantine' : 'On hold'}:</b> {job.safety_reasons.join('; ')}
                        </p>
                    )}
                    {job.plain.map((part) => (
                        <section key={part.title}>
                            <h3 className="font-bold">{part.title}</h3>
                            {part.lines.map((line) => (
                                <p key={line}>{line}</p>
                            ))}
                        </section>
                    ))}
                    <h2 className="border-t border-line pt-4">The numbers behind it</h2>
                    <section className="grid gap-2">
                        <h3 className="font-bold">From first look to now</h3>
                        <JobLine line={job.line} zone={zone} />
                    </section>
                    {job.agreed && (
                        <section>
                            <h3 className="font-bold">What was agreed</h3>
                            <AgreedWords of={job.agreed} />
                        </section>
                    )}
                    <ReportPhotos job={job.id} />
                    <section>
                        <h3 className="font-bold">What was found</h3>
                        {!found ? (
                            <p>No verdict was issued.</p>
                        ) : found.length === 0 ? (
                            <p>Nothing wrong was found in what was measured.</p>
                        ) : (
                            <ul>
                                {said.slice(0, 6).map(({ title, findings: [at] }) => {
                                    const f = found[at!]!;
                                    return (
                                        <li key={title} className="border-b border-line py-1">
                                            {`${title}: ${percent(f.probability)} sure. `}
                                            <span className="text-muted">{f.evidence[0]?.text}</span>{' '}
                                            <Basis of={f.evidence[0]?.basis ?? 'derived'} />
                                        </li>
                                    );
                                })}
                            </ul>
                        )}
                        {d && !after && d.lacks.length > 0 && <p className="text-muted text-sm pt-1">Not known: {d.lacks.join('; ')}.</p>}
                    </section>
                    {job.decision && (
                        <section>
                            <h3 className="font-bold">What was decided and done</h3>
                            <p>
                                {job.decision.said}. {job.decision.reason}{' '}
                                <span className="text-muted">
                                    {job.decision.by},{' '}
                                    {money(job.decision.quote.total_cents, job.decision.quote.currency ?? person.workshop.currency)} quoted
                                    {(job.decision.quote.tax_cents ?? 0) > 0 &&
                                        `, ${job.decision.quote.tax} of ${job.decision.quote.tax_percent} % included: ` +
                                            money(job.decision.quote.tax_cents!, job.decision.quote.currency ?? person.workshop.currency)}
                                    .
                                </span>
                            </p>
                            {job.decision.left.length > 0 && (
                                <p>
                                    <b>Left as it is:</b> {job.decision.left.join(' ')}
                                </p>
                            )}
                            <ul>
                                {job.decision.steps.map((s) => (
                                    <li key={s.id} className="border-b border-line py-0.5">
                                        {s.title}{' '}
                                        <span className="text-muted">{s.skipped || s.typed || (s.state === 'done' && s.proof)}</span>{' '}
                                        <b>
                                            {s.state === 'open'
                                                ? 'not done'
                                                : `${s.state === 'skipped' ? 'left' : s.by ? 'done' : 'proved'}${s.by ? `, ${s.by}` : ''}`}
                                        </b>
                                    </li>
                                ))}
                            </ul>
                        </section>
                    )}
                    {after && (
                        <section>
                            <h3 className="font-bold">After the work</h3>
                            <p>
                                {after.findings.length === 0
                                    ? 'Nothing wrong was found in what was measured since.'
                                    : `${(job.verdict?.detail.statements ?? [])
                                          .slice(0, 5)
                                          .map((s) => `${s.title} (${percent(after.findings[s.findings[0]!]!.probability)} sure)`)
                                          .join('; ')}.`}
                            </p>
                            {after.lacks.length > 0 && <p className="text-muted text-sm">Not known: {after.lacks.join('; ')}.</p>}
                        </section>
                    )}
                    {job.guided.some((r) => r.ended_at !== null) && (
                        <section>
                            <h3 className="font-bold">Guided tests</h3>
                            <ul>
                                {job.guided
                                    .filter((r) => r.ended_at !== null)
                                    .map((r) => (
                                        <li key={r.id} className="border-b border-line py-1">
                                            <Link to={`/jobs/${job.id}/guided/${r.id}`} className="underline underline-offset-4">
                                                {named(r)}
                                            </Link>
                                            :{' '}
                                            {r.outcome
                                                ? `${OUTCOMES[r.outcome.word].word}, ${r.outcome.text}. ${r.outcome.reasons.join(' ')}`
                                                : `left: ${r.left}`}{' '}
                                            <span className="text-muted text-sm">
                                                Revision {r.revision}, {r.by}.
                                            </span>
                                        </li>
                                    ))}
                            </ul>
                        </section>
                    )}
                    <section>
                        <h3 className="font-bold">Proof</h3>
                        <table className="w-full">
                            <tbody>
                                {job.proof
                                    .filter((c) => c.status !== 'not-needed')
                                    .map((c) => (
                                        <tr key={c.code} className="border-b border-line align-top">
                                            <th scope="row" className="text-left font-normal py-1 pr-3">
                                                {c.title}
                                            </th>
                                            <td className="py-1 pr-3">{c.found}</td>
                                            <td className="py-1 pr-3 text-muted">{c.limit}</td>
                                            <td className="py-1 font-bold">{c.status}</td>
                                        </tr>
                                    ))}
                            </tbody>
                        </table>
                        <p className="pt-2 font-bold">
                            {job.sign_off
                                ? `Signed off by ${job.sign_off.by}, ${when(job.sign_off.at, zone)}. ${job.sign_off.reason}`
                                : 'This proof is not signed.'}
                        </p>
                    </section>
                    <section className="border-2 border-amber p-3">
                        {(job.cautions['report'] ?? []).map((c) => (
                            <p key={c}>{c}</p>
                        ))}
                    </section>
                </div>
                <CoreSample bands={bandsOf(job)} height={560} width={256} />
            </article>
        </div>
    );
}

/** Why a pack came back, named by whoever closes it: proposed, and whether the promise covers it. */
export function WhyBack({
    came,
    cause,
    choose,
    error,
}: {
    came: NonNullable<Job['comeback']>;
    cause: Cause | '';
    choose: (c: Cause) => void;
    error: string | undefined;
}) {
    return (
        <fieldset className="grid gap-1" aria-invalid={error !== undefined}>
            <legend className="font-bold">
                It went back by job {came.number} and came in again after {count(came.days, 'day')}. Why?
            </legend>
            {came.causes.map((c) => (
                <label key={c.cause} className="flex items-center gap-2 min-h-[44px]">
                    <input type="radio" name="cause" checked={cause === c.cause} onChange={() => choose(c.cause)} />
                    <span>
                        {c.words}
                        {c.under_promise !== null && (
                            <span className="text-muted">{c.under_promise ? ': under the promise' : ': not under the promise'}</span>
                        )}
                        {came.suggests?.cause === c.cause && <b className="block">{came.suggests.why}</b>}
                    </span>
                </label>
            ))}
            {error && (
                <p role="alert" className="text-ember font-bold">
                    {error}
                </p>
            )}
        </fieldset>
    );
}

/** It went back by a slip: open again, with the reason. */
/** A closed job whose truth is known can be played by everybody here, without its names. */
function Teaches({ job }: { job: Job }) {
    const may = useMay('decide');
    const queries = useQueryClient();
    const [asking, setAsking] = useState(false);
    const change = useMutation({
        mutationFn: (make: boolean) => {
            const at = { params: { path: { job: job.id }, header: key() } };
            return unwrap(make ? api.POST('/api/jobs/{job}/training-case', at) : api.DELETE('/api/jobs/{job}/training-case', at));
        },
        onSuccess: () => {
            setAsking(false);
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            void queries.invalidateQueries({ queryKey: slots.training() });
        },
        onError: (e) => toast.error(e.message),
    });
    if (job.training_case !== null)
        return (
            <p className="self-center">
                <Link to="/training" className="underline underline-offset-4">
                    Case {job.training_case} of the trainer
                </Link>{' '}
                {may && (
                    <Button look="quiet" onClick={() => change.mutate(false)}>
                        Take it out
                    </Button>
                )}
            </p>
        );
    if (!may) return null;
    return (
        <>
            <Button look="quiet" onClick={() => setAsking(true)}>
                Make it a training case
            </Button>
            {asking && (
                <Sheet title="Make it a training case?" onClose={() => setAsking(false)}>
                    <p>
                        Everybody here can play it: the pack, what was said of it, the volts at which its groups stood, and at the end what
                        it was. No name, no note and no photo goes with it.
                    </p>
                    <div>
                        <Button look="main" disabled={change.isPending} onClick={() => change.mutate(true)}>
                            Make it a case
                        </Button>
                    </div>
                </Sheet>
            )}
        </>
    );
}

function TakeBack({ job }: { job: number }) {
    const [asking, setAsking] = useState(false);
    const [reason, setReason] = useState('');
    const take = useJobWrite(
        () => unwrap(api.POST('/api/jobs/{job}/take-back', { params: { path: { job }, header: key() }, body: { reason } })),
        () => setAsking(false),
    );
    if (!asking)
        return (
            <Button look="quiet" onClick={() => setAsking(true)}>
                Take the hand-back back
            </Button>
        );
    return (
        <div className="flex flex-wrap gap-3 items-end">
            <Field label="Why it is taken back">
                {(p) => <input {...p} autoFocus value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />}
            </Field>
            <Button disabled={take.isPending || reason.trim() === ''} onClick={() => take.mutate(undefined)}>
                Open it again
            </Button>
        </div>
    );
}
