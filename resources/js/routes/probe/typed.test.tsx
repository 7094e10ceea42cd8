import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRef, useState } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useStable } from '@/lib/stable';
import { ReadBack } from './ReadBack';
import { Typed } from './Typed';

const heard = { take: vi.fn(), takeBack: vi.fn(), move: vi.fn(), output: vi.fn(), whole: vi.fn(), listen: vi.fn() };
const show = (at = 2, target: { from: string; to: string } | null = { from: 'T0', to: 'T3' }) =>
    render(<Typed target={target} at={at} of={12} field={createRef()} {...heard} />);
const field = () => screen.getByLabelText<HTMLInputElement>('Volts on the meter');

beforeEach(() => Object.values(heard).forEach((f) => f.mockClear()));
afterEach(cleanup);

describe('the field of the probe', () => {
    it('says where the probes go and which reading it is', () => {
        show();
        expect(screen.getByTestId('target').textContent).toBe('T0toT3');
        expect(screen.getByText(/Reading 3 of 12/)).toBeTruthy();
        cleanup();
        show(0);
        expect(screen.getByText(/First reading/)).toBeTruthy();
        cleanup();
        show(14);
        expect(screen.getByText(/Reading 15 of 15/)).toBeTruthy();
    });

    it.each(['{Enter}', ' '])('takes what is typed at %s, as typed, and is empty again', async (key) => {
        show();
        await userEvent.type(field(), `11,42${key}`);
        expect(heard.take).toHaveBeenCalledExactlyOnceWith(['11,42']);
        expect(field().value).toBe('');
    });

    it('takes nothing of an empty field, and nothing where no tap is asked for', async () => {
        show();
        await userEvent.type(field(), '{Enter} {Enter}');
        expect(heard.take).not.toHaveBeenCalled();
        cleanup();
        show(12, null);
        await userEvent.type(field(), '3.8{Enter}');
        expect(heard.take).not.toHaveBeenCalled();
        expect(field().value).toBe('3.8');
        expect(screen.getByTestId('target').textContent).toBe('Every tap of this order is read');
    });

    it('takes the last back at a backspace in an empty field alone', async () => {
        show();
        await userEvent.type(field(), '3{Backspace}');
        expect(heard.takeBack).not.toHaveBeenCalled();
        await userEvent.type(field(), '{Backspace}');
        expect(heard.takeBack).toHaveBeenCalledTimes(1);
    });

    it('moves along the taps with the arrows', async () => {
        show();
        await userEvent.type(field(), '{ArrowUp}{ArrowDown}{ArrowDown}');
        expect(heard.move.mock.calls).toEqual([[-1], [1], [1]]);
    });

    it('takes a pasted column as so many readings, and a single number as typing', async () => {
        show();
        field().focus();
        await userEvent.paste('3.81\n7.62\n11,43');
        expect(heard.take).toHaveBeenCalledExactlyOnceWith(['3.81', '7.62', '11,43']);
        await userEvent.paste('3.81');
        expect(heard.take).toHaveBeenCalledTimes(1);
        expect(field().value).toBe('3.81');
    });
});

describe('a handler that stays the same', () => {
    it('does what the latest would', async () => {
        const seen = new Set<unknown>();
        const said: number[] = [];
        function Counter() {
            const [n, set] = useState(0);
            const tell = useStable(() => said.push(n));
            seen.add(tell);
            return (
                <>
                    <button onClick={() => set(n + 1)}>more</button>
                    <button onClick={tell}>tell</button>
                </>
            );
        }
        render(<Counter />);
        await userEvent.click(screen.getByText('more'));
        await userEvent.click(screen.getByText('more'));
        await userEvent.click(screen.getByText('tell'));
        expect(said).toEqual([2]);
        expect(seen.size).toBe(1);
    });
});

describe('read back', () => {
    it('lists the latest first, with where each is, and asks for one again', async () => {
        const pick = vi.fn();
        render(
            <ReadBack
                run={[
                    { id: 'a', from: 'T0', to: 'T1', typed: '3.80', where: 'server' },
                    { id: 'b', from: 'T0', to: 'T2', typed: '7,6', where: 'bench' },
                    { id: 'c', from: 'T0', to: 'T3', typed: 'x', where: 'refused', errors: 'no number' },
                ]}
                pick={pick}
            />,
        );
        const rows = screen.getAllByRole('row').map((r) => r.textContent);
        expect(rows).toEqual(['T0 to T3x✗ no number', 'T0 to T27,6△ here only', 'T0 to T13.80✓ kept']);
        await userEvent.click(screen.getByText('T0 to T2'));
        expect(pick).toHaveBeenCalledExactlyOnceWith({ from: 'T0', to: 'T2' });
    });
});
