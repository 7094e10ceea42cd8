import { type FieldPath } from 'react-hook-form';
import { toast } from 'sonner';
import { z } from 'zod';
import { maybeNumeric, useBenchForm } from '@/lib/form';
import { Basis, Button, Settle } from '@/parts/basics';
import { FormChoice, FormNumber } from '@/parts/form';
import { Word } from '@/parts/Word';
import type { BuildData } from './Build';

type Parts = Record<string, unknown>;

const amps = () => maybeNumeric({ least: 0 });
const WIRE = z.object({ awg: maybeNumeric(), mm2: amps(), parallel: maybeNumeric({ whole: true, least: 1 }), equal_length: z.string() });
const PARTS = z.object({
    wanted_a: amps(),
    wanted_peak_a: amps(),
    wanted_peak_s: amps(),
    strip: z.object({
        material: z.string(),
        width_mm: amps(),
        thickness_mm: amps(),
        layers: maybeNumeric({ whole: true }),
        length_mm: amps(),
    }),
    welds_per_cell: maybeNumeric({ whole: true }),
    wire: WIRE,
    wire_return: WIRE,
    connector: z.object({ continuous_a: amps(), peak_a: amps() }),
    fuse: z.object({ rating_a: amps(), dc_v: amps(), breaking_a: amps() }),
    switch_a: amps(),
    soh: maybeNumeric({ least: 0.05, most: 1 }),
});
type Typed = z.input<typeof PARTS>;

const NO_WIRE = { awg: '', mm2: '', parallel: '', equal_length: '' };
const NONE: Typed = {
    wanted_a: '',
    wanted_peak_a: '',
    wanted_peak_s: '',
    strip: { material: '', width_mm: '', thickness_mm: '', layers: '', length_mm: '' },
    welds_per_cell: '',
    wire: NO_WIRE,
    wire_return: NO_WIRE,
    connector: { continuous_a: '', peak_a: '' },
    fuse: { rating_a: '', dc_v: '', breaking_a: '' },
    switch_a: '',
    soh: '',
};

/** What is kept, as it would be typed. */
const typed = <T,>(none: T, kept: unknown): T =>
    (typeof none === 'string'
        ? kept === undefined || kept === null
            ? none
            : kept === true
              ? 'yes'
              : kept === false
                ? 'no'
                : String(kept)
        : Object.fromEntries(Object.entries(none as object).map(([k, v]) => [k, typed(v, (kept as Parts | undefined)?.[k])]))) as T;

/** What is said, without the fields that say nothing. */
const said = (parts: object): Parts =>
    Object.fromEntries(
        Object.entries(parts)
            .map(([k, v]) => [
                k,
                v !== null && typeof v === 'object' ? said(v as object) : k === 'equal_length' && v !== '' ? v === 'yes' : v,
            ])
            .filter(([, v]) => v !== undefined && v !== '' && !(typeof v === 'object' && Object.keys(v as object).length === 0)),
    );

const wire = (of: 'wire' | 'wire_return', name: string): [FieldPath<Typed>, string, 'number' | string[]][] => [
    [`${of}.awg`, `${name}, AWG`, 'number'],
    [`${of}.mm2`, `${name}, or mm2`, 'number'],
    [`${of}.parallel`, `${name}, side by side`, 'number'],
    [`${of}.equal_length`, `${name}, of one length`, ['', 'yes', 'no']],
];
const ASKS: [FieldPath<Typed>, string, 'number' | string[]][] = [
    ['wanted_a', 'Wanted of it, A', 'number'],
    ['wanted_peak_a', 'Peaks, A', 'number'],
    ['wanted_peak_s', 'for seconds', 'number'],
    ['soh', 'Health, 0 to 1', 'number'],
    ['strip.material', 'Strip', ['', 'nickel', 'plated-steel', 'copper']],
    ['strip.width_mm', 'Width, mm', 'number'],
    ['strip.thickness_mm', 'Thickness, mm', 'number'],
    ['strip.layers', 'Layers', 'number'],
    ['strip.length_mm', 'Link length, mm', 'number'],
    ['welds_per_cell', 'Weld spots a cell end', 'number'],
    ...wire('wire', 'Main wire'),
    ...wire('wire_return', 'Other way'),
    ['connector.continuous_a', 'Connector, A', 'number'],
    ['connector.peak_a', 'Connector, peaks, A', 'number'],
    ['fuse.rating_a', 'Fuse, A', 'number'],
    ['fuse.dc_v', 'Fuse, V DC', 'number'],
    ['fuse.breaking_a', 'Fuse breaks, A', 'number'],
    ['switch_a', 'Switch, A', 'number'],
];

