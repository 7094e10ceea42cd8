/** Places as they are typed, "column row; column row"; null when one is none. */
export function readPlaces(text: string): [number, number][] | null {
    const out: [number, number][] = [];
    for (const part of text
        .split(';')
        .map((s) => s.trim())
        .filter(Boolean)) {
        const m = /^(\d{1,4})[\s,]+(\d{1,4})$/.exec(part);
        if (!m) return null;
        out.push([Number(m[1]), Number(m[2])]);
    }
    return out;
}

export const writePlaces = (places: [number, number][]) => places.map((p) => p.join(' ')).join('; ');

/** One place more, or taken back when it was there. */
export function withPlace(text: string, place: string): string {
    const places = readPlaces(text) ?? [];
    const without = places.filter((p) => p.join(' ') !== place);
    return writePlaces(without.length < places.length ? without : [...places, ...(readPlaces(place) ?? [])]);
}

/** Rows of a stepped case as they are typed, from the top: "6 5 4", or "1+6" for six that begin one place in; null when one is none. */
export function readRows(text: string): [number, number][] | null {
    const out: [number, number][] = [];
    for (const part of text.split(/[\s,;]+/).filter(Boolean)) {
        const m = /^(?:(\d{1,3})\+)?(\d{1,3})$/.exec(part);
        if (!m || Number(m[2]) < 1) return null;
        out.push([Number(m[1] ?? 0), Number(m[2])]);
    }
    return out;
}

export const writeRows = (rows: (number | [number, number])[]) =>
    rows.map((r) => (Array.isArray(r) ? (r[0] === 0 ? `${r[1]}` : `${r[0]}+${r[1]}`) : `${r}`)).join(' ');

/** Lengths of cuts in short: the same ones counted. */
export function inShort(cuts: number[]): string {
    const times = new Map<number, number>();
    for (const mm of cuts) times.set(mm, (times.get(mm) ?? 0) + 1);
    return [...times].map(([mm, n]) => (n === 1 ? mm.toFixed(1) : `${n} x ${mm.toFixed(1)}`)).join(', ');
}
