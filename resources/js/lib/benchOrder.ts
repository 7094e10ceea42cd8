import type { BenchRow } from '@/api/client';

export const ORDERS = { due: 'what is due first', oldest: 'longest untouched first', newest: 'newest first', name: 'by name' } as const;
export type Order = keyof typeof ORDERS;
export interface Choice {
    find: string;
    batch: string;
    person: string;
    stage: string;
    order: Order;
}

const time = (iso: string | null) => (iso === null ? Infinity : Date.parse(iso));

/** What is due comes before what is not, the longest due first; the rest by how long nobody has touched it. */
const BY: Record<Order, (a: BenchRow, b: BenchRow) => number> = {
    due: (a, b) =>
        Number(b.due) - Number(a.due) ||
        (a.due ? time(a.due_at ?? a.waits_until) - time(b.due_at ?? b.waits_until) : time(a.touched_at) - time(b.touched_at)),
    oldest: (a, b) => time(a.touched_at) - time(b.touched_at),
    newest: (a, b) => b.number - a.number,
    name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
};

export function chosen(jobs: BenchRow[], c: Choice): BenchRow[] {
    const words = c.find.toLowerCase().split(/\s+/).filter(Boolean);
    return jobs
        .filter(
            (j) =>
                (c.batch === '' || j.batch === c.batch) &&
                (c.person === '' || j.by === c.person) &&
                (c.stage === '' || j.stage === c.stage) &&
                words.every((w) =>
                    `${j.name} ${j.customer} ${j.number} ${j.serial} ${j.batch} ${j.first_finding ?? ''}`.toLowerCase().includes(w),
                ),
        )
        .sort((a, b) => BY[c.order](a, b) || a.number - b.number);
}

/** How long ago, in the largest unit that says something. */
export function ago(iso: string, now: number): string {
    const minutes = Math.max(0, (now - Date.parse(iso)) / 60_000);
    const [n, unit] = minutes < 60 ? [minutes, 'minute'] : minutes < 48 * 60 ? [minutes / 60, 'hour'] : [minutes / 1440, 'day'];
    const whole = Math.floor(n);
    return whole === 0 ? 'just now' : `${whole} ${unit}${whole === 1 ? '' : 's'} ago`;
}

/** What a long list of jobs wants, in counts, what is due first: "12 due, 30 prove the pack, 9 probe the groups". */
export function wants(jobs: BenchRow[], most = 5): string {
    const due = jobs.filter((j) => j.due).length;
    const by = new Map<string, number>();
    for (const j of jobs) if (!j.due) by.set(j.next, (by.get(j.next) ?? 0) + 1);
    const kinds = [...by].sort((a, b) => b[1] - a[1]);
    const said = kinds.slice(0, most).map(([next, n]) => `${n} ${next.charAt(0).toLowerCase()}${next.slice(1)}`);
    const rest = kinds.slice(most).reduce((sum, [, n]) => sum + n, 0);
    return [...(due > 0 ? [`${due} due`] : []), ...said, ...(rest > 0 ? [`${rest} other`] : [])].join(', ');
}
