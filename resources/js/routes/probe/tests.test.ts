import { describe, expect, it } from 'vitest';
import { tests as names } from '@/lib/format';
import { asked, entryOf, FORMS, problems, startValues, TESTS } from './tests';

const form = (kind: string) => TESTS.find((t) => t.kind === kind)!;

describe('forms of tests', () => {
    it('opens a form that exists for every test of a verdict that has one', () => {
        for (const [test, kind] of Object.entries(FORMS)) {
            expect(names[test], test).toBeDefined();
            expect(form(kind), kind).toBeDefined();
        }
    });

    it('starts with the place that the verdict asked for', () => {
        expect(startValues(form('strip-millivolt'), 7, null)).toMatchObject({ scope: '7' });
        expect(startValues(form('continuity'), null, 0)).toMatchObject({ element: 'joint', where: '0' });
        expect(startValues(form('continuity'), null, null)).toEqual({ element: 'fuse' });
    });

    it('asks where only of a joint', () => {
        expect(asked(form('continuity'), { element: 'fuse' }).map((a) => a.name)).not.toContain('where');
        expect(asked(form('continuity'), { element: 'joint' }).map((a) => a.name)).toContain('where');
        expect(entryOf(form('continuity'), { element: 'fuse', where: '4', ohm: '0,02' }).data).toEqual({
            kind: 'continuity',
            element: 'fuse',
            ohm: 0.02,
        });
    });

    it('takes a row of volts with a gap, and names the one that is none', () => {
        const stop = { stopped_by: 'bms', after_ah: '2,4', groups_v: '4.02  - 4,25' };
        expect(entryOf(form('charge'), stop)).toEqual({
            kind: 'test',
            data: { kind: 'charge', stopped_by: 'bms', after_ah: 2.4, groups_v: [4.02, null, 4.25] },
        });
        expect(problems(form('charge'), stop)).toEqual({});
        expect(problems(form('charge'), { ...stop, groups_v: '4.02 x 4.25' })).toHaveProperty('groups_v');
        expect(problems(form('charge'), { ...stop, after_ah: 'two' })).toHaveProperty('after_ah');
    });

    it('keeps the sign of current and millivolts', () => {
        expect(entryOf(form('strip-millivolt'), { scope: '9', cells_mv: '-0.06 -0.05 0.27', current_a: '0' }).data).toEqual({
            kind: 'strip-millivolt',
            scope: { group: 9 },
            cells_mv: [-0.06, -0.05, 0.27],
            current_a: 0,
        });
        expect(entryOf(form('discharge'), { stopped_by: 'bms', current_a: '-11', peak_a: '-38' }).data).toMatchObject({
            current_a: -11,
            peak_a: -38,
        });
    });

    it('takes an empty scope for the whole pack and marks for a list', () => {
        expect(entryOf(form('capacity'), { scope: '', measured_ah: '9.8', started_full: 'no' }).data).toEqual({
            kind: 'capacity',
            scope: 'pack',
            measured_ah: 9.8,
            started_full: false,
        });
        expect(entryOf(form('charger'), { open_v: '42', stages: 'cc cv' }).data).toEqual({
            kind: 'charger',
            open_v: 42,
            stages: ['cc', 'cv'],
        });
    });

    it('makes heat at a joint a set under current, and what was done an event', () => {
        expect(entryOf(form('heat'), { joint: '4', c: '41.5', ambient_c: '20', current_a: '-11' })).toEqual({
            kind: 'measurement',
            data: { condition: 'discharge', current_a: -11, ambient_c: 20, temperatures: [{ where: { joint: 4 }, c: 41.5 }] },
        });
        expect(entryOf(form('group-charged'), { where: '3' })).toEqual({
            kind: 'event',
            data: { kind: 'group-charged', where: { group: 3 } },
        });
        expect(entryOf(form('sense-unplugged'), {})).toEqual({ kind: 'event', data: { kind: 'sense-unplugged' } });
    });
});
