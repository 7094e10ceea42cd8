import { number } from '@/lib/number';
import { count } from '@/lib/format';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import type { BuildData } from './Build';

/** Places as they are typed, "column row; column row"; null when one is none. */
export function readPlaces(text: string): [number, number][] | null {
    const out: [number, number][] = [];
    for (const part of text
        .split(';')
        .map((s) => s.trim())
        .filter(Boolean)) {
        const m = /^(\d{1,4})[\s,]+(\d{1,4})$/.exec(part);
        if (!m) return null;
        out.push([Number(m[1]), Number(m[2])]);
    }
    return out;
}

export const writePlaces = (places: [number, number][]) => places.map((p) => p.join(' ')).join('; ');

/** One place more, or taken back when it was there. */
export function withPlace(text: string, place: string): string {
    const places = readPlaces(text) ?? [];
    const without = places.filter((p) => p.join(' ') !== place);
    return writePlaces(without.length < places.length ? without : [...places, ...(readPlaces(place) ?? [])]);
}

/** Both faces to scale, the back as it is seen with the pack turned over; cuts, leads and the order of work. */
export function SheetView({ job, data, keep }: { job: Job; data: BuildData; keep: (d: Record<string, unknown>) => Promise<void> }) {
    const kept = data.inputs.layout as Record<string, unknown>;
    const text = (k: string) => (kept[k] === undefined ? '' : String(kept[k]));
    const [entry, setEntry] = useState({
        kind: text('kind') || 'cylindrical',
        packing: text('packing'),
        w: text('max_width_mm'),
        h: text('max_height_mm'),
        d: text('diameter_mm'),
        l: text('length_mm'),
        left: writePlaces((kept.left_out as [number, number][] | undefined) ?? []),
    });
    const [wrong, setWrong] = useState('');
    const set = (k: keyof typeof entry) => (e: { target: { value: string } }) => setEntry({ ...entry, [k]: e.target.value });
    const save = async () => {
        const left = readPlaces(entry.left);
        setWrong(left === null ? 'Column and row, from 0, such as 0 0; 3 2.' : '');
        if (left === null) return;
        try {
            await keep({
                kind: entry.kind,
                ...(entry.packing && entry.kind === 'cylindrical' ? { packing: entry.packing } : {}),
                ...(entry.w ? { max_width_mm: number(entry.w) } : {}),
                ...(entry.h ? { max_height_mm: number(entry.h) } : {}),
                ...(entry.d ? { diameter_mm: number(entry.d) } : {}),
                ...(entry.l ? { length_mm: number(entry.l) } : {}),
                ...(left.length > 0 && entry.kind === 'cylindrical' ? { left_out: left } : {}),
            });
        } catch (e) {
            toast.error(e instanceof Error ? e.message : String(e));
        }
    };
    const s = data.layout;
    return (
        <div className="grid gap-5">
            <form
                className="no-print flex flex-wrap gap-3 items-end"
                onSubmit={(e) => {
                    e.preventDefault();
                    void save();
                }}
            >
                <Field label="Cells">
                    {(p) => (
                        <select {...p} value={entry.kind} onChange={set('kind')}>
                            <option value="cylindrical">round, in rows</option>
                            <option value="stack">flat, in a stack</option>
                        </select>
                    )}
                </Field>
                <Field label="Rows">
                    {(p) => (
                        <select {...p} value={entry.packing} onChange={set('packing')}>
                            <option value="">whichever is better</option>
                            <option value="square">square</option>
                            <option value="offset">offset</option>
                        </select>
                    )}
                </Field>
                {(
                    [
                        ['w', 'Case width, mm'],
                        ['h', 'Case height, mm'],
                        ['d', entry.kind === 'stack' ? 'Thickness, mm' : 'Diameter, mm'],
                        ['l', 'Length, mm'],
                    ] as const
                ).map(([k, label]) => (
                    <div key={k} className="w-32">
                        <NumberField
                            label={label}
                            placeholder="any"
                            value={entry[k]}
                            onChange={(typed) => set(k)({ target: { value: typed } })}
                        />
                    </div>
                ))}
                {entry.kind === 'cylindrical' && (
                    <div className="w-40">
                        <Field label="Places left empty" error={wrong || undefined}>
                            {(p) => <input {...p} value={entry.left} onChange={set('left')} placeholder="none" />}
                        </Field>
                    </div>
                )}
                <Button type="submit" look="main">
                    Lay it out
                </Button>
                <a className="min-h-[44px] px-3 py-2 font-bold" href={`/api/jobs/${job.id}/build.pdf`} target="_blank" rel="noreferrer">
                    Paper for the bench wall
                </a>
            </form>
            {!s ? (
                <p className="sheet p-4 border-l-8 !border-l-ember text-lg">
                    <b className="text-ember">⬣ It does not fit.</b> {data.layout_refused}
                </p>
            ) : (
                <>
                    <p className="text-lg">
                        {count(s.series, 'group')} of {s.parallel}, {s.packing === 'stack' ? 'stacked' : `${s.packing} rows`}:{' '}
                        <b className="digits">{`${s.width_mm} x ${s.height_mm} x ${s.depth_mm} mm`}</b>.
                        {` ${count(s.distinct_strips, 'kind')} of strip, ${count(s.least_across, 'link')} across at the narrowest, `}
                        <b>{count(s.layers, 'layer')}</b>, {s.welds} weld spots.
                    </p>
                    <div className="grid gap-4 xl:grid-cols-2">
                        {(['front', 'back'] as const).map((face) => (
                            // The field "Places left empty" takes the same places by keyboard.
                            /* eslint-disable-next-line jsx-a11y/click-events-have-key-events,
                               jsx-a11y/no-noninteractive-element-interactions */
                            <figure
                                key={face}
                                className="sheet p-2 [&_svg]:w-full [&_svg]:h-auto [&_svg]:max-h-[520px]"
                                role="img"
                                aria-label={`${face} face`}
                                onClick={(e) => {
                                    // Strips and labels lie over the cells.
                                    const place = document
                                        .elementsFromPoint(e.clientX, e.clientY)
                                        .find((x) => x.hasAttribute('data-place'))
                                        ?.getAttribute('data-place');
                                    if (!place || entry.kind !== 'cylindrical') return;
                                    // The place means these rows: they are held to, or another way of rows may come out.
                                    setEntry({
                                        ...entry,
                                        left: withPlace(entry.left, place),
                                        packing: entry.packing || s.packing,
                                        h: entry.h || String(Math.ceil(s.height_mm)),
                                    });
                                }}
                                dangerouslySetInnerHTML={{ __html: s.svg[face] }}
                            />
                        ))}
                    </div>
                    {entry.kind === 'cylindrical' && (
                        <p className="no-print text-muted">
                            Touch a cell to leave its place empty (column and row from the front face&apos;s corner, from 0), then lay it
                            out.
                        </p>
                    )}
                    <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start">
                        <section>
                            <h2>Order of work</h2>
                            <ol className="grid gap-1.5">
                                {s.order.map((o, i) => (
                                    <li key={o.text} className="grid grid-cols-[2rem_1fr] gap-2">
                                        <span className="text-muted text-right">{i + 1}.</span>
                                        <span>
                                            {o.text}
                                            {o.caution && <span className="block border-l-4 border-amber pl-2">{o.caution}</span>}
                                        </span>
                                    </li>
                                ))}
                            </ol>
                        </section>
                        <section className="grid gap-3">
                            <h2>Cut</h2>
                            <table>
                                <tbody>
                                    {s.cut_list.map((c) => (
                                        <tr key={`${c.what}${c.length_mm}`} className="border-t border-line">
                                            <td className="py-1">
                                                {c.what}, {s.strip.material} {s.strip.width_mm} x {s.strip.thickness_mm} mm
                                            </td>
                                            <td className="digits text-right">{c.length_mm.toFixed(1)} mm</td>
                                            <td className="digits text-right">{c.count * s.layers} pieces</td>
                                        </tr>
                                    ))}
                                </tbody>
                            </table>
                            <h2>Sense leads</h2>
                            <table>
                                <tbody>
                                    {s.sense_leads.map((l) => (
                                        <tr key={l.tap} className="border-t border-line">
                                            <td className="py-1 font-bold">T{l.tap}</td>
                                            <td>
                                                {l.face}, at cell {l.cell}
                                            </td>
                                            <td className="digits text-right">
                                                {l.expected_v === null ? 'not read' : `${l.expected_v.toFixed(3)} V`}
                                            </td>
                                        </tr>
                                    ))}
                                </tbody>
                            </table>
                            {(['plug_mating', 'plug_wires'] as const).map((k) => (
                                <div key={k} className="[&_svg]:w-full [&_svg]:h-auto" dangerouslySetInnerHTML={{ __html: s.svg[k] }} />
                            ))}
                        </section>
                    </div>
                </>
            )}
        </div>
    );
}
