import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError } from '@/api/client';
import { Component as Debrief } from './Debrief';
import { Component as Frame } from './Frame';
import { Component as Intake } from './Intake';
import { Component as Paper } from './Paper';
import { Component as Plan } from './Plan';
import { Component as Probe } from './Probe';
import { Component as Round } from './Round';
import { Component as Training } from './Training';
import { Component as Verdict } from './Verdict';
import { Component as Work } from './Work';

const get = vi.hoisted(() => vi.fn());
const post = vi.hoisted(() => vi.fn());
const told = vi.hoisted(() => vi.fn());
const given = vi.hoisted(() => ({ rights: ['train'] }));
vi.mock('@/lib/bench', () => ({
    useMay: (right: string) => given.rights.includes(right),
    usePerson: () => ({ id: 7, workshop: { currency: 'EUR' } }),
}));
vi.mock('sonner', () => ({ toast: { error: told } }));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: { GET: get, POST: post },
    unwrap: (answer: Promise<unknown>) => answer,
}));

const ID = '01a22ecc-1a77-77a5-9da0-61e57e6e0696';
type Doc = Record<string, unknown>;
const round = (more: Doc = {}): Doc => ({
    id: ID,
    level: 2,
    case: null,
    started_at: '2026-11-20T10:00:00Z',
    brief: {
        pack: { name: 'Net winch 7', chemistry: 'nmc', series: 3, parallel: 2, cell: { capacity_ah: 2.5 }, bms: { low_cut_v: 2.8 } },
        symptoms: ['dead-output'],
        says: 'It does nothing at all.',
    },
    seconds: 134,
    plugged: true,
    meter: { percent: 0.5, counts: 2 },
    full_v: 12.6,
    check: null,
    acts: [],
    sets: [],
    most_wait_h: 720,
    work: null,
    over: null,
    ...more,
});
const read = (k: number, v: number) => ({
    act: { do: 'read', from: `T${k - 1}`, to: `T${k}` },
    seconds: 14,
    result: { v, resolution_v: 0.001 },
});
const looked = { act: { do: 'look' }, seconds: 120, result: { swollen: false } };
const over = (more: Doc = {}): Doc => ({
    by: 'answer',
    outcome: 'right',
    ended_at: '2026-11-20T10:20:00Z',
    unsafe: null,
    answer: { findings: [], nothing: null },
    score: {
        safe: true,
        right: true,
        place_right: true,
        brier: 0.04,
        best_brier: 0.01,
        came_ah: 1.2,
        seconds: 1800,
        best_seconds: 90_000,
        choice: { usable_ah: 4.6, cost: 88.5, minutes: 75 },
        best_choice: { title: 'Replace group 2', usable_ah: 4.7, cost: 80, minutes: 75 },
        outturn: null,
        took: { readings: 6, tests: 1 },
        best_took: { readings: 24, tests: 3 },
        debrief: ['It was: Group 2 is dead.', 'The best line took 1.0 days.'],
    },
    truth: [{ code: 'group.dead', where: { group: 2 }, title: 'Group 2 is dead' }],
    said: [{ code: 'group.dead', where: { group: 2 }, title: 'Group 2 is dead', probability: 0.8 }],
    chose: 'Replace group 2',
    left: [],
    seed: 41,
    ...more,
});
const share = (level: number, right: number, rounds: number) => ({ level, right, rounds, low: 0.2, high: 0.9 });
const progress = (more: Doc = {}): Doc => ({
    accuracy: null,
    levels: [],
    calibration: [],
    gap: null,
    brier: null,
    unsafe: 0,
    safe_in_a_row: 0,
    pace: null,
    carried: null,
    ...more,
});
const right = (name: string, more: Doc = {}) => ({ right: name, title: `do ${name}`, has: false, ready: false, missing: [], ...more });
const home = (more: Doc = {}): Doc => ({
    level: 2,
    open: null,
    sitting: null,
    progress: progress(),
    rights: [right('recover', { has: true })],
    kinds: [],
    cases: [],
    last: [],
    ...more,
});
const FAULTS = [
    { code: 'group.dead', title: 'Group is dead', place: 'group', describes: false },
    { code: 'joint.high-resistance', title: 'The joint has high resistance', place: 'joint', describes: false },
    { code: 'bms.latched', title: 'The board is latched', place: 'pack', describes: false },
    { code: 'pack.spread', title: 'Groups too far apart', place: 'pack', describes: true },
];
const CHOICES = [
    { action: 'replace-group', title: 'Replace the group', minutes: 75, at: 'group', by_hand: true, new_cells: true, ends: false },
    { action: 'clean-joint', title: 'Clean the joint', minutes: 20, at: 'joint', by_hand: true, new_cells: false, ends: false },
    { action: 'wake-board', title: 'Wake the board', minutes: 10, at: null, by_hand: false, new_cells: false, ends: false },
    { action: 'recycle', title: 'Recycle it', minutes: 10, at: null, by_hand: false, new_cells: false, ends: true },
];
const check = (title: string, status: string, found: string) => ({ code: title, title, status, found, limit: 'as asked' });
const work = (more: Doc = {}): Doc => ({
    after: 1,
    chose: 'Replace group 2',
    action: 'replace-group',
    where: [{ group: 2 }],
    steps: [{ title: 'Weld it', caution: 'No heat on cells.' }],
    most_level_h: 24,
    isolated: false,
    checks: [check('Full charge ends by taper', 'passed', 'tapered off'), check('Hold test', 'missing', 'not read again')],
    ...more,
});

