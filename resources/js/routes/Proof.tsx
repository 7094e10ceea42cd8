import { STATUS } from '@/lib/checks';
import { number } from '@/lib/number';
import { LearnIt } from '@/parts/LearnIt';
import { useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, type Job, key, type ProofCheck, unwrap } from '@/api/client';
import { useMay, usePerson } from '@/lib/bench';
import { when } from '@/lib/format';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { Basis, Button, Field, Go, Settle } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Beside } from '@/parts/Beside';
import { Word } from '@/parts/Word';

const NOTHING = '';
/** What wants a hand comes first. */
const FIRST: ProofCheck['status'][] = ['failed', 'missing', 'passed', 'not-needed'];

export function Component() {
    const job = useOutletContext<Job>();
    const may = useMay('sign-off');
    const sets = useMay('settings');
    const navigate = useNavigate();
    const [reason, setReason, clear] = useDraft(`sign.${job.id}.${job.revision}.${usePerson().id}`, NOTHING);
    const sign = useJobWrite(
        () => unwrap(api.POST('/api/jobs/{job}/sign-off', { params: { path: { job: job.id }, header: key() }, body: { reason } })),
        (j) => {
            clear();
            void navigate(`/jobs/${j.id}/report`);
        },
    );
    const missing = job.proof.filter((c) => c.status === 'missing').length;
    const failed = job.proof.filter((c) => c.status === 'failed').length;
    const gate = job.gates['sign-off'];
    const wanted = job.proof.filter((c) => c.status !== 'not-needed').sort((a, b) => FIRST.indexOf(a.status) - FIRST.indexOf(b.status));
    return (
        <Beside job={job} stage="proof">
            <p className="text-lg">
                {job.proof.filter((c) => c.status === 'passed').length} of {wanted.length} passed,{' '}
                <b className={failed ? 'text-ember' : ''}>{failed} failed</b>,{' '}
                <b className={missing ? 'text-amber' : ''}>{missing} missing</b>. A missing check is missing: it is never counted as passed.
                This is the <Word of="proof">proof</Word> of pack <Word of="revision">revision</Word> {job.revision}.
            </p>
            <ul className="grid gap-2.5">
                {wanted.map((c) => (
                    <Row key={c.code} job={job} check={c} />
                ))}
            </ul>
            {job.proof.some((c) => c.status === 'not-needed') && (
                <p className="text-muted">
                    Not needed:{' '}
                    {job.proof
                        .filter((c) => c.status === 'not-needed')
                        .map((c) => `${c.title} (${c.found})`)
                        .join('; ')}
                    .
                </p>
            )}
            {job.sign_off ? (
                <p className="sheet p-4 border-l-8 border-l-moss">
                    <b>Signed off by {job.sign_off.by}</b>, {when(job.sign_off.at)}. {job.sign_off.reason}{' '}
                    <Go to={`/jobs/${job.id}/report`} look="main" className="ml-3">
                        See the report
                    </Go>
                </p>
            ) : (
                job.status === 'open' && (
                    <section aria-label="Sign-off" className="sheet p-4 grid gap-3">
                        {gate ? (
                            <p role="alert" className="text-ember">
                                {gate}
                            </p>
                        ) : !may ? (
                            <p className="text-muted">
                                Your role may not sign off. Ask a technician, a senior or the owner. <LearnIt />
                            </p>
                        ) : failed > 0 ? (
                            <p className="text-ember">A failed check is mended, not signed.</p>
                        ) : (
                            <form
                                className="grid gap-3"
                                onSubmit={(e) => {
                                    e.preventDefault();
                                    sign.mutate(undefined);
                                }}
                            >
                                <Field
                                    label={
                                        missing > 0
                                            ? `Why it goes back with ${missing} checks missing: stays on the report`
                                            : 'Note for the report'
                                    }
                                    error={fieldErrors(sign.error)['reason']}
                                >
                                    {(p) => (
                                        <textarea
                                            {...p}
                                            required={missing > 0}
                                            value={reason}
                                            onChange={(e) => setReason(e.target.value)}
                                        />
                                    )}
                                </Field>
                                <div>
                                    <Button type="submit" look="main" disabled={sign.isPending}>
                                        Sign it off in my name
                                    </Button>
                                </div>
                            </form>
                        )}
                    </section>
                )
            )}
            {sets && (
                <p>
                    <Link to="/settings#limits" className="underline underline-offset-4">
                        Limits of this shop
                    </Link>
                </p>
            )}
        </Beside>
    );
}

