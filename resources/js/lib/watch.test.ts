import { expect, test, vi } from 'vitest';
import { ApiError } from '@/api/client';
import { Leave } from './watch';

const leave = () => {
    const at = { ms: 0 };
    return { at, it: new Leave(() => at.ms) };
};

test('leave is asked for once, and again five seconds before its end', async () => {
    const { at, it } = leave();
    const obtain = vi.fn(async () => {
        at.ms += 400;
        return { watch: `w${at.ms}`, lasts_s: 30 };
    });
    expect(it.word).toBeNull();
    await it.have(obtain);
    // It counts from when it was asked for, not from when it came.
    at.ms = 24_999;
    await it.have(obtain);
    expect([it.word, obtain.mock.calls.length]).toEqual(['w400', 1]);
    at.ms = 25_000;
    expect(it.word).toBeNull();
    await it.have(obtain);
    expect([it.word, obtain.mock.calls.length]).toEqual(['w25400', 2]);
});

test('what is asked by leave carries it; without leave nothing is asked', async () => {
    const { it } = leave();
    const ask = vi.fn(async (word: string) => `seen by ${word}`);
    expect(await it.by(ask)).toBeNull();
    expect(ask).not.toHaveBeenCalled();
    it.take({ watch: 'w', lasts_s: 30 }, 0);
    expect(await it.by(ask)).toBe('seen by w');
});

test.each([
    [410, 'watch-over', null, true],
    [409, 'in-use', 'thrown', true],
    [503, 'silent', 'thrown', false],
    [0, 'away', 'thrown', false],
])('an answer of %i (%s): %s, dropped: %s', async (status, code, comes, dropped) => {
    const { it } = leave();
    it.take({ watch: 'w', lasts_s: 30 }, 0);
    const answer = await it
        .by(() => Promise.reject(new ApiError(status, code, 'no')))
        .catch((e: unknown) => (e instanceof ApiError ? 'thrown' : 'else'));
    expect([answer, it.word === null]).toEqual([comes, dropped]);
});
