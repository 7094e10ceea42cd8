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

/** What a number must be. */
export interface Range {
    least?: number | undefined;
    most?: number | undefined;
    whole?: boolean | undefined;
}

/** What is wrong with a number as it is typed, and the mend; undefined: nothing, or nothing typed. */
export function wrongWith(text: string, { least, most, whole, unit }: Range & { unit?: string | undefined }): string | undefined {
    if (text.trim() === '') return undefined;
    const n = number(text);
    const with_ = (x: number) => (unit ? `${x} ${unit}` : String(x));
    if (Number.isNaN(n)) return `"${text.trim()}" is no number: type it such as ${whole ? '12' : '3.812'}.`;
    if (whole && !Number.isInteger(n)) return 'a whole number, without a point.';
    if (least !== undefined && most !== undefined && (n < least || n > most)) return `from ${least} to ${with_(most)}.`;
    if (least !== undefined && n < least) return `${with_(least)} or more.`;
    if (most !== undefined && n > most) return `${with_(most)} at the most.`;
    return undefined;
}

/** How a number is read where it could be read two ways: with a comma, or with blanks between thousands; null where it is plain. */
export function readAs(text: string): string | null {
    const n = number(text);
    return Number.isNaN(n) || !/[,\s\u00a0\u202f'].*\d/.test(text.trim()) ? null : String(n);
}
