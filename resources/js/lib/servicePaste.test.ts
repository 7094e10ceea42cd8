import { describe, expect, it } from 'vitest';
import { pasted } from './servicePaste';

describe('dated readings that are pasted', () => {
    it('takes every group, or the highest and the lowest, with the date, the condition and the percent', () => {
        const { readings, wrong } = pasted(
            [
                'date condition volts',
                '2026-03-04 rest 60% 3.801 3.802 3.799 -',
                '2026-03-11T08:30Z;full;4,19;4,17',
                '2026-03-18 09:15 3.8 3.81 3.79 3.8',
                '',
            ].join('\n'),
            4,
        );
        expect(wrong).toEqual([]);
        expect(readings.map(({ id: _, ...r }) => r)).toEqual([
            { at: new Date('2026-03-04T12:00').toISOString(), condition: 'rest', soc: 0.6, groups_v: [3.801, 3.802, 3.799, null] },
            { at: '2026-03-11T08:30:00.000Z', condition: 'full', highest_v: 4.19, lowest_v: 4.17 },
            { at: new Date('2026-03-18T09:15').toISOString(), condition: 'rest', groups_v: [3.8, 3.81, 3.79, 3.8] },
        ]);
        expect(new Set(readings.map((r) => r.id)).size).toBe(3);
    });

    it.each([
        ['yesterday 3.8 3.8 3.8 3.8', 'Line 1: "yesterday" is no date such as 2026-03-04.'],
        ['2026-03-04 3.8 3.8 3.8', 'Line 1: 3 volts, and the pack has 4 groups: every group, or the highest and the lowest.'],
        ['2026-03-04 38.1 3.8 3.8 3.8', 'Line 1: a group has between 0 and 5 V.'],
        ['2026-03-04 three 3.8 3.8 3.8', 'Line 1: a group has between 0 and 5 V.'],
        ['2026-03-04 160% 3.8 3.8 3.8 3.8', 'Line 1: percent is between 0 and 100.'],
    ])('says of "%s" what is wrong', (line, why) => {
        expect(pasted(line, 4)).toEqual({ readings: [], wrong: [why] });
    });
});
