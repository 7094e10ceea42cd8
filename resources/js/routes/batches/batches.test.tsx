// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn(), patch: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post, PATCH: server.patch },
}));
vi.mock('@/lib/bench', () => ({ useMay: () => true, usePerson: () => ({ id: 7 }) }));
import { Component as Batches } from './Batches';
import { Component as Lane } from './Lane';
import { Component as NewBatch } from './NewBatch';

const batch = {
    id: 3,
    name: 'Rental scooters',
    customer: 'Quay rentals',
    customer_id: 4,
    supplies: 3,
    places: 12,
    hours_a_day: 2,
    paid_cents: 1500,
    sells_cents: 9500,
    margin_percent: null,
    version: 2,
    opened_at: '2026-11-01T10:00:00Z',
};
const row = (id: number, more = {}) => ({
    id,
    number: id,
    serial: `RS-0${id}`,
    lane: 'probe',
    text: '2.60 V a group: read it',
    came_v: 31.2,
    until: null,
    first: '',
    odd: null,
    door: `/jobs/${id}/probe`,
    ...more,
});
const lane = {
    batch,
    packs: 4,
    lanes: { probe: 2, shelf: 1, held: 1 },
    rows: [
        row(1),
        row(2, { odd: 'as it came 9.0 V, the others 31.2 V', came_v: 9 }),
        row(3, { lane: 'shelf', text: 'Hold test', until: '2026-11-03T09:00:00Z' }),
        row(4, { lane: 'held', text: 'in quarantine', came_v: null }),
    ],
    matching: 4,
    page: 40,
    energy_wh: 1180,
    shelf: [{ id: 3, serial: 'RS-03', until: '2026-11-03T09:00:00Z', for: 'Hold test' }],
    odd: [{ id: 2, serial: 'RS-02', why: ['as it came 9.0 V, the others 31.2 V', 'gave 2.10 Ah, the others 2.50 Ah'] }],
    today: {
        day: 'today',
        hours: 2,
        hands_min: 45,
        places_left: 10,
        begun: [
            { id: 1, text: 'read it', supply: 1, from_min: 0, to_min: 120, needs_min: 150, serial: 'RS-01', door: '/jobs/1/probe' },
            { id: 2, text: 'read it', supply: null, from_min: 30, to_min: 45, needs_min: 0, serial: 'RS-02', door: '/jobs/2/probe' },
        ],
        left: [{ id: 5, serial: 'RS-05', why: 'no supply is free' }],
        left_count: 1,
    },
    donors: [
        { id: 6, serial: 'RS-06', groups: [2, 3], cells: 4, text: 'groups 2, 3 inside their window, 4 cells: tested before any is used' },
    ],
    yield: { good: 3, bad: 1, open: 4, mean: 0.7, low: 0.35, high: 0.95, text: '3 of 4 came good: 70 of 100.' },
    cost: { minutes: 59.3, cents: 4200, timed: 1, of: 4, currency: 'EUR' },
    margin_percent: 30,
    ceiling: { low: 0, mean: 455, high: 2100 },
    rest: { low: 0, mean: 8000, high: 19000 },
};
const answer = (data: object, status = 200) => ({ data, response: new Response(null, { status }) });
const show = (at: string, data: object) => {
    server.get
        .mockReset()
        .mockImplementation((path: string) =>
            Promise.resolve(answer(path === '/api/lookups' ? { pack_models: [], cell_models: [], part_models: [], customers: [] } : data)),
        );
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={[at]}>
                <Routes>
                    <Route path="/batches" element={<Batches />} />
                    <Route path="/batches/new" element={<NewBatch />} />
                    <Route path="/batches/:batch" element={<Lane />} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
};
afterEach(() => {
    cleanup();
    localStorage.clear();
});

