import { describe, expect, it } from 'vitest';
import { earlier } from './CellSheet';
import type { Cell } from './Drawer';
import { beginning, guessCell } from './LogImport';

const cell = (id: number, code: string) => ({ id, code }) as Cell;
const drawer = [cell(1, 'QL-1'), cell(2, 'QL-12'), cell(3, 'X 7')];

describe('the beginning of a log', () => {
    it('is read by the mark that it begins with', async () => {
        const two = (text: string, little: boolean) =>
            new Blob([
                new Uint8Array([
                    ...(little ? [0xff, 0xfe] : [0xfe, 0xff]),
                    ...[...text].flatMap((c) => (little ? [c.charCodeAt(0), 0] : [0, c.charCodeAt(0)])),
                ]),
            ]);
        expect(await beginning(two('Time;U', true))).toBe('Time;U');
        expect(await beginning(two('Time;U', false))).toBe('Time;U');
        expect(await beginning(new Blob(['Time;°C']))).toBe('Time;°C');
        expect(await beginning(new Blob([]))).toBe('');
    });
});

describe('the cell of a log', () => {
    it('is the one whose code stands in the file name, whatever its case', () => {
        expect(guessCell('2026-11-02 ql-1 cap.csv', drawer)).toBe(1);
        expect(guessCell('x 7.csv', drawer)).toBe(3);
    });
    it('is the longest code that fits', () => {
        expect(guessCell('run_QL-12.csv', drawer)).toBe(2);
    });
    it('is nobody when no code stands there', () => {
        expect(guessCell('log.csv', drawer)).toBeNull();
        expect(guessCell('log.csv', [])).toBeNull();
    });
    it('does not take cell 12 for cell 1, and minds no zeros', () => {
        const drawer = [
            { id: 1, code: 'SAL-1' },
            { id: 2, code: 'KIT-003' },
            { id: 3, code: 'A.b+1' },
        ] as Cell[];
        expect(guessCell('SAL-12.csv', drawer)).toBeNull();
        expect(guessCell('xSAL-1.csv', drawer)).toBeNull();
        expect(guessCell('SAL-01_cap.csv', drawer)).toBe(1);
        expect(guessCell('kit-3.csv', drawer)).toBe(2);
        expect(guessCell('kit-30.csv', drawer)).toBeNull();
        expect(guessCell('run a.b+1 (2).csv', drawer)).toBe(3);
        // As it is written goes before what only has other zeros.
        expect(guessCell('SAL-001.csv', [...drawer, { id: 4, code: 'SAL-001' } as Cell])).toBe(4);
        expect(guessCell('SAL-1.csv', [...drawer, { id: 4, code: 'SAL-001' } as Cell])).toBe(1);
    });
});

describe('what changed since the test before', () => {
    const logs = [
        { id: 9, capacity: { ah: 2.7 } },
        { id: 5, capacity: null },
        { id: 3, capacity: { ah: 3.0 } },
    ];
    it('is held against the last log with a capacity', () => {
        expect(earlier(logs, 9)).toBe(', -10.0 % since the test before');
    });
    it('says nothing for the first, or for one without a capacity', () => {
        expect(earlier(logs, 3)).toBe('');
        expect(earlier(logs, 5)).toBe('');
    });
});
