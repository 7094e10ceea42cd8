import { optional } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { chemistries, kinds } from '@/lib/format';
import { Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';

type Pack = components['schemas']['Pack'];

export interface PackForm {
    kind: string;
    chemistry: string;
    series: string;
    parallel: string;
    nominal_v: string;
    full_v: string;
    capacity_ah: string;
    energy_wh: string;
    age_months: string;
    cell: string;
    wake: string;
}

export const EMPTY_PACK: PackForm = {
    kind: 'e-bike',
    chemistry: 'nmc',
    series: '',
    parallel: '',
    nominal_v: '',
    full_v: '',
    capacity_ah: '',
    energy_wh: '',
    age_months: '',
    cell: '',
    wake: 'unknown',
};

const number = optional;
const compact = <T extends object>(o: T) =>
    Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined && v !== '' && !Number.isNaN(v)));

/** The pack as the record holds it; `base` keeps what the form does not show. */
/** The pack as far as the form knows it; what is missing, the server says. */
export function toPack(form: PackForm, base: Record<string, unknown>, cell: Record<string, unknown> | undefined): Pack {
    const label = compact({
        nominal_v: number(form.nominal_v),
        full_v: number(form.full_v),
        capacity_ah: number(form.capacity_ah),
        energy_wh: number(form.energy_wh),
    });
    const { label: _l, cell: _c, age_months: _a, ...rest } = base;
    return {
        ...rest,
        ...compact({
            kind: form.kind,
            chemistry: form.chemistry,
            series: number(form.series),
            parallel: number(form.parallel),
            age_months: number(form.age_months),
        }),
        ...(Object.keys(label).length > 0 ? { label } : {}),
        ...(cell ? { cell } : base['cell'] ? { cell: base['cell'] } : {}),
    } as Pack;
}

export function fromPack(pack: Record<string, unknown>): PackForm {
    const label = (pack['label'] ?? {}) as Record<string, number>;
    const text = (v: unknown) => (v == null ? '' : String(v));
    return {
        ...EMPTY_PACK,
        kind: text(pack['kind']) || 'other',
        chemistry: text(pack['chemistry']) || 'nmc',
        series: text(pack['series']),
        parallel: text(pack['parallel']),
        nominal_v: text(label['nominal_v']),
        full_v: text(label['full_v']),
        capacity_ah: text(label['capacity_ah']),
        energy_wh: text(label['energy_wh']),
        age_months: text(pack['age_months']),
        cell: text((pack['cell'] as { model?: string } | undefined)?.model),
    };
}

export function PackFields({
    form,
    change,
    errors,
    cells,
}: {
    form: PackForm;
    change: (patch: Partial<PackForm>) => void;
    errors: Record<string, string>;
    cells: { name: string; chemistry: string }[];
}) {
    const pack = toPack(form, {}, undefined);
    const check = useQuery({
        queryKey: slots.labelCheck(pack),
        queryFn: () => unwrap(api.POST('/api/label-check', { body: { pack } })),
        enabled: 'label' in pack || form.series !== '',
        retry: false,
        placeholderData: (old) => old,
    });
    const text = (name: keyof PackForm, label: string, path: string, more: { unit?: string; whole?: boolean; why?: string } = {}) => (
        <NumberField label={label} {...more} error={errors[path]} value={form[name]} onChange={(typed) => change({ [name]: typed })} />
    );
    const choice = (name: keyof PackForm, label: string, options: string[]) => (
        <Field label={label} error={errors[`pack.${name}`]}>
            {(p) => (
                <select {...p} value={form[name]} onChange={(e) => change({ [name]: e.target.value })}>
                    {options.map((o) => (
                        <option key={o}>{o}</option>
                    ))}
                </select>
            )}
        </Field>
    );
    return (
        <div className="grid gap-4">
            <div className="grid gap-3 grid-cols-2 md:grid-cols-4">
                {choice('kind', 'Kind', kinds)}
                {choice('chemistry', 'Chemistry', chemistries)}
                {text('series', 'Groups in series', 'pack.series', {
                    whole: true,
                    why: 'Volts alone often fit two counts. Counting the taps, or the sense leads less one, settles it.',
                })}
                {text('parallel', 'Cells in parallel', 'pack.parallel', {
                    whole: true,
                    why: 'With the cell model it gives what the pack ought to hold, and what a cell carries of the load.',
                })}
                {text('nominal_v', 'Label: nominal', 'pack.label.nominal_v', { unit: 'V' })}
                {text('full_v', 'Label: full', 'pack.label.full_v', { unit: 'V' })}
                {text('capacity_ah', 'Label: capacity', 'pack.label.capacity_ah', { unit: 'Ah' })}
                {text('energy_wh', 'Label: energy', 'pack.label.energy_wh', { unit: 'Wh' })}
                {text('age_months', 'Age', 'pack.age_months', {
                    unit: 'months',
                    why: 'What is worn and what is broken look alike: age moves the odds between them.',
                })}
            </div>
            <Field label="Cell model, when known">
                {(p) => (
                    <select {...p} value={form.cell} onChange={(e) => change({ cell: e.target.value })}>
                        <option value="">not known</option>
                        {cells.map((c) => (
                            <option key={c.name} value={c.name}>
                                {c.name} ({c.chemistry})
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            <div aria-live="polite" className="grid gap-2">
                {check.data?.mismatches.map((m) => (
                    <p key={m.field} className="border-l-4 border-amber pl-3">
                        {m.text} <b>It should say {m.should_be}.</b>
                    </p>
                ))}
                {form.series === '' && check.data && check.data.series.length > 0 && (
                    <div className="flex flex-wrap items-center gap-2">
                        <span className="text-muted">
                            This voltage can mean so many <Word of="group">groups</Word>:
                        </span>
                        {check.data.series.slice(0, 3).map((s) => (
                            <button
                                type="button"
                                key={`${s.chemistry}${s.series}`}
                                className="min-h-[44px] px-3 rounded border-[1.5px] border-muted bg-panel hover:bg-knot"
                                onClick={() => change({ series: String(s.series), chemistry: s.chemistry })}
                            >
                                {s.series} groups, {s.chemistry} {s.reading} ({s.per_cell_v.toFixed(2)} V each)
                            </button>
                        ))}
                        <span className="text-muted">
                            Counting the <Word of="tap">taps</Word> settles it.
                        </span>
                    </div>
                )}
            </div>
        </div>
    );
}