function Row({ job, check }: { job: Job; check: ProofCheck }) {
    const s = STATUS[check.status];
    const [open, setOpen] = useState(false);
    const [values, setValues] = useState<Record<string, string>>({});
    const write = useJobWrite(
        (data: Record<string, unknown>) =>
            unwrap(
                api.POST('/api/jobs/{job}/proof', { params: { path: { job: job.id }, header: key() }, body: { check: check.code, data } }),
            ),
        () => setOpen(false),
    );
    const errors = fieldErrors(write.error);
    const submit = () =>
        write.mutate(
            Object.fromEntries(
                check.fields.map((f) => [
                    f.name,
                    f.kind === 'number'
                        ? number(values[f.name] ?? '')
                        : f.kind === 'yes-no'
                          ? values[f.name] === 'yes'
                          : (values[f.name] ?? ''),
                ]),
            ),
        );
    return (
        <li className="sheet px-4 py-2.5 grid gap-2">
            <div className="grid items-center gap-x-4 gap-y-1 md:grid-cols-[7rem_17rem_1fr_auto]">
                <b className={s.ink}>
                    <span aria-hidden="true">{s.sign}</span> {check.status}
                </b>
                <span className="font-bold">{check.title}</span>
                <span>
                    {check.found} {check.status !== 'missing' && <Basis of={check.basis} />}{' '}
                    <span className="text-muted text-sm block">
                        limit: {check.limit}{' '}
                        {check.settle && (
                            <Settle job={job.id} field={check.settle.field}>
                                {check.settle.text}
                            </Settle>
                        )}
                        {check.code === 'capacity' && job.status === 'open' && !job.sign_off && (
                            <>
                                .{' '}
                                <Link to={`/jobs/${job.id}/probe?test=log`} className="underline underline-offset-4 text-ink">
                                    Attach the tester's log
                                </Link>
                            </>
                        )}
                    </span>
                </span>
                {job.status === 'open' && !job.sign_off && (
                    <span className="flex flex-wrap gap-2 justify-end">
                        {check.guided && check.status === 'missing' && <Go to={`/jobs/${job.id}/guided?start=${check.guided}`}>Guided</Go>}
                        {check.fields.length > 0 ? (
                            <Button onClick={() => setOpen(!open)} aria-expanded={open}>
                                Enter
                            </Button>
                        ) : (
                            check.status === 'missing' && <Go to={`/jobs/${job.id}/probe`}>Measure</Go>
                        )}
                    </span>
                )}
            </div>
            {open && (
                <form
                    className="flex flex-wrap items-end gap-3 pb-1"
                    onSubmit={(e) => {
                        e.preventDefault();
                        submit();
                    }}
                >
                    {check.fields.map((f, i) => (
                        <div key={f.name} className={f.kind === 'text' ? 'grow' : ''}>
                            {f.kind === 'number' ? (
                                <NumberField
                                    label={f.label}
                                    error={errors[f.name]}
                                    required
                                    autoFocus={i === 0}
                                    value={values[f.name] ?? ''}
                                    onChange={(typed) => setValues({ ...values, [f.name]: typed })}
                                />
                            ) : (
                                <Field label={f.label} error={errors[f.name]}>
                                    {(p) =>
                                        f.kind === 'yes-no' ? (
                                            <select
                                                {...p}
                                                required
                                                autoFocus={i === 0}
                                                value={values[f.name] ?? ''}
                                                onChange={(e) => setValues({ ...values, [f.name]: e.target.value })}
                                            >
                                                <option value="">choose</option>
                                                <option>yes</option>
                                                <option>no</option>
                                            </select>
                                        ) : (
                                            <input
                                                {...p}
                                                required
                                                autoFocus={i === 0}
                                                value={values[f.name] ?? ''}
                                                onChange={(e) => setValues({ ...values, [f.name]: e.target.value })}
                                            />
                                        )
                                    }
                                </Field>
                            )}
                        </div>
                    ))}
                    <Button type="submit" look="main" disabled={write.isPending}>
                        Keep it
                    </Button>
                </form>
            )}
        </li>
    );
}
