// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post },
}));
vi.mock('@/lib/bench', () => ({ useMay: () => true }));
import { Component as Customers } from './Customers';
import { Component as ReadWall, shown } from './ReadWall';
import { Toppings, type ToppingRow } from './Topping';

const pack = (id: number, name: string) => ({ id, name, serial: '', code: `C${id}`, series: 3 });
const fleet = { customer: 'House', packs: [pack(1, 'A'), pack(2, 'B')], pack: { chemistry: 'lfp', series: 3 }, kinds: [] };
const ok = (data: object, status = 200) => ({ data, response: new Response(null, { status }) });
const refused = (fields: Record<string, string>) => ({
    error: { code: 'no', message: 'No.', fields },
    response: new Response(null, { status: 422 }),
});
const at = (path: string, route: string, element: React.ReactNode) =>
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={[path]}>
                <Routes>
                    <Route path={route} element={element} />
                    <Route path="*" element={<p>elsewhere</p>} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
beforeEach(() => {
    server.post.mockReset();
    server.get.mockReset().mockImplementation((path: string) => Promise.resolve(ok(path === '/api/lookups' ? { pack_models: [] } : fleet)));
});
afterEach(() => {
    cleanup();
    localStorage.clear();
});
const wall = () => at('/customers/4/wall', '/customers/:customer/wall', <ReadWall />);
const button = (name: string | RegExp) => screen.getByRole('button', { name });

describe('a wall read one after another', () => {
    it('lists their packs, goes on by Enter, and takes rows in and out', async () => {
        wall();
        fireEvent.click(await screen.findByRole('button', { name: /list their packs/ }));
        const first = screen.getByLabelText('A, group 1');
        first.focus();
        fireEvent.keyDown(first, { key: 'Enter' });
        expect(document.activeElement).toBe(screen.getByLabelText('A, group 2'));
        const last = screen.getByLabelText('A, group 3');
        last.focus();
        fireEvent.keyDown(last, { key: 'Enter' });
        expect(document.activeElement).toBe(screen.getByLabelText('B, group 1'));
        fireEvent.keyDown(document.activeElement!, { key: 'a' });
        expect(document.activeElement).toBe(screen.getByLabelText('B, group 1'));
        fireEvent.click(button('Leave B out'));
        expect(screen.queryByLabelText('B, group 1')).toBeNull();
        fireEvent.click(button('Another row'));
        fireEvent.change(screen.getByLabelText('Pack 2'), { target: { value: 'Z' } });
        expect(screen.getByLabelText('Z, group 3')).toBeTruthy();
        // One that is new here is as the others, where nothing else is said.
        expect(screen.getByText('1 pack new here: what they are')).toBeTruthy();
        fireEvent.click(button(/list their packs/));
        expect(screen.getByLabelText('B, group 1')).toBeTruthy();
        fireEvent.click(button('Empty the table'));
        expect(screen.queryByLabelText('A, group 1')).toBeNull();
    });
    it('says what the server refuses, keeps what was typed, and goes on once it is kept', async () => {
        wall();
        fireEvent.click(await screen.findByRole('button', { name: /list their packs/ }));
        fireEvent.change(screen.getByLabelText('A, group 1'), { target: { value: '3,351' } });
        const rows = [{ name: 'A', soc: null, values: [3.351, null, null], resolution_v: 0.001, packs: [1] }];
        server.post.mockResolvedValueOnce(ok({ rows, wrong: [], notes: ['Read as it is.'] }));
        server.post.mockResolvedValueOnce(refused({ 'rows.0.values': 'A has 3 groups, and 1 were read.' }));
        fireEvent.change(screen.getByLabelText('Charge, %'), { target: { value: '62' } });
        fireEvent.click(button('Keep 2 packs'));
        expect((await screen.findByRole('alert')).textContent).toBe('A has 3 groups, and 1 were read.');
        expect(server.post.mock.lastCall![1].body).toMatchObject({ soc: 0.62, pack: null });
        expect(screen.getByLabelText<HTMLInputElement>('A, group 1').value).toBe('3,351');
        server.post.mockResolvedValueOnce(ok({ rows, wrong: [], notes: [] })).mockResolvedValueOnce(ok({ new: 0, ...fleet }, 201));
        fireEvent.click(button('Keep 2 packs'));
        expect(await screen.findByText('elsewhere')).toBeTruthy();
        expect(localStorage.getItem('heartwood.draft.wall.4')).toBeNull();
    });
    it('asks for no condition where amp-hours are read, and shows a value as it was read', async () => {
        wall();
        fireEvent.change(await screen.findByLabelText('What was measured'), { target: { value: 'ah' } });
        expect(screen.queryByLabelText('They had')).toBeNull();
        const file = Object.assign(new File([], 'wall.csv', { type: 'text/csv' }), { text: () => Promise.resolve('A;79;80;81') });
        server.post.mockResolvedValue(
            ok({ rows: [{ name: 'A', soc: null, values: [79, 80.5, null], resolution_v: 0.1, packs: [] }], wrong: [], notes: [] }),
        );
        fireEvent.change(screen.getByLabelText('From a file'), { target: { files: [file] } });
        expect((await screen.findByLabelText<HTMLInputElement>('A, group 2')).value).toBe('80.5');
        expect(server.post.mock.lastCall![1].body.what).toBe('ah');
        expect([shown(3.46, 0.001), shown(3.4, 0.1), shown(3.46, 0.01), shown(null, 0.1), shown(79.5, null)]).toEqual([
            '3.460',
            '3.4',
            '3.46',
            '-',
            '79.5',
        ]);
    });
});

