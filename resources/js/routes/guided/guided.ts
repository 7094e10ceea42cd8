import type { components } from '@/api/schema';
import { number } from '@/lib/number';
import { place } from '@/lib/format';

export type Run = components['schemas']['GuidedRun'];
export type Row = components['schemas']['GuidedRow'];
export type Offer = components['schemas']['GuidedOffer'];
export type Step = components['schemas']['GuidedStep'];
export type Entry = components['schemas']['GuidedEntry'];
type Field = components['schemas']['GuidedField'];

/** What stands in the fields of a step, as typed; several marks with a line between them. */
export type Typed = Record<string, string>;

export const MARKS = '\n';

export const OUTCOMES = {
    pass: { sign: '✓', word: 'passed', ink: 'text-moss' },
    fail: { sign: '✗', word: 'failed', ink: 'text-ember' },
    'cannot-tell': { sign: '◌', word: 'cannot tell', ink: 'text-amber' },
};

export const startOf = (step: Step): Typed =>
    Object.fromEntries(step.fields.filter((f) => f.value !== null).map((f) => [f.name, f.value ?? '']));

/** What is sent of a step: numbers as numbers where they are ones; what is none is sent as typed, and refused beside its field. */
export function valuesOf(step: Step, typed: Typed): Record<string, unknown> {
    const out: Record<string, unknown> = {};
    for (const f of step.fields) {
        const text = (typed[f.name] ?? '').trim();
        if (text === '') continue;
        if (f.kind === 'number') out[f.name] = Number.isFinite(number(text)) ? number(text) : text;
        else if (f.kind === 'yes-no') out[f.name] = text === 'yes';
        else if (f.kind === 'marks') out[f.name] = text.split(MARKS);
        else out[f.name] = text;
    }
    return out;
}

/** What is missing before anything is sent, by field. */
export const missing = (step: Step, typed: Typed): Record<string, string> =>
    Object.fromEntries(
        step.fields.filter((f) => !f.optional && (typed[f.name] ?? '').trim() === '').map((f) => [f.name, 'This is needed here.']),
    );

/** What was typed at a step, in a line: each by its label, without the unit's comma. */
export function saidOf(step: Step, entry: Entry): string {
    if (entry.found !== '') return `From ${entry.found}`;
    return step.fields
        .map((f: Field): string | null => {
            const v = entry.values[f.name];
            if (v === undefined || v === null) return null;
            const text = typeof v === 'boolean' ? (v ? 'yes' : 'no') : Array.isArray(v) ? v.join(', ') : String(v);
            return step.fields.length === 1 ? text : `${f.label.replace(/, "-" where.*$/, '')}: ${text}`;
        })
        .filter((t) => t !== null)
        .join('; ');
}

/** Minutes and seconds until then; null when it is over. */
export function left(due: string, now: number): string | null {
    const s = Math.ceil((Date.parse(due) - now) / 1000);
    if (s <= 0) return null;
    const [d, h, m] = [Math.floor(s / 86400), Math.floor(s / 3600) % 24, Math.floor(s / 60) % 60];
    return d > 0 ? `${d} d ${h} h` : h > 0 ? `${h} h ${m} min` : m > 0 ? `${m} min ${s % 60} s` : `${s} s`;
}

export const named = (run: Row) => (run.where ? `${run.title}, ${place(run.where)}` : run.title);
