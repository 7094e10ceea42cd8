import { v7 } from 'uuid';
import type { Job, Measurement } from '@/api/client';
import type { Draft, Entry } from '@/lib/outbox';
import { continues, sets } from '@/lib/format';
import { type Pair, pairKey } from '@/lib/order';

export interface Meter {
    id: string;
    percent: number;
    counts: number;
    resolution_v: number;
    input: 'high' | 'low';
}

export const METERS: Meter[] = [
    { id: 'bench meter', percent: 0.5, counts: 2, resolution_v: 0.001, input: 'high' },
    { id: 'fine meter', percent: 0.05, counts: 3, resolution_v: 0.0001, input: 'high' },
    { id: 'pocket meter', percent: 1, counts: 3, resolution_v: 0.01, input: 'high' },
    { id: 'low-impedance meter', percent: 1, counts: 3, resolution_v: 0.01, input: 'low' },
];

/** One line of the run as the screen shows it: what was typed, and whether the server has it. */
export interface Line extends Pair {
    id: string;
    typed: string;
    where: 'server' | 'bench' | 'refused';
    errors?: string;
}

/** Lines of one set: what the server holds, then what still waits here, corrections applied. */
export function lines(server: Measurement | undefined, mine: Entry[], set: string): Line[] {
    const out = new Map<string, Line>();
    for (const r of server?.readings ?? []) out.set(r.id, { id: r.id, from: r.from, to: r.to, typed: r.typed, where: 'server' });
    for (const e of mine) {
        if (e.kind !== 'reading' || e.data['measurement_id'] !== set || out.has(e.id)) continue;
        const corrects = e.data['corrects_id'] as string | undefined;
        if (corrects && e.status === 'waiting') out.delete(corrects);
        const typed = String(e.data['typed'] ?? '');
        if (typed === '') continue;
        out.set(e.id, {
            id: e.id,
            from: String(e.data['from']),
            to: String(e.data['to']),
            typed,
            where: e.status === 'refused' ? 'refused' : 'bench',
            errors: Object.values(e.errors ?? {}).join(' '),
        });
    }
    return [...out.values()];
}

/** The next pair of the order that has no reading yet. */
export function nextPair(order: Pair[], done: Line[]): Pair | null {
    const have = new Set(done.filter((l) => l.where !== 'refused').map(pairKey));
    return order.find((p) => !have.has(pairKey(p))) ?? null;
}

const CONTINUE_MS = 3 * 3_600_000;

/** A set that one person began is not known to the next until it is sent: each keeps their own. */
const setSlot = (job: number, person: number) => `heartwood.set.${job}.${person}`;

/** The set that is being read on this bench: remembered here, else the latest one of this revision, else none. */
export function currentSet(job: Job, mine: Entry[], loaded: boolean, person: number): string | null {
    const kept = localStorage.getItem(setSlot(job.id, person));
    if (kept === 'new') return null;
    const known = (id: string) => job.measurements.some((m) => m.id === id && m.revision === job.revision) || mine.some((e) => e.id === id);
    // Until the disk has been read, the set that was begun here is believed where the server does not know better.
    const maybe = (id: string) => !loaded && !job.measurements.some((m) => m.id === id);
    if (kept && (known(kept) || maybe(kept))) return kept;
    const last = [...job.measurements].reverse().find((m) => m.revision === job.revision && m.readings.length > 0);
    return last && Date.now() - new Date(last.at).getTime() < CONTINUE_MS ? last.id : null;
}

/** The set that a test reads on in: none where it opens its own, or where the one being read is of another condition. */
export function setFor(test: string, job: Job, mine: Entry[], loaded: boolean, person: number): string | null {
    if (sets[test]) return null;
    const id = currentSet(job, mine, loaded, person);
    const wants = continues[test];
    if (id === null || !wants) return id;
    const of = job.measurements.find((m) => m.id === id)?.condition ?? mine.find((e) => e.id === id)?.data['condition'];
    return of === undefined || of === wants ? id : null;
}

/** The set that this person reads on from here, or `new` for one that is yet to begin. */
export const keepSet = (job: number, person: number, id: string) => localStorage.setItem(setSlot(job, person), id);

export const newId = () => v7();

/** A set of group voltages as the board or its gauge gives them, ready to be kept in one go; a group it does not give stays unread. */
export function boardSet(job: number, groups: (number | null)[], data: Record<string, unknown>): Draft[] {
    const set = newId();
    return [
        { kind: 'measurement', job, data: { ...data, source: 'bms-report' }, id: set },
        ...groups.flatMap((v, i): Draft[] =>
            v === null
                ? []
                : [{ kind: 'reading', job, data: { measurement_id: set, from: `T${i}`, to: `T${i + 1}`, typed: v.toFixed(3) } }],
        ),
    ];
}
