import { describe, expect, it } from 'vitest';
import type { BenchRow } from '@/api/client';
import { ago, type Choice, chosen, wants } from './benchOrder';

const row = (number: number, more: Partial<BenchRow> = {}): BenchRow =>
    ({
        id: number,
        number,
        name: `Pack ${number}`,
        customer: 'Bakery',
        serial: '',
        batch: '',
        stage: 'probe',
        due: false,
        waits_until: null,
        due_at: null,
        touched_at: `2026-11-${String(number).padStart(2, '0')}T10:00:00Z`,
        by: 'Sunniva Lark',
        first_finding: null,
        ...more,
    }) as BenchRow;
const all: Choice = { find: '', batch: '', person: '', stage: '', order: 'due' };
const numbers = (jobs: BenchRow[], c: Partial<Choice>) => chosen(jobs, { ...all, ...c }).map((j) => j.number);

describe('the order of the bench', () => {
    const jobs = [
        row(3),
        row(1),
        row(9, { due: true, waits_until: '2026-11-20T10:00:00Z' }),
        row(8, { due: true, waits_until: null, due_at: '2026-11-19T10:00:00Z' }),
        row(10, { name: 'Pack 10' }),
        row(2, { name: 'Pack 2' }),
    ];
    it.each([
        ['due', [8, 9, 1, 2, 3, 10]],
        ['oldest', [1, 2, 3, 8, 9, 10]],
        ['newest', [10, 9, 8, 3, 2, 1]],
        ['name', [1, 2, 3, 8, 9, 10]],
    ] as const)('%s', (order, want) => {
        expect(numbers(jobs, { order })).toEqual(want);
    });

    it('finds by every word, wherever it stands', () => {
        const some = [
            row(1, { customer: 'Ferry company', first_finding: 'Group 3 is dead' }),
            row(2, { serial: 'KQ-7' }),
            row(3, { batch: 'B-12' }),
        ];
        expect(numbers(some, { find: 'ferry dead' })).toEqual([1]);
        expect(numbers(some, { find: ' kq-7 ' })).toEqual([2]);
        expect(numbers(some, { find: 'b-12' })).toEqual([3]);
        expect(numbers(some, { find: 'ferry kq' })).toEqual([]);
    });

    it('keeps to a batch, a person, a stage, and to all of them at once', () => {
        const some = [
            row(1, { batch: 'A' }),
            row(2, { by: 'Tobiah Reeve' }),
            row(3, { stage: 'work', batch: 'A', by: 'Tobiah Reeve' }),
            row(4, { by: null }),
        ];
        expect(numbers(some, { batch: 'A' })).toEqual([1, 3]);
        expect(numbers(some, { person: 'Tobiah Reeve' })).toEqual([2, 3]);
        expect(numbers(some, { stage: 'work' })).toEqual([3]);
        expect(numbers(some, { batch: 'A', stage: 'probe' })).toEqual([1]);
    });
});

describe('how long ago', () => {
    const now = Date.parse('2026-11-29T12:00:00Z');
    it.each([
        ['2026-11-29T11:59:40Z', 'just now'],
        ['2026-11-29T11:59:00Z', '1 minute ago'],
        ['2026-11-29T11:01:00Z', '59 minutes ago'],
        ['2026-11-29T11:00:00Z', '1 hour ago'],
        ['2026-11-27T12:01:00Z', '47 hours ago'],
        ['2026-11-27T12:00:00Z', '2 days ago'],
        ['2026-11-29T12:05:00Z', 'just now'],
    ])('%s', (iso, want) => {
        expect(ago(iso, now)).toBe(want);
    });
});

describe('what many jobs want', () => {
    const next = (text: string, n: number, due = false) => Array.from({ length: n }, (_, i) => row(i, { next: text, due }));
    it('is told in counts, what is due first, the commonest next', () => {
        const jobs = [...next('Probe the groups', 2), ...next('Prove the pack', 5), ...next('Hold test', 3, true)];
        expect(wants(jobs)).toBe('3 due, 5 prove the pack, 2 probe the groups');
    });
    it('ends with what is left of many kinds', () => {
        expect(wants([...next('A', 3), ...next('B', 2), ...next('C', 1), ...next('D', 1)], 2)).toBe('3 a, 2 b, 2 other');
    });
    it('says nothing of none', () => {
        expect(wants([])).toBe('');
    });
});
