import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { told } from '@/lib/logs';
import { Given } from './PackLogs';

const test = (ah: number, counts: boolean, from: string) => ({
    at: '2026-11-20T10:00:00Z',
    ah,
    sigma: 0.4,
    counts,
    from,
    soh: ah / 90,
    soh_sigma: 0.0045,
    since: null,
});
const history = {
    label_ah: 90,
    tests: [test(86.9, true, 'wall.csv, job 3'), test(40.1, false, 'short.csv')],
    per_year_ah: null,
    should_say_ah: 86,
    said: ['97 % of the 90 Ah on its label.'],
};

describe('what a pack gave', () => {
    it('stands as bars of the label, each with its share, and says which does not count', () => {
        const html = renderToStaticMarkup(<Given history={history} />);
        expect(html).toContain('86.90 Ah');
        expect(html).toContain('97 % +- 0.9');
        expect(html).toContain('does not count');
        expect(html).toContain('97 % of the 90 Ah on its label.');
        expect([...html.matchAll(/width:([\d.]+)%/g)].map((m) => Math.round(Number(m[1])))).toEqual([100, 97, 45]);
    });
    it('is nothing where nothing was tested', () => {
        expect(renderToStaticMarkup(<Given history={{ ...history, tests: [] }} />)).toBe('');
    });
    it('tells of a log what was read, and what is missing', () => {
        const log = { rows: 1, skipped: 2, errors: [{ row: 7, text: 'not a row of numbers' }], capacity: null };
        expect(told(log as never)).toBe('1 row, 2 not read (first: row 7, not a row of numbers). no discharge in it');
        const capacity = { ah: 2.9, counts: false, missing: ['no full charge before it in this log: was it full?'] };
        expect(told({ ...log, skipped: 0, capacity } as never)).toBe(
            '1 row. 2.900 Ah, does not count: no full charge before it in this log: was it full?',
        );
    });
});
