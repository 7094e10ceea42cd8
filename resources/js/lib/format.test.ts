import { describe, expect, it } from 'vitest';
import { count, odds, weight } from './format';

describe('a weight of evidence', () => {
    it.each([
        [20, 'decisively for', 'x 100'],
        [19.9, 'strongly for', 'x 98'],
        [10, 'strongly for', 'x 10'],
        [9.9, 'clearly for', 'x 9.8'],
        [5, 'clearly for', 'x 3.2'],
        [4.9, 'somewhat for', 'x 3.1'],
        [2, 'somewhat for', 'x 1.6'],
        [1.9, 'hardly for', 'x 1.5'],
        [-12, 'strongly against', '/ 16'],
        [60, 'decisively for', 'x 1000 or more'],
    ])('%d decibans', (d, words, figure) => {
        expect(weight(d)).toBe(words);
        expect(odds(d)).toBe(figure);
    });
});

describe('a count with its word', () => {
    it.each([
        [0, 'group', undefined, '0 groups'],
        [1, 'group', undefined, '1 group'],
        [2, 'group', undefined, '2 groups'],
        [1, 'entry waits', 'entries wait', '1 entry waits'],
        [3, 'entry waits', 'entries wait', '3 entries wait'],
    ])('%d %s', (n, one, many, want) => {
        expect(count(n, one, many)).toBe(want);
    });
});
