// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post },
}));
vi.mock('@/lib/bench', async (real) => ({ ...(await real<typeof import('@/lib/bench')>()), useMay: () => true }));
import { WhyBack } from '@/routes/Report';
import { EnterReadings } from './EnterReadings';
import { Elsewhere, Jobs, Made, Resistance } from './Life';
import { Component as Messages } from './Messages';
import { Component as Packs } from './Packs';
import { Readings } from './Passport';
import type { Passport } from './write';

const show = (what: React.ReactNode) =>
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter>{what}</MemoryRouter>
        </QueryClientProvider>,
    );
const ok = (data: unknown) => ({ data, response: new Response() });
beforeEach(() => {
    server.get.mockReset();
    server.post.mockReset();
});
afterEach(cleanup);

const job = {
    id: 4,
    number: 14,
    name: 'Shears',
    status: 'returned',
    stage: 'report',
    opened_at: '2026-01-02T10:00:00Z',
    closed_at: '2026-01-09T10:00:00Z',
    revision: 2,
    complaint: '',
    found: 'Group 3 is dead',
    truth: 'a group is dead',
    did: 'Replace group 3',
    proof: { passed: 9, failed: 0, missing: 2, at: '2026-01-09T09:00:00Z' },
    promise: { months: 6, until: '2026-07-09T10:00:00Z', excludes: ['use'], words: '', runs: true },
    comeback: { words: 'our own work', under_promise: true },
};
const pack = {
    id: 7,
    series: 4,
    code: 'ABCD-EFGH',
    serial: '',
    jobs: [job],
    cells: [{ group: 3, codes: ['Q-1', 'Q-2'], models: ['GQ 21'] }],
    boards: [{ at: '2026-01-09T10:00:00Z', number: 14 }],
    board: { discharge_limit_a: 40 },
    resistance: [
        { at: '2026-01-09T10:00:00Z', number: 14, groups_mohm: [12, 13, null, 12.5], middle_mohm: 12.5 },
        { at: '2026-09-09T10:00:00Z', number: 20, groups_mohm: [14, 15, 14.5, 14], middle_mohm: 14.2 },
    ],
    photos: [{ id: 'p1', job_id: 4, about: 'label', note: '', at: '2026-01-02T10:00:00Z' }],
    display_photos: [{ id: 'd1', reading: 'r7', at: '2026-02-02T10:00:00Z' }],
    imports: [
        {
            id: 1,
            from: 'Lower Wharf Repairs',
            at: '2026-03-01T10:00:00Z',
            written_at: '2026-02-28T10:00:00Z',
            doubts: ['What Lower Wharf Repairs measured, found and did was not seen here.'],
            readings: 3,
            capacity: [{ at: '2025-01-01T10:00:00Z', ah: 8.2 }],
            jobs: [{ number: 2, opened_at: '2025-01-01T10:00:00Z', status: 'returned', did: 'Balance the groups', found: [], cells: 8 }],
        },
    ],
} as unknown as Passport;

