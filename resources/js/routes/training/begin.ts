import type { QueryClient } from '@tanstack/react-query';
import { api, key, unwrap } from '@/api/client';
import { slots } from '@/lib/slots';
import type { Round } from './training';

/** Begins a round, or goes on with the one that is under way. */
export async function begin(queries: QueryClient, of: { level: number | null; case: number | null }): Promise<Round> {
    const round = await unwrap(api.POST('/api/training/rounds', { params: { header: key() }, body: of }));
    queries.setQueryData(slots.training('round', round.id), round);
    void queries.invalidateQueries({ queryKey: slots.training(), exact: true });
    return round;
}
