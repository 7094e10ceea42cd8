// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post },
}));
vi.mock('@/lib/bench', () => ({ useMay: () => true }));
import { Component as Fleet } from './Fleet';
import { asTable, Component as ReadWall, nextCell } from './ReadWall';
import type { ToppingRow } from './Topping';

const fleet = {
    customer: 'Ferry house',
    kind: 'nmc 4',
    kinds: [
        { kind: 'nmc 4', packs: 3 },
        { kind: 'lfp 8', packs: 1 },
    ],
    in_place: ['Take the pack off its siblings.'],
    spares: { boards: 'Keep 1: 0.10 failures are expected.', groups: 'Keep 2: 0.30 failures are expected.' },
    toppings: [],
    gains: [],
    pack: {},
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
            shift_mv: null,
            excellent: false,
            off_mv: [0, 0.2, null, -60.4],
        },
        {
            id: 2,
            name: 'B',
            at: '2026-11-01T10:00:00Z',
            condition: 'rest',
            soc: 0.6,
            groups_v: [3.8, 3.805, 3.8, 3.8],
            shift_mv: 12.2,
            excellent: true,
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
const show = (f: object, at = 'fleet') => {
    server.get.mockReset().mockImplementation((path: string) =>
        Promise.resolve({
            data: path === '/api/lookups' ? { pack_models: [], cell_models: [] } : { ...fleet, ...f },
            response: new Response(),
        }),
    );
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={[`/customers/4/${at}`]}>
                <Routes>
                    <Route path="/customers/:customer/fleet" element={<Fleet />} />
                    <Route path="/customers/:customer/wall" element={<ReadWall />} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
};
afterEach(() => {
    cleanup();
    localStorage.clear();
});
const answer = (data: object, status = 200) => ({ data, response: new Response(null, { status }) });
const topping: ToppingRow = {
    id: 9,
    pack_id: 1,
    pack: 'A',
    group: 4,
    by: 'Maren',
    begun_at: '2026-11-01T10:00:00Z',
    about_until: '2026-11-01T11:00:00Z',
    plan: { full_v: 4.15, supply_a: 0.5, stop_from_a: 0.5, stop_to_a: 0.2 },
    ended_at: null,
    ended: null,
    full: null,
    joined_at: null,
    joined: null,
    way: null,
    helped: null,
};

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
            ['0', '+5', '0', '0', 'excellentas a whole +12: another charge, or another meter'],
        ]);
        expect(side.textContent).toContain('from the middle group of all, 3.800 V');
        expect(side.textContent).toContain('65 mV from the lowest (A, group 4) to the highest (B, group 2)');
        const topped = screen.getByRole('region', { name: 'Topped up in place' });
        expect(topped.textContent).toContain('1. A, group 4: 0.20 to 0.60 Ah, 0.4 to 1.2 h');
        fireEvent.change(screen.getByLabelText('Supply, A'), { target: { value: '2,5' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5' }));
        fireEvent.click(screen.getByRole('button', { name: 'lfp, 8 groups: 1 pack' }));
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5', kind: 'lfp 8' }));
        fireEvent.click(screen.getByRole('button', { name: 'nmc, 4 groups: 3 packs' }));
        fireEvent.change(screen.getByLabelText('Boards that failed in them'), { target: { value: '0' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5', boards: '0', kind: 'nmc 4' }));
        fireEvent.change(screen.getByLabelText('Boards that failed in them'), { target: { value: '' } });
        fireEvent.change(screen.getByLabelText('Weeks until one is delivered'), { target: { value: 'x' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ supply_a: '2.5', kind: 'nmc 4' }));
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

describe('a group topped up in place', () => {
    it('is begun by what was measured, and says beside its field what forbids it', async () => {
        show({});
        fireEvent.click(await screen.findByRole('button', { name: 'Top it up here' }));
        const type = (label: RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
        type(/Through its terminals/, '0,4');
        type(/Group 4 at the clips/, '3.741');
        type(/Where it stands/, '18');
        server.post.mockReset().mockResolvedValueOnce({
            error: { code: 'not-safe', message: 'No.', fields: { pack_a: '0.40 A still flow' } },
            response: new Response(null, { status: 422 }),
        });
        fireEvent.click(screen.getByRole('button', { name: 'Begin' }));
        await waitFor(() =>
            expect(server.post.mock.lastCall![1].body).toEqual({
                pack: 1,
                group: 4,
                pack_a: 0.4,
                group_v: 3.741,
                ambient_c: 18,
                supply_a: null,
                second: '',
            }),
        );
        expect(await screen.findByText(/0\.40 A still flow/)).toBeTruthy();
    });
    it('wants its end while the supply is on, a reading and the join after it, and nothing once it is back', async () => {
        show({ toppings: [topping] });
        const end = await screen.findByRole('form', { name: 'End of A, group 4' });
        expect(end.textContent).toContain('fallen to between 0.50 and 0.20 A');
        expect(screen.queryByRole('button', { name: 'Top it up here' })).toBeNull();
        cleanup();
        show({ toppings: [{ ...topping, ended_at: '2026-11-01T11:00:00Z', ended: 'Full.', full: true }] });
        expect((await screen.findByRole('link', { name: 'Read every group again' })).getAttribute('href')).toBe('/customers/4/wall');
        expect(screen.getByRole('form', { name: 'A back beside its siblings' })).toBeTruthy();
        cleanup();
        const back = { joined_at: '2026-11-01T12:00:00Z', joined: 'join directly.', way: 'direct' };
        const helped = { even: true, text: '-60 mV before, -1 mV after: even now.' };
        show({ toppings: [{ ...topping, ended_at: '2026-11-01T11:00:00Z', ended: 'Full.', ...back, helped }] });
        expect(await screen.findByText(/even now/)).toBeTruthy();
        expect(screen.queryByRole('form')).toBeNull();
    });
});

describe('what limits each', () => {
    it('weighs the weak group, and leads to the intake of its pack', async () => {
        const gain = { pack_id: 2, pack: 'B', group: 2, usable_ah: 79, after_ah: 97, gain_wh: 230.4, worth: true, minutes: 75, cells: 1 };
        show({
            gains: [{ ...gain, total_cents: 19035, cents_per_wh: 82.6, currency: 'EUR' }],
            packs: [{ ...fleet.packs[1], serial: '', code: 'ABCD-EFGH' }],
        });
        const limits = await screen.findByRole('region', { name: 'What limits each' });
        expect(limits.textContent).toContain('79.0 Ah');
        expect(limits.textContent).toContain('230 Wh');
        expect(within(limits).getByRole('link', { name: 'Take it in' }).getAttribute('href')).toBe('/intake?serial=ABCD-EFGH');
    });
});

describe('a wall that is read', () => {
    it('goes on by Enter across a row and then down, and sends what is typed as one table', () => {
        const rows = [
            { name: 'A', cells: ['3.4', ''] },
            { name: 'B', cells: ['3.5', '3.6'] },
        ];
        expect(nextCell(0, 0, rows)).toEqual([0, 1]);
        expect(nextCell(0, 1, rows)).toEqual([1, 0]);
        expect(nextCell(1, 1, rows)).toBeNull();
        expect(asTable([...rows, { name: ' ', cells: ['', ''] }])).toBe('A\t3.4\t-\nB\t3.5\t3.6');
    });
    it('shows what was read, marks who is new, and keeps it as it was read', async () => {
        show({ packs: fleet.packs.map((p) => ({ ...p, serial: '', code: 'X', series: 2 })) }, 'wall');
        const read = { rows: [], wrong: ['Line 2: no name.'], notes: [] };
        server.post.mockReset().mockResolvedValueOnce(answer(read));
        fireEvent.change(await screen.findByLabelText(/A table/), { target: { value: 'A 3.4 3.5' } });
        fireEvent.click(screen.getByRole('button', { name: 'Look what is in it' }));
        expect((await screen.findByRole('alert')).textContent).toBe('Line 2: no name.');
        const rows = [
            { name: 'A', soc: null, values: [3.4, null], resolution_v: 0.001, packs: [1] },
            { name: 'Z', soc: null, values: [3.4, 3.5], resolution_v: 0.001, packs: [] },
        ];
        server.post.mockResolvedValue(answer({ rows, wrong: [], notes: [] }));
        fireEvent.click(screen.getByRole('button', { name: 'Look what is in it' }));
        const cell = await screen.findByLabelText<HTMLInputElement>('A, group 2');
        expect(cell.value).toBe('-');
        expect(screen.getByText('1 pack new here: what they are')).toBeTruthy();
        fireEvent.change(cell, { target: { value: '3.41' } });
        expect(JSON.parse(localStorage.getItem('heartwood.draft.wall.4')!).rows[0].cells[1]).toBe('3.41');
        fireEvent.click(screen.getByRole('button', { name: 'Keep 2 packs' }));
        await waitFor(() => expect(server.post.mock.lastCall![0]).toBe('/api/customers/{customer}/wall'));
        expect(server.post.mock.calls.at(-2)![1].body.text).toBe('A\t3.400\t3.41\nZ\t3.400\t3.500');
        expect(server.post.mock.lastCall![1].body).toMatchObject({ what: 'volts', condition: 'rest', soc: null, pack: {} });
    });
});
