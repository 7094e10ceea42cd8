import { useWatch } from 'react-hook-form';
import { z } from 'zod';
import { type BenchForm, maybeNumeric } from '@/lib/form';
import { Button } from '@/parts/basics';
import { FormChoice, FormNumber, FormText } from '@/parts/form';
import { readPlaces, readRows, writePlaces, writeRows } from './rows';

const mm = () => maybeNumeric({ least: 0 });
const shapes = ['box', 'two-layers', 'round', 'stairs'] as const;

/** The case as it is typed, in the shape of the body that is sent. */
export const CASE = z
    .object({
        kind: z.enum(['cylindrical', 'stack']),
        shape: z.enum(shapes),
        packing: z.string(),
        max_width_mm: mm(),
        max_height_mm: mm(),
        max_depth_mm: mm(),
        case_diameter_mm: mm(),
        diameter_mm: mm(),
        length_mm: mm(),
        left_out: z.string().refine((t) => readPlaces(t) !== null, 'Column and row, from 0, such as 0 0; 3 2.'),
        case_rows: z.string().refine((t) => readRows(t) !== null, 'Cells of each row from the top, such as 6 5 4, or 1+6.'),
        stack_rows: maybeNumeric({ whole: true, least: 1, most: 50 }),
        board: z.object({ side: z.string(), minus_mm: mm(), plus_mm: mm() }),
        stock: z.object({ length_mm: mm(), sheet_mm: mm() }),
    })
    .superRefine((c, at) => {
        if (c.kind === 'cylindrical' && c.shape === 'stairs' && c.case_rows.trim() === '')
            at.addIssue({ code: 'custom', path: ['case_rows'], message: 'Cells of each row from the top, such as 6 5 4, or 1+6.' });
    });
export type CaseIn = z.input<typeof CASE>;
export type CaseOut = z.output<typeof CASE>;

type Kept = Record<string, unknown>;

/** What is kept, as it would be typed. */
export function typedCase(kept: Kept): CaseIn {
    const text = (of: unknown, k: string) => {
        const v = (of as Kept | undefined)?.[k];
        return v === undefined || v === null ? '' : String(v);
    };
    return {
        kind: kept['kind'] === 'stack' ? 'stack' : 'cylindrical',
        shape: shapes.find((s) => s === kept['shape']) ?? 'box',
        packing: text(kept, 'packing'),
        max_width_mm: text(kept, 'max_width_mm'),
        max_height_mm: text(kept, 'max_height_mm'),
        max_depth_mm: text(kept, 'max_depth_mm'),
        case_diameter_mm: text(kept, 'case_diameter_mm'),
        diameter_mm: text(kept, 'diameter_mm'),
        length_mm: text(kept, 'length_mm'),
        left_out: writePlaces((kept['left_out'] as [number, number][] | undefined) ?? []),
        case_rows: writeRows((kept['case_rows'] as (number | [number, number])[] | undefined) ?? []),
        stack_rows: text(kept, 'stack_rows'),
        board: {
            side: text(kept['board'], 'side'),
            minus_mm: text(kept['board'], 'minus_mm'),
            plus_mm: text(kept['board'], 'plus_mm'),
        },
        stock: { length_mm: text(kept['stock'], 'length_mm'), sheet_mm: text(kept['stock'], 'sheet_mm') },
    };
}

/** What is said of this kind of case, and nothing that belongs to another. */
export function saidCase(c: CaseOut): Kept {
    const round = c.kind === 'cylindrical';
    const left = readPlaces(c.left_out) ?? [];
    const only = (o: Kept) => Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined && v !== ''));
    const stock = only(c.stock);
    return only({
        kind: c.kind,
        shape: round && c.shape !== 'box' ? c.shape : undefined,
        packing: round && c.shape !== 'round' ? c.packing : undefined,
        max_width_mm: round && c.shape === 'round' ? undefined : c.max_width_mm,
        max_height_mm: round && c.shape === 'round' ? undefined : c.max_height_mm,
        max_depth_mm: round ? c.max_depth_mm : undefined,
        case_diameter_mm: round && c.shape === 'round' ? c.case_diameter_mm : undefined,
        diameter_mm: c.diameter_mm,
        length_mm: c.length_mm,
        left_out: round && c.shape === 'box' && left.length > 0 ? left : undefined,
        case_rows: round && c.shape === 'stairs' ? readRows(c.case_rows) : undefined,
        stack_rows: round ? undefined : c.stack_rows,
        board: c.board.side === '' ? undefined : only(c.board),
        stock: Object.keys(stock).length > 0 ? stock : undefined,
    });
}

