import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect } from 'react';
import { FormProvider, useController, useWatch } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { api, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { z } from 'zod';
import { useBenchForm, words } from '@/lib/form';
import { Button, Cautions, Go } from '@/parts/basics';
import { FormChoice, FormText, FormTick } from '@/parts/form';
import { EMPTY_PACK, fromPack, PACK, PackFields, toPack } from './PackFields';
import { type Inspection, SymptomFields, TriageFields } from './TriageFields';
import type { Symptom } from '@/lib/format';
import { numberOr } from '@/lib/number';
import { photoQueue, usePhotoQueue } from '@/lib/photos';
import { CoreSample } from '@/parts/CoreSample';
import { KnownPack } from '@/parts/KnownPack';
import { TakeButton } from '@/parts/Photos';
import { PhotosOnTheWay } from '@/parts/PhotosOnTheWay';
import { Word } from '@/parts/Word';

const INTAKE = z.object({
    pack_model_id: z.string(),
    save_model: z.boolean(),
    build: z.boolean(),
    customer: words('whose it is.'),
    contact: z.string(),
    name: z.string(),
    serial: z.string(),
    batch: z.string(),
    complaint: z.string(),
    pack: PACK,
    symptoms: z.array(z.custom<Symptom>()),
    inspection: z.custom<Inspection>(),
});
type Intake = z.input<typeof INTAKE>;

export function Component() {
    const [params] = useSearchParams();
    const start: Intake = {
        pack_model_id: params.get('model') ?? '',
        save_model: false,
        build: params.has('build'),
        customer: '',
        contact: '',
        name: '',
        serial: '',
        batch: '',
        complaint: '',
        pack: EMPTY_PACK,
        symptoms: [],
        inspection: {},
    };
    const form = useBenchForm(INTAKE, start, `intake.${usePerson().id}`);
    const at = { control: form.control };
    const [modelId, pack, build] = useWatch({ ...at, name: ['pack_model_id', 'pack', 'build'] });
    const inspection = useController({ ...at, name: 'inspection' }).field;
    const symptoms = useController({ ...at, name: 'symptoms' }).field;
    const lookups = useQuery({ queryKey: slots.lookups(), queryFn: () => unwrap(api.GET('/api/lookups')) });
    const navigate = useNavigate();
    const person = usePerson().id;
    const queue = usePhotoQueue(person);
    const draft = `draft:${person}`;
    // From the passport of a pack that came back.
    const back = params.get('serial');
    useEffect(() => {
        if (back) form.setValue('serial', back, { shouldDirty: true });
    }, [back, form]);
    const serial = useDeferredValue(useWatch({ ...at, name: 'serial' }).trim());
    const known = useQuery({
        queryKey: slots.knownPack(serial),
        queryFn: () => unwrap(api.GET('/api/known-pack', { params: { query: { serial } } })),
        enabled: serial.length >= 3,
    });
    const last = known.data?.last;
    const fillIn = () => {
        if (!last) return;
        const still = lookups.data?.pack_models.some((m) => m.id === last.pack_model_id);
        form.setValue('customer', last.customer, { shouldDirty: true });
        form.setValue('name', last.name, { shouldDirty: true });
        form.setValue('pack_model_id', still ? String(last.pack_model_id) : '', { shouldDirty: true });
        if (!still) form.setValue('pack', fromPack(last.pack), { shouldDirty: true });
    };
    const model = lookups.data?.pack_models.find((m) => String(m.id) === modelId);
    const cell = lookups.data?.cell_models.find((c) => c.name === pack.cell);
    const write = useJobWrite(
        ({ pack_model_id: _, save_model, build, ...body }: z.output<typeof INTAKE>) =>
            unwrap(
                api.POST('/api/jobs', {
                    params: { header: key() },
                    body: {
                        ...body,
                        name: body.name || model?.name || '',
                        pack: {
                            ...(model ? model.spec : toPack(body.pack, {}, cell && { model: cell.name, ...cell.spec })),
                            ...(build ? { build: 'new' as const } : {}),
                        },
                        ...(build ? { symptoms: [], inspection: {} } : {}),
                        pack_model_id: model?.id ?? null,
                        save_model: !model && save_model,
                    },
                }),
            ),
        (job) => {
            form.forget();
            void photoQueue.retarget(draft, `job:${job.id}`);
            void navigate(`/jobs/${job.id}/${job.stage}`);
        },
    );
    const errors = fieldErrors(write.error);
    const series = numberOr((model ? fromPack(model.spec) : pack).series, 0);
    const shape = model && fromPack(model.spec);
    return (
        <div className="p-4 grid gap-6 xl:grid-cols-[minmax(0,1fr)_330px] items-start">
            <form
                className="grid gap-6 grid-cols-[minmax(0,1fr)]"
                noValidate
                onSubmit={form.handleSubmit((body) => write.mutate(body, { onError: (e) => void form.refused(e) }))}
            >
                <div className="flex flex-wrap gap-3 items-center">
                    <h1 className="grow">{build ? 'Build a new pack' : 'Take a pack in'}</h1>
                    <Go to="/batches/new">Many of one kind: a batch</Go>
                    <Go to="/import">Import a record</Go>
                </div>
                <div role="group" aria-label="What it is" className="flex flex-wrap gap-2">
                    {[
                        ['A pack to look at and repair', false],
                        ['A new pack to build from cells', true],
                    ].map(([word, value]) => (
                        <button
                            key={String(word)}
                            type="button"
                            aria-pressed={build === value}
                            className={`min-h-[44px] px-4 rounded border ${
                                build === value ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel hover:bg-knot'
                            }`}
                            onClick={() => form.setValue('build', value as boolean, { shouldDirty: true })}
                        >
                            {word}
                        </button>
                    ))}
                </div>
                {!build && (
                    <section className="grid gap-3" aria-label="Look at it first">
                        <h2>Look at it first</h2>
                        <TriageFields
                            inspection={inspection.value}
                            change={(patch) => inspection.onChange({ ...form.getValues('inspection'), ...patch })}
                        />
                    </section>
                )}
                <section className="flex flex-wrap gap-3 items-center" aria-label="Photos">
                    <TakeButton word="Add photos" add={(files) => void photoQueue.add(files, draft, person)} />
                    <span className="text-muted">
                        All sides, the label, the connector, damage, the seal: kept here, sent with the pack.
                    </span>
                    <PhotosOnTheWay queue={queue} to={draft} />
                </section>
                <section className="grid gap-3" aria-label="Whose and what">
                    <h2>Whose and what</h2>
                    <div className="grid gap-3 md:grid-cols-3">
                        <FormText {...at} name="customer" label="Customer" list="customers" />
                        <FormText {...at} name="contact" label="How to reach them" />
                        <FormText {...at} name="serial" label="Serial, mark, or the code of our label" />
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
                        <FormText {...at} name="name" label="Name of this pack" placeholder={model?.name} />
                        <FormText {...at} name="batch" label="Batch, when it is one of many" />
                    </div>
                    <KnownPack visits={known.data?.visits ?? []}>
                        {last && (
                            <Button look="quiet" onClick={fillIn}>
                                It is this one: fill it in
                            </Button>
                        )}
                    </KnownPack>
                    {shape ? (
                        <p className="text-muted">
                            {`${shape.series} groups of ${shape.parallel}, `}
                            {shape.chemistry}; label {shape.label.nominal_v} V, {shape.label.capacity_ah} Ah.
                        </p>
                    ) : (
                        <>
                            <FormProvider {...form}>
                                <PackFields cells={lookups.data?.cell_models ?? []} parts={lookups.data?.part_models ?? []} />
                            </FormProvider>
                            <FormTick {...at} name="save_model">
                                Keep as a pack model for the next of its kind
                            </FormTick>
                        </>
                    )}
                </section>
                {!build && (
                    <section className="grid gap-3" aria-label="What is said of it">
                        <h2>What is said of it</h2>
                        <SymptomFields chosen={symptoms.value} change={symptoms.onChange} />
                        <FormText {...at} name="complaint" label="In the customer's words" rows={3} />
                    </section>
                )}
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
                        {build ? 'Plan the build' : 'Take it in and probe'}
                    </Button>
                    <Button onClick={() => form.forget()} look="quiet">
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
