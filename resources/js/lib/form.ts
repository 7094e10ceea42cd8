import { zodResolver } from '@hookform/resolvers/zod';
import { useCallback, useEffect, useRef } from 'react';
import { type DefaultValues, type FieldPath, type FieldValues, useForm, type UseFormReturn } from 'react-hook-form';
import { z } from 'zod';
import { ApiError } from '@/api/client';
import { number, type Range, wrongWith } from '@/lib/number';

/*
 * A form's values have the shape of the body that is sent: what is typed are strings, the schema reads them. So the server's word for
 * a field (`lot.name`) is the field's own name, and an error finds its place by itself.
 */

const read = (range: Range) => (text: string, at: z.RefinementCtx<string>) => {
    const wrong = wrongWith(text, range);
    if (wrong !== undefined) at.addIssue({ code: 'custom', message: wrong });
    return wrong === undefined ? number(text) : z.NEVER;
};

/** A number that must be there. */
export const numeric = (range: Range = {}) =>
    z
        .string()
        .refine((t) => t.trim() !== '', 'a number is wanted here.')
        .transform(read(range));

/** A number that may be left out: nothing typed says nothing. */
export const maybeNumeric = (range: Range = {}) =>
    z.string().transform((text, at) => (text.trim() === '' ? undefined : read(range)(text, at)));

/** A number that may be left out and stays as it is typed; only what is wrong with it is said. */
export const typedNumber = (range: Range = {}) =>
    z.string().superRefine((text, at) => {
        const wrong = wrongWith(text, range);
        if (wrong !== undefined) at.addIssue({ code: 'custom', message: wrong });
    });

/** Words that must be there. */
export const words = (what = 'a word is wanted here.') => z.string().trim().min(1, what);

export interface BenchForm<In extends FieldValues, Out extends FieldValues> extends UseFormReturn<In, unknown, Out> {
    /** Puts what the server refused beside its fields, and the first of them under the hand; answers whether any field took it. */
    refused: (error: unknown) => boolean;
    /** What was kept of it on this machine is done with: it starts again from here, or from where it started. */
    forget: (next?: In) => void;
}

/** A form whose schema reads what is typed, whose errors are the server's too, and whose entries outlive a reload where it has a slot. */
export function useBenchForm<In extends FieldValues, Out extends FieldValues>(
    schema: z.ZodType<Out, In>,
    start: In,
    slot?: string,
): BenchForm<In, Out> {
    const name = slot === undefined ? null : `heartwood.draft.${slot}`;
    const form = useForm<In, unknown, Out>({
        resolver: zodResolver(schema),
        defaultValues: (name === null ? start : kept(name, start)) as DefaultValues<In>,
    });
    const { watch, setError } = form;
    const base = useRef(start);
    useEffect(() => {
        if (name === null) return;
        const seen = watch((now) => {
            if (JSON.stringify(now) === JSON.stringify(base.current)) localStorage.removeItem(name);
            else localStorage.setItem(name, JSON.stringify(now));
        });
        return () => seen.unsubscribe();
    }, [name, watch]);
    const refused = useCallback(
        (error: unknown) => {
            const said = error instanceof ApiError ? Object.entries(error.fields) : [];
            const fields = said.map(([path, message]) => [path.replaceAll('/', '.'), message] as const);
            const values = form.getValues();
            const mine = fields.filter(([path]) => has(values, path));
            mine.forEach(([path, message], i) => setError(path as FieldPath<In>, { type: 'server', message }, { shouldFocus: i === 0 }));
            return mine.length > 0;
        },
        [form, setError],
    );
    const forget = useCallback(
        (next: In = base.current) => {
            base.current = next;
            form.reset(next as DefaultValues<In>);
            if (name !== null) localStorage.removeItem(name);
        },
        [form, name],
    );
    // What it started from changed under a form that nobody touched: it follows. A form in use keeps what it has.
    const from = JSON.stringify(start);
    useEffect(() => {
        const was = JSON.stringify(base.current);
        if (from !== was && JSON.stringify(form.getValues()) === was) forget(JSON.parse(from) as In);
    }, [from, form, forget]);
    return { ...form, refused, forget };
}

function kept<T>(name: string, start: T): T {
    try {
        return over(start, JSON.parse(localStorage.getItem(name) ?? 'null'));
    } catch {
        return start;
    }
}

const plain = (v: unknown): v is Record<string, unknown> => v !== null && typeof v === 'object' && !Array.isArray(v);

/** What was kept, laid over the start: a draft of an older form keeps what still has a field, and nothing else of it. */
function over<T>(start: T, stored: unknown): T {
    if (plain(start) && Object.keys(start).length > 0) {
        if (!plain(stored)) return start;
        return Object.fromEntries(Object.entries(start).map(([k, v]) => [k, k in stored ? over(v, stored[k]) : v])) as T;
    }
    return typeof stored === typeof start && Array.isArray(stored) === Array.isArray(start) && stored !== null ? (stored as T) : start;
}

const has = (values: unknown, path: string): boolean => {
    let at: unknown = values;
    for (const step of path.split('.')) {
        if (at === null || typeof at !== 'object' || !(step in at)) return false;
        at = (at as Record<string, unknown>)[step];
    }
    return true;
};
