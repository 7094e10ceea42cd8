import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { Curve } from './Curve';
import { findingsOf, places } from './Plan';
import { actOf } from './Probe';
import { type Act, cameTo, clock, factsOf, type Done, hours, said, sitting, TRIALS, FLOWS } from './training';
import { EMPTY } from './Verdict';

afterEach(cleanup);

const done = (act: Act, result: Record<string, unknown> = {}, seconds = 14): Done => ({ act, result, seconds });
const read = (from: string, to: string, v: number, step = 0.001) => done({ do: 'read', from, to }, { v, resolution_v: step });
const trial = (kind: string) => [...FLOWS, ...TRIALS].find((t) => t.kind === kind)!;

describe('the clock of a round', () => {
    it('shows seconds as a bench clock does, days in front', () => {
        expect(clock(0)).toBe('00:00:00');
        expect(clock(14)).toBe('00:00:14');
        expect(clock(3_599)).toBe('00:59:59');
        expect(clock(86_399)).toBe('23:59:59');
        expect(clock(86_400 * 9 + 61)).toBe('9 d 00:01:01');
    });
    it('says hours in the words of a bench', () => {
        expect([hours(10 / 60), hours(1), hours(12), hours(72)]).toEqual(['10 min', '1 h', '12 h', '3 days']);
    });
});

describe('what is being read', () => {
    it('holds readings since anything else was done, each with the digits of its range', () => {
        const acts = [
            read('T0', 'T1', 3.7),
            done({ do: 'wait', hours: 1 }),
            read('T0', 'T1', 3.71),
            done({ do: 'look' }),
            read('T0', 'T2', 7.4, 0.01),
        ];
        expect(sitting(acts).map((l) => [l.from, l.to, l.typed])).toEqual([
            ['T0', 'T1', '3.710'],
            ['T0', 'T2', '7.40'],
        ]);
    });
    it('takes the later of two readings of one pair, and none that was refused', () => {
        const acts = [
            read('T0', 'T1', 3.7),
            read('T1', 'T2', 3.8),
            read('T0', 'T1', 3.72),
            done({ do: 'read', from: 'T8', to: 'T9' }, { refused: true }),
        ];
        expect(sitting(acts).map((l) => l.typed)).toEqual(['3.800', '3.720']);
    });
});

describe('an act', () => {
    it('is what its form says, currents by their sense', () => {
        expect(actOf(trial('load'), { current_a: '5,5', seconds: '60' })).toEqual({ do: 'load', current_a: -5.5, seconds: 60 });
        expect(actOf(trial('charge-step'), { current_a: '-2', minutes: '10' })).toEqual({ do: 'charge', current_a: 2, minutes: 10 });
        expect(actOf(trial('refill'), { scope: '3', days: '9' })).toEqual({
            do: 'test',
            test: { kind: 'refill', scope: { group: 3 }, days: 9 },
        });
        expect(actOf(trial('capacity'), {})).toEqual({ do: 'test', test: { kind: 'capacity', scope: 'pack' } });
        expect(actOf(trial('continuity'), { element: 'joint', where: '2' })).toEqual({
            do: 'test',
            test: { kind: 'continuity', element: 'joint', where: { joint: 2 } },
        });
        expect(actOf(trial('pin-check'), {})).toEqual({ do: 'test', test: { kind: 'pin-check' } });
    });
    it('never asks for what comes of it', () => {
        const asked = TRIALS.flatMap((t) => t.asks.map((a) => a.name));
        expect(asked).not.toContain('woke');
        expect(asked).not.toContain('measured_ah');
        expect(asked).not.toContain('ohm');
        expect(new Set(asked)).toEqual(new Set(['action', 'element', 'where', 'scope', 'days']));
    });
    it('is told in a few words, with its place and what came of it', () => {
        expect(said({ do: 'test', test: { kind: 'capacity', scope: { group: 4 } } })).toBe('Capacity: group 4');
        expect(said({ do: 'test', test: { kind: 'capacity', scope: 'pack' } })).toBe('Capacity');
        expect(said({ do: 'supply' })).toBe('Supply on the whole string');
        expect(said({ do: 'supply', group: 3, to: 'neighbours' })).toBe('Supply on group 3');
        expect(said({ do: 'level', hours: 12 })).toBe('Left on its charger for 12 h');
        expect(said({ do: 'isolate' })).toBe('Zero current proved');
        expect(said({ do: 'load', current_a: -5, seconds: 60 })).toBe('Loaded with 5 A for 60 s');
        expect(said({ do: 'wait', hours: 72 })).toBe('Waited 3 days');
        expect(cameTo({ kind: 'wake', action: 'button', woke: false })).toBe('woke: no');
        expect(cameTo({ refused: true, why: 'There is nothing here.' })).toBe('There is nothing here.');
        expect(cameTo({ groups_v: [3.71234, null], stopped_by: null })).toBe('groups from B-, V: 3.712 --');
        expect(
            cameTo({
                samples: [
                    { min: 0, v: 2.5 },
                    { min: 30, v: 3.01 },
                ],
            }),
        ).toBe('2.500 V rose to 3.010 V in 30 min');
    });
});

