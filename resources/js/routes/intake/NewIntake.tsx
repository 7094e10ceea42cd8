import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { api, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { Button, Cautions, Field } from '@/parts/basics';
import { EMPTY_PACK, fromPack, PackFields, type PackForm, toPack } from './PackFields';
import { type Inspection, SymptomFields, TriageFields } from './TriageFields';
import type { Symptom } from '@/lib/format';
import { numberOr } from '@/lib/number';
import { CoreSample } from '@/parts/CoreSample';
import { Word } from '@/parts/Word';

interface Form {
    model: number | null;
    save: boolean;
    customer: string;
    contact: string;
    name: string;
    serial: string;
    batch: string;
    complaint: string;
    pack: PackForm;
    symptoms: Symptom[];
    inspection: Inspection;
}

export function Component() {
    const [params] = useSearchParams();
    const asked = Number(params.get('model')) || null;
    const initial = useMemo<Form>(
        () => ({
            model: asked,
            save: false,
            customer: '',
            contact: '',
            name: '',
            serial: '',
            batch: '',
            complaint: '',
            pack: EMPTY_PACK,
            symptoms: [],
            inspection: {},
        }),
        [asked],
    );
    const [form, setForm, clear] = useDraft(`intake.${usePerson().id}`, initial);
    const change = (patch: Partial<Form>) => setForm((old) => ({ ...old, ...patch }));
    const lookups = useQuery({ queryKey: slots.lookups(), queryFn: () => unwrap(api.GET('/api/lookups')) });
    const navigate = useNavigate();
    const model = lookups.data?.pack_models.find((m) => m.id === form.model);
    const cell = lookups.data?.cell_models.find((c) => c.name === form.pack.cell);
    const write = useJobWrite(
        () =>
            unwrap(
                api.POST('/api/jobs', {
                    params: { header: key() },
                    body: {
                        customer: form.customer,
                        contact: form.contact,
                        name: form.name || model?.name || '',
                        serial: form.serial,
                        batch: form.batch,
                        complaint: form.complaint,
                        pack: model ? model.spec : toPack(form.pack, {}, cell && { model: cell.name, ...cell.spec }),
                        pack_model_id: model?.id ?? null,
                        save_model: !model && form.save,
                        symptoms: form.symptoms,
                        inspection: form.inspection,
                    },
                }),
            ),
        (job) => {
            clear();
            void navigate(`/jobs/${job.id}/probe`);
        },
    );
    const errors = fieldErrors(write.error);
    const shape = model && fromPack(model.spec);
    const series = numberOr((shape ?? form.pack).series, 0);
    const text = (name: 'customer' | 'contact' | 'name' | 'serial' | 'batch', label: string, required = false) => (
        <Field label={label} error={errors[name]}>
            {(p) => (
                <input
                    {...p}
                    required={required}
                    list={name === 'customer' ? 'customers' : undefined}
                    value={form[name]}
                    onChange={(e) => change({ [name]: e.target.value })}
                />
            )}
        </Field>
    );
    return (
        <div className="p-4 grid gap-6 xl:grid-cols-[minmax(0,1fr)_330px] items-start">
            <form
                className="grid gap-6 min-w-0"
                onSubmit={(e) => {
                    e.preventDefault();
                    write.mutate(undefined);
                }}
            >
                <h1>Take a pack in</h1>
                <section className="grid gap-3" aria-label="Look at it first">
                    <h2>Look at it first</h2>
                    <TriageFields
                        inspection={form.inspection}
                        change={(patch) => change({ inspection: { ...form.inspection, ...patch } })}
                    />
                </section>
                <section className="grid gap-3" aria-label="Whose and what">
                    <h2>Whose and what</h2>
                    <div className="grid gap-3 md:grid-cols-3">
                        {text('customer', 'Customer', true)}
                        {text('contact', 'How to reach them')}
                        {text('serial', 'Serial or mark')}
                    </div>
                    <datalist id="customers">
                        {lookups.data?.customers.map((c) => (
                            <option key={c.id} value={c.name} />
                        ))}
                    </datalist>
                    <div className="grid gap-3 md:grid-cols-3">
                        <Field label="Pack model">
                            {(p) => (
                                <select {...p} value={form.model ?? ''} onChange={(e) => change({ model: Number(e.target.value) || null })}>
                                    <option value="">another pack: describe it</option>
                                    {lookups.data?.pack_models.map((m) => (
                                        <option key={m.id} value={m.id}>
                                            {m.name}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        {text('name', 'Name of this pack', !model)}
                        {text('batch', 'Batch, when it is one of many')}
                    </div>
                    {shape ? (
                        <p className="text-muted">
                            {`${shape.series} groups of ${shape.parallel}, `}
                            {shape.chemistry}; label {shape.nominal_v} V, {shape.capacity_ah} Ah.
                        </p>
                    ) : (
                        <>
                            <PackFields
                                form={form.pack}
                                change={(patch) => change({ pack: { ...form.pack, ...patch } })}
                                errors={errors}
                                cells={lookups.data?.cell_models ?? []}
                            />
                            <label className="flex items-center gap-2.5 min-h-[44px]">
                                <input type="checkbox" checked={form.save} onChange={(e) => change({ save: e.target.checked })} /> Keep as a
                                pack model for the next of its kind
                            </label>
                        </>
                    )}
                </section>
                <section className="grid gap-3" aria-label="What is said of it">
                    <h2>What is said of it</h2>
                    <SymptomFields chosen={form.symptoms} change={(symptoms) => change({ symptoms })} />
                    <Field label="In the customer's words">
                        {(p) => <textarea {...p} value={form.complaint} onChange={(e) => change({ complaint: e.target.value })} />}
                    </Field>
                </section>
                {write.isError && Object.keys(errors).length > 0 && (
                    <div role="alert" className="border-l-4 border-ember pl-3">
                        <b>Not taken in yet.</b>
                        {Object.entries(errors).map(([field, message]) => (
                            <p key={field}>
                                {field.replaceAll('.', ', ')}: {message}
                            </p>
                        ))}
                    </div>
                )}
                <div className="flex gap-3 sticky bottom-0 bg-paper py-3 border-t border-line">
                    <Button type="submit" look="main" disabled={write.isPending}>
                        Take it in and probe
                    </Button>
                    <Button onClick={() => setForm(initial)} look="quiet">
                        Empty the form
                    </Button>
                </div>
            </form>
            <aside aria-label="What is known" className="grid gap-4 xl:sticky xl:top-3 max-xl:order-first">
                <Cautions
                    lines={['A damaged pack goes outside or into the fire-safe box at once, away from people. The entry can wait.']}
                />
                <div className="max-xl:hidden grid gap-4">
                    {series > 0 && series <= 60 && (
                        <CoreSample
                            bands={Array.from({ length: series }, (_, i) => ({ group: i + 1, v: null, state: null, probability: 0 }))}
                            height={330}
                            width={230}
                        />
                    )}
                    <section className="grid gap-1">
                        <h2>What comes next</h2>
                        <p>
                            Each <Word of="group">group</Word> is read <Word of="rest">at rest</Word>, from <Word of="tap">tap</Word> to
                            tap. Then the tool says what it is, how sure it is, and what to measure next.
                        </p>
                        <p className="text-muted">
                            Nothing but a name, a customer and the kind of cells is needed now: the rest can be said when it is known.
                        </p>
                    </section>
                </div>
            </aside>
        </div>
    );
}
