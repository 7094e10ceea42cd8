/** The orders in which people probe: from the negative end tap by tap, across each group, or coarse first. */
export type Order = 'taps' | 'across' | 'coarse';

export interface Pair {
    from: string;
    to: string;
}

export const pairKey = (p: Pair) => `${p.from}>${p.to}`;

const tap = (k: number) => `T${k}`;

export function sequence(order: Order, series: number): Pair[] {
    const groups = Array.from({ length: series }, (_, k) => ({ from: tap(k), to: tap(k + 1) }));
    if (order === 'taps') return groups.map((g) => ({ from: tap(0), to: g.to }));
    if (order === 'across') return [...groups, ...(series > 1 ? [{ from: tap(0), to: tap(series) }] : [])];
    // Whole, halves, quarters ... down to the groups themselves.
    const out: Pair[] = [];
    let level: [number, number][] = [[0, series]];
    while (level.length > 0) {
        out.push(...level.map(([a, b]) => ({ from: tap(a), to: tap(b) })));
        level = level.flatMap(([a, b]): [number, number][] => {
            if (b - a < 2) return [];
            const mid = Math.ceil((a + b) / 2);
            return [
                [a, mid],
                [mid, b],
            ];
        });
    }
    return out;
}

/** Numbers out of a pasted column: one a line, or separated by tabs or semicolons; a decimal comma is fine. */
export function pastedNumbers(text: string): string[] {
    return text
        .split(/[\r\n\t;]+/)
        .map((s) => s.trim())
        .filter((s) => s !== '');
}