/** What kind of cells, what kind of case, where the board is, what is cut from. */
export function CaseForm({ form, save, paper }: { form: BenchForm<CaseIn, CaseOut>; save: (c: CaseOut) => Promise<void>; paper: string }) {
    const at = { control: form.control };
    const [kind, shape, side] = useWatch({ ...at, name: ['kind', 'shape', 'board.side'] });
    const flat = kind === 'stack';
    const size = (
        name: 'max_width_mm' | 'max_height_mm' | 'max_depth_mm' | 'diameter_mm' | 'length_mm' | 'case_diameter_mm',
        label: string,
    ) => (
        <div className="w-32">
            <FormNumber {...at} name={name} label={label} placeholder="any" />
        </div>
    );
    return (
        <form className="no-print grid gap-3" noValidate onSubmit={form.handleSubmit(save)}>
            <div className="flex flex-wrap gap-3 items-start">
                <FormChoice {...at} name="kind" label="Cells">
                    <option value="cylindrical">round</option>
                    <option value="stack">flat, side by side</option>
                </FormChoice>
                {!flat && (
                    <FormChoice {...at} name="shape" label="Case">
                        <option value="box">a box</option>
                        <option value="two-layers">a box, two layers folded</option>
                        <option value="round">round</option>
                        <option value="stairs">stepped rows</option>
                    </FormChoice>
                )}
                {!flat && shape !== 'round' && (
                    <FormChoice {...at} name="packing" label="Rows">
                        <option value="">whichever is better</option>
                        <option value="square">square</option>
                        <option value="offset">offset</option>
                    </FormChoice>
                )}
                {flat && (
                    <div className="w-40">
                        <FormNumber {...at} name="stack_rows" label="Rows deep" placeholder="1" whole />
                    </div>
                )}
                {!flat && shape === 'stairs' && (
                    <div className="w-48">
                        <FormText
                            {...at}
                            name="case_rows"
                            label="Cells of each row"
                            placeholder="6 5 4"
                            hint="from the top; 1+6: one place in"
                        />
                    </div>
                )}
                {!flat && shape === 'round' ? (
                    size('case_diameter_mm', 'Inside the case, mm')
                ) : (
                    <>
                        {size('max_width_mm', 'Case width, mm')}
                        {size('max_height_mm', 'Case height, mm')}
                    </>
                )}
                {!flat && shape === 'two-layers' && size('max_depth_mm', 'Case depth, mm')}
                {size('diameter_mm', flat ? 'Thickness, mm' : 'Diameter, mm')}
                {size('length_mm', 'Length, mm')}
                {!flat && shape === 'box' && (
                    <div className="w-40">
                        <FormText {...at} name="left_out" label="Places left empty" placeholder="none" />
                    </div>
                )}
            </div>
            <div className="flex flex-wrap gap-3 items-start">
                <FormChoice {...at} name="board.side" label="Board">
                    <option value="">anywhere</option>
                    <option value="left">at the left</option>
                    <option value="right">at the right</option>
                    <option value="top">at the top</option>
                    <option value="bottom">at the bottom</option>
                </FormChoice>
                {side !== '' &&
                    (['minus', 'plus'] as const).map((k) => (
                        <div className="w-40" key={k}>
                            <FormNumber
                                {...at}
                                name={`board.${k}_mm`}
                                label={`Lead of B${k === 'minus' ? '-' : '+'}, mm`}
                                placeholder="cut to length"
                            />
                        </div>
                    ))}
                <div className="w-40">
                    <FormNumber {...at} name="stock.length_mm" label="Strip is bought in, mm" placeholder="1000" />
                </div>
                <div className="w-40">
                    <FormNumber {...at} name="stock.sheet_mm" label="or a sheet wide, mm" placeholder="no sheet" />
                </div>
            </div>
            <div className="flex flex-wrap gap-3 items-center">
                <Button type="submit" look="main">
                    Lay it out
                </Button>
                <a className="min-h-[44px] px-3 py-2 font-bold" href={paper} target="_blank" rel="noreferrer">
                    Paper for the bench wall
                </a>
            </div>
        </form>
    );
}
