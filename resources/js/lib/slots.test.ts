import { describe, expect, it } from 'vitest';
import { before, slots } from './slots';

describe('slots', () => {
    it('show the answer before of the same job while a newer is on its way, and never that of another', () => {
        const old = { checks: 6 };
        expect(before(7)(old, { queryKey: slots.recovery(7, 4, 1) })).toBe(old);
        expect(before(7)(old, { queryKey: slots.recovery(8, 4, 1) })).toBeUndefined();
        expect(before(7)(old)).toBeUndefined();
    });
    it('are all of a kind without particulars, and one with them', () => {
        expect(slots.job()).toEqual(['job']);
        expect(slots.job(3)).toEqual(['job', 3]);
    });
});