describe('the life of a pack', () => {
    it('says of each job what was found, done, proved and promised, and why it came back', () => {
        show(<Jobs pack={pack} />);
        const row = screen.getByRole('listitem').textContent;
        for (const part of [
            'Group 3 is dead',
            'Replace group 3',
            '9 passed, 2 not tried',
            'our own work',
            'fell under the promise',
            '6 months',
        ])
            expect(row).toContain(part);
        expect(screen.getByRole('link', { name: /It came back/ }).getAttribute('href')).toBe('/intake?serial=ABCD-EFGH');
    });
    it('shows the photo of a display beside the reading it was taken with, and beside no other', () => {
        const read = {
            at: '2026-02-02T10:00:00Z',
            source: 'owner',
            by: null,
            soc: null,
            pack_v: 15.2,
            groups_v: null,
            topped_up: false,
            signs: [],
            answer: null,
            taken_back: null,
        };
        show(
            <Readings
                pack={
                    {
                        ...pack,
                        readings: [
                            { ...read, id: 'r6' },
                            { ...read, id: 'r7' },
                        ],
                    } as unknown as Passport
                }
            />,
        );
        const [without, beside] = screen.getAllByRole('listitem');
        expect(within(without!).queryByRole('img')).toBeNull();
        expect(
            within(beside!)
                .getByRole('link', { name: /display/ })
                .getAttribute('href'),
        ).toBe('/api/packs/7/displays/d1/whole');
    });
    it('shows what it is made of, and what came from elsewhere with its doubts', () => {
        show(
            <>
                <Made pack={pack} />
                <Elsewhere pack={pack} />
            </>,
        );
        expect(screen.getByText('Q-1 Q-2')).toBeTruthy();
        expect(screen.getByText(/40 A out/).textContent).toContain('job 14');
        expect(screen.getByRole('img', { name: /^label/ }).getAttribute('src')).toBe('/api/photos/p1/small');
        expect(screen.getByRole('img', { name: /^display/ }).getAttribute('src')).toBe('/api/packs/7/displays/d1/small');
        expect(within(screen.getByRole('list', { name: 'Not vouched for here' })).getByRole('listitem').textContent).toContain(
            'not seen here',
        );
        expect(screen.getByText(/8 cells by code/)).toBeTruthy();
    });
    it('draws resistance over the years, and only says it where there is one', () => {
        show(<Resistance rows={pack.resistance} />);
        expect(screen.getByRole('img').getAttribute('aria-label')).toContain('14.2 mΩ');
        cleanup();
        show(<Resistance rows={pack.resistance.slice(0, 1)} />);
        expect(screen.queryByRole('img')).toBeNull();
        expect(screen.getByText(/12.5 mΩ/)).toBeTruthy();
    });
});

describe('readings of a pack in service', () => {
    const read = { id: 'r1', at: '2026-03-04T12:00:00Z', condition: 'rest', source: 'bench', groups_v: [3.8, 3.8, 3.79, 3.8] };
    it('keeps one line as the server reads it, and says why it cannot', async () => {
        server.post.mockResolvedValueOnce(ok({ readings: [], wrong: ['Line 1: "x" is no voltage of a group.'], notes: [] }));
        show(<EnterReadings pack={pack} />);
        const field = screen.getByLabelText('Volts of its groups, from B-');
        fireEvent.change(field, { target: { value: '3.8 x' } });
        fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
        expect(await screen.findByText(/is no voltage of a group/)).toBeTruthy();
        server.post.mockResolvedValueOnce(ok({ readings: [read], wrong: [], notes: [] })).mockResolvedValueOnce(ok(pack));
        fireEvent.change(field, { target: { value: '3.8 3.8 3.79 3.8' } });
        fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
        await waitFor(() => expect(server.post).toHaveBeenCalledTimes(3));
        expect(server.post.mock.calls[2]![1].body.readings[0].groups_v).toEqual([3.8, 3.8, 3.79, 3.8]);
    });
    it('shows what was read out of a table before any of it is kept', async () => {
        const found = {
            readings: [read, { ...read, id: 'r2', groups_v: undefined, highest_v: 3.8, lowest_v: 3.7 }],
            wrong: [],
            notes: ['Read as a table.'],
        };
        server.post.mockResolvedValueOnce(ok(found)).mockResolvedValueOnce(ok(pack));
        show(<EnterReadings pack={pack} />);
        fireEvent.change(screen.getByLabelText(/Lines with a date/), { target: { value: 'date,g1' } });
        fireEvent.click(screen.getByRole('button', { name: 'Look what is in it', hidden: true }));
        expect(await screen.findByText('Read as a table.')).toBeTruthy();
        expect(screen.getByText('3.800 to 3.700')).toBeTruthy();
        expect(server.post).toHaveBeenCalledTimes(1);
        fireEvent.click(screen.getByRole('button', { name: 'Keep all 2', hidden: true }));
        await waitFor(() => expect(server.post).toHaveBeenCalledTimes(2));
    });
});

