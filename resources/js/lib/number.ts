/**
 * A number as it is typed at a bench: decimal comma or point, blanks between thousands, either kind of minus. Where both comma and
 * point stand, the last is the decimal one. Nothing typed is no number, and never a nought.
 */
export function number(text: string): number {
    let t = text
        .trim()
        .replace(/[\s\u00a0\u202f']/g, '')
        .replace('\u2212', '-');
    if (t === '') return NaN;
    const [comma, point] = [t.lastIndexOf(','), t.lastIndexOf('.')];
    if (comma >= 0 && point >= 0) t = t.replaceAll(comma > point ? '.' : ',', '');
    t = t.replace(',', '.');
    return /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(t) ? Number(t) : NaN;
}

/** The same, where an empty field means that nothing is said. */
export const optional = (text: string | undefined): number | undefined =>
    text === undefined || text.trim() === '' ? undefined : number(text);

/** The same, with what is meant where nothing readable is typed: a nought that is typed stays one. */
export const numberOr = (text: string, otherwise: number): number => {
    const n = number(text);
    return Number.isNaN(n) ? otherwise : n;
};