let answers: Record<string, unknown>;
const Where = () => <p data-testid="at">{useLocation().pathname + useLocation().search}</p>;
const at = () => screen.getByTestId('at').textContent;

function show(path: string) {
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter initialEntries={[path]}>
                <Where />
                <Routes>
                    <Route path="/training" element={<Frame />}>
                        <Route index element={<Training />} />
                        <Route path="paper" element={<Paper />} />
                        <Route path=":round" element={<Round />}>
                            <Route path="intake" element={<Intake />} />
                            <Route path="probe" element={<Probe />} />
                            <Route path="verdict" element={<Verdict />} />
                            <Route path="plan" element={<Plan />} />
                            <Route path="carry-out" element={<Work />} />
                            <Route path="debrief" element={<Debrief />} />
                        </Route>
                    </Route>
                    <Route path="*" element={null} />
                </Routes>
            </MemoryRouter>
        </QueryClientProvider>,
    );
}

beforeEach(() => {
    for (const f of [get, post, told]) f.mockReset();
    given.rights = ['train'];
    localStorage.clear();
    answers = { '/api/training/rounds/{trainingRound}': round(), '/api/faults': FAULTS, '/api/training/choices': CHOICES };
    get.mockImplementation((path: string) => Promise.resolve(answers[path]));
});
afterEach(cleanup);

/** What the server answers to the next act. */
const answered = (r: Doc) => post.mockResolvedValueOnce(r);
const sent = (n: number) => (post.mock.calls[n]![1] as { body: Doc }).body;

describe('the frame', () => {
    it('has the word on the page and in the title, and takes it away again', async () => {
        document.title = 'Heartwood';
        answers['/api/training'] = home();
        show('/training');
        expect(await screen.findByText('TRAINING')).toBeTruthy();
        expect(document.title).toBe('Training · Heartwood');
        cleanup();
        expect(document.title).toBe('Heartwood');
    });
});

