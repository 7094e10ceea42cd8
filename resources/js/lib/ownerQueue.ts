import words from '@contract/words.json';
import { v7 } from 'uuid';

/** A reading as an owner enters it, under a name of its own: sent twice it is there once. */
export interface OwnerReading {
    id: string;
    at: string;
    condition: 'rest' | 'full' | 'discharge';
    soc?: number | null;
    groups_v?: number[] | null;
    highest_v?: number | null;
    lowest_v?: number | null;
    pack_v?: number | null;
    halves_v?: number[] | null;
    topped_up?: boolean;
    resolution_v?: number;
    signs: Record<Sign, boolean | null>;
}
/** What an owner can see, feel or smell: core's own list. */
export const SIGNS: string[] = words.signs;
export type Sign = string;
export type Shows = 'all' | 'two' | 'halves' | 'whole';

const slot = (secret: string) => `heartwood.owner.${secret.slice(0, 12)}`;

/** What waits on this phone for a network, oldest first. */
export function waiting(secret: string): OwnerReading[] {
    try {
        const kept = JSON.parse(localStorage.getItem(slot(secret)) ?? '[]') as unknown;
        return Array.isArray(kept) ? (kept as OwnerReading[]) : [];
    } catch {
        return [];
    }
}
export function keep(secret: string, reading: OwnerReading) {
    localStorage.setItem(slot(secret), JSON.stringify([...waiting(secret).filter((r) => r.id !== reading.id), reading]));
}
export function sent(secret: string, ids: string[]) {
    const left = waiting(secret).filter((r) => !ids.includes(r.id));
    if (left.length > 0) localStorage.setItem(slot(secret), JSON.stringify(left));
    else localStorage.removeItem(slot(secret));
}

const plain = (typed: string): number | null => {
    const text = typed.trim().replace(',', '.');
    return /^\d+(\.\d+)?$/.test(text) ? Number(text) : null;
};

/** Volts of one group as a display shows them: 3.312, 3,312, or 3312 in millivolts. Null where it is no such number. */
export function groupVolts(typed: string): number | null {
    const plain = typed.trim().replace(',', '.');
    if (!/^\d+(\.\d+)?$/.test(plain)) return null;
    const v = Number(plain);
    const volts = v >= 100 ? v / 1000 : v;
    return volts > 0 && volts <= 5 ? volts : null;
}

/** The last digit that was typed: what the display can show. */
export function resolution(typed: string[]): number {
    const steps = typed.map((t) => {
        const plain = t.trim().replace(',', '.');
        const digits = plain.split('.')[1]?.length ?? 0;
        return Number(plain) >= 100 ? 0.001 : 10 ** -Math.max(1, digits);
    });
    return Math.max(0.001, ...steps);
}

/** A sign of harm without any number: it ends the use of a pack by itself. */
export const onlySigns = (condition: OwnerReading['condition'], signs: OwnerReading['signs'], now = new Date()): OwnerReading => ({
    id: v7(),
    at: now.toISOString(),
    condition,
    signs,
});

/** It was charged full, and nothing was read: what a leak has taken is there again. */
export const toppedUp = (now = new Date()): OwnerReading => ({
    id: v7(),
    at: now.toISOString(),
    condition: 'full',
    topped_up: true,
    signs: Object.fromEntries(SIGNS.map((s) => [s, null])),
});

/** What was typed as a reading, or the field that is missing. */
export function reading(
    shows: Shows,
    condition: OwnerReading['condition'],
    typed: Record<string, string>,
    signs: OwnerReading['signs'],
    series: number,
    now = new Date(),
): OwnerReading | { missing: string } {
    const base = { id: v7(), at: now.toISOString(), condition, signs };
    if (shows === 'whole') {
        const percent = typed['percent']?.trim() ? Number(typed['percent'].replace(',', '.')) : null;
        const volts = typed['volts']?.trim() ? Number(typed['volts'].replace(',', '.')) : null;
        if (percent !== null && !(percent >= 0 && percent <= 100)) return { missing: 'percent' };
        if (volts === null || !(volts > 0 && volts < 1000)) return { missing: 'volts' };
        return { ...base, soc: percent === null ? null : percent / 100, pack_v: volts };
    }
    if (shows === 'halves') {
        const halves = ['lowerHalf', 'upperHalf'];
        const volts = halves.map((k) => plain(typed[k] ?? ''));
        const gap = volts.findIndex((v) => v === null || v <= 0 || v >= 1000);
        if (gap >= 0) return { missing: halves[gap]! };
        const steps = halves.map((k) => 10 ** -Math.max(1, (typed[k] ?? '').trim().replace(',', '.').split('.')[1]?.length ?? 0));
        return { ...base, halves_v: volts as number[], resolution_v: Math.max(...steps) };
    }
    const keys = shows === 'two' ? ['highest', 'lowest'] : Array.from({ length: series }, (_, i) => `g${i + 1}`);
    const volts = keys.map((k) => groupVolts(typed[k] ?? ''));
    const gap = volts.findIndex((v) => v === null);
    if (gap >= 0) return { missing: keys[gap]! };
    const resolution_v = resolution(keys.map((k) => typed[k] ?? ''));
    const known = volts as number[];
    return shows === 'two'
        ? { ...base, highest_v: Math.max(...known), lowest_v: Math.min(...known), resolution_v }
        : { ...base, groups_v: known, resolution_v };
}
