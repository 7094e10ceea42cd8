import { describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { bandsAtWork, bandsOf } from './bands';

const job = (steps: object[]) =>
    ({
        series: 3,
        revision: 1,
        verdict: null,
        measurements: [{ revision: 1, groups_v: [3.8, 0.02, 3.6] }],
        decision: { steps },
    }) as unknown as Job;
const step = (code: string, state: string, ...groups: number[]) => ({ code, state, where: groups.map((group) => ({ group })) });

describe('the pack beside its work', () => {
    it('marks the groups that the work is about, and which of them is done', () => {
        const bands = bandsAtWork(
            job([
                step('isolate', 'open'),
                step('cells', 'done', 2),
                step('weld', 'skipped', 2),
                step('fill', 'open', 3),
                step('close', 'open'),
            ]),
        );
        expect(bands.map((b) => b.work)).toEqual([undefined, 'done', 'open']);
        expect(bands.map((b) => b.v)).toEqual([3.8, 0.02, 3.6]);
    });

    it('marks none where a step names no group, or nothing was decided', () => {
        expect(bandsAtWork(job([{ code: 'wake', state: 'open' }])).map((b) => b.work)).toEqual([undefined, undefined, undefined]);
        expect(bandsAtWork({ ...job([]), decision: null }).map((b) => b.work)).toEqual([undefined, undefined, undefined]);
    });
});

describe('the pack as it was judged', () => {
    it('does not call a group sound whose reading is doubted', () => {
        const group = (n: number, v: number) => ({ group: n, v, state: 'group.ok', probability: 0.99 });
        const verdict = {
            document: { groups: [group(1, 3.98), group(2, 0.012)] },
            detail: { groups: [{ doubt: null }, { doubt: 'the probe may have stayed' }] },
        };
        expect(bandsOf({ ...job([]), verdict } as unknown as Job).map((b) => b.doubt)).toEqual([false, true]);
    });
});
