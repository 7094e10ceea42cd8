import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ApiError } from '@/api/client';
import type { components } from '@/api/schema';
import { slots } from '@/lib/slots';

export type Passport = components['schemas']['Passport'];

/** A write of a pack: what it answers is the pack as it is now. */
export function usePackWrite<V, P extends Passport>(id: number, write: (v: V) => Promise<P>, done?: (p: P) => void) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: (p) => {
            queries.setQueryData(slots.pack(id), p);
            void queries.invalidateQueries({ queryKey: slots.bench() });
            void queries.invalidateQueries({ queryKey: slots.packs() });
            done?.(p);
        },
        onError: (e) => {
            if (!(e instanceof ApiError && Object.keys(e.fields).length > 0)) toast.error(e.message);
        },
    });
}
