import { z } from 'zod';
import { api, type Job, key, unwrap } from '@/api/client';
import { useBenchForm } from '@/lib/form';
import { useJobWrite } from '@/lib/job';
import { Button } from '@/parts/basics';
import { FormText } from '@/parts/form';
import { Sheet } from '@/parts/Sheet';

const local = (d: Date) => new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

const WAIT = z.object({
    until: z
        .string()
        .refine((t) => !Number.isNaN(Date.parse(t)), 'a day and a time.')
        .transform((t) => new Date(t).toISOString()),
    for: z.string(),
});

export function WaitSheet({ job, onClose }: { job: Job; onClose: () => void }) {
    const form = useBenchForm(WAIT, { until: local(new Date(Date.now() + 24 * 3_600_000)), for: 'Read the groups again' });
    const at = { control: form.control };
    const write = useJobWrite(
        (body: z.output<typeof WAIT>) =>
            unwrap(api.POST('/api/jobs/{job}/wait', { params: { path: { job: job.id }, header: key() }, body })),
        onClose,
    );
    return (
        <Sheet title="Let it wait" onClose={onClose}>
            <form className="grid gap-4" noValidate onSubmit={form.handleSubmit((body) => write.mutate(body, { onError: form.refused }))}>
                <FormText {...at} name="until" label="Until" type="datetime-local" />
                <FormText {...at} name="for" label="For what" />
                <div>
                    <Button type="submit" look="main" disabled={write.isPending}>
                        Let it wait
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
