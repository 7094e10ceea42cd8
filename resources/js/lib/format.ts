import words from '@contract/words.json';
import type { components } from '@/api/schema';
export const volts = (v: number | null | undefined, digits = 3) => (v == null ? '--' : `${v.toFixed(digits)} V`);
export const percent = (p: number) => `${Math.round(p * 100)} %`;
/** A count with its word, one or many: "1 group", "3 groups", "2 entries". */
export const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;
export const money = (cents: number, currency: string) =>
    new Intl.NumberFormat(undefined, { style: 'currency', currency }).format(cents / 100);
/** A moment, by this machine's clock or, where a paper leaves the shop, by the shop's. */
export const when = (iso: string, zone?: string) =>
    new Intl.DateTimeFormat(undefined, {
        weekday: 'short',
        day: 'numeric',
        month: 'short',
        hour: '2-digit',
        minute: '2-digit',
        timeZone: zone,
    }).format(new Date(iso));
export const day = (iso: string) =>
    new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(iso));

/** The word of a figure: of the first step that it reaches. The steps are core's. */
const word = (of: { from: number; word: string }[], figure: number) => (of.find((s) => figure >= s.from) ?? of[of.length - 1]!).word;

/** How sure, in a word: said beside the figure, never instead of it. */
export const sureness = (p: number): string => word(words.sureness, p);

/** A weight of evidence in words: ten decibans are odds of ten to one. */
export const weight = (decibans: number): string => `${word(words.weights, Math.abs(decibans))} ${decibans >= 0 ? 'for' : 'against'}`;

/** The same as odds: "x 16" makes it sixteen times likelier, "/ 4" four times less likely. */
export function odds(decibans: number): string {
    const ratio = 10 ** (Math.abs(decibans) / 10);
    return `${decibans >= 0 ? 'x' : '/'} ${ratio >= 1000 ? '1000 or more' : ratio >= 10 ? ratio.toFixed(0) : ratio.toFixed(1)}`;
}

export function place(where: Record<string, unknown> | null | undefined): string {
    if (!where) return 'the pack';
    const [kind, n] = Object.entries(where)[0] ?? ['pack', ''];
    return `${kind} ${String(n)}`;
}

/** What core calls things: written by bin/rules.php, said nowhere else. */
export const tests: Record<string, string> = words.tests;
export const symptoms: Record<string, string> = words.symptoms;
export type Symptom = components['schemas']['Job']['symptoms'][number];
export const looks = words.looks as {
    key: string;
    ask: string;
    means: 'quarantine' | 'hold' | 'note';
    outside: boolean;
    after: string | null;
    answers: [string, string];
}[];
/** The condition of the set that a test opens, and the room in which an action is done. */
export const sets = words.sets as Record<string, 'rest' | 'relaxing' | 'charge' | 'discharge'>;
/** The condition of the set that a test reads on in: any other set is left as it is, and one of its own is begun. */
export const continues = words.continues as Record<string, 'rest'>;
export const rooms: Record<string, string> = words.rooms;
/** The guided run that is the way of doing a test, by the test. */
export const guided: Record<string, string> = words.guided;
export const kinds: string[] = words.kinds;
export const chemistries = words.chemistries as NonNullable<components['schemas']['JoinSide']['chemistry']>[];

/** The first letters of first and last name: beside the name, never instead of it. */
export const initials = (name: string) => {
    const words = name.trim().split(/\s+/);
    return ((words[0]?.[0] ?? '') + (words.length > 1 ? (words[words.length - 1]?.[0] ?? '') : '')).toUpperCase();
};
