import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { slots } from '@/lib/slots';
import { Lots } from './Lots';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

const may = vi.hoisted(() => ({ decide: true }));
vi.mock('@/lib/bench', () => ({ useMay: () => may.decide }));

const lot = (name: string, more: object = {}) => ({
    id: name.length,
    version: '"1"',
    name,
    supplier: 'Pier Nine Cells',
    date_code: '26-44',
    price_cents: 395,
    cells: 12,
    tested: 3,
    rejected: 0,
    mean_ah: 2.987,
    low_ah: 2.94,
    high_ah: 3.033,
    text: '',
    state: 'taken',
    reason: '',
    next: { more: 0, codes: [], text: '' },
    inspection: { outcome: 'test-more', wanted: 5, text: '3 of 12 tested, 5 are wanted before it is taken.' },
    ...more,
});
const suppliers = [{ name: 'Pier Nine Cells', lots: 2, refused: 1, cells: 24, tested: 6, rejected: 1, mean_of_rated: 0.9412 }];

const untested = vi.fn();
let root: Root | null = null;
const open = (lots: object[]) => {
    const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
    client.setQueryData(slots.lots(), { lots, suppliers });
    const box = document.body.appendChild(document.createElement('div'));
    act(() =>
        (root = createRoot(box)).render(
            <QueryClientProvider client={client}>
                <Lots onClose={() => {}} onUntested={untested} />
            </QueryClientProvider>,
        ),
    );
    return document.body.textContent ?? '';
};
beforeEach(() => {
    may.decide = true;
});
afterEach(() => {
    act(() => root?.unmount());
    document.body.innerHTML = '';
});

describe('lots', () => {
    it('show a delivery with what its sample says, and both ways out of it', () => {
        const text = open([lot('NEW', { state: 'incoming' }), lot('OLDER')]);
        expect(text).toContain('5 are wanted before it is taken');
        expect(text).toContain('a delivery, not taken yet');
        expect([...document.querySelectorAll('button')].map((b) => b.textContent)).toEqual(
            expect.arrayContaining(['Take it', 'Send it back']),
        );
    });
    it('lead from a delivery to its cells that nobody tested, while there are any', () => {
        const ways = () => [...document.querySelectorAll('button')].filter((b) => b.textContent === 'Its cells that are not tested yet');
        open([lot('NEW', { state: 'incoming' }), lot('SECOND', { state: 'incoming', tested: 12 })]);
        expect(ways()).toHaveLength(1);
        act(() => ways()[0]!.click());
        expect(untested).toHaveBeenCalledWith('NEW');
    });
    it('say which cells to test next, and lead to them, but not of a lot that was refused', () => {
        const next = { more: 19, codes: ['NEW-007', 'NEW-019'], text: '19 more until its mean is known to 5 %.' };
        expect(open([lot('NEW', { next })])).toContain('19 more until its mean is known to 5 %.');
        const way = [...document.querySelectorAll('button')].find((b) => b.textContent === 'NEW-007, NEW-019');
        act(() => way!.click());
        expect(untested).toHaveBeenLastCalledWith('NEW');
        act(() => root?.unmount());
        document.body.innerHTML = '';
        expect(open([lot('BACK', { next, state: 'refused' })])).not.toContain('Test next');
    });
    it('leave the word on it to who may decide', () => {
        may.decide = false;
        open([lot('NEW', { state: 'incoming' })]);
        expect([...document.querySelectorAll('button')].map((b) => b.textContent)).not.toContain('Take it');
    });
    it('say of a refused one why, and ask nothing more of it', () => {
        const text = open([lot('BACK', { state: 'refused', reason: 'recalled' })]);
        expect(text).toContain('refused: recalled');
        expect(text).not.toContain('Take it');
    });
    it('put suppliers side by side by what their cells held', () => {
        const text = open([lot('A')]);
        expect(text).toContain('94.1 %');
        expect(text).toContain('6 of 24');
    });
});
