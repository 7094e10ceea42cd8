import type { Job, LiveCheck } from '@/api/client';
import type { Band } from '@/parts/CoreSample';

/** Groups as the latest verdict judges them; before there is one, as the newest set of this revision reads them. */
export function bandsOf(job: Job): Band[] {
    if (job.verdict) {
        const { document, detail } = job.verdict;
        return document.groups.map((g, i) => ({
            group: g.group,
            v: g.v,
            state: g.state,
            probability: g.probability,
            doubt: detail.groups[i]?.doubt != null,
        }));
    }
    const read = job.measurements.filter((m) => m.revision === job.revision && m.groups_v.some((v) => v !== null)).at(-1);
    return Array.from({ length: job.series }, (_, i) => ({ group: i + 1, v: read?.groups_v[i] ?? null, state: null, probability: 0 }));
}

/** The same at the work: groups that it is about, and whether all that is done to them is closed. */
export function bandsAtWork(job: Job): Band[] {
    // What a plan has once, such as opening it, names no place.
    const steps = job.decision?.steps ?? [];
    const about = (group: number) => steps.filter((s) => (s.where ?? []).some((w) => w['group'] === group));
    return bandsOf(job).map((b) => {
        const mine = about(b.group);
        return mine.length === 0 ? b : { ...b, work: mine.every((s) => s.state !== 'open') ? 'done' : 'open' };
    });
}

/** A set while it is being read: what is known of each group so far, and what is doubted. */
export const bandsOfCheck = (groups: LiveCheck['groups'] | undefined, series: number): Band[] =>
    Array.from({ length: series }, (_, i) => {
        const g = groups?.[i];
        return {
            group: i + 1,
            v: g?.v ?? null,
            state: null,
            probability: 1,
            doubt: g?.doubt != null,
            note: g?.doubt ? undefined : g?.v != null ? g.basis : '',
        };
    });