describe('the room', () => {
    it('offers a level and begins a round of it, or one of a case', async () => {
        answers['/api/training'] = home({ cases: [{ number: 3, level: 4, played: 2 }] });
        show('/training');
        expect(await screen.findByText('No round played yet: begin one, and how you get on stands here.')).toBeTruthy();
        expect(screen.getByRole<HTMLInputElement>('radio', { name: /^2 Wider.*offered to you/ }).checked).toBe(true);
        fireEvent.click(screen.getByRole('radio', { name: /^4 Mixed/ }));
        expect(screen.getByRole('link', { name: 'A round on paper' }).getAttribute('href')).toBe('/training/paper?level=4');
        answered(round({ level: 4 }));
        fireEvent.click(screen.getByRole('button', { name: 'Begin a round' }));
        await waitFor(() => expect(at()).toBe(`/training/${ID}/intake`));
        expect(sent(0)).toEqual({ level: 4, case: null });
        cleanup();
        show('/training');
        answered(round({ case: 3, acts: [looked] }));
        fireEvent.click(await screen.findByRole('button', { name: /^Case 3, level 4.*played 2 times/ }));
        await waitFor(() => expect(at()).toBe(`/training/${ID}/probe`));
        expect(sent(1)).toEqual({ level: null, case: 3 });
    });

    it('goes on with a round that is under way, and says when a sitting is over', async () => {
        answers['/api/training'] = home({ open: ID });
        show('/training');
        expect((await screen.findByRole('link', { name: 'Go on with it' })).getAttribute('href')).toBe(`/training/${ID}`);
        expect(screen.queryByRole('button', { name: /Begin/ })).toBeNull();
        cleanup();
        const sitting = { began_at: '2026-11-20T10:00:00Z', ends_at: '2026-11-20T10:15:00Z', rounds: 3, right: 2, unsafe: 1 };
        answers['/api/training'] = home({ sitting: { ...sitting, over: true } });
        show('/training');
        expect(await screen.findByText(/is over: 3 rounds, 2 right, 1 ended by an unsafe act/)).toBeTruthy();
        expect(screen.getByRole('button', { name: 'Begin another sitting' })).toBeTruthy();
        cleanup();
        answers['/api/training'] = home({ sitting: { ...sitting, over: false } });
        show('/training');
        expect(await screen.findByText(/This sitting ends at .*3 rounds so far, 2 right/)).toBeTruthy();
    });

    it('tells how somebody gets on, what comes back when, and what was played', async () => {
        answers['/api/training'] = home({
            progress: progress({
                accuracy: share(0, 4, 6),
                levels: [share(1, 3, 4), share(2, 1, 2)],
                unsafe: 2,
                safe_in_a_row: 3,
                pace: 1.4,
                gap: 0.23,
            }),
            rights: [
                right('recover', { missing: ['6 more rounds.', 'An unsafe act 4 rounds ago.'] }),
                right('decide', { missing: ['An unsafe act 4 rounds ago.'] }),
                right('sign-off', { ready: true }),
            ],
            kinds: [
                { title: 'Group is dead', recall: 0.31, due_at: '2020-01-01T00:00:00Z', seen: 4, missed: 2 },
                { title: 'Nothing was wrong', recall: 0.5, due_at: null, seen: 1, missed: 0 },
            ],
            last: [{ id: ID, level: 2, case: 1, ended_at: '2026-11-20T10:00:00Z', outcome: 'place-wrong', kinds: ['Group is dead'] }],
        });
        show('/training');
        const on = await screen.findByRole('region', { name: 'How you get on' });
        expect(within(on).getByText(/2 rounds ended by an unsafe act; 3 since/)).toBeTruthy();
        expect(on.textContent).toContain('Level 1: 3 of 4 right (20 % to 90 %)');
        expect(on.textContent).toContain('1.4 times the tool');
        expect(on.textContent).toContain('is off by 23 in a hundred');
        // What is lacking for each of them is told once.
        expect(within(on).getAllByText(/An unsafe act 4 rounds ago/)).toHaveLength(1);
        expect(on.textContent).toContain('to do recover: 6 more rounds.');
        expect(on.textContent).toContain('to do decide: only what is said below.');
        expect(on.textContent).toContain('✓ ready to do sign-off');
        const kinds = screen.getByRole('region', { name: 'What comes back' });
        expect(within(kinds).getAllByRole('row')[1]!.textContent).toBe('Group is dead31 %2 of 4now');
        expect(within(kinds).getAllByRole('row')[2]!.textContent).toContain('by chance');
        const played = within(screen.getByRole('region', { name: 'Rounds played' })).getByRole('link');
        expect(played.getAttribute('href')).toBe(`/training/${ID}/debrief`);
        expect(played.textContent).toContain('The right fault, at another place');
        expect(screen.queryByRole('region', { name: 'Everybody' })).toBeNull();
    });

    it('shows the owner everybody', async () => {
        given.rights = ['train', 'people'];
        answers['/api/training'] = home();
        answers['/api/training/people'] = [
            {
                id: 1,
                name: 'Ann',
                role: 'trainee',
                level: 1,
                progress: progress(),
                rights: [right('recover', { missing: ['12 more rounds.'] })],
            },
            {
                id: 2,
                name: 'Bo',
                role: 'senior',
                level: 3,
                progress: progress({ accuracy: share(3, 9, 10), gap: 0.07 }),
                rights: [right('recover', { has: true })],
            },
        ];
        show('/training');
        const all = await screen.findByRole('region', { name: 'Everybody' });
        const rows = within(all).getAllByRole('row');
        expect(rows[1]!.textContent).toContain('no round yet');
        expect(rows[1]!.textContent).toContain('to do recover: 12 more rounds.');
        expect(rows[2]!.textContent).toContain('9 of 10');
        expect(rows[2]!.textContent).toContain('may do recover');
        expect(within(all).getByRole('link', { name: 'Give a right by hand' }).getAttribute('href')).toBe('/people');
    });
});

