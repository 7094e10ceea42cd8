import { describe, expect, it } from 'vitest';
import { context } from './HandsFree';
import type { Line } from './set';

const line = (from: string, to: string, typed: string, where: Line['where'] = 'server'): Line => ({
    id: from + to,
    from,
    to,
    typed,
    where,
});

describe('what a live value is held against', () => {
    it('is the tap below on the same reference, and what a group gives so far', () => {
        const c = context([line('T0', 'T1', '3.70'), line('T0', 'T2', '7.42')], { from: 'T0', to: 'T3' });
        expect(c.before).toBe(7.42);
        expect(c.typical).toBeCloseTo(3.72, 5);
        expect(c.groups).toBe(1);
    });
    it('is nothing for the first reading', () => {
        expect(context([], { from: 'T0', to: 'T1' })).toEqual({ before: null, typical: null, groups: 1 });
    });
    it('has no tap below across a group', () => {
        expect(context([line('T0', 'T1', '3,70')], { from: 'T1', to: 'T2' })).toEqual({ before: null, typical: 3.7, groups: 1 });
    });
    it('counts the groups of a whole string, and of taps left out', () => {
        expect(context([], { from: 'T0', to: 'T14' }).groups).toBe(14);
        expect(context([line('T0', 'T1', '3.7')], { from: 'T0', to: 'T4' }).groups).toBe(3);
    });
    it('does not learn what a group gives from a dead one or a refused line', () => {
        expect(
            context([line('T0', 'T1', '3.7'), line('T0', 'T2', '3.7'), line('T0', 'T3', '7.4')], { from: 'T0', to: 'T4' }).typical,
        ).toBeCloseTo(3.7, 5);
        expect(context([line('T0', 'T1', '3.7', 'refused')], { from: 'T0', to: 'T2' }).before).toBeNull();
    });
    it('takes the nearest tap below when taps were read in any order', () => {
        expect(context([line('T0', 'T5', '18.5'), line('T0', 'T2', '7.4')], { from: 'T0', to: 'T4' }).before).toBe(7.4);
    });
});
