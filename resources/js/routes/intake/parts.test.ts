import { describe, expect, it } from 'vitest';
import schema from '../../../../contract/job.schema.json';
import { EMPTY_PACK, fromPack, PACK, toPack } from './PackFields';
import { emptyPart, fromPart, PART_NAMES, PARTS, partSchema, saidOf, toPart } from './parts';

const of = (
    schema as unknown as {
        $defs: { pack: { properties: Record<string, { properties: Record<string, { enum?: string[]; type?: string }> }> } };
    }
).$defs.pack.properties;

describe('device, board and charger of a pack', () => {
    it('has a field for everything that the record can say of them, and none that it cannot', () => {
        for (const part of PART_NAMES) {
            const known = of[part]!.properties;
            expect(PARTS[part].fields.map((f) => f.name).sort()).toEqual(Object.keys(known).sort());
            for (const f of PARTS[part].fields) {
                if (f.choices) expect([...f.choices].sort()).toEqual([...known[f.name]!.enum!].sort());
                expect(known[f.name]!.type === 'boolean').toBe(f.flag === true);
                expect(known[f.name]!.type === 'integer').toBe(f.whole === true);
            }
        }
    });
    it('reads what is typed and says nothing of what is not', () => {
        expect(toPart('bms', emptyPart('bms'))).toBeNull();
        const typed = { ...emptyPart('bms'), high_cut_v: '4,22', separate_charge_port: 'no', wake: 'button', series: '14' };
        expect(toPart('bms', typed)).toEqual({ series: 14, high_cut_v: 4.22, separate_charge_port: false, wake: 'button' });
        expect(fromPart('bms', toPart('bms', typed)!)).toEqual({ ...typed, high_cut_v: '4.22' });
        expect(saidOf('bms', typed)).toContain('cuts a group over 4,22 V');
    });
    it('refuses a number that is none, where it stands', () => {
        const wrong = partSchema('charger').safeParse({ ...emptyPart('charger'), cv_v: '54.6V?' });
        expect(wrong.error?.issues[0]?.path).toEqual(['cv_v']);
        expect(partSchema('charger').safeParse({ ...emptyPart('charger'), cc_a: '-2' }).success).toBe(false);
        expect(partSchema('bms').safeParse({ ...emptyPart('bms'), low_temperature_cut_c: '-10' }).success).toBe(true);
    });
    it('goes with the pack into the record and comes back, and a part that was emptied is gone', () => {
        const form = { ...EMPTY_PACK, series: '10', load: { ...emptyPart('load'), controller_limit_a: '22', peak_s: '5' } };
        const pack = toPack(form, {}, undefined) as Record<string, unknown>;
        expect(pack['load']).toEqual({ controller_limit_a: 22, peak_s: 5 });
        expect('bms' in pack).toBe(false);
        expect(fromPack(pack).load).toEqual(form.load);
        expect('load' in toPack({ ...form, load: emptyPart('load') }, pack, undefined)).toBe(false);
        expect(PACK.safeParse(form).success).toBe(true);
    });
});