describe('a round', () => {
    it('is met by what is said of it; looked at by an act of its own', async () => {
        show(`/training/${ID}`);
        expect(await screen.findByText(/It does nothing at all/)).toBeTruthy();
        expect(at()).toBe(`/training/${ID}/intake`);
        expect(screen.getByTestId('clock').textContent).toBe('00:02:14');
        expect(screen.getByText('Nobody has looked at it yet.')).toBeTruthy();
        answered(round({ acts: [{ ...looked, result: { swollen: true } }], seconds: 254 }));
        fireEvent.click(screen.getByRole('button', { name: 'Look at it' }));
        expect(await screen.findByText(/⬣/)).toBeTruthy();
        expect(sent(0)).toMatchObject({ number: 1, act: { do: 'look' } });
        expect(screen.getByTestId('clock').textContent).toBe('00:04:14');
        expect(screen.queryByRole('button', { name: 'Look at it' })).toBeNull();
    });

    it('skips time forward, within what can be waited', async () => {
        show(`/training/${ID}/probe`);
        fireEvent.click(await screen.findByRole('button', { name: 'Let time pass' }));
        answered(round({ acts: [{ act: { do: 'wait', hours: 72 }, seconds: 259_200, result: {} }], seconds: 259_334 }));
        fireEvent.click(screen.getByRole('button', { name: '3 days' }));
        await waitFor(() => expect(screen.getByTestId('clock').textContent).toBe('3 d 00:02:14'));
        expect(sent(0)['act']).toEqual({ do: 'wait', hours: 72 });
        fireEvent.click(screen.getByRole('button', { name: 'Let time pass' }));
        const own = screen.getByLabelText('or hours, at most 720');
        const skip = screen.getByRole<HTMLButtonElement>('button', { name: 'Skip ahead' });
        fireEvent.change(own, { target: { value: '721' } });
        expect(skip.disabled).toBe(true);
        fireEvent.change(own, { target: { value: '1,5' } });
        answered(round({ seconds: 264_734 }));
        fireEvent.click(skip);
        await waitFor(() => expect(sent(1)['act']).toEqual({ do: 'wait', hours: 1.5 }));
    });

    it('reads pair after pair, each in its turn however fast they are asked for', async () => {
        show(`/training/${ID}/probe`);
        const button = await screen.findByRole('button', { name: /^Probes on/ });
        expect(screen.getByTestId('target').textContent).toBe('T0toT1');
        let first!: (r: Doc) => void;
        post.mockReturnValueOnce(new Promise((done) => (first = done)));
        answered(round({ acts: [read(1, 3.7), read(2, 3.8)] }));
        fireEvent.click(button);
        fireEvent.click(button);
        // The second waits for the first; the next pair is asked for meanwhile.
        expect(screen.getByTestId('target').textContent).toBe('T2toT3');
        await waitFor(() => expect(post).toHaveBeenCalledTimes(1));
        first(round({ acts: [read(1, 3.7)] }));
        await waitFor(() => expect(post).toHaveBeenCalledTimes(2));
        expect([sent(0)['number'], sent(1)['number']]).toEqual([1, 2]);
        expect(await screen.findByText('3.800', { selector: 'p.digits' })).toBeTruthy();
        fireEvent.keyDown(button, { key: 'ArrowUp' });
        expect(screen.getByTestId('target').textContent).toBe('T1toT2');
        fireEvent.click(screen.getByRole('button', { name: 'Whole string' }));
        expect(screen.getByTestId('target').textContent).toBe('T0toT3');
    });

    it('says what the server says when an act is out of its turn, and looks again', async () => {
        show(`/training/${ID}/probe`);
        const button = await screen.findByRole('button', { name: /^Probes on/ });
        post.mockRejectedValueOnce(new ApiError(409, 'out-of-turn', 'From another screen.'));
        answers['/api/training/rounds/{trainingRound}'] = round({ acts: [read(1, 3.7)] });
        fireEvent.click(button);
        await waitFor(() => expect(told).toHaveBeenCalledWith('From another screen.'));
        await waitFor(() => expect(screen.getByTestId('target').textContent).toBe('T1toT2'));
    });

    it('does a test where it is told to, and shows what flowed on every group', async () => {
        answers['/api/training/rounds/{trainingRound}'] = round({ acts: [looked, read(1, 3.7), read(2, 3.7), read(3, 3.7)] });
        show(`/training/${ID}/probe`);
        const choose = await screen.findByLabelText('Another test, or something done');
        fireEvent.change(choose, { target: { value: 'load' } });
        fireEvent.change(screen.getByLabelText('Amps out of it'), { target: { value: 'much' } });
        fireEvent.change(screen.getByLabelText('For seconds'), { target: { value: '60' } });
        fireEvent.click(screen.getByRole('button', { name: 'Do it' }));
        expect(await screen.findByText(/Type a number such as 3.71/)).toBeTruthy();
        expect(post).not.toHaveBeenCalled();
        const load = {
            act: { do: 'load', current_a: -2, seconds: 60 },
            seconds: 253,
            result: { groups_v: [3.61, 3.2, 3.62], terminal_v: 10.4 },
        };
        answered(round({ acts: [looked, read(1, 3.7), read(2, 3.7), read(3, 3.7), load] }));
        fireEvent.change(screen.getByLabelText('Amps out of it'), { target: { value: '2' } });
        fireEvent.click(screen.getByRole('button', { name: 'Do it' }));
        await waitFor(() => expect(sent(0)['act']).toEqual({ do: 'load', current_a: -2, seconds: 60 }));
        expect(await screen.findByRole('button', { name: /group 2 3\.200 volts/ })).toBeTruthy();
        expect(screen.getAllByText(/groups from B-, V: 3.61 3.2 3.62, output, V: 10.4/).length).toBeGreaterThan(0);
        answered(round({ plugged: false }));
        fireEvent.change(screen.getByLabelText('Another test, or something done'), { target: { value: 'plug' } });
        await waitFor(() => expect(sent(1)['act']).toEqual({ do: 'unplug' }));
        expect(await screen.findByRole('option', { name: 'Put the sense plug in' })).toBeTruthy();
    });

    it('goes to its debrief at once when an act was unsafe, and is given up only when asked twice', async () => {
        show(`/training/${ID}/probe`);
        answered(
            round({ over: over({ by: 'unsafe', outcome: 'unsafe', unsafe: 'Nobody had looked.', answer: null, said: [], chose: null }) }),
        );
        fireEvent.click(await screen.findByRole('button', { name: /^Probes on/ }));
        expect(await screen.findByRole('heading', { name: /Ended by an unsafe act/ })).toBeTruthy();
        expect(at()).toBe(`/training/${ID}/debrief`);
        expect(screen.getByText(/Nobody had looked\./)).toBeTruthy();
        expect(screen.queryByRole('button', { name: 'Give up' })).toBeNull();
        cleanup();
        show(`/training/${ID}/intake`);
        fireEvent.click(await screen.findByRole('button', { name: 'Give up' }));
        expect(post).toHaveBeenCalledTimes(1);
        answered(round({ over: over({ by: 'left', outcome: 'left', answer: null, said: [] }) }));
        fireEvent.click(screen.getByRole('button', { name: 'Give it up and show me' }));
        expect(await screen.findByRole('heading', { name: /Left without an answer/ })).toBeTruthy();
    });
});

