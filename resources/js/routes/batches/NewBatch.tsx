import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { FormProvider, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { count } from '@/lib/format';
import { maybeNumeric, useBenchForm, words } from '@/lib/form';
import { fieldErrors } from '@/lib/job';
import { slots } from '@/lib/slots';
import { Button, Cautions } from '@/parts/basics';
import { FormChoice, FormNumber, FormText, FormTick } from '@/parts/form';
import { EMPTY_PACK, fromPack, PACK, PackFields, toPack } from '../intake/PackFields';

const BATCH = z.object({
    name: words('a name for the batch, such as whose and when.'),
    customer: words('whose they are.'),
    contact: z.string(),
    complaint: z.string(),
    pack_model_id: z.string(),
    pack: PACK,
    looked: z.boolean(),
    list: words('the packs: a line for each.'),
    supplies: maybeNumeric({ whole: true, least: 0, most: 100 }),
    places: maybeNumeric({ whole: true, least: 0, most: 1000 }),
    hours_a_day: maybeNumeric({ least: 0.25, most: 24 }),
    paid: maybeNumeric({ least: 0 }),
    sells: maybeNumeric({ least: 0 }),
});
type Form = z.input<typeof BATCH>;
const START: Form = {
    name: '',
    customer: '',
    contact: '',
    complaint: '',
    pack_model_id: '',
    pack: EMPTY_PACK,
    looked: false,
    list: '',
    supplies: '',
    places: '',
    hours_a_day: '',
    paid: '',
    sells: '',
};
const cents = (n: number | undefined) => (n === undefined ? null : Math.round(100 * n));
const given = <K extends string>(name: K, n: number | undefined) => (n === undefined ? {} : { [name]: n });

/** A batch taken in: what its packs are, said once; who they are, a line each. */
export function Component() {
    const form = useBenchForm(BATCH, START, `batch.${usePerson().id}`);
    const at = { control: form.control };
    const navigate = useNavigate();
    const lookups = useQuery({ queryKey: slots.lookups(), queryFn: () => unwrap(api.GET('/api/lookups')) });
    const [modelId, pack, list] = useWatch({ ...at, name: ['pack_model_id', 'pack', 'list'] });
    const model = lookups.data?.pack_models.find((m) => String(m.id) === modelId);
    const cell = lookups.data?.cell_models.find((c) => c.name === pack.cell);
    const typed = useDeferredValue(list.trim());
    const read = useQuery({
        queryKey: slots.batches('arrival', typed),
        queryFn: () => unwrap(api.POST('/api/batches/arrival', { params: { header: key() }, body: { list: typed } })),
        enabled: typed !== '',
        placeholderData: (before) => before,
    });
    const rows = typed === '' ? [] : (read.data?.rows ?? []);
    const signs = rows.filter((r) => r.signs.length > 0);
    const open = useMutation({
        mutationFn: ({ pack_model_id: _, pack: said, paid, sells, supplies, places, hours_a_day, ...body }: z.output<typeof BATCH>) =>
            unwrap(
                api.POST('/api/batches', {
                    params: { header: key() },
                    body: {
                        ...body,
                        pack: (model ? model.spec : toPack(said, {}, cell && { model: cell.name, ...cell.spec })) as ReturnType<
                            typeof toPack
                        >,
                        pack_model_id: model?.id ?? null,
                        paid_cents: cents(paid),
                        sells_cents: cents(sells),
                        ...given('supplies', supplies),
                        ...given('places', places),
                        ...given('hours_a_day', hours_a_day),
                    },
                }),
            ),
        onSuccess: (lane) => {
            form.forget();
            void navigate(`/batches/${lane.batch.id}`);
        },
        onError: (e) => void form.refused(e),
    });
    const errors = fieldErrors(open.error);
    const shape = model && fromPack(model.spec);
    return (
        <form
            className="p-5 grid gap-6 max-w-5xl grid-cols-[minmax(0,1fr)]"
            noValidate
            onSubmit={form.handleSubmit((body) => open.mutate(body))}
        >
            <h1>Take a batch in</h1>
            <Cautions
                lines={[
                    'A pack that is swollen, warm, wet or smells goes outside or into the fire-safe box before the list is typed.',
                    'Many packs are much energy: keep them apart, and no more on the bench than are worked on.',
                ]}
            />
            <section aria-label="Whose and what" className="grid gap-3">
                <h2>Whose and what</h2>
                <div className="grid gap-3 md:grid-cols-3">
                    <FormText {...at} name="name" label="Name of the batch" />
                    <FormText {...at} name="customer" label="Customer" list="customers" />
                    <FormText {...at} name="contact" label="How to reach them" />
                </div>
                <datalist id="customers">
                    {lookups.data?.customers.map((c) => (
                        <option key={c.id} value={c.name} />
                    ))}
                </datalist>
                <div className="grid gap-3 md:grid-cols-3">
                    <FormChoice {...at} name="pack_model_id" label="Pack model">
                        <option value="">another pack: describe it</option>
                        {lookups.data?.pack_models.map((m) => (
                            <option key={m.id} value={m.id}>
                                {m.name}
                            </option>
                        ))}
                    </FormChoice>
                    <div className="md:col-span-2">
                        <FormText {...at} name="complaint" label="What is said of all of them" />
                    </div>
                </div>
                {shape ? (
                    <p className="text-muted">
                        {shape.series} groups of {shape.parallel || '?'}, {shape.chemistry}; label {shape.label.capacity_ah || '?'} Ah.
                    </p>
                ) : (
                    <FormProvider {...form}>
                        <PackFields cells={lookups.data?.cell_models ?? []} parts={lookups.data?.part_models ?? []} />
                    </FormProvider>
                )}
            </section>
            <section aria-label="The packs" className="grid gap-3">
                <h2>The packs</h2>
                <div className="grid gap-5 md:grid-cols-2">
                    <div className="grid gap-2 content-start">
                        <FormText
                            {...at}
                            name="list"
                            label="A line for each: what is written on it, its volts, what is seen"
                            rows={10}
                            className="digits"
                            hint="RS-01 31.2, or RS-02 9.0 swollen; a scanner's Enter begins the next; RS-01 .. RS-16 is sixteen"
                        />
                        <FormTick {...at} name="looked">
                            I stood before every one of them: what has no sign in its line showed none
                        </FormTick>
                    </div>
                    <div aria-live="polite" className="grid gap-1 content-start">
                        <p className="font-bold">{count(rows.length, 'pack')}</p>
                        {read.data?.wrong.map((w) => (
                            <p key={w} role="alert" className="border-l-4 border-ember pl-3">
                                {w}
                            </p>
                        ))}
                        {signs.map((r) => (
                            <p key={r.serial} className="border-l-4 border-amber pl-3">
                                <b>{r.serial}</b>: {r.signs.map((s) => s.replaceAll('_', ' ')).join(', ')}. It is held, and away from the
                                others.
                            </p>
                        ))}
                        {rows.length > 0 && (
                            <ul className="columns-2 digits text-[0.92rem]" aria-label="Read of it">
                                {rows.map((r) => (
                                    <li key={r.serial}>
                                        {r.serial} {r.volts !== null && `${r.volts.toFixed(1)} V`}
                                    </li>
                                ))}
                            </ul>
                        )}
                    </div>
                </div>
            </section>
            <section aria-label="What there is for it" className="grid gap-3">
                <h2>What there is for it</h2>
                <div className="grid gap-3 grid-cols-2 md:grid-cols-5">
                    <FormNumber {...at} name="supplies" label="Supplies" whole hint="1 if left" />
                    <FormNumber {...at} name="places" label="Places on the shelf" whole hint="12 if left" />
                    <FormNumber {...at} name="hours_a_day" label="Hours a day" unit="h" hint="2 if left" />
                    <FormNumber {...at} name="paid" label="Paid for each" hint="if bought" />
                    <FormNumber {...at} name="sells" label="One sells for" hint="for the price of the next" />
                </div>
            </section>
            {open.isError && (
                <div role="alert" className="border-l-4 border-ember pl-3">
                    <b>Not taken in yet.</b>
                    {Object.keys(errors).length === 0 ? (
                        <p>{open.error.message}</p>
                    ) : (
                        Object.entries(errors).map(([field, message]) => (
                            <p key={field}>
                                {field.replaceAll('.', ', ')}: {message}
                            </p>
                        ))
                    )}
                </div>
            )}
            <div className="flex gap-3 sticky bottom-0 bg-paper py-3 border-t border-line">
                <Button type="submit" look="main" disabled={open.isPending}>
                    Take {rows.length > 0 ? count(rows.length, 'pack') : 'them'} in
                </Button>
                <Button onClick={() => form.forget()} look="quiet">
                    Empty the form
                </Button>
            </div>
        </form>
    );
}