describe('the pack of a round', () => {
    it('is told by what is known of it, and nothing else', () => {
        expect(factsOf({ cell: { capacity_ah: 2.9 }, bms: { low_cut_v: 2.8, series: 7 }, charger: { cv_v: 29.4, cc_a: 2 } })).toEqual([
            ['A cell holds', '2.9', 'Ah'],
            ['Board cuts below', '2.8', 'V a group'],
            ['Charger', '29.4', 'V, 2 A'],
        ]);
    });
});

describe('an answer', () => {
    const place = (code: string) => ({ 'group.dead': 'group', 'bms.latched': 'pack', 'joint.high-resistance': 'joint' })[code];
    const one = (code: string, at: string, sure = 80) => ({ findings: [{ code, place: at, sure }], nothing: null });
    it('wants something said, and a place where a fault has one', () => {
        expect(findingsOf(EMPTY, place)).toMatch(/Say what it is first/);
        expect(findingsOf(one('group.dead', ''), place)).toMatch(/lacks its place/);
        expect(findingsOf(one('group.dead', 'x'), place)).toMatch(/lacks its place/);
        expect(findingsOf(one('group.dead', ' 3'), place)).toEqual({
            findings: [{ code: 'group.dead', where: { group: 3 }, probability: 0.8 }],
            nothing: null,
        });
        expect(findingsOf(one('joint.high-resistance', '2', 55), place)).toEqual({
            findings: [{ code: 'joint.high-resistance', where: { joint: 2 }, probability: 0.55 }],
            nothing: null,
        });
        expect(findingsOf(one('bms.latched', '7'), place)).toEqual({
            findings: [{ code: 'bms.latched', where: null, probability: 0.8 }],
            nothing: null,
        });
    });
    it('waits for the list that says which fault has a place', () => {
        expect(findingsOf(one('group.new', '3'), place)).toMatch(/on its way/);
    });
    it('says nothing is wrong with a sureness of its own, whatever was chosen before', () => {
        expect(findingsOf({ ...one('group.dead', '3'), nothing: 90 }, place)).toEqual({ findings: [], nothing: 0.9 });
    });
    it('reads places however they are parted', () => {
        expect(places('3, 4;12  x 5')).toEqual([3, 4, 12, 5]);
        expect(places('')).toEqual([]);
    });
});

describe('the calibration curve', () => {
    it('says in words what it draws', () => {
        const { rerender } = render(<Curve of={[]} />);
        expect(screen.getByRole('img').getAttribute('aria-label')).toContain('nothing stated yet');
        rerender(<Curve of={[{ from: 0.8, to: 1, n: 5, stated: 0.92, so: 0.8, low: 0.4, high: 0.96 }]} />);
        expect(screen.getByRole('img').getAttribute('aria-label')).toContain('said 92 %, so in 80 % of 5');
        expect(document.querySelectorAll('circle')).toHaveLength(1);
    });
});