describe('the probes', () => {
    it('have the keys again after anything that is no reading', async () => {
        answers['/api/training/rounds/{trainingRound}'] = round({ acts: [looked, read(1, 3.7)] });
        show(`/training/${ID}/probe`);
        const button = await screen.findByRole('button', { name: /^Probes on/ });
        fireEvent.click(screen.getByRole('button', { name: 'Let time pass' }));
        const waited = { act: { do: 'wait', hours: 1 }, seconds: 3600, result: {} };
        answered(round({ acts: [looked, read(1, 3.7), waited] }));
        fireEvent.click(screen.getByRole('button', { name: 'an hour' }));
        await waitFor(() => expect(document.activeElement).toBe(button));
    });
});

describe('an answer', () => {
    it('is said with its place and its sureness, kept over a reload, and sent with what is to be done', async () => {
        show(`/training/${ID}/plan`);
        fireEvent.click(await screen.findByRole('button', { name: 'That is my answer: to work' }));
        expect((await screen.findByRole('alert')).textContent).toContain('Say what it is first');
        expect(post).not.toHaveBeenCalled();
        cleanup();
        show(`/training/${ID}/verdict`);
        const finding = await screen.findByLabelText('Finding 1');
        await screen.findByRole('option', { name: 'Group is dead' });
        expect(screen.queryByRole('option', { name: 'Groups too far apart' })).toBeNull();
        expect(screen.queryByLabelText('Group')).toBeNull();
        fireEvent.change(finding, { target: { value: 'group.dead' } });
        fireEvent.change(screen.getByLabelText('Group'), { target: { value: '2' } });
        fireEvent.change(screen.getByRole('slider'), { target: { value: '65' } });
        cleanup();
        show(`/training/${ID}/plan`);
        const say = await screen.findByRole('region', { name: 'You say' });
        await waitFor(() => expect(say.textContent).toContain('Group is dead (group 2), 65 % sure'));
        fireEvent.click(screen.getByRole('button', { name: 'That is my answer: to work' }));
        expect((await screen.findByRole('alert')).textContent).toContain('Choose what is to be done.');
        fireEvent.click(await screen.findByRole('radio', { name: /Replace the group/ }));
        expect(screen.getByRole('alert').textContent).toContain('Say which groups.');
        fireEvent.change(screen.getByLabelText(/^Which groups/), { target: { value: '2 3' } });
        post.mockRejectedValueOnce(new ApiError(409, 'ended', 'This round is over: begin another.'));
        fireEvent.click(screen.getByRole('button', { name: 'That is my answer: to work' }));
        expect((await screen.findByText('This round is over: begin another.')).getAttribute('role')).toBe('alert');
        answered(round({ over: over() }));
        fireEvent.click(screen.getByRole('button', { name: 'That is my answer: to work' }));
        await waitFor(() => expect(at()).toBe(`/training/${ID}/debrief`));
        expect(sent(1)).toEqual({
            findings: [{ code: 'group.dead', where: { group: 2 }, probability: 0.65 }],
            nothing: null,
            carry_out: true,
            option: { action: 'replace-group', where: [{ group: 2 }, { group: 3 }] },
        });
        expect(localStorage.getItem(`heartwood.draft.training.${ID}.verdict`)).toBeNull();
    });

    it('may be several, or that nothing is wrong', async () => {
        show(`/training/${ID}/verdict`);
        fireEvent.click(await screen.findByRole('button', { name: 'And something else' }));
        expect(screen.getByLabelText('Finding 2')).toBeTruthy();
        fireEvent.click(screen.getAllByRole('button', { name: 'Leave this one out' })[0]!);
        expect(screen.queryByLabelText('Finding 2')).toBeNull();
        fireEvent.click(screen.getByLabelText('Nothing is wrong with it'));
        expect(screen.queryByLabelText('Finding 1')).toBeNull();
        fireEvent.change(screen.getByRole('slider'), { target: { value: '90' } });
        fireEvent.click(screen.getByRole('link', { name: 'Choose what to do' }));
        expect((await screen.findByRole('region', { name: 'You say' })).textContent).toContain('Nothing is wrong with it, 90 % sure.');
        fireEvent.click(await screen.findByRole('radio', { name: /Wake the board/ }));
        answered(round({ over: over() }));
        fireEvent.click(screen.getByRole('button', { name: 'That is my answer: to work' }));
        await waitFor(() => expect(post).toHaveBeenCalled());
        expect(sent(0)).toEqual({ findings: [], nothing: 0.9, carry_out: true, option: { action: 'wake-board' } });
    });
});

