import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, type Job } from '@/api/client';
import { Component as Guided } from './Guided';
import { Component as GuidedRun } from './GuidedRun';

const get = vi.hoisted(() => vi.fn());
const post = vi.hoisted(() => vi.fn());
const keep = vi.hoisted(() => vi.fn());
const dismiss = vi.hoisted(() => vi.fn());
const given = vi.hoisted(() => ({
    job: {} as unknown,
    box: { waiting: [] as unknown[], refused: [] as unknown[] },
    rights: ['probe', 'recover'],
}));
vi.mock('@/lib/bench', () => ({
    useMay: (right: string) => given.rights.includes(right),
    usePerson: () => ({ id: 7 }),
    useKeep: () => keep,
    useOutbox: () => ({ dismiss }),
    useOutboxState: () => given.box,
}));
vi.mock('@/parts/Beside', () => ({ Beside: ({ children }: { children: React.ReactNode }) => <div>{children}</div> }));
vi.mock('react-router', async (original) => ({ ...(await original<object>()), useOutletContext: () => given.job }));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: { GET: get, POST: post },
    unwrap: (answer: Promise<unknown>) => answer,
}));

const field = (name: string, kind: string, more: object = {}) => ({
    name,
    label: name,
    kind,
    optional: false,
    options: [],
    value: null,
    why: '',
    ...more,
});
const step = (code: string, kind: string, more: object = {}) => ({
    code,
    kind,
    text: `Step ${code}`,
    fields: [],
    minutes: 0,
    may: false,
    room: '',
    door: '',
    state: 'later',
    entry: null,
    rows: [],
    due: null,
    open: false,
    ...more,
});
const run = (steps: object[], more: object = {}) => ({
    id: 4,
    job_id: 3,
    code: 'load-step',
    title: 'Read under load',
    where: null,
    revision: 1,
    started_at: '2026-11-20T10:00:00Z',
    by: 'Ann',
    next: 'Read',
    waits_until: null,
    ended_at: null,
    outcome: null,
    left: '',
    why: 'Tells a weak one.',
    watch: ['No group under 2.80 V.'],
    needs: [],
    steps,
    complete: false,
    preview: null,
    trial: null,
    ...more,
});
const job = (more: object = {}) =>
    ({ id: 3, revision: 1, status: 'open', stage: 'verdict', verdict: null, proof: [], guided: [], ...more }) as unknown as Job;
const Where = () => <p data-testid="at">{useLocation().pathname + useLocation().search}</p>;

function show(at: string) {
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={[at]}>
                <Where />
                <Routes>
                    <Route path="/jobs/3/guided" element={<Guided />} />
                    <Route path="/jobs/3/guided/:run" element={<GuidedRun />} />
                    <Route path="*" element={null} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
}

beforeEach(() => {
    for (const f of [get, post, keep, dismiss]) f.mockReset();
    keep.mockResolvedValue(true);
    Object.assign(given, { job: job(), box: { waiting: [], refused: [] }, rights: ['probe', 'recover'] });
    localStorage.clear();
});
afterEach(cleanup);

const entry = (values: object, more: object = {}) => ({ id: 'e1', at: '2026-11-20T10:05:00Z', by: 'Ann', found: '', values, ...more });