describe('the lane of a batch', () => {
    it('says where each pack stands, what it waits for, and what is odd beside the others', async () => {
        show('/batches/3', lane);
        const rows = within((await screen.findAllByRole('table'))[0]!)
            .getAllByRole('row')
            .slice(1);
        expect(rows.map((r) => within(r).getAllByRole('cell')[2]!.textContent)).toEqual([
            'to be read',
            'to be read',
            'on the shelf',
            'held',
        ]);
        expect(rows[1]!.textContent).toContain('? questionable: as it came 9.0 V, the others 31.2 V');
        expect(rows[2]!.textContent).toContain('Hold test until');
        expect(within(rows[0]!).getByRole('link').getAttribute('href')).toBe('/jobs/1/probe');
        expect(screen.getByRole('region', { name: 'Questionable' }).textContent).toContain('gave 2.10 Ah, the others 2.50 Ah');
        expect(screen.getByRole('region', { name: 'Donors' }).textContent).toContain('groups 2, 3 inside their window');
    });
    it('says what is begun today, on which supply, and why another is not', async () => {
        show('/batches/3', lane);
        const today = await screen.findByRole('region', { name: 'Begun today' });
        expect(today.textContent).toContain('0:00 to 2:00RS-01Supply 1, 2.5 h in all, goes on another day: read it');
        expect(today.textContent).toContain('0:30 to 0:45RS-02Hands: read it');
        expect(today.textContent).toContain('RS-05: no supply is free');
    });
    it('says yield, cost and the price of the next, and what is missing for it', async () => {
        show('/batches/3', lane);
        const yields = await screen.findByRole('region', { name: 'Yield' });
        expect(yields.textContent).toContain('3 of 4 came good');
        expect(yields.textContent).toMatch(/At most .*4\.55 for one of the next batch/);
        expect(yields.textContent).toContain('59.3 min of hands');
        cleanup();
        show('/batches/3', { ...lane, ceiling: null, rest: null, batch: { ...batch, sells_cents: null } });
        expect((await screen.findByRole('region', { name: 'Yield' })).textContent).toContain('What one sells for');
    });
    it('goes from pack to pack by arrows, and asks for one lane and one page of it', async () => {
        show('/batches/3', { ...lane, matching: 90 });
        const table = (await screen.findAllByRole('table'))[0]!;
        const links = within(table).getAllByRole('link');
        links[0]!.focus();
        for (const [key, at] of [
            ['ArrowDown', 1],
            ['ArrowDown', 2],
            ['ArrowUp', 1],
            ['End', 3],
            ['ArrowDown', 3],
            ['Home', 0],
            ['ArrowUp', 0],
        ] as const) {
            fireEvent.keyDown(document.activeElement!, { key });
            expect(document.activeElement).toBe(links[at]);
        }
        fireEvent.click(screen.getByRole('button', { name: 'on the shelf 1' }));
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ lane: 'shelf' }));
        fireEvent.click(screen.getByRole('button', { name: 'Those after' }));
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ lane: 'shelf', from: 40 }));
        expect(screen.getByText('41 to 80 of 90')).toBeTruthy();
        const find = screen.getByLabelText('Find a pack of it');
        fireEvent.change(find, { target: { value: 'RS-04' } });
        await waitFor(() => expect(server.get.mock.lastCall![1].params.query).toEqual({ find: 'RS-04' }));
        fireEvent.keyDown(find, { key: 'ArrowDown' });
        expect(document.activeElement?.textContent).toBe('RS-01');
        expect(screen.getByText(/About 1180 Wh in those that are open/)).toBeTruthy();
    });
    it('keeps what there is for it on the version that was seen, and gives the figures of one to all', async () => {
        show('/batches/3', lane);
        const figures = await screen.findByRole('form', { name: 'What there is for it' });
        fireEvent.change(within(figures).getByLabelText('One sells for'), { target: { value: '99,50' } });
        server.patch.mockReset().mockResolvedValue(answer(lane));
        fireEvent.click(within(figures).getByRole('button', { name: 'Keep' }));
        await waitFor(() => expect(server.patch).toHaveBeenCalled());
        const sent = server.patch.mock.lastCall![1];
        expect([sent.params.header['If-Match'], sent.body.sells_cents, sent.body.margin_percent]).toEqual(['"2"', 9950, null]);
        server.post.mockReset().mockResolvedValue(answer({ ...lane, written: 3 }));
        fireEvent.change(screen.getByLabelText('Pack'), { target: { value: '1' } });
        fireEvent.click(screen.getByRole('button', { name: 'Use them for all' }));
        await waitFor(() => expect(server.post.mock.lastCall![1].body).toEqual({ job: 1 }));
    });
});

describe('a batch that is taken in', () => {
    it('shows what is read out of the list while it is typed, and sends it with what was said once', async () => {
        show('/batches/new', lane);
        const rows = [
            { line: 1, serial: 'RS-01', volts: 31.2, signs: [], note: '' },
            { line: 2, serial: 'RS-02', volts: null, signs: ['swollen'], note: 'swollen' },
        ];
        const label = answer({ mismatches: [], series: [] });
        const post = (read: object, opened: object) => (path: string) =>
            Promise.resolve(path === '/api/label-check' ? label : answer(path === '/api/batches' ? opened : read, 201));
        server.post.mockReset().mockImplementation(post({ rows, wrong: ['Line 3: one.'] }, {}));
        fireEvent.change(await screen.findByLabelText(/A line for each/), { target: { value: 'RS-01 31.2\nRS-02 swollen' } });
        expect((await screen.findByRole('alert')).textContent).toBe('Line 3: one.');
        expect(screen.getByText(/swollen\. It is held/).textContent).toContain('RS-02');
        fireEvent.click(screen.getByRole('button', { name: 'Take 2 packs in' }));
        expect((await screen.findAllByText(/a name for the batch/)).length).toBeGreaterThan(0);
        fireEvent.change(screen.getByLabelText('Name of the batch'), { target: { value: 'November' } });
        fireEvent.change(screen.getByLabelText('Customer'), { target: { value: 'Quay rentals' } });
        fireEvent.change(screen.getByLabelText('Groups in series'), { target: { value: '12' } });
        fireEvent.change(screen.getByLabelText('Supplies'), { target: { value: '3' } });
        fireEvent.change(screen.getByLabelText('One sells for'), { target: { value: '95' } });
        fireEvent.click(screen.getByLabelText(/I stood before/));
        server.post.mockImplementation(post({ rows, wrong: [] }, lane));
        fireEvent.click(screen.getByRole('button', { name: /packs in$/ }));
        await waitFor(() => expect(server.post.mock.calls.some(([path]) => path === '/api/batches')).toBe(true));
        const { body } = server.post.mock.calls.find(([path]) => path === '/api/batches')![1];
        expect(body).toMatchObject({ name: 'November', looked: true, supplies: 3, sells_cents: 9500, paid_cents: null });
        expect([body.pack.series, 'places' in body, body.list]).toEqual([12, false, 'RS-01 31.2\nRS-02 swollen']);
        expect(localStorage.getItem('heartwood.draft.batch.7')).toBeNull();
    });
});

describe('all batches', () => {
    it('lists them with what is open, or says how one begins', async () => {
        show('/batches', { batches: [{ ...batch, packs: 16, open: 9 }] });
        const rows = within(await screen.findByRole('table')).getAllByRole('row');
        expect(rows[1]!.textContent).toContain('Rental scootersQuay rentals916');
        cleanup();
        show('/batches', { batches: [] });
        expect(await screen.findByText(/None yet/)).toBeTruthy();
    });
});
