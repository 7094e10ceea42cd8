import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, ApiError, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay, usePerson } from '@/lib/bench';
import { day, money, when } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { useBenchForm, words } from '@/lib/form';
import { Button, Field } from '@/parts/basics';
import { FormText } from '@/parts/form';
import { QueryState } from '@/parts/QueryState';
import { Clash } from '@/parts/Clash';
import { Sheet } from '@/parts/Sheet';

type Customer = components['schemas']['Customer'];
const FIELDS = {
    name: 'Name',
    phone: 'Telephone',
    email: 'E-mail',
    contact: 'How else to reach them',
    address: 'Address',
    agreements: 'Agreements',
    notes: 'Notes',
} as const;
const CUSTOMER = z.object({
    name: words('who it is.'),
    phone: z.string(),
    email: z.string(),
    contact: z.string(),
    address: z.string(),
    agreements: z.string(),
    notes: z.string(),
    /** What the entry was begun from. */
    version: z.string(),
});
type Form = z.input<typeof CUSTOMER>;

const formOf = (c: Customer): Form => Object.fromEntries(Object.keys(CUSTOMER.shape).map((k) => [k, c[k as keyof Form]])) as Form;

export function Component() {
    const id = Number(useParams()['customer']);
    const customer = useQuery({
        queryKey: slots.customer(id),
        queryFn: () => unwrap(api.GET('/api/customers/{customer}', { params: { path: { customer: id } } })),
    });
    if (!customer.data) return <QueryState of={customer} what="Looking for the customer ..." />;
    return <Page key={id} customer={customer.data} />;
}

function Page({ customer: c }: { customer: Customer }) {
    const { currency } = usePerson().workshop;
    const may = useMay('customers');
    const mayMerge = useMay('merge');
    const mayForget = useMay('forget');
    const [sheet, setSheet] = useState<'merge' | 'forget' | null>(null);
    const gone = c.forgotten_at !== null;
    const open = c.jobs.filter((j) => j.status === 'open').length;
    return (
        <div className="p-5 grid gap-5">
            <div className="flex flex-wrap items-center gap-3">
                <h1 className="mr-auto">
                    {c.name} <span className="text-muted font-normal text-xl">customer since {day(c.since)}</span>
                </h1>
                <Link to="/customers" className="underline underline-offset-4">
                    All customers
                </Link>
                {may && !gone && (
                    <a
                        className="inline-flex items-center min-h-[44px] px-3 underline underline-offset-4"
                        href={`/api/customers/${c.id}/export`}
                        download
                    >
                        Hand out what is kept
                    </a>
                )}
                {mayMerge && !gone && <Button onClick={() => setSheet('merge')}>Merge a double</Button>}
                {mayForget && !gone && (
                    <Button look="stop" onClick={() => setSheet('forget')}>
                        Forget
                    </Button>
                )}
            </div>
            {gone && (
                <p className="border-l-4 border-amber bg-knot rounded-r px-4 py-2">
                    Forgotten on {day(c.forgotten_at!)}: name and contact are gone, the record of the packs stays.
                </p>
            )}
            {c.also.length > 0 && !gone && <p className="text-muted">Also written as {c.also.join(', ')}.</p>}
            <div className="grid gap-5 lg:grid-cols-[2fr_3fr] items-start">
                <Edit customer={c} may={may && !gone} />
                <div className="grid gap-5">
                    <dl className="sheet p-4 grid grid-cols-2 sm:grid-cols-4 gap-3">
                        <Figure label="Packs here" value={String(open)} />
                        <Figure label="Returned" value={String(c.money.jobs_returned)} />
                        <Figure label="Quoted, open" value={money(c.money.quoted_open_cents, currency)} />
                        <Figure label="Quoted, returned" value={money(c.money.returned_cents, currency)} />
                    </dl>
                    {c.promises.length > 0 && (
                        <section className="sheet p-4 grid gap-2" aria-label="Promised">
                            <h2>Promised</h2>
                            <ul>
                                {c.promises.map((p) => (
                                    <li key={p.job_id}>
                                        <Link to={`/jobs/${p.job_id}/plan`} className="underline underline-offset-4">
                                            Job {p.number}
                                        </Link>
                                        {p.what && `: ${p.what.replaceAll('-', ' ')}`}
                                        {p.cents !== null && `, ${money(p.cents, currency)}`}
                                        {p.until && `, waits until ${when(p.until)}${p.for ? ` (${p.for})` : ''}`}
                                    </li>
                                ))}
                            </ul>
                        </section>
                    )}
                    <section className="sheet p-4 grid gap-2" aria-label="Jobs">
                        <div className="flex flex-wrap gap-x-4 items-baseline">
                            <h2 className="grow">Packs and jobs</h2>
                            <Link to={`/packs?customer=${c.id}`} className="underline underline-offset-4">
                                All their packs
                            </Link>
                            <Link to={`/customers/${c.id}/fleet`} className="underline underline-offset-4">
                                Side by side
                            </Link>
                            <Link to={`/packs?customer=${c.id}&glance=1`} className="underline underline-offset-4">
                                At a glance
                            </Link>
                        </div>
                        {c.jobs.length === 0 && <p className="text-muted">No pack came in under this name.</p>}
                        <ul className="grid gap-2">
                            {c.jobs.map((j) => (
                                <li key={j.id} className="border-t border-line pt-2">
                                    <Link to={`/jobs/${j.id}/${j.stage}`} className="font-bold underline underline-offset-4">
                                        {j.name}
                                    </Link>{' '}
                                    <span className="text-muted">
                                        job {j.number}
                                        {j.serial && `, serial ${j.serial}`}, {when(j.opened_at)}
                                    </span>
                                    <span className="block">
                                        {j.status === 'open' ? j.next : j.status}
                                        {j.decided && `. ${j.decided.replaceAll('-', ' ')}`}
                                        {j.quoted_cents !== null && `, ${money(j.quoted_cents, currency)}`}
                                    </span>
                                    {j.complaint && <span className="block text-muted">“{j.complaint}”</span>}
                                </li>
                            ))}
                        </ul>
                    </section>
                </div>
            </div>
            {sheet === 'merge' && <Merge customer={c} onClose={() => setSheet(null)} />}
            {sheet === 'forget' && <Forget customer={c} onClose={() => setSheet(null)} />}
        </div>
    );
}

