import { describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { asked } from './Guided';
import { type Entry, left, MARKS, missing, named, type Offer, type Row, saidOf, startOf, type Step, valuesOf } from './guided';

const field = (name: string, kind: string, more: object = {}) => ({
    name,
    label: `${name}, "-" where unread`,
    kind,
    optional: false,
    options: [],
    value: null,
    why: '',
    ...more,
});
const step = (...fields: object[]) => ({ code: 's', kind: 'ask', fields, rows: [] }) as unknown as Step;
const entry = (values: object, found = '') => ({ values, found, at: '2026-01-01T00:00:00Z', by: 'A', id: 'x' }) as unknown as Entry;

describe('what a step sends', () => {
    const all = step(
        field('n', 'number'),
        field('v', 'volts'),
        field('y', 'yes-no'),
        field('c', 'choice'),
        field('m', 'marks', { optional: true }),
        field('t', 'text', { optional: true }),
    );

    it('sends numbers as numbers, with comma or point, and what is none as it was typed', () => {
        expect(valuesOf(all, { n: '4,25', v: ' 3.8 3.9 ', y: 'yes', c: 'slow', m: `a${MARKS}b`, t: '' })).toEqual({
            n: 4.25,
            v: '3.8 3.9',
            y: true,
            c: 'slow',
            m: ['a', 'b'],
        });
        expect(valuesOf(all, { n: 'much', y: 'no' })).toEqual({ n: 'much', y: false });
    });

    it('asks for what is missing before anything is sent', () => {
        expect(Object.keys(missing(all, { n: ' ', v: '3.8' }))).toEqual(['n', 'y', 'c']);
        expect(missing(all, { n: '1', v: '3.8', y: 'no', c: 'slow' })).toEqual({});
    });

    it('begins with what is known already', () => {
        expect(startOf(step(field('a', 'number', { value: '5.0' }), field('b', 'text')))).toEqual({ a: '5.0' });
    });
});

describe('what is shown of a step', () => {
    it('says one value alone, several by their labels, and what was found on record', () => {
        expect(saidOf(step(field('a', 'number')), entry({ a: 5 }))).toBe('5');
        expect(saidOf(step(field('a', 'number'), field('b', 'yes-no')), entry({ a: 5, b: false }))).toBe('a: 5; b: no');
        expect(saidOf(step(field('a', 'marks'), field('b', 'text')), entry({ a: ['x', 'y'] }))).toBe('a: x, y');
        expect(saidOf(step(field('a', 'number')), entry({ volts: [1] }, 'a run at the supply'))).toBe('From a run at the supply');
    });

    it('counts a wait down and knows when it is over', () => {
        const now = Date.parse('2026-01-01T00:00:00Z');
        expect(left('2026-01-03T05:00:00Z', now)).toBe('2 d 5 h');
        expect(left('2026-01-01T05:10:00Z', now)).toBe('5 h 10 min');
        expect(left('2026-01-01T00:01:30Z', now)).toBe('1 min 30 s');
        expect(left('2026-01-01T00:00:09Z', now)).toBe('9 s');
        expect(left('2026-01-01T00:00:00Z', now)).toBeNull();
    });

    it('names a run by its place', () => {
        expect(named({ title: 'Hold test', where: null } as Row)).toBe('Hold test');
        expect(named({ title: 'Hold test', where: { group: 3 } } as unknown as Row)).toContain('3');
    });
});

describe('who asks for a guided run', () => {
    const offer = { tests: ['load-step'], proves: ['load-test'] } as Offer;
    const job = (stage: string, test: string, status: string) =>
        ({
            stage,
            verdict: { document: { next_tests: [{ test }] } },
            proof: [{ code: 'load-test', title: 'Load test', status }],
        }) as unknown as Job;

    it('is the verdict before the work, and a missing check at the proof', () => {
        expect(asked(job('verdict', 'load-step', 'missing'), offer)).toContain('The verdict asks for it');
        expect(asked(job('proof', 'load-step', 'missing'), offer)).toBe('The proof lacks it: Load test.');
        expect(asked(job('proof', 'load-step', 'passed'), offer)).toBe('');
        expect(asked(job('verdict', 'flex', 'missing'), offer)).toBe('');
    });
});
