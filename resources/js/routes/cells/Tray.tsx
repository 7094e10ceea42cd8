import { number as parse, numberOr } from '@/lib/number';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useWatch } from 'react-hook-form';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors } from '@/lib/job';
import { slots } from '@/lib/slots';
import { maybeNumeric, numeric, useBenchForm, words } from '@/lib/form';
import { chemistries, count } from '@/lib/format';
import { Button, Field } from '@/parts/basics';
import { FormChoice, FormNumber, FormText, FormTick } from '@/parts/form';
import { Sheet } from '@/parts/Sheet';

const TRAY = z.object({
    lot: z.object({
        name: words('the name of the lot, such as it stands on the box.'),
        supplier: z.string(),
        date_code: z.string(),
        price_cents: maybeNumeric({ least: 0 }),
        inspect: z.boolean(),
    }),
    model: words(),
    chemistry: z.enum(chemistries),
    rated_ah: numeric({ least: 0 }),
    lines: z.string(),
    count: maybeNumeric({ whole: true, least: 1, most: 500 }),
});

const FIRST: z.input<typeof TRAY> = {
    lot: { name: '', supplier: '', date_code: '', price_cents: '', inspect: false },
    model: '',
    chemistry: 'nmc',
    rated_ah: '',
    lines: '',
    count: '',
};

const figure = (t: string | undefined) => (t === undefined || t === '-' || t === '' ? undefined : parse(t));

/** Cells as they are typed, one line each. */
const cellsOf = (lines: string) =>
    lines
        .split(/\n/)
        .map((l) => l.trim())
        .filter(Boolean)
        .map((l) => {
            const [code, ah, mohm, v] = l.split(/[\s;\t]+/);
            return { ...(code && code !== '-' ? { code } : {}), capacity_ah: figure(ah), mohm: figure(mohm), rest_v: figure(v) };
        });

