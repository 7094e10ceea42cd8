// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { LiveCheck } from '@/api/client';
import { Questions } from './Questions';

const doubt = (k: number) => ({
    kind: 'same-value',
    text: `Taps T${k - 1} and T${k} read the same.`,
    settle: { from: `T${k - 1}`, to: `T${k}` },
    readings: [{ from: 'T0', to: `T${k}` }],
});
const show = (...questions: object[]) => {
    const ask = vi.fn();
    render(<Questions check={{ questions } as unknown as LiveCheck} unsent={0} any ask={ask} />);
    return ask;
};
afterEach(cleanup);

describe('what is odd about a set', () => {
    it('asks for several doubted groups one after another, by one touch', () => {
        const ask = show(doubt(5), doubt(6), doubt(8));
        fireEvent.click(screen.getByRole('button', { name: 'Read these 3 across, one after another' }));
        expect(ask).toHaveBeenCalledWith({ from: 'T4', to: 'T5' }, { from: 'T5', to: 'T6' }, { from: 'T7', to: 'T8' });
    });

    it('offers one alone for one, and leaves out what was said to be right', () => {
        const ask = show(doubt(5), doubt(6));
        fireEvent.click(screen.getAllByRole('button', { name: 'It is as I read it' })[0]!);
        expect(screen.queryByRole('button', { name: /one after another/ })).toBeNull();
        fireEvent.click(screen.getByRole('button', { name: 'Read T5 to T6 now' }));
        expect(ask).toHaveBeenCalledWith({ from: 'T5', to: 'T6' });
    });
});
