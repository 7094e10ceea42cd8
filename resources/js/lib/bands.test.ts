import { describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { bandsAtWork } from './bands';

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
