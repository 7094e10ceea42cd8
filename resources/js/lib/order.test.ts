import { describe, expect, it } from 'vitest';
import type { Job, Measurement } from '@/api/client';
import { withStored } from './stored';
import { lines, nextPair } from '../routes/probe/set';
import { pairKey, pastedNumbers, sequence } from './order';
import type { Entry } from './outbox';

describe('probe order', () => {
    it('goes tap by tap from B-', () => expect(sequence('taps', 3).map(pairKey)).toEqual(['T0>T1', 'T0>T2', 'T0>T3']));
    it('goes across each group and closes with the whole string', () =>
        expect(sequence('across', 2).map(pairKey)).toEqual(['T0>T1', 'T1>T2', 'T0>T2']));
    it('goes coarse first and reaches every group once', () => {
        for (const series of [1, 2, 5, 7, 14]) {
            const keys = sequence('coarse', series).map(pairKey);
            expect(new Set(keys).size).toBe(keys.length);
            expect(keys[0]).toBe(`T0>T${series}`);
            for (let k = 0; k < series; k++) expect(keys).toContain(`T${k}>T${k + 1}`);
        }
    });
    it('reads a pasted column in any of the ways people copy it', () =>
        expect(pastedNumbers('3,801\r\n7.602\n\n11.4;15.2\t19')).toEqual(['3,801', '7.602', '11.4', '15.2', '19']));
});

describe('lines of a set', () => {
    const server = {
        id: 's',
        readings: [
            { id: 'a', from: 'T0', to: 'T1', typed: '3.8' },
            { id: 'b', from: 'T0', to: 'T2', typed: '7.6' },
        ],
    } as Measurement;
    const entry = (id: string, data: Record<string, unknown>, status: Entry['status'] = 'waiting'): Entry => ({
        seq: 1,
        id,
        person: 1,
        kind: 'reading',
        job_id: 1,
        at: '',
        data: { measurement_id: 's', ...data },
        status,
    });

    it('shows what waits behind what is kept, once', () => {
        expect(
            lines(
                server,
                [entry('b', { from: 'T0', to: 'T2', typed: '7.6' }), entry('c', { from: 'T0', to: 'T3', typed: '11.4' })],
                's',
            ).map((l) => [l.id, l.where]),
        ).toEqual([
            ['a', 'server'],
            ['b', 'server'],
            ['c', 'bench'],
        ]);
    });
    it('applies corrections and withdrawals that still wait', () => {
        const run = lines(
            server,
            [
                entry('c', { from: 'T0', to: 'T2', typed: '7.7', corrects_id: 'b' }),
                entry('d', { from: 'T0', to: 'T1', typed: '', corrects_id: 'a' }),
            ],
            's',
        );
        expect(run.map((l) => l.typed)).toEqual(['7.7']);
    });
    it('asks next for what has no reading, a refused one included', () => {
        const run = lines(server, [entry('c', { from: 'T0', to: 'T3', typed: 'x' }, 'refused')], 's');
        expect(nextPair(sequence('taps', 3), run)).toEqual({ from: 'T0', to: 'T3' });
    });
});

describe('a job once entries are stored', () => {
    const job = { id: 7, revision: 1, measurements: [] as Measurement[] } as Job;
    const entry = (kind: Entry['kind'], id: string, data: Record<string, unknown>): Entry => ({
        seq: 1,
        id,
        person: 1,
        kind,
        job_id: 7,
        at: '',
        data,
        status: 'waiting',
    });
    const set = entry('measurement', 's', { condition: 'rest' });
    const reading = (id: string, typed: string, corrects_id?: string) =>
        entry('reading', id, { measurement_id: 's', from: 'T0', to: 'T1', typed, ...(corrects_id ? { corrects_id } : {}) });

    it('holds each entry once, however often it is told', () => {
        const once = withStored(job, [set, reading('a', '3.8')], 'me');
        expect(withStored(once, [set, reading('a', '3.8')], 'me').measurements[0]!.readings.map((r) => r.id)).toEqual(['a']);
    });
    it('applies corrections and withdrawals', () => {
        const corrected = withStored(job, [set, reading('a', '3.8'), reading('b', '3.9', 'a')], 'me');
        expect(corrected.measurements[0]!.readings.map((r) => r.typed)).toEqual(['3.9']);
        expect(withStored(corrected, [reading('c', '', 'b')], 'me').measurements[0]!.readings).toEqual([]);
    });
    it('leaves other jobs alone', () => expect(withStored({ ...job, id: 8 } as Job, [set], 'me').measurements).toEqual([]));
});
