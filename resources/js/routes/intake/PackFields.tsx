import { optional } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useFormContext, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { chemistries, kinds } from '@/lib/format';
import { typedNumber } from '@/lib/form';
import { FormChoice, FormNumber } from '@/parts/form';
import { Word } from '@/parts/Word';
import { emptyPart, fromPart, PART_NAMES, partSchema, toPart } from './parts';
import { PartFields } from './PartFields';

type Pack = components['schemas']['Pack'];

/** The pack as it is typed, in the shape of the record; the cells by the name of their model. */
export const PACK = z.object({
    kind: z.string(),
    chemistry: z.string(),
    series: typedNumber({ whole: true, least: 1 }),
    parallel: typedNumber({ whole: true, least: 1 }),
    label: z.object({ nominal_v: typedNumber(), full_v: typedNumber(), capacity_ah: typedNumber(), energy_wh: typedNumber() }),
    age_months: typedNumber({ least: 0 }),
    load: partSchema('load'),
    bms: partSchema('bms'),
    charger: partSchema('charger'),
    cell: z.string(),
});
export type PackForm = z.input<typeof PACK>;

export const EMPTY_PACK: PackForm = {
    kind: 'e-bike',
    chemistry: 'nmc',
    series: '',
    parallel: '',
    label: { nominal_v: '', full_v: '', capacity_ah: '', energy_wh: '' },
    age_months: '',
    load: emptyPart('load'),
    bms: emptyPart('bms'),
    charger: emptyPart('charger'),
    cell: '',
};

const number = optional;
const compact = <T extends object>(o: T) =>
    Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined && v !== '' && !Number.isNaN(v)));

/** The pack as the record has it, as far as the form knows it; `base` keeps what it does not show. What is missing, the server says. */
export function toPack(form: PackForm, base: Record<string, unknown>, cell: Record<string, unknown> | undefined): Pack {
    const label = compact(Object.fromEntries(Object.entries(form.label).map(([k, v]) => [k, number(v)])));
    const { label: _l, cell: _c, age_months: _a, load: _d, bms: _b, charger: _h, ...rest } = base;
    const parts = PART_NAMES.flatMap((p) => {
        const said = toPart(p, form[p]);
        return said === null ? [] : [[p, said] as const];
    });
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
        ...Object.fromEntries(parts),
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
        label: {
            nominal_v: text(label['nominal_v']),
            full_v: text(label['full_v']),
            capacity_ah: text(label['capacity_ah']),
            energy_wh: text(label['energy_wh']),
        },
        age_months: text(pack['age_months']),
        ...Object.fromEntries(PART_NAMES.map((p) => [p, fromPart(p, pack[p] as Record<string, unknown> | undefined)])),
        cell: text((pack['cell'] as { model?: string } | undefined)?.model),
    };
}

/** The fields of a pack, in whichever form it stands. */
export function PackFields({
    cells,
    parts,
}: {
    cells: { name: string; chemistry: string }[];
    parts: components['schemas']['PartModel'][];
}) {
    const form = useFormContext<{ pack: PackForm }>();
    const at = { control: form.control };
    const typed = useWatch({ ...at, name: 'pack' });
    const pack = toPack(typed, {}, undefined);
    const check = useQuery({
        queryKey: slots.labelCheck(pack),
        queryFn: () => unwrap(api.POST('/api/label-check', { body: { pack } })),
        enabled: 'label' in pack || typed.series !== '',
        retry: false,
        placeholderData: (old) => old,
    });
    const choice = (name: 'kind' | 'chemistry', label: string, options: readonly string[]) => (
        <FormChoice {...at} name={`pack.${name}`} label={label}>
            {options.map((o) => (
                <option key={o}>{o}</option>
            ))}
        </FormChoice>
    );
    return (
        <div className="grid gap-4 grid-cols-[minmax(0,1fr)]">
            <div className="grid gap-3 grid-cols-2 md:grid-cols-4">
                {choice('kind', 'Kind', kinds)}
                {choice('chemistry', 'Chemistry', chemistries)}
                <FormNumber
                    {...at}
                    name="pack.series"
                    label="Groups in series"
                    whole
                    why="Volts alone often fit two counts. Counting the taps, or the sense leads less one, settles it."
                />
                <FormNumber
                    {...at}
                    name="pack.parallel"
                    label="Cells in parallel"
                    whole
                    why="With the cell model it gives what the pack ought to hold, and what a cell carries of the load."
                />
                <FormNumber {...at} name="pack.label.nominal_v" label="Label: nominal" unit="V" />
                <FormNumber {...at} name="pack.label.full_v" label="Label: full" unit="V" />
                <FormNumber {...at} name="pack.label.capacity_ah" label="Label: capacity" unit="Ah" />
                <FormNumber {...at} name="pack.label.energy_wh" label="Label: energy" unit="Wh" />
                <FormNumber
                    {...at}
                    name="pack.age_months"
                    label="Age"
                    unit="months"
                    why="What is worn and what is broken look alike: age moves the odds between them."
                />
            </div>
            <FormChoice {...at} name="pack.cell" label="Cell model, when known">
                <option value="">not known</option>
                {cells.map((c) => (
                    <option key={c.name} value={c.name}>
                        {c.name} ({c.chemistry})
                    </option>
                ))}
            </FormChoice>
            <PartFields models={parts} />
            <div aria-live="polite" className="grid gap-2">
                {check.data?.mismatches.map((m) => (
                    <p key={m.field} className="border-l-4 border-amber pl-3">
                        {m.text} <b>It should say {m.should_be}.</b>
                    </p>
                ))}
                {typed.series === '' && check.data && check.data.series.length > 0 && (
                    <div className="flex flex-wrap items-center gap-2">
                        <span className="text-muted">
                            This voltage can mean so many <Word of="group">groups</Word>:
                        </span>
                        {check.data.series.slice(0, 3).map((s) => (
                            <button
                                type="button"
                                key={`${s.chemistry}${s.series}`}
                                className="min-h-[44px] px-3 rounded border-[1.5px] border-muted bg-panel hover:bg-knot"
                                onClick={() => {
                                    form.setValue('pack.series', String(s.series), { shouldDirty: true });
                                    form.setValue('pack.chemistry', s.chemistry, { shouldDirty: true });
                                }}
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
