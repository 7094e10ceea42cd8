// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn() }));
vi.mock('@/api/client', async (real) => ({ ...(await real<typeof import('@/api/client')>()), api: { GET: server.get } }));
import { Component as Fleet } from './Fleet';

const fleet = {
    customer: 'Ferry house',
    others: 1,
    in_place: ['Take the pack off its siblings.'],
    spares: 'Keep 1: 0.10 failures are expected.',
    lead_weeks: 6,
    level: 0.95,
    middle_v: 3.8,
    packs: [
        {
            id: 1,
            name: 'A',
            at: '2026-11-01T10:00:00Z',
            condition: 'rest',
            soc: 0.6,
            groups_v: [3.8, 3.8, null, 3.74],
            off_mv: [0, 0.2, null, -60.4],
        },
        {
            id: 2,
            name: 'B',
            at: '2026-11-01T10:00:00Z',
            condition: 'rest',
            soc: 0.6,
            groups_v: [3.8, 3.805, 3.8, 3.8],
            off_mv: [0, 5, 0, -0.4],
        },
        { id: 3, name: 'C', at: null, condition: null, soc: null, groups_v: null, off_mv: null },
    ],
    result: {
        highest: { pack: 'B', group: 2, v: 3.805 },
        lowest: { pack: 'A', group: 4, v: 3.74 },
        over_all_mv: 65,
        comparable: true,
        ranked: [
            { pack: 'A', group: 4, off_mv: -60, state: 'balance-soon' },
            { pack: 'B', group: 2, off_mv: 5, state: 'matched' },
        ],
        topping: [{ pack: 'A', group: 4, ah: [0.2, 0.6], hours: [0.4, 1.2], order: 1 }],
        limits: [],
        spares: null,
    },
};
const show = (f: object) => {
    server.get.mockReset().mockResolvedValue({ data: { ...fleet, ...f }, response: new Response() });
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={['/customers/4/fleet']}>
                <Routes>
                    <Route path="/customers/:customer/fleet" element={<Fleet />} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
};
afterEach(cleanup);

describe('packs of one owner side by side', () => {
    it('shows each group from the middle of all, the worst pack first, and what is topped up with how much', async () => {
        show({});
        const side = await screen.findByRole('region', { name: 'Side by side' });
        const rows = within(side).getAllByRole('row').slice(1);
        expect(
            rows.map((r) =>
                within(r)
                    .getAllByRole('cell')
                    .map((c) => c.textContent),
            ),
        ).toEqual([
            ['0', '0', '-', '-60', 'group 4: balance soon'],
            ['0', '+5', '0', '0', 'group 2: matched'],
        ]);
        expect(side.textContent).toContain('from the middle group of all, 3.800 V');
        expect(side.textContent).toContain('65 mV from the lowest (A, group 4) to the highest (B, group 2)');
        const topped = screen.getByRole('region', { name: 'Topped up in place' });
        expect(topped.textContent).toContain('1. A, group 4: 0.20 to 0.60 Ah, 0.4 to 1.2 h');
        expect(screen.getByText('1 pack of another kind left out.')).toBeTruthy();
        fireEvent.change(screen.getByLabelText('Supply, A'), { target: { value: '2,5' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5' }));
        fireEvent.change(screen.getByLabelText('Weeks until one is delivered'), { target: { value: 'x' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5' }));
    });
    it('says that they are to be read alike, and how where nothing was read', async () => {
        show({ result: { ...fleet.result, comparable: false, topping: [] } });
        expect(await screen.findByText(/not read at the same charge/)).toBeTruthy();
        expect(screen.queryByRole('region', { name: 'Topped up in place' })).toBeNull();
        cleanup();
        show({ result: null, middle_v: null, spares: null });
        expect(await screen.findByText(/No pack of theirs was read group by group/)).toBeTruthy();
    });
});
