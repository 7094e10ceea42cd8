import { describe, expect, it } from 'vitest';
import { inShort, readRows, writeRows } from './rows';

describe('rows of a stepped case', () => {
    it('reads counts from the left wall and counts that begin further in', () => {
        expect(readRows('6 5, 4;3')).toEqual([
            [0, 6],
            [0, 5],
            [0, 4],
            [0, 3],
        ]);
        expect(readRows('4 1+6 2+6')).toEqual([
            [0, 4],
            [1, 6],
            [2, 6],
        ]);
        expect(readRows('')).toEqual([]);
    });
    it('takes nothing that is no row', () => {
        expect(readRows('6 five')).toBeNull();
        expect(readRows('6 0')).toBeNull();
        expect(readRows('1+')).toBeNull();
    });
    it('writes what it reads, whole numbers of an older sheet too', () => {
        expect(writeRows(readRows('4 1+6')!)).toBe('4 1+6');
        expect(writeRows([6, [2, 4]])).toBe('6 2+4');
    });
    it('counts equal cuts', () => {
        expect(inShort([70.2, 32, 32, 32])).toBe('70.2, 3 x 32.0');
    });
});