function Figure({ label, value }: { label: string; value: string }) {
    return (
        <div>
            <dt className="eyebrow">{label}</dt>
            <dd className="text-xl digits">{value}</dd>
        </div>
    );
}

function useKeep(id: number) {
    const queries = useQueryClient();
    return (data: Customer) => {
        queries.setQueryData(slots.customer(id), data);
        void queries.invalidateQueries({ queryKey: slots.customers() });
        void queries.invalidateQueries({ queryKey: slots.bench() });
        void queries.invalidateQueries({ queryKey: slots.lookups() });
    };
}

function Edit({ customer: c, may }: { customer: Customer; may: boolean }) {
    const keep = useKeep(c.id);
    const queries = useQueryClient();
    const form = useBenchForm(CUSTOMER, formOf(c));
    const at = { control: form.control, disabled: !may };
    const { isDirty, defaultValues } = form.formState;
    const save = useMutation({
        mutationFn: ({ version, ...typed }: Form) => {
            const changed = Object.fromEntries(Object.entries(typed).filter(([k, v]) => v !== defaultValues?.[k as keyof Form]));
            return unwrap(
                api.PATCH('/api/customers/{customer}', {
                    params: { path: { customer: c.id }, header: { ...key(), 'If-Match': version } },
                    body: changed,
                }),
            );
        },
        onSuccess: (data) => {
            form.forget(formOf(data));
            keep(data);
            toast.success('Kept.');
        },
        onError: (e) => void form.refused(e),
    });
    const now = () => unwrap(api.GET('/api/customers/{customer}', { params: { path: { customer: c.id } } }));
    const errors = fieldErrors(save.error);
    return (
        <form className="sheet p-4 grid gap-3" noValidate onSubmit={form.handleSubmit((typed) => save.mutate(typed))}>
            <h2>What is known of them</h2>
            {(Object.entries(FIELDS) as [keyof typeof FIELDS, string][]).map(([k, label]) => (
                <FormText key={k} {...at} name={k} label={label} {...(k === 'agreements' || k === 'notes' ? { rows: 3 } : {})} />
            ))}
            <Clash
                error={save.error}
                labels={FIELDS}
                mine={form.getValues()}
                onMine={() => void now().then((stored) => save.mutate({ ...form.getValues(), version: stored.version }))}
                onTheirs={() =>
                    void now().then((stored) => {
                        save.reset();
                        form.forget(formOf(stored));
                        queries.setQueryData(slots.customer(c.id), stored);
                    })
                }
            />
            {save.error && Object.keys(errors).length === 0 && !(save.error instanceof ApiError && save.error.code === 'clash') && (
                <p role="alert">{save.error.message}</p>
            )}
            {may && (
                <div>
                    <Button type="submit" look="main" disabled={!isDirty || save.isPending}>
                        Keep
                    </Button>
                </div>
            )}
        </form>
    );
}