/** The chain from cell to motor, drawn to one scale, with the load as a line across it. */
export function Budget({ job, data, keep }: { job: number; data: BuildData; keep: (d: Parts) => Promise<void> }) {
    const form = useBenchForm(PARTS, typed(NONE, data.inputs.budget));
    const at = { control: form.control };
    const b = data.budget;
    const scale = Math.max(1, b.load_a * 1.6, ...b.chain.map((l) => Math.min(l.continuous_a ?? 0, b.load_a * 3 || 1e9)));
    const save = async (parts: z.output<typeof PARTS>) => {
        try {
            await keep(said(parts));
        } catch (e) {
            form.refused(e);
            toast.error(e instanceof Error ? e.message : String(e));
        }
    };
    return (
        <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_340px] items-start">
            <section aria-label="Chain" className="grid gap-3">
                <p className="text-lg">
                    {b.load_a > 0 ? (
                        <>
                            The device draws <b className="digits">{b.load_a.toFixed(1)} A</b>: {b.how} <Basis of="derived" />
                        </>
                    ) : (
                        'No load is known, and nothing is passed until it is: enter it under Intake, or the amps that are wanted here.'
                    )}
                </p>
                <div className="grid gap-1.5">
                    {b.chain.map((l, i) => {
                        const short = l.state === 'short';
                        return (
                            <div key={l.element} className="grid grid-cols-[13rem_1fr_6rem] gap-3 items-center">
                                <span className="font-bold">
                                    {i > 0 && (
                                        <span aria-hidden="true" className="text-muted">
                                            ↓{' '}
                                        </span>
                                    )}
                                    {l.title}
                                    <span className="block font-normal text-muted text-[0.8rem] leading-tight">{l.note}</span>
                                </span>
                                <span className="relative block h-9 border border-line bg-panel">
                                    {l.continuous_a !== null && (
                                        <span
                                            className={`block h-full border-r-4 ${short ? 'bg-knot border-ember' : 'bg-knot border-bark'}`}
                                            style={{ width: `${Math.min(100, (100 * l.continuous_a) / scale)}%` }}
                                        />
                                    )}
                                    {b.load_a > 0 && (
                                        <span
                                            aria-hidden="true"
                                            className="absolute top-0 bottom-0 border-l-2 border-dashed border-ink"
                                            style={{ left: `${(100 * b.load_a) / scale}%` }}
                                        />
                                    )}
                                </span>
                                <span className="digits text-right">
                                    {l.continuous_a === null ? 'not known' : `${l.continuous_a.toFixed(1)} A`}
                                    {l.state === 'unknown' && l.continuous_a !== null && (
                                        <span className="block text-muted text-[0.85rem]">
                                            {b.load_a > 0 ? 'peak not known' : 'load not known'}
                                        </span>
                                    )}
                                    {l.margin !== null && l.state !== 'unknown' && (
                                        <span
                                            className={`block text-[0.85rem] ${short ? 'text-ember font-bold' : 'text-muted'}`}
                                        >{`${short ? '▼ ' : '+'}${(100 * l.margin).toFixed(0)} %`}</span>
                                    )}
                                </span>
                            </div>
                        );
                    })}
                </div>
                {b.weakest && (
                    <p className="text-lg">
                        Weakest: <b>{b.weakest}</b>.
                    </p>
                )}
                {b.findings.map((f) => (
                    <p key={f.text} className="border-l-4 border-ember pl-3">
                        ▲ {f.text}
                    </p>
                ))}
                {b.fuse && (
                    <p>
                        <b>Fuse:</b> {b.fuse.text} {b.fuse.have_ok === true && '✓ The one entered is right.'}
                        {b.fuse.have_ok === false && <b className="text-ember"> ✕ The one entered is not.</b>}
                    </p>
                )}
                <p className="text-muted">{b.adiabatic}</p>
                {b.assumed.length > 0 && (
                    <p>
                        Taken for granted: {b.assumed.join('; ')}. <Basis of="assumed" />{' '}
                        <Settle job={job} field="pack.cell">
                            Say which cells it has
                        </Settle>
                    </p>
                )}
            </section>
            <form className="sheet p-4 grid gap-3 grid-cols-2" noValidate onSubmit={form.handleSubmit((parts) => save(parts))}>
                <h2 className="col-span-2">
                    Parts of the path, for the <Word of="budget">current budget</Word>
                </h2>
                {ASKS.map(([name, label, kind]) =>
                    kind === 'number' ? (
                        <FormNumber key={name} {...at} name={name} label={label} />
                    ) : (
                        <FormChoice key={name} {...at} name={name} label={label}>
                            {(kind as string[]).map((o) => (
                                <option key={o} value={o}>
                                    {o === '' ? 'not known' : o}
                                </option>
                            ))}
                        </FormChoice>
                    ),
                )}
                <div className="col-span-2">
                    <Button type="submit" look="main">
                        Work it out
                    </Button>
                </div>
            </form>
        </div>
    );
}
