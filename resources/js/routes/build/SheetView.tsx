import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { useBenchForm } from '@/lib/form';
import { count } from '@/lib/format';
import type { BuildData } from './Build';
import { CASE, CaseForm, type CaseOut, saidCase, typedCase } from './CaseForm';
import { inShort, withPlace } from './rows';

const SHAPES: Record<string, string> = {
    round: ', in a round case',
    stairs: ', in a stepped case',
    'two-layers': ', in two layers',
    rows: ', in rows one behind the other',
};

const folded = (s: NonNullable<BuildData['layout']>) => [...(s.folded_mm ?? []), s.depth_mm].join(' x ');

/** Both faces to scale, the back as it is seen with the pack turned over; cuts, leads and the order of work. */
export function SheetView({ job, data, keep }: { job: Job; data: BuildData; keep: (d: Record<string, unknown>) => Promise<void> }) {
    const form = useBenchForm(CASE, typedCase(data.inputs.layout));
    const save = async (c: CaseOut) => {
        try {
            await keep(saidCase(c));
        } catch (e) {
            // What stands beside its field is not said twice.
            if (!form.refused(e)) toast.error(e instanceof Error ? e.message : String(e));
        }
    };
    const touch = (place: string, s: NonNullable<BuildData['layout']>) => {
        // The place means these rows: they are held to, or another way of rows may come out.
        form.setValue('left_out', withPlace(form.getValues('left_out'), place));
        if (form.getValues('packing') === '') form.setValue('packing', s.packing);
        if (form.getValues('max_height_mm') === '') form.setValue('max_height_mm', String(Math.ceil(s.height_mm)));
    };
    const s = data.layout;
    return (
        <div className="grid gap-5">
            <CaseForm form={form} save={save} paper={`/api/jobs/${job.id}/build.pdf`} />
            {!s ? (
                <p className="sheet p-4 border-l-8 !border-l-ember text-lg">
                    <b className="text-ember">⬣ It does not fit.</b> {data.layout_refused}
                </p>
            ) : (
                <>
                    <p className="text-lg">
                        {count(s.series, 'group')} of {s.parallel}, {s.packing === 'stack' ? 'stacked' : `${s.packing} rows`}
                        {SHAPES[s.shape] ?? ''}: <b className="digits">{`${s.width_mm} x ${s.height_mm} x ${s.depth_mm} mm`}</b>.
                        {` ${count(s.distinct_strips, 'kind')} of strip, ${count(s.least_across, 'link')} across at the narrowest, `}
                        <b>{count(s.layers, 'layer')}</b>
                        {' between groups, '}
                        <b>{count(s.end_layers, 'layer')}</b>
                        {` at the ends, ${s.welds} weld spots.`}
                        {s.widest_strip_mm !== null && ` A strip may be ${s.widest_strip_mm} mm wide here.`}
                        {s.fold_at_tap !== null &&
                            ` Drawn open: it folds about the broken line, at the links of T${s.fold_at_tap}, to ${folded(s)} mm.`}
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
                                    if (place && s.shape === 'box' && s.packing !== 'stack') touch(place, s);
                                }}
                                dangerouslySetInnerHTML={{ __html: s.svg[face] }}
                            />
                        ))}
                    </div>
                    {s.shape === 'box' && s.packing !== 'stack' && (
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
                                        <tr key={`${c.what}${c.length_mm}${c.layers}`} className="border-t border-line">
                                            <td className="py-1">
                                                {c.what}, {s.strip.material} {s.strip.width_mm} x {s.strip.thickness_mm} mm
                                            </td>
                                            <td className="digits text-right whitespace-nowrap pl-2">{c.length_mm.toFixed(1)} mm</td>
                                            <td className="digits text-right whitespace-nowrap pl-2">
                                                {count(c.pieces, 'piece')}
                                                {c.layers > 1 && (
                                                    <span className="text-muted">
                                                        {' '}
                                                        ({c.count} x {c.layers})
                                                    </span>
                                                )}
                                            </td>
                                        </tr>
                                    ))}
                                </tbody>
                            </table>
                            <details>
                                <summary className="min-h-[44px] cursor-pointer">
                                    Out of {count(s.stock.strips, 'strip')} of {s.stock.stock_mm} mm
                                    {s.stock.sheets > 0 && `, ${count(s.stock.sheets, 'sheet')} of ${s.stock.strips_of_sheet} strips`},{' '}
                                    {(100 * s.stock.waste).toFixed(0)} % waste
                                </summary>
                                <ul className="grid gap-1">
                                    {s.stock.plan.map((p) => (
                                        <li key={p.cuts.join()} className="border-t border-line py-1">
                                            <b>{count(p.strips, 'strip')}:</b> <span className="digits">{inShort(p.cuts)} mm</span>
                                            <span className="text-muted">, {p.rest_mm.toFixed(0)} mm left</span>
                                        </li>
                                    ))}
                                </ul>
                            </details>
                            <h2>Where most flows</h2>
                            <table>
                                <tbody>
                                    {s.sections.map((x) => (
                                        <tr key={x.node} className="border-t border-line">
                                            <td className="py-1 font-bold">T{x.node}</td>
                                            <td>{x.from === x.to ? `at cell ${x.from}` : `cell ${x.from} to ${x.to}`}</td>
                                            <td className="digits text-right">{x.amps.toFixed(1)} A</td>
                                            <td className="digits text-right text-muted">
                                                of {x.limit_a.toFixed(1)} A in {count(x.layers, 'layer')}
                                            </td>
                                        </tr>
                                    ))}
                                </tbody>
                            </table>
                            <p>
                                {(['minus', 'plus'] as const).map((k) => (
                                    <span key={k} className="block">
                                        Main lead of <b>B{k === 'minus' ? '-' : '+'}</b>: {s.leads[k].face}, at cell {s.leads[k].cell}
                                        {s.leads[k].need_mm !== null && `, ${Math.ceil(s.leads[k].need_mm)} mm to the board`}
                                        {s.leads[k].given_mm !== null && `, it has ${s.leads[k].given_mm} mm`}.
                                    </span>
                                ))}
                            </p>
                            <h2>Welded at one go</h2>
                            <ol className="grid gap-1">
                                {s.weld_groups.map((g) => (
                                    <li key={g.text} className="border-t border-line py-1 flex justify-between gap-3">
                                        <span>
                                            {g.text} <span className="text-muted">{g.face} face</span>
                                        </span>
                                        <span className="digits whitespace-nowrap">{count(g.spots, 'spot')}</span>
                                    </li>
                                ))}
                            </ol>
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