function Merge({ customer: c, onClose }: { customer: Customer; onClose: () => void }) {
    const keep = useKeep(c.id);
    const [q, setQ] = useState(c.name.split(' ')[0] ?? '');
    const found = useQuery({
        queryKey: slots.customers(q),
        queryFn: () => unwrap(api.GET('/api/customers', { params: { query: { q } } })),
    });
    const merge = useMutation({
        mutationFn: (from: number) =>
            unwrap(
                api.POST('/api/customers/{customer}/merge', {
                    params: { path: { customer: c.id }, header: { ...key(), 'If-Match': c.version } },
                    body: { from },
                }),
            ),
        onSuccess: (data) => {
            keep(data);
            onClose();
            toast.success('They are one now.');
        },
        onError: (e) => toast.error(e.message),
    });
    const others = found.data?.customers.filter((o) => o.id !== c.id && !o.forgotten) ?? [];
    return (
        <Sheet title={`Who is the same as ${c.name}?`} onClose={onClose}>
            <p>Packs of the other move here, and what only the other knew is kept. The other's name goes on leading here.</p>
            <Field label="Find the other">{(p) => <input {...p} value={q} onChange={(e) => setQ(e.target.value)} />}</Field>
            <ul className="grid gap-1">
                {others.map((o) => (
                    <li key={o.id} className="flex flex-wrap items-center gap-3 border-t border-line py-1">
                        <span className="grow">
                            <b>{o.name}</b>{' '}
                            <span className="text-muted">
                                {[o.phone, o.email || o.contact].filter(Boolean).join(', ')} {o.jobs} {o.jobs === 1 ? 'pack' : 'packs'}
                            </span>
                        </span>
                        <Button onClick={() => merge.mutate(o.id)} disabled={merge.isPending}>
                            Merge {o.name}
                        </Button>
                    </li>
                ))}
                {found.data && others.length === 0 && <li className="text-muted">Nobody else is found by that.</li>}
            </ul>
        </Sheet>
    );
}

function Forget({ customer: c, onClose }: { customer: Customer; onClose: () => void }) {
    const keep = useKeep(c.id);
    const [photos, setPhotos] = useState(true);
    const forget = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/customers/{customer}/forget', {
                    params: { path: { customer: c.id }, header: { ...key(), 'If-Match': c.version } },
                    body: { photos },
                }),
            ),
        onSuccess: (data) => {
            keep(data);
            onClose();
            toast.success('Forgotten.');
        },
        onError: (e) => toast.error(e.message),
    });
    return (
        <Sheet title={`Forget ${c.name}?`} onClose={onClose}>
            <p>
                Name, telephone, e-mail, address, agreements and notes go, here and of every name that leads here, and who agreed to what
                with their signature; what was agreed stays. The record of {c.jobs.length} {c.jobs.length === 1 ? 'pack' : 'packs'} stays,
                without saying whose. <b>This is not undone.</b>
            </p>
            <label className="flex gap-2 items-center min-h-[44px]">
                <input type="checkbox" checked={photos} onChange={(e) => setPhotos(e.target.checked)} /> The photos of their packs go too: a
                label may show a name
            </label>
            <p className="text-muted">If they want to have what is kept of them, hand it out first.</p>
            <div>
                <Button look="stop" onClick={() => forget.mutate()} disabled={forget.isPending}>
                    Forget this customer
                </Button>
            </div>
        </Sheet>
    );
}
