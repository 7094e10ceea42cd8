import { describe, expect, it } from 'vitest';
import { number, numberOr, optional } from './number';

describe('a number as it is typed', () => {
    it.each([
        ['3.801', 3.801],
        ['3,801', 3.801],
        [' 45,52 ', 45.52],
        ['-0.5', -0.5],
        ['\u22120,5', -0.5],
        ['+4', 4],
        ['.5', 0.5],
        ['5.', 5],
        ['1 234,5', 1234.5],
        ['1\u202f234.5', 1234.5],
        ['1.234,5', 1234.5],
        ['1,234.5', 1234.5],
        ["1'234.5", 1234.5],
        ['1e-3', 0.001],
        ['0', 0],
    ])('%s', (text, want) => {
        expect(number(text)).toBe(want);
    });

    it.each(['', ' ', 'abc', '3.8.1', '3,8,1', '12V', '0x10', 'Infinity', '1e', '-', ','])('%s is none, and no nought', (text) => {
        expect(number(text)).toBeNaN();
    });

    it('keeps a nought that is typed, and falls back where nothing is', () => {
        expect(numberOr('0', 20)).toBe(0);
        expect(numberOr('-5', 20)).toBe(-5);
        expect(numberOr('', 20)).toBe(20);
        expect(numberOr('cold', 20)).toBe(20);
    });

    it('is not said where nothing is typed', () => {
        expect(optional('')).toBeUndefined();
        expect(optional(' ')).toBeUndefined();
        expect(optional(undefined)).toBeUndefined();
        expect(optional('2,5')).toBe(2.5);
        expect(optional('x')).toBeNaN();
    });
});
