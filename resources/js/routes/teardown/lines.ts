import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { v7 } from 'uuid';
import { ApiError, api, key, unwrap } from '@/api/client';
import { slots } from '@/lib/slots';

export interface Line {
    id: string;
    line: string;
    photo_id: string | null;
}

/** Lines that this bench keeps until the server has them. */
export function kept(slot: string): Line[] {
    try {
        const all = JSON.parse(localStorage.getItem(slot) ?? '[]') as unknown;
        return Array.isArray(all) ? (all as Line[]) : [];
    } catch {
        return [];
    }
}

/**
 * Steps on their way: typed, kept on this bench's disk under their own names, sent in order, gone from here when the server has them. What
 * it refuses comes back into the hand with its word.
 */
export function useLines(job: number, refused: (line: string, why: string) => void) {
    const slot = `heartwood.teardown.${job}`;
    const [waiting, setWaiting] = useState<Line[]>(() => kept(slot));
    const [away, setAway] = useState('');
    const queries = useQueryClient();
    const set = (next: Line[]) => {
        if (next.length === 0) localStorage.removeItem(slot);
        else localStorage.setItem(slot, JSON.stringify(next));
        setWaiting(next);
    };
    const said = useRef(refused);
    said.current = refused;
    const { mutate, isPending } = useMutation({
        mutationFn: (line: Line) =>
            unwrap(api.POST('/api/jobs/{job}/teardown', { params: { path: { job }, header: key() }, body: { lines: [line] } })),
        onSuccess: (now, line) => {
            queries.setQueryData(slots.teardown(job), now);
            setAway('');
            set(kept(slot).filter((l) => l.id !== line.id));
        },
        onError: (e, line) => {
            const final = e instanceof ApiError && e.status >= 400 && e.status < 500 && ![401, 419, 429].includes(e.status);
            if (!final) return setAway(e.message);
            set(kept(slot).filter((l) => l.id !== line.id));
            said.current(line.line, e.message);
        },
    });
    const first = waiting[0];
    useEffect(() => {
        if (!first || isPending) return;
        if (away === '') return mutate(first);
        const again = setTimeout(() => mutate(first), 3000);
        return () => clearTimeout(again);
    }, [first, isPending, away, mutate]);
    return {
        waiting,
        away,
        add: (line: string, photo: string | null = null) => set([...kept(slot), { id: v7(), line, photo_id: photo }]),
    };
}
