import { number } from '@/lib/number';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError } from '@/api/client';
import { Basis, Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';
import type { BuildData } from './Build';

type Parts = Record<string, unknown>;
const at = (parts: Parts, path: string): unknown => path.split('.').reduce<unknown>((o, k) => (o as Parts | undefined)?.[k], parts);

const ASKS: [string, string, 'number' | string[]][] = [
    ['strip.material', 'Strip', ['', 'nickel', 'plated-steel', 'copper']],
    ['strip.width_mm', 'Width, mm', 'number'],
    ['strip.thickness_mm', 'Thickness, mm', 'number'],
    ['strip.layers', 'Layers', 'number'],
    ['strip.length_mm', 'Link length, mm', 'number'],
    ['welds_per_cell', 'Weld spots a cell end', 'number'],
    ['wire.awg', 'Main wire, AWG', ['', '8', '10', '12', '14', '16', '18', '20', '22']],
    ['connector.continuous_a', 'Connector, A', 'number'],
    ['fuse.rating_a', 'Fuse, A', 'number'],
    ['fuse.dc_v', 'Fuse, V DC', 'number'],
    ['fuse.breaking_a', 'Fuse breaks, A', 'number'],
    ['switch_a', 'Switch, A', 'number'],
    ['soh', 'Health of the cells, 0 to 1', 'number'],
];

/** The chain from cell to motor, drawn to one scale, with the load as a line across it. */
export function Budget({ data, keep }: { data: BuildData; keep: (d: Parts) => Promise<void> }) {
    const kept = data.inputs.budget as Parts;
    const [entry, setEntry] = useState<Record<string, string>>(() =>
        Object.fromEntries(ASKS.map(([path]) => [path, at(kept, path) === undefined ? '' : String(at(kept, path))])),
    );
    const [errors, setErrors] = useState<Record<string, string>>({});
    const b = data.budget;
    const scale = Math.max(1, b.load_a * 1.6, ...b.chain.map((l) => Math.min(l.continuous_a ?? 0, b.load_a * 3 || 1e9)));
    const save = async () => {
        const parts: Parts = {};
        for (const [path, , kind] of ASKS) {
            const text = entry[path]!.trim();
            if (text === '') continue;
            const value = kind === 'number' || path === 'wire.awg' ? number(text) : text;
            const keys = path.split('.');
            if (keys.length === 1) parts[keys[0]!] = value;
            else parts[keys[0]!] = { ...(parts[keys[0]!] as Parts | undefined), [keys[1]!]: value };
        }
        try {
            await keep(parts);
            setErrors({});
        } catch (e) {
            if (e instanceof ApiError) setErrors(Object.fromEntries(Object.entries(e.fields).map(([k, v]) => [k.replaceAll('/', '.'), v])));
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
                        'No load is known: enter power or controller limit under Intake.'
                    )}
                </p>
                <div className="grid gap-1.5">
                    {b.chain.map((l, i) => {
                        const short = l.margin !== null && l.margin < 0;
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
                                    {l.continuous_a === null ? 'unknown' : `${l.continuous_a.toFixed(1)} A`}
                                    {l.margin !== null && (
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
            </section>
            <form
                className="sheet p-4 grid gap-3 grid-cols-2"
                onSubmit={(e) => {
                    e.preventDefault();
                    void save();
                }}
            >
                <h2 className="col-span-2">
                    Parts of the path, for the <Word of="budget">current budget</Word>
                </h2>
                {ASKS.map(([path, label, kind]) =>
                    kind === 'number' ? (
                        <NumberField
                            key={path}
                            label={label}
                            error={errors[path]}
                            value={entry[path] ?? ''}
                            onChange={(typed) => setEntry({ ...entry, [path]: typed })}
                        />
                    ) : (
                        <Field key={path} label={label} error={errors[path]}>
                            {(p) => (
                                <select {...p} value={entry[path]} onChange={(e) => setEntry({ ...entry, [path]: e.target.value })}>
                                    {(kind as string[]).map((o) => (
                                        <option key={o} value={o}>
                                            {o === '' ? 'not known' : o}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
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
