import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { useJobWrite } from './job';
import { slots } from './slots';

const job = (stage: string) => ({ id: 3, stage }) as unknown as Job;

describe('a write that answers with the job', () => {
    it('is not written over by an answer that was asked for before it', async () => {
        const queries = new QueryClient();
        let late = (_: Job) => {};
        const wrapper = ({ children }: { children: React.ReactNode }) => (
            <QueryClientProvider client={queries}>{children}</QueryClientProvider>
        );
        const { result } = renderHook(
            () => ({
                read: useQuery({
                    queryKey: slots.job(3),
                    queryFn: () => new Promise<Job>((done) => (late = done)),
                    initialData: job('old'),
                }),
                write: useJobWrite(() => Promise.resolve(job('new'))),
            }),
            { wrapper },
        );
        await waitFor(() => expect(result.current.read.isFetching).toBe(true));
        await act(() => result.current.write.mutateAsync(undefined));
        expect(result.current.read.data.stage).toBe('new');
        await act(async () => late(job('old')));
        expect(result.current.read.data.stage).toBe('new');
    });
});
