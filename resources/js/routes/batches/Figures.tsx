import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { maybeNumeric, numeric, useBenchForm } from '@/lib/form';
import { slots } from '@/lib/slots';
import { Button } from '@/parts/basics';
import { FormNumber } from '@/parts/form';

const FIGURES = z.object({
    supplies: numeric({ whole: true, least: 0, most: 100 }),
    places: numeric({ whole: true, least: 0, most: 1000 }),
    hours_a_day: numeric({ least: 0.25, most: 24 }),
    paid: maybeNumeric({ least: 0 }),
    sells: maybeNumeric({ least: 0 }),
    margin_percent: maybeNumeric({ least: 0, most: 95 }),
});
const text = (n: number | null, scale = 1) => (n === null ? '' : String(n / scale));
const cents = (n: number | undefined) => (n === undefined ? null : Math.round(100 * n));

/** What there is for a batch, and its prices. */
export function Figures({ lane: { batch: b, margin_percent } }: { lane: components['schemas']['Lane'] }) {
    const may = useMay('decide');
    const queries = useQueryClient();
    const form = useBenchForm(FIGURES, {
        supplies: text(b.supplies),
        places: text(b.places),
        hours_a_day: text(b.hours_a_day),
        paid: text(b.paid_cents, 100),
        sells: text(b.sells_cents, 100),
        margin_percent: text(b.margin_percent),
    });
    const at = { control: form.control };
    const keep = useMutation({
        mutationFn: ({ paid, sells, margin_percent: m, ...said }: z.output<typeof FIGURES>) =>
            unwrap(
                api.PATCH('/api/batches/{batch}', {
                    params: { path: { batch: b.id }, header: { ...key(), 'If-Match': `"${b.version}"` } },
                    body: { ...said, paid_cents: cents(paid), sells_cents: cents(sells), margin_percent: m ?? null },
                }),
            ),
        onSuccess: () => {
            void queries.invalidateQueries({ queryKey: slots.lane(b.id) });
            toast.success('Kept.');
        },
        onError: (e) => {
            if (!form.refused(e)) toast.error(e.message);
        },
    });
    return (
        <form
            aria-label="What there is for it"
            noValidate
            className="sheet p-4 grid gap-3 grid-cols-2"
            onSubmit={form.handleSubmit((said) => keep.mutate(said))}
        >
            <h2 className="col-span-2">What there is for it</h2>
            <FormNumber {...at} name="supplies" label="Supplies" whole />
            <FormNumber {...at} name="places" label="Places on the shelf" whole />
            <FormNumber {...at} name="hours_a_day" label="Hours a day" unit="h" />
            <FormNumber {...at} name="paid" label="Paid for each" />
            <FormNumber {...at} name="sells" label="One sells for" />
            <FormNumber {...at} name="margin_percent" label="Margin" unit="%" hint={`${margin_percent} if left, as the shop says`} />
            {may && (
                <div className="col-span-2">
                    <Button type="submit" disabled={keep.isPending || !form.formState.isDirty}>
                        Keep
                    </Button>
                </div>
            )}
        </form>
    );
}