describe('a topping on its way', () => {
    const row = { id: 9, pack: 'A', group: 2, begun_at: '2026-11-01T10:00:00Z', by: 'Maren', about_until: null } as ToppingRow;
    const plan = { full_v: 3.65, supply_a: 5, stop_from_a: null, stop_to_a: null };
    it('ends by volts and amps, and says beside its field what is no number of it', async () => {
        at('/', '/', <Toppings customer={4} packs={9} rows={[{ ...row, plan, ended_at: null } as ToppingRow]} />);
        const form = screen.getByRole('form', { name: 'End of A, group 2' });
        expect(form.textContent).toContain('to a twentieth of what the group holds');
        fireEvent.change(within(form).getByLabelText('Group at the end, V'), { target: { value: '3,65' } });
        fireEvent.change(within(form).getByLabelText('Supply at the end, A'), { target: { value: '2.9' } });
        server.post.mockResolvedValueOnce(refused({ amps: 'not so.' }));
        fireEvent.click(button('The clip is off'));
        expect(await screen.findByText(/not so/)).toBeTruthy();
        expect(server.post.mock.lastCall![1].body).toEqual({ group_v: 3.65, amps: 2.9 });
    });
    it('asks how many stand beside it, all others where nobody says', async () => {
        const ended = { ...row, plan, ended_at: '2026-11-01T11:00:00Z', ended: 'Full.', full: true, way: 'resistor', helped: null };
        at(
            '/',
            '/',
            <Toppings customer={4} packs={9} rows={[{ ...ended, joined: 'through 2 ohm', joined_at: row.begun_at } as ToppingRow]} />,
        );
        expect(screen.getByText(/through 2 ohm/)).toBeTruthy();
        fireEvent.change(screen.getByLabelText('The pack now, V'), { target: { value: '14.6' } });
        fireEvent.change(screen.getByLabelText('Its siblings now, V'), { target: { value: '13.8' } });
        server.post.mockResolvedValueOnce(ok(fleet));
        fireEvent.click(button('May it go back?'));
        await waitFor(() => expect(server.post.mock.lastCall![1].body).toEqual({ pack_v: 14.6, siblings_v: 13.8, siblings: 8 }));
    });
});

describe('somebody new', () => {
    it('is written down from what was looked for, and not where that name is there', async () => {
        server.get.mockResolvedValue(
            ok({ customers: [{ id: 1, name: 'House', phone: '', email: '', contact: '', jobs: 0, open: 0 }], more: false }),
        );
        at('/?q=house', '/', <Customers />);
        expect(await screen.findByRole('link', { name: 'House' })).toBeTruthy();
        expect(screen.queryByRole('button')).toBeNull();
        fireEvent.change(screen.getByLabelText('Find'), { target: { value: 'House on the point' } });
        server.post.mockResolvedValueOnce(ok({ id: 8, name: 'House on the point' }, 201));
        fireEvent.click(await screen.findByRole('button', { name: 'Write down House on the point as somebody new' }));
        expect(await screen.findByText('elsewhere')).toBeTruthy();
        expect(server.post.mock.lastCall![1].body).toEqual({ name: 'House on the point' });
    });
});
