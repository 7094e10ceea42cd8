import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { toast } from 'sonner';
import { api, ApiError, type Job, unwrap } from '@/api/client';

export const useJobId = () => Number(useParams()['job']);

let hold: (job: Job) => Promise<void> = () => Promise.resolve();

/** Who knows what was acknowledged of a job to this bench, and sees to it that it waits again where a server lacks it. */
export const holdJobsAgainst = (bench: ((job: Job) => Promise<void>) | null) => {
    hold = bench ?? (() => Promise.resolve());
};

async function held(job: Job): Promise<Job> {
    await hold(job);
    return job;
}

export const jobQuery = (id: number) => ({
    queryKey: slots.job(id),
    queryFn: () => unwrap(api.GET('/api/jobs/{job}', { params: { path: { job: id } } })).then(held),
});

export function useJob(id: number) {
    return useQuery({ ...jobQuery(id), enabled: id > 0 });
}

/** A write that answers with the job as it is then: the screens follow it, an error is said and nothing typed is thrown away. */
export function useJobWrite<V>(write: (input: V) => Promise<Job>, done?: (job: Job, input: V) => void) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: async (job, input) => {
            // An answer that was asked for before the write does not know it: it must not come in after it.
            await queries.cancelQueries({ queryKey: slots.job(job.id), exact: true });
            await held(job);
            queries.setQueryData(slots.job(job.id), job);
            void queries.invalidateQueries({ queryKey: slots.bench() });
            done?.(job, input);
        },
        onError: (error) => {
            if (!(error instanceof ApiError && (Object.keys(error.fields).length > 0 || error.code === 'clash')))
                toast.error(error.message);
        },
    });
}

export const fieldErrors = (error: unknown): Record<string, string> => (error instanceof ApiError ? error.fields : {});
