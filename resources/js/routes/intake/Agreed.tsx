import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay, usePerson } from '@/lib/bench';
import { money, when } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { Button, Field, Waiting } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { QueryState } from '@/parts/QueryState';
import { Sheet } from '@/parts/Sheet';

type Consent = components['schemas']['Consent'];
const SignatureField = lazy(async () => ({ default: (await import('@/parts/Signature')).SignatureField }));
const SignatureDrawing = lazy(async () => ({ default: (await import('@/parts/Signature')).SignatureDrawing }));
const HOW = { counter: 'at the counter', phone: 'by phone', message: 'by message' } as const;

/** What the customer agreed to, in the words that were put to them; asked before the case is opened. */
export function Agreed({ job }: { job: Job }) {
    const may = useMay('intake') && job.status === 'open';
    const [asking, setAsking] = useState(false);
    return (
        <section aria-label="What is agreed" className="grid gap-2">
            <div className="flex flex-wrap gap-3 items-center">
                <h2 className="grow">What is agreed</h2>
                {may && <Button onClick={() => setAsking(true)}>{job.agreed ? 'Agree anew' : 'Agree on opening it'}</Button>}
            </div>
            {job.agreed ? <AgreedWords of={job.agreed} /> : <p className="text-muted">Nobody has agreed to opening it yet.</p>}
            {asking && <Ask job={job} onClose={() => setAsking(false)} />}
        </section>
    );
}

export function AgreedWords({ of: c }: { of: Consent }) {
    return (
        <div className="grid gap-1">
            <p>
                <b>{c.said_by}</b>, {HOW[c.how]}, {when(c.at)}; taken by {c.by}.{c.may_call && ` May be called: ${c.may_call}.`}
            </p>
            <ul className="list-disc pl-5">
                {c.words.map((w) => (
                    <li key={w}>{w}</li>
                ))}
            </ul>
            {c.signature && (
                <Suspense fallback={<Waiting what="..." />}>
                    <SignatureDrawing strokes={c.signature} />
                </Suspense>
            )}
        </div>
    );
}

function Ask({ job, onClose }: { job: Job; onClose: () => void }) {
    const queries = useQueryClient();
    const person = usePerson();
    const known = useQuery({
        queryKey: slots.consents(job.id),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/consents', { params: { path: { job: job.id } } })),
    });
    const [terms, setTerms] = useState<string[]>(['opening', 'dead-cells']);
    const [seal, setSeal] = useState<'whole' | 'already-broken' | 'none'>('none');
    const [ceiling, setCeiling] = useState('');
    const [how, setHow] = useState<keyof typeof HOW>('counter');
    const [saidBy, setSaidBy] = useState(job.customer);
    const [call, setCall] = useState(job.call);
    const [signature, setSignature] = useState<number[][][]>([]);
    const take = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/consents', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        terms,
                        seal,
                        how,
                        said_by: saidBy,
                        may_call: call,
                        ceiling_cents: ceiling.trim() === '' ? null : Math.round(100 * number(ceiling)),
                        signature: how === 'counter' && signature.length > 0 ? signature : null,
                    },
                }),
            ),
        onSuccess: (now) => {
            queries.setQueryData(slots.consents(job.id), now);
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            toast.success('Kept, word for word.');
            onClose();
        },
    });
    const errors = fieldErrors(take.error);
    return (
        <Sheet title="What is agreed before it is opened" onClose={onClose} wide>
            {!known.data ? (
                <QueryState of={known} what="Fetching the words ..." />
            ) : (
                <form
                    className="grid gap-3"
                    onSubmit={(e) => {
                        e.preventDefault();
                        take.mutate();
                    }}
                >
                    {known.data.terms.map((t) => (
                        <label key={t.key} className="flex gap-3 items-start">
                            <input
                                type="checkbox"
                                className="mt-1"
                                checked={terms.includes(t.key)}
                                onChange={(e) => setTerms(e.target.checked ? [...terms, t.key] : terms.filter((k) => k !== t.key))}
                            />
                            <span>
                                <b>{t.title}.</b> {t.words} {!t.always && <span className="text-muted">Where it applies.</span>}
                            </span>
                        </label>
                    ))}
                    {errors['terms'] && (
                        <p role="alert" className="text-ember font-bold">
                            {errors['terms']}
                        </p>
                    )}
                    <div className="grid gap-3 md:grid-cols-3">
                        <Field label="Its seal">
                            {(p) => (
                                <select {...p} value={seal} onChange={(e) => setSeal(e.target.value as typeof seal)}>
                                    {known.data.seals.map((s) => (
                                        <option key={s.key} value={s.key}>
                                            {s.words}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        <NumberField
                            label={`Up to, ${person.workshop.currency}, without a call`}
                            value={ceiling}
                            onChange={setCeiling}
                            error={errors['ceiling_cents']}
                        />
                        <Field label="How">
                            {(p) => (
                                <select {...p} value={how} onChange={(e) => setHow(e.target.value as typeof how)}>
                                    {Object.entries(HOW).map(([k, word]) => (
                                        <option key={k} value={k}>
                                            {word}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        <Field label="Agreed by" error={errors['said_by']}>
                            {(p) => <input {...p} required value={saidBy} maxLength={160} onChange={(e) => setSaidBy(e.target.value)} />}
                        </Field>
                        <Field label="May be called">
                            {(p) => <input {...p} value={call} maxLength={190} onChange={(e) => setCall(e.target.value)} />}
                        </Field>
                    </div>
                    {how === 'counter' && (
                        <Suspense fallback={<Waiting what="..." />}>
                            <SignatureField onChange={setSignature} />
                        </Suspense>
                    )}
                    <div>
                        <Button type="submit" look="main" disabled={take.isPending}>
                            Keep what is agreed
                        </Button>
                    </div>
                    {take.isError && Object.keys(errors).length === 0 && (
                        <p role="alert" className="text-ember font-bold">
                            {take.error.message}
                        </p>
                    )}
                </form>
            )}
        </Sheet>
    );
}

/** Says where work would cost more than was agreed to without a call. */
export function OverCeiling({ job, cents }: { job: Job; cents: number }) {
    const currency = usePerson().workshop.currency;
    const most = job.agreed?.ceiling_cents;
    if (most == null || cents <= most) return null;
    return (
        <p className="border-l-4 border-amber pl-3">
            <b>More than was agreed to without a call:</b> {money(cents, currency)}, and {money(most, currency)} is the ceiling. Call{' '}
            {job.agreed!.said_by}
            {job.agreed!.may_call && `, ${job.agreed!.may_call}`} first.
        </p>
    );
}