describe('the work', () => {
    const open = (more: Doc = {}, w: Doc = {}) => {
        answers['/api/training/rounds/{trainingRound}'] = round({ acts: [looked], work: work(w), ...more });
    };

    it('comes after the answer, which nobody takes back, and not where the pack ends or the answer is to be shown', async () => {
        localStorage.setItem(`heartwood.draft.training.${ID}.verdict`, JSON.stringify({ findings: [], nothing: 90 }));
        show(`/training/${ID}/carry-out`);
        await waitFor(() => expect(at()).toBe(`/training/${ID}/intake`));
        cleanup();
        show(`/training/${ID}/plan`);
        fireEvent.click(await screen.findByRole('radio', { name: /Recycle it/ }));
        expect(screen.queryByRole('button', { name: 'Answer, and show me at once' })).toBeNull();
        expect(screen.getByRole('button', { name: 'That is my answer' })).toBeTruthy();
        fireEvent.click(screen.getByRole('radio', { name: /Wake the board/ }));
        answered(round({ over: over() }));
        fireEvent.click(screen.getByRole('button', { name: 'Answer, and show me at once' }));
        await waitFor(() => expect(at()).toBe(`/training/${ID}/debrief`));
        expect(sent(0)).toMatchObject({ carry_out: false });
        cleanup();
        localStorage.setItem(`heartwood.draft.training.${ID}.verdict`, JSON.stringify({ findings: [], nothing: 90 }));
        show(`/training/${ID}/plan`);
        fireEvent.click(await screen.findByRole('radio', { name: /Wake the board/ }));
        answered(round({ acts: [looked], work: work({ action: 'wake-board', where: [] }) }));
        fireEvent.click(screen.getByRole('button', { name: 'That is my answer: to work' }));
        await waitFor(() => expect(at()).toBe(`/training/${ID}/carry-out`));
        const stages = screen.getByRole('navigation', { name: 'Stages of the round' });
        expect(within(stages).queryByRole('link', { name: 'Plan' })).toBeNull();
        expect(stages.textContent).toContain('your answer is given');
        expect(screen.queryByRole('button', { name: 'Give up' })).toBeNull();
        cleanup();
        open();
        show(`/training/${ID}/verdict`);
        await waitFor(() => expect(at()).toBe(`/training/${ID}/carry-out`));
    });

    it('is done by hand with places and what new cells were brought to', async () => {
        open();
        show(`/training/${ID}/carry-out`);
        const hands = await screen.findByRole('form', { name: 'By hand' });
        await waitFor(() => expect((within(hands).getByLabelText('What is done') as HTMLSelectElement).value).toBe('replace-group'));
        expect((within(hands).getByLabelText('Which groups') as HTMLInputElement).value).toBe('2');
        fireEvent.click(within(hands).getByRole('button', { name: 'Do it by hand' }));
        expect(within(hands).getByRole('alert').textContent).toBe('Say at what voltage the new cells stand.');
        expect(post).not.toHaveBeenCalled();
        fireEvent.change(within(hands).getByLabelText(/^The new cells were brought to/), { target: { value: '3,81' } });
        const done = { done: 'Replace group 2', stands_v: 3.81, plugged: false };
        answered(round({ acts: [looked, { act: { do: 'hands', action: 'replace-group' }, seconds: 4500, result: done }], work: work() }));
        fireEvent.click(within(hands).getByRole('button', { name: 'Do it by hand' }));
        await waitFor(() => expect(post).toHaveBeenCalledTimes(1));
        expect(sent(0)).toMatchObject({
            number: 2,
            act: { do: 'hands', action: 'replace-group', where: [{ group: 2 }], stands_v: 3.81 },
        });
        const said = await screen.findByLabelText('What came of it');
        expect(said.textContent).toContain('Replace group 2, new cells at 3.81 V; the sense plug is out.');
        fireEvent.change(within(hands).getByLabelText('What is done'), { target: { value: 'clean-joint' } });
        expect(within(hands).queryByLabelText(/^The new cells/)).toBeNull();
        fireEvent.change(within(hands).getByLabelText('Joints at which taps'), { target: { value: '' } });
        fireEvent.click(within(hands).getByRole('button', { name: 'Do it by hand' }));
        expect(within(hands).getByRole('alert').textContent).toBe('Say which joints.');
    });

    it('proves zero current, runs the supply and draws what it saw', async () => {
        open({}, { action: 'charge-group', chose: 'Top group 2 up' });
        show(`/training/${ID}/carry-out`);
        expect((await screen.findByText(/Zero current is not proved/)).textContent).toContain('◌');
        const forms = screen.getAllByRole('form').map((f) => f.getAttribute('aria-label'));
        expect(forms).toEqual(['At the supply', 'By hand', 'On its charger']);
        answered(
            round({ acts: [looked, { act: { do: 'isolate' }, seconds: 60, result: { clamp_a: 0 } }], work: work({ isolated: true }) }),
        );
        fireEvent.click(screen.getByRole('button', { name: /^Take charger and load off/ }));
        expect(await screen.findByText(/Nothing is connected/)).toBeTruthy();
        const supply = screen.getByRole('form', { name: 'At the supply' });
        expect((within(supply).getByLabelText('Clips on') as HTMLSelectElement).value).toBe('2');
        const curve = [
            { min: 0, v: 3.6, a: 0 },
            { min: 120, v: 3.8, a: 1.2 },
            { min: 240, v: 3.79, a: 0 },
        ];
        const ran = {
            group: 2,
            good: true,
            ended: 'at its target',
            text: 'Rests at 3.790 V.',
            v: 3.79,
            ah: 2.5,
            hours: 4,
            warmest_c: 21,
            curve,
        };
        const act = { do: 'supply', group: 2, to: 'full', current_a: 0.5 };
        answered(round({ acts: [looked, { act, seconds: 14_400, result: ran }], work: work() }));
        fireEvent.change(within(supply).getByLabelText('Up to'), { target: { value: 'full' } });
        fireEvent.change(within(supply).getByLabelText(/^Amps/), { target: { value: '0.5' } });
        fireEvent.click(within(supply).getByRole('button', { name: 'Start the run' }));
        const came = await screen.findByText('Supply on group 2, to full', { selector: 'p' });
        expect(sent(1)).toMatchObject({ act });
        expect(came.parentElement!.textContent).toContain('Ended, at its target: Rests at 3.790 V. 3.790 V, 2.50 Ah in, 4 h.');
        expect(screen.getByRole('img', { name: 'Volts against time: 3.60 V at first, 3.80 V at most, 3.79 V after 4.0 h' })).toBeTruthy();
        fireEvent.change(within(supply).getByLabelText('Clips on'), { target: { value: '' } });
        expect(within(supply).queryByLabelText('Up to')).toBeNull();
        fireEvent.change(within(supply).getByLabelText(/^Amps/), { target: { value: '' } });
        answered(round({ acts: [looked], work: work() }));
        fireEvent.click(within(supply).getByRole('button', { name: 'Start the run' }));
        await waitFor(() => expect(post).toHaveBeenCalledTimes(3));
        expect((sent(2) as { act: unknown }).act).toEqual({ do: 'supply' });
    });

    it('goes back to the work from the probes, and not to a verdict that was given', async () => {
        open();
        show(`/training/${ID}/probe`);
        fireEvent.click(await screen.findByRole('link', { name: 'Back to the work' }));
        expect(screen.queryByRole('link', { name: 'Say what it is' })).toBeNull();
        await waitFor(() => expect(at()).toBe(`/training/${ID}/carry-out`));
    });

    it('is left on the charger for as long as that may be', async () => {
        open();
        show(`/training/${ID}/carry-out`);
        const level = await screen.findByRole('form', { name: 'On its charger' });
        fireEvent.change(within(level).getByLabelText('Hours, at most 24'), { target: { value: '25' } });
        expect((within(level).getByRole('button', { name: 'Leave it on' }) as HTMLButtonElement).disabled).toBe(true);
        fireEvent.change(within(level).getByLabelText('Hours, at most 24'), { target: { value: '12' } });
        answered(round({ acts: [looked], work: work() }));
        fireEvent.click(within(level).getByRole('button', { name: 'Leave it on' }));
        await waitFor(() => expect(post).toHaveBeenCalled());
        expect((sent(0) as { act: unknown }).act).toEqual({ do: 'level', hours: 12 });
    });

    it('ends with the pack going back or not, and the debrief says what came of it', async () => {
        open();
        show(`/training/${ID}/carry-out`);
        const proved = await screen.findByRole('region', { name: 'What is proved' });
        expect(within(proved).getAllByRole('listitem')[1]!.textContent).toContain('missing Hold test: not read again');
        const back = screen.getByRole('region', { name: 'Does it go back' });
        expect(back.textContent).toContain('1 of 2 not passed');
        post.mockRejectedValueOnce(new ApiError(409, 'ended', 'This round is over: begin another.'));
        fireEvent.click(within(back).getByRole('button', { name: 'It does not' }));
        expect((await within(back).findByRole('alert')).textContent).toContain('This round is over');
        const outturn = {
            usable_ah: 4.4,
            cost: 91,
            minutes: 75,
            seconds: 90_000,
            supplies: 1,
            returned: true,
            proved: false,
            checks: [check('Hold test', 'missing', 'not read again')],
            walk: ['Carried out in 2.0 h: supply on group 2.'],
        };
        const joint = { code: 'joint.high-resistance', where: { joint: 2 }, title: 'Joint 2 has high resistance' };
        const score = { ...(over()['score'] as Doc), outturn };
        answered(round({ work: work(), over: over({ score, left: [joint] }) }));
        fireEvent.click(within(back).getByRole('button', { name: 'It goes back' }));
        const ran = await screen.findByRole('region', { name: 'How you carried it out' });
        expect(sent(0)).toEqual({ returned: false });
        expect(sent(1)).toEqual({ returned: true });
        expect(ran.textContent).toContain('It gives 4.4 Ah');
        expect(ran.textContent).toContain('€91.00, 75 min of hands, 25.0 h by the clock');
        expect(ran.textContent).toContain('Carried out in 2.0 h');
        expect(ran.textContent).toContain('Still wrong with it: Joint 2 has high resistance.');
        expect(ran.textContent).toContain('It went back, and not everything was proved:');
        for (const [returned, proved, words] of [
            [true, true, 'with everything proved'],
            [false, false, 'It did not go back.'],
            [null, false, 'left on the bench'],
        ] as const) {
            cleanup();
            const now = { ...score, outturn: { ...outturn, returned, proved } };
            answers['/api/training/rounds/{trainingRound}'] = round({ work: work(), over: over({ score: now }) });
            show(`/training/${ID}/debrief`);
            const said = await screen.findByRole('region', { name: 'How you carried it out' });
            expect(said.textContent).toContain(words);
            expect(said.textContent).toContain('nothing is left');
        }
    });
});

