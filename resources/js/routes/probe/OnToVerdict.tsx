import { memo } from 'react';
import { useNavigate } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import { useOutbox, useOutboxState } from '@/lib/bench';
import { useJobWrite } from '@/lib/job';
import { Button } from '@/parts/basics';

/** Sends what still waits, has the verdict worked out, and goes there. */
export const OnToVerdict = memo(function OnToVerdict({ job, ready, main }: { job: Job; ready: boolean; main: boolean }) {
    const navigate = useNavigate();
    const { waiting } = useOutboxState();
    const outbox = useOutbox();
    const go = useJobWrite(
        async () => {
            // A server that was set back would judge by less than was read: it is asked before, not found out after.
            await outbox.agree();
            await outbox.flush();
            const path = { job: job.id };
            await unwrap(api.POST('/api/jobs/{job}/verdict', { params: { path, header: key() }, body: {} }));
            return job.stage === 'probe'
                ? unwrap(api.POST('/api/jobs/{job}/stage', { params: { path, header: key() }, body: { stage: 'verdict' } }))
                : unwrap(api.GET('/api/jobs/{job}', { params: { path } }));
        },
        () => void navigate(`/jobs/${job.id}/verdict`),
    );
    if (!ready) return null;
    return (
        <div>
            <Button look={main ? 'main' : 'plain'} disabled={go.isPending} onClick={() => go.mutate(undefined)}>
                {go.isPending ? 'Working it out ...' : waiting.length > 0 ? 'Send the rest and see the verdict' : 'See the verdict'}
            </Button>
        </div>
    );
});