/** A tray by keyboard: one line a cell, "code Ah mohm volts", any of them left out with a dash; or just how many there are. */
export function Tray({ onClose }: { onClose: () => void }) {
    const form = useBenchForm(TRAY, FIRST, `tray.${usePerson().id}`);
    const at = { control: form.control };
    const [csv, setCsv] = useState('');
    const [lines, many] = useWatch({ ...at, name: ['lines', 'count'] });
    const cells = cellsOf(lines);
    const all = cells.length > 0 ? cells : Array.from({ length: Math.min(500, numberOr(many, 0)) }, () => ({}));
    const bad = cells.findIndex((c) => [c.capacity_ah, c.mohm, c.rest_v].some((x) => x !== undefined && Number.isNaN(x)));
    const take = useMutation({
        mutationFn: ({ lot: { price_cents, ...lot }, model, chemistry, rated_ah }: z.output<typeof TRAY>) =>
            unwrap(
                api.POST('/api/cells', {
                    params: { header: key() },
                    body: {
                        lot: { ...lot, ...(price_cents === undefined ? {} : { price_cents: Math.round(100 * price_cents) }) },
                        model,
                        chemistry,
                        rated_ah,
                        cells: all,
                    },
                }),
            ),
        onSuccess: () => {
            toast.success(`${count(all.length, 'cell')} taken in.`);
            form.forget();
            onClose();
        },
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    const bring = useMutation({
        mutationFn: () => unwrap(api.POST('/api/cells/import', { params: { header: key() }, body: { csv } })),
        onSuccess: () => {
            toast.success('Taken in.');
            onClose();
        },
        onError: (e) => toast.error(e.message),
    });
    const errors = fieldErrors(take.error);
    const prices = useQuery({ queryKey: slots.prices(), queryFn: () => unwrap(api.GET('/api/prices')), staleTime: 60_000 });
    const models = prices.data?.cells ?? [];
    const [model, rated] = useWatch({ ...at, name: ['model', 'rated_ah'] });
    const said = numberOr(rated, 0);
    const listed = models.find((m) => m.name === model);
    const known = typeof listed?.spec['capacity_ah'] === 'number' ? { name: listed.name, ah: listed.spec['capacity_ah'] } : null;
    // A model of the list brings its chemistry and rating along as soon as it is named, where nothing else was said: never under a
    // hand that is in the next field already.
    const brought = useRef('');
    const { getValues, setValue } = form;
    useEffect(() => {
        if (!listed) return;
        setValue('chemistry', listed.chemistry as (typeof chemistries)[number]);
        const ah = listed.spec['capacity_ah'];
        if (typeof ah === 'number' && getValues('rated_ah') === brought.current) {
            brought.current = String(ah);
            setValue('rated_ah', brought.current);
        }
    }, [listed, getValues, setValue]);
    return (
        <Sheet title="Take in a tray" onClose={onClose} wide>
            <form className="grid gap-4 sm:grid-cols-2" noValidate onSubmit={form.handleSubmit((entry) => take.mutate(entry))}>
                <FormText {...at} name="lot.name" label="Lot" />
                <FormText {...at} name="lot.supplier" label="From whom" />
                <FormText {...at} name="lot.date_code" label="Date code" />
                <FormNumber {...at} name="lot.price_cents" label="Price of one" />
                <FormText {...at} name="model" label="Cell model" list="known-models" />
                <datalist id="known-models">
                    {models.map((m) => (
                        <option key={m.name} value={m.name} />
                    ))}
                </datalist>
                <div className="grid grid-cols-2 gap-3">
                    <FormChoice {...at} name="chemistry" label="Chemistry">
                        {chemistries.map((c) => (
                            <option key={c}>{c}</option>
                        ))}
                    </FormChoice>
                    <FormNumber
                        {...at}
                        name="rated_ah"
                        label="Rated Ah"
                        why="What is left of a cell is judged against what its maker says."
                    />
                </div>
                <div className="sm:col-span-2">
                    <Field
                        label="One line a cell: code, Ah, mohm, volts; a dash where not known"
                        hint={bad >= 0 ? undefined : count(all.length, 'cell')}
                        error={
                            bad >= 0
                                ? `line ${bad + 1} has something that is no number`
                                : Object.entries(errors).find(([k]) => k.startsWith('cells.'))?.[1]
                        }
                    >
                        {(p) => (
                            <textarea
                                {...p}
                                rows={7}
                                className="digits"
                                {...form.register('lines')}
                                placeholder={'QL-001 2.91 34.2 3.61\nQL-002 - - 3.60'}
                            />
                        )}
                    </Field>
                </div>
                {cells.length === 0 && <FormNumber {...at} name="count" label="Or only how many, numbered in the lot" whole />}
                <div className="sm:col-span-2">
                    <FormTick {...at} name="lot.inspect">
                        A delivery: a sample is tested before any of it is used
                    </FormTick>
                </div>
                {known && said > 0 && Math.abs(said / known.ah - 1) > 0.005 && (
                    <p className="sm:col-span-2 border-l-4 border-amber pl-3" role="status">
                        The list says {known.ah} Ah for {known.name}, and not {said}: one of the two is wrong.
                    </p>
                )}
                <div className="sm:col-span-2">
                    <Button type="submit" look="main" disabled={take.isPending || all.length === 0 || bad >= 0}>
                        Take them in
                    </Button>
                </div>
            </form>
            <details>
                <summary className="min-h-[44px] cursor-pointer">Import a CSV with the columns of the export</summary>
                <div className="grid gap-3">
                    <Field label="CSV" error={Object.entries(fieldErrors(bring.error)).map(([k, v]) => `${k}: ${v}`)[0]}>
                        {(p) => <textarea {...p} rows={5} value={csv} onChange={(e) => setCsv(e.target.value)} />}
                    </Field>
                    <div>
                        <Button disabled={csv.trim() === '' || bring.isPending} onClick={() => bring.mutate()}>
                            Import
                        </Button>
                    </div>
                </div>
            </details>
        </Sheet>
    );
}