describe('a debrief', () => {
    it('sets what was said beside what it was, and one line beside the other', async () => {
        const set = { id: 'm1', at: '2026-05-04T08:02:00Z', condition: 'rest', current_a: 0, plugged: true };
        const sets = [
            { ...set, groups_v: [3.81, 3.81, 3.705], output_v: 11.3 },
            { ...set, id: 'm2', plugged: false, groups_v: [3.8, null, 3.7], output_v: null },
            { ...set, id: 'm3', condition: 'discharge', current_a: -2, groups_v: [3.7, 3.7, 3.2], output_v: 10.6 },
        ];
        answers['/api/training/rounds/{trainingRound}'] = round({ acts: [looked, read(1, 3.7)], sets, over: over() });
        show(`/training/${ID}`);
        const went = await screen.findByRole('region', { name: 'How it went' });
        expect(at()).toBe(`/training/${ID}/debrief`);
        expect(within(went).getByRole('heading', { name: /Right, and at its place/ })).toBeTruthy();
        expect(went.textContent).toContain('Group 2 is dead 80 %');
        const volts = within(screen.getByRole('region', { name: 'What was measured' })).getAllByRole('row');
        expect(volts[0]!.textContent).toBe('Grouprest05-04 08:02restplug outdischarge-2 A');
        expect(volts[1]!.textContent).toBe('33.705 -1053.700 -1003.200 -500');
        expect(volts[2]!.textContent).toBe('23.810 -- 3.700 ');
        expect(volts[4]!.textContent).toBe('P- to P+11.30--10.60');
        const rows = within(went).getAllByRole('row');
        expect(rows[1]!.textContent).toMatch(/0\.040\.01$/);
        expect(rows[2]!.textContent).toContain('30 min25.0 h');
        expect(rows[3]!.textContent).toBe('Readings and tests6 + 124 + 3');
        expect(rows[4]!.textContent).toBe('The pack gives (as it came: 1.2 Ah)4.6 Ah4.7 Ah');
        expect(rows[5]!.textContent).toBe('That costs€88.50€80.00');
        expect(rows[6]!.textContent).toBe('Hands75 min75 min');
        expect(screen.getByRole('region', { name: 'The evidence in its order' }).textContent).toContain('The best line took 1.0 days.');
        expect(screen.getByText('41')).toBeTruthy();
        answered(round({ id: ID.replace('01a', '02b') }));
        fireEvent.click(screen.getByRole('button', { name: 'Another round' }));
        await waitFor(() => expect(at()).toContain('/training/02b'));
        expect(sent(0)).toEqual({ level: 2, case: null });
    });

    it('tells nothing before the round is over, and no seed of a case', async () => {
        show(`/training/${ID}/debrief`);
        await waitFor(() => expect(at()).toBe(`/training/${ID}/intake`));
        cleanup();
        answers['/api/training/rounds/{trainingRound}'] = round({
            case: 1,
            over: over({ truth: [], said: [], outcome: 'wrong', seed: null, answer: { nothing: 0.7 } }),
        });
        show(`/training/${ID}/debrief`);
        const went = await screen.findByRole('region', { name: 'How it went' });
        expect(went.textContent).toContain('Nothing is wrong with it, 70 % sure.');
        expect(went.textContent).toContain('Nothing was wrong with it.');
        expect(screen.queryByText(/plays the same pack again/)).toBeNull();
    });
});

