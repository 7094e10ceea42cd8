import words from '@contract/words.json';
import { useSyncExternalStore } from 'react';
import type { BenchRow } from '@/api/client';

export interface Stop {
    title: string;
    text: string;
    /** Where it is, on a pack of this bench; null: no pack is so far. */
    to: (jobs: BenchRow[]) => string | null;
}

const at = (stage: string) => (jobs: BenchRow[]) => {
    const open = jobs.find((j) => j.stage === stage && j.safety_state === 'clear');
    return open ? `/jobs/${open.id}/${stage}` : null;
};

/** A walk through the screens in the order of the work, on whatever lies on the bench. Nothing is changed by walking. */
export const STOPS: Stop[] = [
    {
        title: 'The bench',
        text: 'What wants hands stands first, with what to do next on it. What waits says until when; what is held, why.',
        to: () => '/',
    },
    ...Object.entries(words.walk).map(([stage, text]): Stop => ({ title: words.stages[stage as BenchRow['stage']], text, to: at(stage) })),
    {
        title: 'That is the way',
        text: 'The report says it all to the customer. Find (/) goes anywhere, Keys (?) lists the keys; your own pack comes in here.',
        to: () => '/intake',
    },
];

const slot = (person: number) => `heartwood.tour.${person}`;
const heard = new Set<() => void>();

/** At which stop this person is; null: they are not walking. `done` once they have walked or said no. */
export function useTour(person: number) {
    const state = useSyncExternalStore(
        (changed) => {
            heard.add(changed);
            return () => void heard.delete(changed);
        },
        () => localStorage.getItem(slot(person)),
    );
    const go = (to: number | 'done') => {
        localStorage.setItem(slot(person), String(to));
        heard.forEach((h) => h());
    };
    const step = state === null || state === 'done' ? null : Number(state);
    return {
        step: step !== null && step >= 0 && step < STOPS.length ? step : null,
        fresh: state === null,
        go,
    };
}
