import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { fieldErrors } from '@/lib/job';
import { number } from '@/lib/number';
import { photoUrl } from '@/lib/photos';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import type { Data } from './Teardown';

type Back = components['schemas']['BackStep'];
const SIGN: Record<Back['act'], string> = { 'put-back': '↩', renew: '✚', connect: '⚯', tug: '⇄', insulation: 'Ω', count: '#' };

/** The steps in reverse, each with its photo; what is new is on the list; checks where a conductor was undone; counted at the end. */
export function WayBack({ job, data }: { job: Job; data: Data }) {
    const may = useMay('work') && job.status === 'open' && !job.gates['open'];
    const renew = Object.entries(data.renew);
    const first = data.way_back.findIndex((s) => !s.done);
    if (data.way_back.length === 0) return <p className="text-muted">Nothing has come off: there is no way back to go.</p>;
    return (
        <div className="grid gap-4">
            {renew.length > 0 && (
                <p className="border-l-4 border-amber pl-3">
                    <b>New, none of it holds twice:</b> {renew.map(([what, n]) => `${n} ${what}`).join(', ')}.
                </p>
            )}
            <ol aria-label="The way back" className="grid">
                {data.way_back.map((s, i) => (
                    <Row key={`${s.act} ${s.of}`} job={job} step={s} next={i === first} may={may} missing={data.missing} />
                ))}
            </ol>
            {first === -1 && (
                <p>
                    <b>✓ It is together again,</b> and every fastener is accounted for.
                </p>
            )}
        </div>
    );
}

function Row({ job, step: s, next, may, missing }: { job: Job; step: Back; next: boolean; may: boolean; missing: Data['missing'] }) {
    const queries = useQueryClient();
    const [value, setValue] = useState('');
    const [note, setNote] = useState('');
    const [other, setOther] = useState<string | null>(null);
    const done = useMutation({
        mutationFn: (n: number | null) =>
            s.step !== null
                ? unwrap(
                      api.POST('/api/teardown-steps/{teardownStep}/back', {
                          params: { path: { teardownStep: s.step }, header: key() },
                          body: { count: n ?? s.count ?? 1, note },
                      }),
                  )
                : unwrap(
                      api.POST('/api/jobs/{job}/teardown/checks', {
                          params: { path: { job: job.id }, header: key() },
                          body: {
                              act: s.act as 'tug',
                              of: s.of,
                              ...(s.act === 'insulation' && value.trim() !== '' ? { value: number(value) } : {}),
                              note,
                          },
                      }),
                  ),
        onSuccess: (now) => {
            queries.setQueryData(slots.teardown(job.id), now);
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            setOther(null);
            setValue('');
        },
    });
    const errors = fieldErrors(done.error);
    return (
        <li className={`border-t border-line py-2 grid gap-2 ${next ? 'bg-knot border-l-4 border-l-bark pl-3' : ''}`}>
            <div className="flex flex-wrap gap-x-3 gap-y-1 items-center">
                <b className="w-7 text-center" aria-hidden="true">
                    {s.done ? '✓' : SIGN[s.act]}
                </b>
                {s.photo_id && (
                    <img
                        src={photoUrl({ id: s.photo_id }, 'small')}
                        alt="How it was"
                        loading="lazy"
                        width={96}
                        height={72}
                        className="w-24 h-[72px] object-cover rounded border border-line"
                    />
                )}
                <span className={`grow ${s.done ? 'text-muted' : 'font-bold'}`}>
                    {s.text} <span className="font-normal text-muted">{[s.how, s.remark].filter(Boolean).join('. ')}</span>
                    {s.done && s.back_count !== null && s.back_count !== s.count && (
                        <b className="text-ember">
                            {' '}
                            {s.back_count} of {s.count} back
                        </b>
                    )}
                    {s.value !== null && <span className="digits"> {s.value} Mohm</span>}
                    {s.note && <span className="block font-normal">{s.note}</span>}
                </span>
                {may && !s.done && (
                    <div className="flex flex-wrap gap-2 items-end">
                        {s.act === 'insulation' && (
                            <NumberField
                                label="Measured, Mohm"
                                value={value}
                                onChange={setValue}
                                error={errors['value']}
                                className="w-28"
                            />
                        )}
                        {s.act === 'count' && missing.length > 0 && (
                            <Field label={missing.map((m) => m.text).join('; ')} error={errors['note']}>
                                {(p) => <input {...p} value={note} maxLength={400} onChange={(e) => setNote(e.target.value)} />}
                            </Field>
                        )}
                        <Button look={next ? 'main' : 'plain'} disabled={done.isPending} onClick={() => done.mutate(null)}>
                            {s.step === null ? (s.act === 'tug' ? 'It holds' : s.act === 'count' ? 'Counted' : 'Keep it') : 'Done'}
                        </Button>
                        {s.step !== null && (s.count ?? 1) > 1 && (
                            <Button look="quiet" onClick={() => setOther(other === null ? String(s.count) : null)}>
                                Another number
                            </Button>
                        )}
                    </div>
                )}
            </div>
            {other !== null && !s.done && (
                <form
                    className="flex flex-wrap gap-3 items-end"
                    onSubmit={(e) => {
                        e.preventDefault();
                        done.mutate(number(other));
                    }}
                >
                    <NumberField label="Went back" whole value={other} onChange={setOther} error={errors['count']} className="w-24" />
                    <div className="grow">
                        <Field label="Why">
                            {(p) => <input {...p} value={note} maxLength={400} onChange={(e) => setNote(e.target.value)} />}
                        </Field>
                    </div>
                    <Button type="submit">Keep it</Button>
                </form>
            )}
            {done.isError && Object.keys(errors).length === 0 && (
                <p role="alert" className="text-ember font-bold">
                    {done.error.message}
                </p>
            )}
        </li>
    );
}
