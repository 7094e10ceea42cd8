// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import type { Entry } from '@/lib/outbox';
import { keepSet, setFor } from './set';

const ME = 4;
const set = (id: string, condition: string, revision = 1) => ({ id, condition, revision, at: new Date().toISOString(), readings: [{}] });
const job = (...measurements: object[]) => ({ id: 7, revision: 1, measurements }) as unknown as Job;
const begun = (id: string, condition: string) => ({ id, kind: 'measurement', job_id: 7, data: { condition } }) as unknown as Entry;
const reads = (test: string, of: Job, mine: Entry[] = []) => setFor(test, of, mine, true, ME);

describe('the set that a test reads on in', () => {
    beforeEach(() => localStorage.clear());

    it('never adds rest voltages to a set under current', () => {
        for (const condition of ['charge', 'discharge', 'relaxing']) {
            keepSet(7, ME, 'a');
            expect(reads('rest-taps', job(set('a', condition)))).toBeNull();
            expect(reads('group-reading', job(), [begun('a', condition)])).toBeNull();
        }
        expect(reads('half-string', job(set('b', 'charge')))).toBeNull();
    });

    it('goes on with a set at rest, sent or not, and with any set where no test is meant', () => {
        keepSet(7, ME, 'a');
        expect(reads('rest-taps', job(set('a', 'rest')))).toBe('a');
        expect(reads('rest-taps', job(), [begun('a', 'rest')])).toBe('a');
        expect(reads('', job(set('a', 'charge')))).toBe('a');
    });

    it('opens one of its own for a test that is a set', () => {
        keepSet(7, ME, 'a');
        expect(reads('rest-again', job(set('a', 'rest')))).toBeNull();
        expect(reads('load-step', job(set('a', 'rest')))).toBeNull();
    });

    it('does not read on in a set of the pack as it was before', () => {
        keepSet(7, ME, 'a');
        expect(reads('rest-taps', job(set('a', 'rest', 0)))).toBeNull();
    });
});
