import { describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { columns, said, shape } from './sets';

const set = (id: string, volts: (number | null)[], amps = 0, sigma = 0.0005, revision = 1) => ({
    id,
    at: '2026-11-20T10:00:00Z',
    condition: amps === 0 ? 'rest' : amps > 0 ? 'charge' : 'discharge',
    revision,
    data: { current_a: amps },
    groups_v: volts,
    groups_sigma_v: volts.map((v) => (v === null ? null : sigma)),
});
const job = (...measurements: ReturnType<typeof set>[]) => ({ revision: 1, series: 4, measurements }) as unknown as Job;
const of = (...m: ReturnType<typeof set>[]) => columns(job(...m));

describe('sets side by side', () => {
    it('are of this revision, with three groups read at least, the latest of them', () => {
        const cols = of(set('old', [1, 1, 1, 1], 0, 0.0005, 0), set('two', [3.8, 3.8, null, null]), set('a', [3.8, 3.81, null, 3.8]));
        expect(cols.map((c) => c.id)).toEqual(['a']);
        expect(cols[0]!.mv.map((v) => v && Math.round(v))).toEqual([0, 10, null, 0]);
        expect(columns(job(...Array.from({ length: 12 }, (_, i) => set(`${i}`, [3.8, 3.8, 3.8, 3.8])))).map((c) => c.id)).toHaveLength(8);
    });

    it('show a leak as a slope', () => {
        const cols = of(set('a', [3.8, 3.8, 3.8, 3.8]), set('b', [3.8, 3.79, 3.8, 3.8]), set('c', [3.8, 3.78, 3.8, 3.8]));
        expect(shape(cols, 1)).toMatchObject({ shape: 'falls' });
        expect(Math.round(shape(cols, 1).mv)).toBe(-20);
        expect(shape(cols, 0).shape).toBe('level');
        expect(said(cols)).toEqual(['Group 2 falls 20 mV against the others from rest to rest: a leak is a slope.']);
    });

    it('show a joint by its turning with the current, and not by its rest', () => {
        const cols = of(set('r', [3.8, 3.8, 3.8, 3.8]), set('in', [3.85, 3.85, 3.9, 3.85], 4), set('out', [3.75, 3.75, 3.7, 3.75], -4));
        expect(shape(cols, 2)).toMatchObject({ shape: 'turns' });
        expect(said(cols)).toEqual(['Group 3 turns over by 100 mV with the current: resistance does, charge does not.']);
    });

    it('show an imbalance as a line that does neither', () => {
        const cols = of(set('a', [3.8, 3.8, 3.8, 3.65]), set('in', [3.9, 3.9, 3.9, 3.75], 3), set('b', [3.8, 3.8, 3.8, 3.65]));
        expect(shape(cols, 3)).toMatchObject({ shape: 'stands' });
        expect(said(cols)).toEqual(['Group 4 stands 150 mV under in every set: charge, or what it holds.']);
    });

    it.each([
        ['just told', 0.0009, 'falls'],
        ['within what the meter cannot tell', 0.0013, 'level'],
    ])('believe no slope that the meter cannot tell: %s', (_, sigma, want) => {
        const cols = of(set('a', [3.8, 3.8, 3.8, 3.8], 0, sigma), set('b', [3.8, 3.795, 3.8, 3.8], 0, sigma));
        expect(shape(cols, 1).shape).toBe(want);
    });

    it('believe nothing under three millivolts, however fine the meter', () => {
        expect(shape(of(set('a', [3.8, 3.8, 3.8, 3.8], 0, 0), set('b', [3.8, 3.7971, 3.8, 3.8], 0, 0)), 1).shape).toBe('level');
        expect(shape(of(set('a', [3.8, 3.8, 3.8, 3.8], 0, 0), set('b', [3.8, 3.7969, 3.8, 3.8], 0, 0)), 1).shape).toBe('falls');
    });

    it('call nothing a leak that rises', () => {
        const cols = of(set('a', [3.8, 3.78, 3.8, 3.8]), set('b', [3.8, 3.8, 3.8, 3.8]));
        expect(shape(cols, 1).shape).toBe('rises');
        expect(said(cols)).toEqual(['Group 2 comes up 20 mV against the others from rest to rest: it was filled, or they were drawn.']);
    });
});
