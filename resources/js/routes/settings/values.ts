import { number as read } from '@/lib/number';
import type { components } from '@/api/schema';

type Setting = Pick<components['schemas']['Setting'], 'kind' | 'default'>;

const CENTS = 100;

/** A value as it stands in its field: money in whole units, nothing for none. */
export function shown(s: Setting, value: unknown): string {
    if (value === null || value === undefined) return '';
    if (s.kind === 'switch') return value === true ? 'yes' : 'no';
    if (s.kind === 'money') return (Number(value) / CENTS).toFixed(2);
    return String(value);
}

/** What was typed, as the server takes it: null goes back to the default, undefined is no number. */
export function parse(s: Setting, typed: string): string | number | boolean | null | undefined {
    const text = typed.trim();
    if (s.kind === 'switch') return text === 'yes';
    if (['text', 'choice', 'zone', 'time', 'lines'].includes(s.kind)) return text === '' ? (s.kind === 'lines' ? '' : null) : text;
    if (text === '') return null;
    const number = read(text);
    if (!Number.isFinite(number)) return undefined;
    return s.kind === 'money' ? Math.round(number * CENTS) : number;
}
