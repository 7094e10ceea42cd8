import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { api, type Job, unwrap } from '@/api/client';

/** What the twin makes of the job as it is measured now. */
export const useReplay = (job: Job, enabled = true) =>
    useQuery({
        queryKey: slots.replay(job.id, job.verdict?.id ?? 0),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/replay', { params: { path: { job: job.id } } })),
        enabled,
        staleTime: Infinity,
    });
