import { useState } from 'react';
import { Link } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { Field } from '@/parts/basics';
import { type Inspection, noneOf, Touches } from '../intake/TriageFields';

/**
 * A look that is owed: before the first probe of an open pack, and after a run that volts or warmth ended. One touch when nothing is wrong.
 */
export function LookStrip({ job }: { job: Job }) {
    const may = useMay('triage');
    const [second, setSecond] = useState('');
    const write = useJobWrite(
        (inspection: Inspection) =>
            unwrap(
                api.POST('/api/jobs/{job}/triage', {
                    params: { path: { job: job.id }, header: key() },
                    body: { inspection, moment: 'open', ...(second.trim() === '' ? {} : { second_person: second.trim() }) },
                }),
            ),
        // The hand goes on where the room takes its entry.
        () => document.querySelector<HTMLElement>('[data-next-field]')?.focus(),
    );
    if (!job.look) return null;
    const errors = fieldErrors(write.error);
    return (
        <section aria-label="Look at it" className="no-print mx-4 mt-3 border-l-4 border-amber bg-panel px-4 py-3 grid gap-2">
            <p>
                <b>{job.look.text}</b>{' '}
                <Link to={`/jobs/${job.id}/teardown`} className="underline underline-offset-4">
                    What came off is written down here
                </Link>
            </p>
            {may && (
                <>
                    {job.look.second_person && (
                        <div className="max-w-sm">
                            <Field label="Who stands by, gloves and insulated tools on" error={errors['second_person']}>
                                {(p) => <input {...p} value={second} maxLength={120} onChange={(e) => setSecond(e.target.value)} />}
                            </Field>
                        </div>
                    )}
                    <Touches inspection={{}} change={(patch) => write.mutate(patch)} none={() => write.mutate(noneOf({}))} />
                </>
            )}
            {write.isError && !errors['second_person'] && (
                <p role="alert" className="text-ember font-bold">
                    {write.error.message}
                </p>
            )}
        </section>
    );
}
