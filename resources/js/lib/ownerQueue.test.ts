// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from 'vitest';
import { groupVolts, keep, type OwnerReading, reading, resolution, sent, SIGNS, toppedUp, waiting } from './ownerQueue';

const no = Object.fromEntries(SIGNS.map((s) => [s, false])) as OwnerReading['signs'];
const at = new Date('2026-03-04T12:00:00Z');

describe('what an owner types', () => {
    it.each([
        ['3.312', 3.312],
        ['3,31', 3.31],
        ['3312', 3.312],
        ['0.4', 0.4],
        ['', null],
        ['51.2', null],
        ['three', null],
        ['0', null],
    ])('reads %s', (typed, v) => {
        expect(groupVolts(typed)).toBe(v);
    });

    it('takes the resolution from the last digit, and the coarsest of them', () => {
        expect(resolution(['3.312', '3.31'])).toBe(0.01);
        expect(resolution(['3312', '3310'])).toBe(0.001);
        expect(resolution(['3.3'])).toBe(0.1);
        expect(resolution(['3'])).toBe(0.1);
    });

    it('is every group, or the highest and the lowest whichever way round, or the whole pack', () => {
        expect(reading('all', 'full', { g1: '3.41', g2: '3400' }, no, 2, at)).toMatchObject({
            groups_v: [3.41, 3.4],
            condition: 'full',
            resolution_v: 0.01,
            at: '2026-03-04T12:00:00.000Z',
        });
        expect(reading('two', 'rest', { highest: '3.301', lowest: '3.322' }, no, 2, at)).toMatchObject({
            highest_v: 3.322,
            lowest_v: 3.301,
        });
        expect(reading('whole', 'discharge', { percent: '62', volts: '52,9' }, no, 16, at)).toMatchObject({ soc: 0.62, pack_v: 52.9 });
        expect(reading('whole', 'rest', { volts: '52.9' }, no, 16, at)).toMatchObject({ soc: null });
    });

    it('is two halves of the pack, as coarse as the coarser of them was typed', () => {
        expect(reading('halves', 'rest', { lowerHalf: '18,9', upperHalf: '19.02' }, no, 10, at)).toMatchObject({
            halves_v: [18.9, 19.02],
            resolution_v: 0.1,
        });
        expect(reading('halves', 'rest', { lowerHalf: '19.01', upperHalf: '19.02' }, no, 10, at)).toMatchObject({ resolution_v: 0.01 });
        expect(reading('halves', 'rest', { lowerHalf: '19' }, no, 10, at)).toEqual({ missing: 'upperHalf' });
        expect(reading('halves', 'rest', { lowerHalf: '0', upperHalf: '19' }, no, 10, at)).toEqual({ missing: 'lowerHalf' });
        expect(reading('halves', 'rest', { lowerHalf: '19', upperHalf: '1900' }, no, 10, at)).toEqual({ missing: 'upperHalf' });
        expect(reading('halves', 'rest', { lowerHalf: '-19', upperHalf: '19' }, no, 10, at)).toEqual({ missing: 'lowerHalf' });
    });

    it('is that it was charged full, with nothing read and nothing looked at', () => {
        const r = toppedUp(at);
        expect(r).toMatchObject({ condition: 'full', topped_up: true, at: '2026-03-04T12:00:00.000Z' });
        expect(Object.values(r.signs).every((s) => s === null)).toBe(true);
        expect(r.id).not.toBe(toppedUp(at).id);
    });

    it('names the field that is missing or wrong', () => {
        expect(reading('all', 'rest', { g1: '3.41' }, no, 2, at)).toEqual({ missing: 'g2' });
        expect(reading('two', 'rest', { lowest: '3.3' }, no, 2, at)).toEqual({ missing: 'highest' });
        expect(reading('whole', 'rest', { percent: '62' }, no, 2, at)).toEqual({ missing: 'volts' });
        expect(reading('whole', 'rest', { percent: '620', volts: '50' }, no, 2, at)).toEqual({ missing: 'percent' });
    });
});

describe('what waits on the phone', () => {
    beforeEach(() => localStorage.clear());
    const one = (id: string) => ({ id, at: at.toISOString(), condition: 'rest', signs: no }) as OwnerReading;

    it('is kept once, in order, until it was sent, each link by itself', () => {
        keep('secret-of-one', one('a'));
        keep('secret-of-one', one('b'));
        keep('secret-of-one', one('a'));
        expect(waiting('secret-of-one').map((r) => r.id)).toEqual(['b', 'a']);
        expect(waiting('another-secret')).toEqual([]);
        sent('secret-of-one', ['b']);
        expect(waiting('secret-of-one').map((r) => r.id)).toEqual(['a']);
        sent('secret-of-one', ['a']);
        expect(localStorage.length).toBe(0);
    });

    it('survives what is no list', () => {
        localStorage.setItem('heartwood.owner.secret-of-on', '{"no":');
        expect(waiting('secret-of-one')).toEqual([]);
    });
});
