import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';
import { FormChoice, FormNumber } from '@/parts/form';
import { fromPart, PART_NAMES, type PartName, PARTS, saidOf, toPart } from './parts';
import type { PackForm } from './PackFields';

type PartModel = components['schemas']['PartModel'];

/** Device, board and charger: what later verdicts, budgets and proofs would otherwise assume. A link to a field opens its part. */
export function PartFields({ models }: { models: PartModel[] }) {
    const wanted = useSearchParams()[0].get('field') ?? '';
    return (
        <div className="grid gap-2 grid-cols-[minmax(0,1fr)]">
            {PART_NAMES.map((part) => (
                <Part key={part} part={part} wanted={wanted} models={models.filter((m) => m.kind === PARTS[part].kind)} />
            ))}
        </div>
    );
}

function Part({ part, wanted, models }: { part: PartName; wanted: string; models: PartModel[] }) {
    const form = useFormContext<{ pack: PackForm }>();
    const at = { control: form.control };
    const typed = useWatch({ ...at, name: `pack.${part}` });
    const said = saidOf(part, typed);
    const { kind, title, fields } = PARTS[part];
    return (
        <details open={wanted.startsWith(`pack.${part}.`)} className="border border-line rounded bg-panel px-3">
            <summary className="min-h-[44px] flex items-center gap-3 cursor-pointer">
                <b>{title}</b> <span className="text-muted truncate min-w-0">{said || 'nothing said: figures are assumed'}</span>
            </summary>
            <div className="grid gap-3 pb-3">
                {models.length > 0 && (
                    <div className="max-w-sm">
                        <Field label={`${title} that was here before`}>
                            {(p) => (
                                <select
                                    {...p}
                                    value=""
                                    onChange={(e) => {
                                        const known = models.find((m) => String(m.id) === e.target.value);
                                        if (known) form.setValue(`pack.${part}`, fromPart(part, known.spec), { shouldDirty: true });
                                    }}
                                >
                                    <option value="">choose it, and its figures are filled in</option>
                                    {models.map((m) => (
                                        <option key={m.id} value={m.id}>
                                            {m.name}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                    </div>
                )}
                <div className="grid gap-3 grid-cols-2 md:grid-cols-4">
                    {fields.map((f) => {
                        const name = `pack.${part}.${f.name}` as 'pack.load.power_w';
                        return f.choices || f.flag ? (
                            <FormChoice key={f.name} {...at} name={name} label={f.label}>
                                <option value="">not known</option>
                                {(f.choices ?? ['yes', 'no']).map((c) => (
                                    <option key={c}>{c}</option>
                                ))}
                            </FormChoice>
                        ) : (
                            <FormNumber
                                key={f.name}
                                {...at}
                                name={name}
                                label={f.label}
                                unit={f.unit}
                                whole={f.whole}
                                autoFocus={wanted === name}
                            />
                        );
                    })}
                </div>
                <KeepPart kind={kind} spec={toPart(part, typed)} title={title} />
            </div>
        </details>
    );
}

/** Kept under a name, it is offered for the next pack. */
function KeepPart({ kind, spec, title }: { kind: PartModel['kind']; spec: Record<string, unknown> | null; title: string }) {
    const queries = useQueryClient();
    const [name, setName] = useState('');
    const keep = useMutation({
        mutationFn: () =>
            unwrap(api.POST('/api/part-models', { params: { header: key() }, body: { kind, name: name.trim(), spec: spec ?? {} } })),
        onSuccess: () => {
            toast.success(`${name.trim()}: kept, and offered for the next.`);
            setName('');
            void queries.invalidateQueries({ queryKey: slots.lookups() });
        },
        onError: (e) => toast.error(e.message),
    });
    if (spec === null) return null;
    return (
        <div className="flex flex-wrap gap-3 items-end">
            <div className="w-64">
                <Field label={`Keep this ${title.toLowerCase()} as`}>
                    {(p) => <input {...p} value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />}
                </Field>
            </div>
            <Button disabled={name.trim() === '' || keep.isPending} onClick={() => keep.mutate()}>
                Offer it again
            </Button>
        </div>
    );
}