describe('a guided run', () => {
    const asking = step('at-60', 'read', {
        state: 'next',
        open: true,
        may: true,
        fields: [
            field('volts', 'volts'),
            field('amps', 'number', { value: '5' }),
            field('sure', 'yes-no'),
            field('seen', 'marks', { options: ['cc', 'cv'], optional: true }),
        ],
    });

    it('says what it is, what is watched meanwhile and what was done, and keeps what is typed through the bench', async () => {
        get.mockResolvedValue(
            run([step('before', 'read', { state: 'done', fields: [field('volts', 'volts')], entry: entry({ volts: '3.8 3.8' }) }), asking]),
        );
        show('/jobs/3/guided/4');
        expect(await screen.findByText('No group under 2.80 V.')).toBeTruthy();
        expect(screen.getByText(/3\.8 3\.8, .*Ann/)).toBeTruthy();
        const form = screen.getByRole('form', { name: 'Step at-60' });
        // Nothing goes anywhere while something is missing, and each field says so.
        fireEvent.click(within(form).getByRole('button', { name: 'Keep the reading' }));
        expect(await within(form).findAllByText(/This is needed here/)).toHaveLength(2);
        expect(keep).not.toHaveBeenCalled();
        fireEvent.change(within(form).getByLabelText('volts'), { target: { value: '3.7 3.6' } });
        fireEvent.change(within(form).getByLabelText('sure'), { target: { value: 'no' } });
        fireEvent.click(within(form).getByLabelText('cv'));
        fireEvent.click(within(form).getByRole('button', { name: 'Keep the reading' }));
        await waitFor(() =>
            expect(keep).toHaveBeenCalledWith({
                kind: 'guided',
                job: 3,
                data: { run: 4, step: 'at-60', values: { volts: '3.7 3.6', amps: 5, sure: false, seen: ['cv'] } },
            }),
        );
    });

    it('leaves out what may be, and takes the last entry back', async () => {
        get.mockResolvedValue(run([step('before', 'read', { state: 'done', entry: entry({}, { id: 'last' }) }), asking]));
        show('/jobs/3/guided/4');
        fireEvent.click(await screen.findByRole('button', { name: 'Leave it out' }));
        await waitFor(() => expect(keep).toHaveBeenLastCalledWith({ kind: 'guided', job: 3, data: { run: 4, step: 'at-60', left: true } }));
        fireEvent.click(screen.getByRole('button', { name: 'Take back the last entry' }));
        await waitFor(() => expect(keep).toHaveBeenLastCalledWith({ kind: 'guided', job: 3, data: { run: 4, withdraws: 'last' } }));
    });

    it('shows a pasted column as a row', async () => {
        get.mockResolvedValue(run([asking]));
        show('/jobs/3/guided/4');
        const volts = await screen.findByLabelText('volts');
        fireEvent.paste(volts, { clipboardData: { getData: () => '3.81\n3.82\r\n3.83\n' } });
        expect((volts as HTMLInputElement).value).toBe('3.81 3.82 3.83');
    });

    it('says that an entry is on its way, and beside its field what was refused of it', async () => {
        given.box = { waiting: [{ kind: 'guided', data: { run: 4, step: 'at-60' } }], refused: [] };
        get.mockResolvedValue(run([asking]));
        show('/jobs/3/guided/4');
        expect(await screen.findByText(/Kept on this bench/)).toBeTruthy();
        expect(screen.getByRole('button', { name: 'Keep the reading' })).toHaveProperty('disabled', true);
        cleanup();
        const back = {
            kind: 'guided',
            data: { run: 4, step: 'at-60' },
            errors: { volts: 'One for each group.', step: 'It has moved on.' },
        };
        given.box = { waiting: [], refused: [back] };
        show('/jobs/3/guided/4');
        expect(await screen.findByText(/One for each group/)).toBeTruthy();
        expect(screen.getByRole('alert').textContent).toBe('It has moved on.');
        fireEvent.click(screen.getByRole('button', { name: 'Leave it out' }));
        await waitFor(() => expect(dismiss).toHaveBeenCalledWith(back));
    });

    it('counts a wait down beside what follows it, and keeps the rows of a watch in sight', async () => {
        get.mockResolvedValue(
            run([
                step('rest', 'wait', { state: 'next', due: new Date(Date.now() + 90_000).toISOString() }),
                step('load', 'do', { open: true }),
                step('watch', 'log', { rows: [entry({ groups_v: '4.0 4.1', current_a: 0.5, hottest_c: 24 })] }),
            ]),
        );
        show('/jobs/3/guided/4');
        expect(await screen.findByText(/^1 min (29|30) s$/)).toBeTruthy();
        expect(screen.getByRole('button', { name: 'Done' })).toBeTruthy();
        expect(screen.getByRole('list', { name: 'Rows' }).textContent).toContain('4.0 4.1, 0.5 A, 24 degC');
    });

    it('shows what it came to, and keeps it in a touch', async () => {
        const came = { word: 'fail', text: 'Group 3 sags', reasons: ['200 mV'] };
        get.mockResolvedValue(run([step('after', 'read', { state: 'done', entry: entry({}) })], { complete: true, preview: came }));
        post.mockResolvedValue(run([], { ended_at: '2026-11-20T11:00:00Z', outcome: came }));
        show('/jobs/3/guided/4');
        const region = await screen.findByRole('region', { name: 'What it came to' });
        expect(region.textContent).toContain('failed: Group 3 sags.');
        get.mockResolvedValue(run([], { ended_at: '2026-11-20T11:00:00Z', outcome: came }));
        fireEvent.click(within(region).getByRole('button', { name: 'Keep what it came to' }));
        expect(await screen.findByText(/On the record/)).toBeTruthy();
        expect(post.mock.lastCall![1].body).toEqual({});
        expect(screen.getByRole('link', { name: 'See the verdict' })).toBeTruthy();
        expect(screen.queryByRole('button', { name: 'Leave this run' })).toBeNull();
    });

    it('is left for a reason alone', async () => {
        get.mockImplementation((path: string) =>
            Promise.resolve(path === '/api/guided/{guidedRun}' ? run([asking]) : { offered: [], runs: [] }),
        );
        post.mockResolvedValue(run([], { ended_at: '2026-11-20T11:00:00Z', left: 'No second supply' }));
        show('/jobs/3/guided/4');
        fireEvent.click(await screen.findByRole('button', { name: 'Leave this run' }));
        fireEvent.change(await screen.findByLabelText('Why it is left'), { target: { value: 'No second supply' } });
        fireEvent.click(screen.getByRole('button', { name: 'Leave it' }));
        await waitFor(() => expect(post.mock.lastCall![1].body).toEqual({ leave: 'No second supply' }));
        await waitFor(() => expect(screen.getByTestId('at').textContent).toBe('/jobs/3/guided'));
    });

    it('lets nobody write who may not, nor in a job that is closed', async () => {
        given.rights = [];
        get.mockResolvedValue(run([asking]));
        show('/jobs/3/guided/4');
        expect(await screen.findByText('Step at-60')).toBeTruthy();
        expect(screen.queryByRole('form')).toBeNull();
        cleanup();
        given.rights = ['probe'];
        given.job = job({ status: 'returned' });
        show('/jobs/3/guided/4');
        expect(await screen.findByText('Step at-60')).toBeTruthy();
        expect(screen.queryByRole('form')).toBeNull();
    });

    it('tells of a charger what was tried, how it is weighed, and where its sheet is', async () => {
        get.mockResolvedValue(
            run([], {
                trial: {
                    coverage: [
                        { what: 'mode "slow"', cycles: 2 },
                        { what: 'a whole night', cycles: 0 },
                    ],
                    odds: [
                        { cause: 'mode-slipped', title: 'the mode slipped', share: 0.96, why: 'in 1 of 3' },
                        { cause: 'mechanical', title: 'a blow', share: 0.001, why: '' },
                    ],
                    sheet: [],
                },
            }),
        );
        show('/jobs/3/guided/4');
        const tried = await screen.findByRole('region', { name: 'What was tried' });
        expect(tried.textContent).toContain('a whole nightnot tried');
        expect(tried.textContent).toContain('the mode slipped96 %');
        expect(tried.textContent).toContain('under 1 %');
        expect(within(tried).getByRole('link').getAttribute('href')).toBe('/api/guided/4/sheet.pdf');
    });
});

