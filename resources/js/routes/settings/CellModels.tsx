import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { maybeNumeric, numeric, useBenchForm, words } from '@/lib/form';
import { chemistries } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button } from '@/parts/basics';
import { FormChoice, FormNumber, FormText } from '@/parts/form';
import { Sheet } from '@/parts/Sheet';

type Model = components['schemas']['PricedCell'];

const MODEL = z.object({
    name: words(),
    chemistry: z.enum(chemistries),
    format: z.string(),
    capacity_ah: numeric({ least: 0 }),
    full_v: maybeNumeric({ least: 1, most: 5 }),
    cutoff_v: maybeNumeric({ least: 0.5, most: 4 }),
    max_continuous_a: maybeNumeric({ least: 0 }),
    peak_a: maybeNumeric({ least: 0 }),
    max_charge_a: maybeNumeric({ least: 0 }),
    resistance_mohm: maybeNumeric({ least: 0 }),
    price_cents: numeric({ least: 0 }),
});

const NUMBERS = [
    ['capacity_ah', 'Rated Ah'],
    ['price_cents', 'Price of one'],
    ['full_v', 'Full, V'],
    ['cutoff_v', 'Cut-off, V'],
    ['max_continuous_a', 'For good, A'],
    ['peak_a', 'Peaks, A'],
    ['max_charge_a', 'Charge, A'],
    ['resistance_mohm', 'Resistance, mohm'],
] as const;

const text = (v: unknown) => (v === undefined || v === null ? '' : String(v));
const typed = (m: Model | null): z.input<typeof MODEL> => ({
    name: m?.name ?? '',
    chemistry: (m?.chemistry as (typeof chemistries)[number] | undefined) ?? 'nmc',
    format: text(m?.spec['format']),
    capacity_ah: text(m?.spec['capacity_ah']),
    full_v: text(m?.spec['full_v']),
    cutoff_v: text(m?.spec['cutoff_v']),
    max_continuous_a: text(m?.spec['max_continuous_a']),
    peak_a: text(m?.spec['peak_a']),
    max_charge_a: text(m?.spec['max_charge_a']),
    resistance_mohm: text(m?.spec['resistance_mohm']),
    price_cents: m === null || m.price_cents === null ? '' : (m.price_cents / 100).toFixed(2),
});

/** A cell as its maker describes it: what trays, deals, budgets and quotes know of the model. */
export function CellModel({ model, onClose }: { model: Model | null; onClose: () => void }) {
    const queries = useQueryClient();
    const form = useBenchForm(MODEL, typed(model));
    const at = { control: form.control };
    const save = useMutation({
        mutationFn: ({ price_cents, ...said }: z.output<typeof MODEL>) => {
            const body = {
                ...(Object.fromEntries(Object.entries(said).filter(([, v]) => v !== undefined && v !== '')) as Omit<
                    components['schemas']['CellModelSaid'],
                    'price_cents'
                >),
                price_cents: Math.round(100 * price_cents),
            };
            return unwrap(
                model === null
                    ? api.POST('/api/cell-models', { params: { header: key() }, body })
                    : api.PATCH('/api/cell-models/{cellModel}', {
                          params: { path: { cellModel: model.id }, header: { ...key(), 'If-Match': model.version } },
                          body,
                      }),
            );
        },
        onSuccess: (data) => {
            queries.setQueryData(slots.prices(), data);
            void queries.invalidateQueries({ queryKey: slots.lookups() });
            toast.success('Kept.');
            onClose();
        },
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    return (
        <Sheet title={model === null ? 'A cell model' : model.name} onClose={onClose}>
            <form className="grid gap-4 sm:grid-cols-2" noValidate onSubmit={form.handleSubmit((m) => save.mutate(m))}>
                <FormText {...at} name="name" label="Cell model" />
                <FormChoice {...at} name="chemistry" label="Chemistry">
                    {chemistries.map((c) => (
                        <option key={c}>{c}</option>
                    ))}
                </FormChoice>
                <FormText {...at} name="format" label="Size" placeholder="21700" />
                {NUMBERS.map(([name, label]) => (
                    <FormNumber key={name} {...at} name={name} label={label} />
                ))}
                <div className="sm:col-span-2">
                    <Button type="submit" look="main" disabled={save.isPending}>
                        Keep it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
