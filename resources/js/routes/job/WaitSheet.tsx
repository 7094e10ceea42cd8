import { useState } from 'react';
import { api, type Job, key, unwrap } from '@/api/client';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

const local = (d: Date) => new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

export function WaitSheet({ job, onClose }: { job: Job; onClose: () => void }) {
    const [until, setUntil] = useState(() => local(new Date(Date.now() + 24 * 3_600_000)));
    const [reason, setReason] = useState('Read the groups again');
    const write = useJobWrite(
        () =>
            unwrap(
                api.POST('/api/jobs/{job}/wait', {
                    params: { path: { job: job.id }, header: key() },
                    body: { until: new Date(until).toISOString(), for: reason },
                }),
            ),
        onClose,
    );
    const errors = fieldErrors(write.error);
    return (
        <Sheet title="Let it wait" onClose={onClose}>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    write.mutate(undefined);
                }}
            >
                <Field label="Until" error={errors['until']}>
                    {(p) => <input {...p} type="datetime-local" required value={until} onChange={(e) => setUntil(e.target.value)} />}
                </Field>
                <Field label="For what" error={errors['for']}>
                    {(p) => <input {...p} value={reason} onChange={(e) => setReason(e.target.value)} />}
                </Field>
                <div>
                    <Button type="submit" look="main" disabled={write.isPending}>
                        Let it wait
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
