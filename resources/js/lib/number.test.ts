import { describe, expect, it } from 'vitest';
import { number, numberOr, optional, readAs, wrongWith } from './number';

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

describe('what is wrong with a number', () => {
    it.each([
        ['', {}, undefined],
        ['3,8', {}, undefined],
        ['3.8.1', {}, '"3.8.1" is no number: type it such as 3.812.'],
        ['many', { whole: true }, '"many" is no number: type it such as 12.'],
        ['1.5', { whole: true }, 'a whole number, without a point.'],
        ['13', { whole: true, least: 1, most: 13 }, undefined],
        ['14', { whole: true, least: 1, most: 13 }, 'from 1 to 13.'],
        ['0,99', { least: 1, most: 5, unit: 'A' }, 'from 1 to 5 A.'],
        ['1', { least: 1, most: 5, unit: 'A' }, undefined],
        ['-0.1', { least: 0 }, '0 or more.'],
        ['5.01', { most: 5, unit: 'A' }, '5 A at the most.'],
        ['5', { most: 5, unit: 'A' }, undefined],
    ])('%s within %o', (text, range, want) => {
        expect(wrongWith(text, range)).toBe(want);
    });

    it.each([
        ['3.812', null],
        ['3,812', '3.812'],
        ['1 250', '1250'],
        ['1.250,5', '1250.5'],
        [' 12 ', null],
        ['3,8,1', null],
    ])('%s is said to be read as %s', (text, want) => {
        expect(readAs(text)).toBe(want);
    });
});
