import type { Job } from '@/api/client';

type SetOf = Job['measurements'][number];
export interface Column {
    id: string;
    at: string;
    condition: string;
    amps: number;
    /** Millivolts of each group from the middle of its set, and 1 sigma of that. */
    mv: (number | null)[];
    sigma: number[];
}

/** Sigmas from which a difference is one, and millivolts under which it is none (assumed). */
const TOLD = 3;
const LEAST_MV = 3;

const amps = (m: SetOf) => (typeof m.data['current_a'] === 'number' ? m.data['current_a'] : 0);
const middle = (of: number[]) => {
    const s = [...of].sort((a, b) => a - b);
    const k = s.length >> 1;
    return s.length % 2 ? s[k]! : (s[k - 1]! + s[k]!) / 2;
};

/** The sets of this revision as they are compared: at least three groups read, the latest of them. */
export function columns(job: Job, most = 8): Column[] {
    return job.measurements
        .filter((m) => m.revision === job.revision && m.groups_v.filter((v) => v !== null).length >= 3)
        .slice(-most)
        .map((m) => {
            const mid = middle(m.groups_v.filter((v): v is number => v !== null));
            return {
                id: m.id,
                at: m.at,
                condition: m.condition,
                amps: amps(m),
                mv: m.groups_v.map((v) => (v === null ? null : 1000 * (v - mid))),
                sigma: m.groups_v.map((_, i) => 1000 * (m.groups_sigma_v[i] ?? 0.001)),
            };
        });
}

export type Shape = 'falls' | 'rises' | 'turns' | 'stands' | 'level';

/** What the line of one group over the sets looks like: a leak is a slope, a joint turns with the current, an imbalance does neither. */
export function shape(cols: Column[], k: number): { shape: Shape; mv: number } {
    const at = cols.flatMap((c) => (c.mv[k] == null ? [] : [{ mv: c.mv[k], sigma: c.sigma[k] ?? 1, amps: c.amps }]));
    const rests = at.filter((c) => Math.abs(c.amps) < 0.05);
    const beyond = (a: { mv: number; sigma: number }, b: { mv: number; sigma: number }) =>
        Math.abs(a.mv - b.mv) > Math.max(LEAST_MV, TOLD * Math.hypot(a.sigma, b.sigma));
    const stands = (c: { mv: number; sigma: number }) => Math.abs(c.mv) > Math.max(LEAST_MV, TOLD * c.sigma);
    const into = at.filter((c) => c.amps > 0.05).at(-1);
    const out = at.filter((c) => c.amps < -0.05).at(-1);
    if (into && out && stands(into) && stands(out) && Math.sign(into.mv) !== Math.sign(out.mv))
        return { shape: 'turns', mv: into.mv - out.mv };
    const [first, last] = [rests[0], rests.at(-1)];
    if (first && last && first !== last && beyond(first, last)) {
        return { shape: last.mv < first.mv ? 'falls' : 'rises', mv: last.mv - first.mv };
    }
    const far = at.filter(stands);
    if (at.length > 0 && far.length === at.length && new Set(far.map((c) => Math.sign(c.mv))).size === 1) {
        return { shape: 'stands', mv: far.at(-1)!.mv };
    }
    return { shape: 'level', mv: at.at(-1)?.mv ?? 0 };
}

/** The picture in words: what each group that is not level does. */
export function said(cols: Column[]): string[] {
    const series = cols[0]?.mv.length ?? 0;
    return Array.from({ length: series }, (_, k) => ({ k: k + 1, ...shape(cols, k) })).flatMap(({ k, shape: s, mv }) => {
        const by = `${Math.abs(mv).toFixed(0)} mV`;
        if (s === 'falls') return [`Group ${k} falls ${by} against the others from rest to rest: a leak is a slope.`];
        if (s === 'rises') return [`Group ${k} comes up ${by} against the others from rest to rest: it was filled, or they were drawn.`];
        if (s === 'turns') return [`Group ${k} turns over by ${by} with the current: resistance does, charge does not.`];
        if (s === 'stands') return [`Group ${k} stands ${by} ${mv > 0 ? 'over' : 'under'} in every set: charge, or what it holds.`];
        return [];
    });
}