describe('a round on paper', () => {
    it('keeps its answers folded until they are asked for', async () => {
        post.mockResolvedValue({
            brief: round()['brief'],
            level: 2,
            seen: ['swollen'],
            readings: [{ from: 'T0', to: 'T1', v: 3.7 }],
            groups_v: [3.7, 3.7, 3.7],
            next: [{ test: 'load', result: { groups_v: [3.6], stopped_by: null } }],
            answers: ['It was: Group 2 is dead.', 'The best line took 5 min.'],
        });
        show('/training/paper?level=3');
        const sheet = await screen.findByRole('article', { name: 'The round' });
        expect(sent(0)).toEqual({ level: 3 });
        expect(sheet.textContent).toContain('A cell holds 2.5 Ah; Board cuts below 2.8 V a group');
        expect(sheet.textContent).toContain('swollen.');
        const folded = screen.getByTestId('answers').parentElement!;
        expect(folded.className).toContain('hidden');
        fireEvent.click(screen.getByRole('button', { name: 'Unfold the answers' }));
        expect(folded.className).not.toContain('hidden');
        expect(folded.textContent).toContain('load: groups from B-, V: 3.6');
        fireEvent.click(screen.getByRole('button', { name: 'Another one' }));
        await waitFor(() => expect(post).toHaveBeenCalledTimes(2));
    });
});