describe('why it came back', () => {
    it('is named by who closes the job; proposed, with whether the promise covers it', () => {
        const chosen = vi.fn();
        const came = {
            job_id: 4,
            number: 14,
            returned_at: '2026-01-09T10:00:00Z',
            days: 1,
            promise: null,
            suggests: { cause: 'use' as const, words: 'how it was used', why: 'it was dropped' },
            causes: [
                { cause: 'our-work' as const, words: 'our own work', under_promise: true },
                { cause: 'use' as const, words: 'how it was used', under_promise: false },
            ],
            cause: null,
        };
        show(<WhyBack came={came} cause="" choose={chosen} error="Say why it came back." />);
        expect(screen.getByRole('alert').textContent).toContain('Say why');
        expect(screen.getByText(/after 1 day\. Why/)).toBeTruthy();
        expect(screen.getByText('it was dropped')).toBeTruthy();
        expect(screen.getAllByRole('radio').every((r) => !(r as HTMLInputElement).checked)).toBe(true);
        fireEvent.click(screen.getByRole('radio', { name: /^our own work/ }));
        expect(chosen).toHaveBeenCalledWith('our-work');
    });
});

describe('messages to owners', () => {
    const message = {
        id: 3,
        pack_id: 7,
        pack: 'Shears',
        customer_id: 2,
        customer: 'Orchard co-op',
        phone: '0151',
        kind: 'overdue',
        title: 'A reading is overdue',
        address: 'a@b.example',
        subject: 'Shears was to be read',
        body: 'Hello',
        state: 'prepared',
        error: '',
        agreed: null,
        prepared_at: '2026-03-01T10:00:00Z',
        done_at: null,
        by: null,
    };
    const all = (m: object, more = {}) =>
        ok({ open: [{ ...message, ...m }], done: [], mail: true, simulated: false, secret: false, kinds: [], ...more });
    it('sends to nobody who has not agreed', async () => {
        server.get.mockResolvedValue(all({}));
        server.post.mockResolvedValue(all({ agreed: true }));
        show(<Messages />);
        expect(await screen.findByText(/Nobody asked them yet/)).toBeTruthy();
        expect(screen.queryByRole('button', { name: 'Send it' })).toBeNull();
        fireEvent.change(screen.getByLabelText('How they agreed'), { target: { value: 'phone' } });
        fireEvent.click(screen.getByRole('button', { name: 'They agree' }));
        expect(await screen.findByRole('button', { name: 'Send it' })).toBeTruthy();
        expect(server.post.mock.calls[0]![1].body).toEqual({ kind: 'overdue', agreed: true, how: 'phone' });
    });
    it('sends nothing without an address or a mail server, and asks about what broke', async () => {
        server.get.mockResolvedValue(all({ agreed: true, address: '' }, { mail: false }));
        show(<Messages />);
        expect(((await screen.findByRole('button', { name: 'Send it' })) as HTMLButtonElement).disabled).toBe(true);
        expect(screen.getByText(/copied by hand\./)).toBeTruthy();
        cleanup();
        server.get.mockResolvedValue(all({ agreed: true, state: 'sending' }));
        show(<Messages />);
        expect(await screen.findByText(/look whether it came/)).toBeTruthy();
    });
});

describe('packs', () => {
    it('imports a passport, and names each place that is wrong', async () => {
        server.get.mockResolvedValue(ok({ packs: [], more: false }));
        const refused = { code: 'invalid-record', message: 'no', fields: { '/pack/spec/series': 'is missing' }, request: '' };
        server.post.mockResolvedValue({ error: refused, response: new Response(null, { status: 422 }) });
        show(<Packs />);
        fireEvent.click(await screen.findByRole('button', { name: 'Import a passport' }));
        fireEvent.change(screen.getByLabelText('Whose it is now'), { target: { value: 'Orchard' } });
        const file = { text: () => Promise.resolve('{}') };
        fireEvent.change(screen.getByLabelText('File'), { target: { files: [file] } });
        const button = screen.getByRole('button', { name: 'Import it' }) as HTMLButtonElement;
        await waitFor(() => expect(button.disabled).toBe(false));
        fireEvent.click(button);
        expect((await screen.findByRole('alert')).textContent).toContain('/pack/spec/series');
        expect(server.post.mock.calls[0]![1].body).toEqual({ customer: 'Orchard', passport: '{}' });
    });
});