describe('the list of guided runs', () => {
    const offer = (code: string, more: object = {}) => ({
        code,
        title: `Do ${code}`,
        why: 'Because.',
        scope: 'pack',
        charges: false,
        needs: [],
        tests: [],
        proves: [],
        ...more,
    });

    it('puts first what was asked for, shows what is missing with the door that mends it, and begins', async () => {
        const list = {
            offered: [
                offer('hold'),
                offer('full-charge', {
                    needs: [{ text: 'Group 3 is under 3.00 V.', met: false, room: 'supply?do=recover', door: 'Recover it' }],
                }),
                offer('capacity', { scope: 'pack-or-group' }),
            ],
            runs: [],
        };
        get.mockImplementation((path: string) => Promise.resolve(path === '/api/guided/{guidedRun}' ? run([], { id: 9 }) : list));
        post.mockResolvedValue(run([], { id: 9 }));
        show('/jobs/3/guided?start=capacity&group=2');
        const rows = within(await screen.findByRole('list', { name: 'What can be begun' })).getAllByRole('listitem');
        expect(rows.map((r) => r.textContent!.slice(0, 11))).toEqual(['Do capacity', 'Do holdBeca', 'Do full-cha']);
        expect(within(rows[2]!).queryByRole('button')).toBeNull();
        expect(within(rows[2]!).getByRole('link', { name: 'Recover it' }).getAttribute('href')).toBe('/jobs/3/supply?do=recover');
        expect(within(rows[0]!).getByLabelText('Group, or the pack')).toHaveProperty('value', '2');
        fireEvent.click(within(rows[0]!).getByRole('button', { name: 'Begin' }));
        await waitFor(() => expect(screen.getByTestId('at').textContent).toBe('/jobs/3/guided/9'));
        expect(post.mock.lastCall![1].body).toEqual({ code: 'capacity', where: { group: 2 } });
    });

    it('says why one was refused, and who may begin what charges', async () => {
        given.rights = ['probe'];
        get.mockResolvedValue({ offered: [offer('hold'), offer('refill', { charges: true })], runs: [] });
        post.mockRejectedValue(new ApiError(409, 'gate', 'The pack is on hold.'));
        show('/jobs/3/guided');
        const rows = within(await screen.findByRole('list', { name: 'What can be begun' })).getAllByRole('listitem');
        expect(rows[1]!.textContent).toContain('A technician or a senior begins it');
        expect(within(rows[1]!).queryByRole('button')).toBeNull();
        fireEvent.click(within(rows[0]!).getByRole('button', { name: 'Begin' }));
        expect((await screen.findByRole('alert')).textContent).toBe('The pack is on hold.');
    });

    it('goes on with what is under way, and tells what others came to', async () => {
        const rows = [
            run([], { id: 5, next: 'Read again', waits_until: '2027-01-01T10:00:00Z' }),
            run([], { id: 6, ended_at: '2026-11-20T11:00:00Z', outcome: { word: 'pass', text: 'Even', reasons: [] } }),
            run([], { id: 7, ended_at: '2026-11-20T11:00:00Z', left: 'No time' }),
        ];
        get.mockResolvedValue({ offered: [], runs: rows });
        show('/jobs/3/guided');
        const under = await screen.findByRole('list', { name: 'Under way' });
        expect(under.textContent).toContain('Waits until');
        expect(within(under).getByRole('link', { name: 'Go on' }).getAttribute('href')).toBe('/jobs/3/guided/5');
        const came = screen.getByRole('region', { name: 'What they came to' });
        expect(came.textContent).toContain('passed, Even');
        expect(came.textContent).toContain('left: No time');
    });
});
