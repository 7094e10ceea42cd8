import { useSyncExternalStore } from 'react';
import type { BenchRow } from '@/api/client';

export interface Stop {
    title: string;
    text: string;
    /** Where it is, on a pack of this bench; null: no pack is so far. */
    to: (jobs: BenchRow[]) => string | null;
}

const at =
    (stage: BenchRow['stage'], room: string = stage) =>
    (jobs: BenchRow[]) => {
        const open = jobs.find((j) => j.stage === stage && j.safety_state === 'clear');
        return open ? `/jobs/${open.id}/${room}` : null;
    };

/** A walk through the screens in the order of the work, on whatever lies on the bench. Nothing is changed by walking. */
export const STOPS: Stop[] = [
    {
        title: 'The bench',
        text: 'What wants hands stands first and largest, with what to do next on it. What waits says until when; what is held, why.',
        to: () => '/',
    },
    {
        title: 'Probe',
        text: 'The screen says where the probes go. Type what the meter shows and press Enter; what reads oddly is questioned at once.',
        to: at('probe'),
    },
    {
        title: 'Verdict',
        text:
            'What is wrong, where, how sure, and what speaks for and against. Touch a dotted word to see what it means. ' +
            'Below it: the one test that would tell most.',
        to: at('verdict'),
    },
    {
        title: 'Plan',
        text: 'Each way out with its hours, its price and what the pack would give afterwards, so that the choice can be explained.',
        to: at('plan'),
    },
    {
        title: 'Work',
        text: 'The steps in order with the caution that belongs to each, and a door to the supply or the build room where it is done.',
        to: at('work'),
    },
    {
        title: 'Proof',
        text: 'What the repaired pack must show before it leaves. What is missing stands first, and is never counted as passed.',
        to: at('proof'),
    },
    {
        title: 'That is the way',
        text: 'The report says it all to the customer. Find (/) goes anywhere, Keys (?) lists the keys, and your own pack is taken in here.',
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
