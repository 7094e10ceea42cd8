import { describe, expect, it } from 'vitest';
import { CASE, saidCase, typedCase } from './CaseForm';

const round = (kept: Record<string, unknown>) => saidCase(CASE.parse(typedCase(kept)));

describe('the case of a build', () => {
    it('says again what was kept, of every shape', () => {
        for (const kept of [
            { kind: 'cylindrical', packing: 'square', max_width_mm: 90, max_height_mm: 60, left_out: [[0, 0]] },
            { kind: 'cylindrical', shape: 'round', case_diameter_mm: 58 },
            {
                kind: 'cylindrical',
                shape: 'stairs',
                case_rows: [
                    [0, 6],
                    [1, 5],
                ],
            },
            { kind: 'cylindrical', shape: 'two-layers', max_depth_mm: 140, board: { side: 'left', minus_mm: 150 } },
            { kind: 'stack', stack_rows: 2, diameter_mm: 26, length_mm: 148, stock: { length_mm: 500, sheet_mm: 200 } },
        ])
            expect(round(kept)).toEqual(kept);
    });
    it('keeps nothing that belongs to another kind of case', () => {
        const typed = { ...typedCase({ kind: 'stack', stack_rows: 2 }), case_rows: '6 5', left_out: '0 0', case_diameter_mm: '58' };
        expect(saidCase(CASE.parse(typed))).toEqual({ kind: 'stack', stack_rows: 2 });
    });
    it('asks for the rows of a stepped case, and takes none that are not', () => {
        const at = (case_rows: string) =>
            CASE.safeParse({ ...typedCase({}), shape: 'stairs', case_rows }).error?.issues.map((i) => i.path.join('.'));
        expect(at('')).toEqual(['case_rows']);
        expect(at('6 x')).toEqual(['case_rows']);
        expect(at('6 1+5')).toBeUndefined();
    });
});
