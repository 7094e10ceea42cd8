import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, type Job } from '@/api/client';
import { BackToWork } from './job/JobFrame';
import { Component as Work } from './Work';

const post = vi.hoisted(() => vi.fn());
const given = vi.hoisted(() => ({ job: {} as unknown }));
vi.mock('@/lib/bench', () => ({ useMay: () => true, usePerson: () => ({ id: 7 }) }));
vi.mock('@/parts/Beside', () => ({ Beside: ({ children }: { children: React.ReactNode }) => <div>{children}</div> }));
vi.mock('react-router', async (original) => ({ ...(await original<object>()), useOutletContext: () => given.job }));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: { POST: post },
    unwrap: (answer: Promise<unknown>) => answer,
}));

const step = (more: object) => ({
    id: 1,
    code: 'isolate',
    title: 'Prove zero current',
    caution: '',
    entry: 'Current read, A',
    alters: false,
    typed: '',
    skipped: '',
    closed_by: 'no-current',
    word: true,
    state: 'open',
    proof: '',
    room: '',
    door: '',
    done_at: null,
    by: null,
    started_at: null,
    minutes: null,
    ...more,
});
const proved = {
    id: 2,
    code: 'reread',
    title: 'Read every group again',
    entry: '',
    word: false,
    closed_by: 'rest-set',
    proof: 'No set at rest since.',
    room: 'probe',
    door: 'Read the groups',
};
const jobOf = (steps: object[], more: object = {}) =>
    ({
        id: 3,
        stage: 'work',
        status: 'open',
        decision: { action: 'reweld', option: { title: 'Weld it again' }, reason: 'Loose.', by: 'Reeve', steps },
        ...more,
    }) as unknown as Job;
const Where = () => <p data-testid="where">{useLocation().pathname + useLocation().search}</p>;
const show = (node: React.ReactNode) =>
    render(
        <MemoryRouter initialEntries={['/jobs/3/work']}>
            <QueryClientProvider client={new QueryClient()}>
                <Where />
                <Routes>
                    <Route path="*" element={node} />
                </Routes>
            </QueryClientProvider>
        </MemoryRouter>,
    );
const said = () => post.mock.lastCall![1].body as Record<string, unknown>;

beforeEach(() => {
    post.mockReset();
    post.mockImplementation(() => Promise.resolve(given.job));
    localStorage.clear();
});
afterEach(cleanup);

describe('the steps of the work', () => {
    it('take a word where nothing can prove it, and show at its field why it is none', async () => {
        given.job = jobOf([step({})]);
        show(<Work />);
        post.mockRejectedValueOnce(new ApiError(422, 'entry', '0.4 A still flows', { entry: '0.4 A still flows' }));
        expect(screen.queryByRole('button', { name: 'Leave it' })).toBeNull();
        fireEvent.change(screen.getByLabelText('Current read, A'), { target: { value: '0.4' } });
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        await screen.findByText(/0.4 A still flows/);
        expect(said()).toEqual({ done: true, entry: '0.4' });
        expect((screen.getByLabelText('Current read, A') as HTMLInputElement).value).toBe('0.4');
    });
    it('have no tick where evidence closes them, but the room that takes it, and their time runs from there', async () => {
        given.job = jobOf([step(proved)]);
        show(<Work />);
        const item = within(screen.getByRole('listitem'));
        expect(item.queryByRole('button', { name: 'Done' })).toBeNull();
        expect(item.getByText('No set at rest since.')).toBeTruthy();
        fireEvent.click(item.getByRole('button', { name: 'Read the groups' }));
        await waitFor(() => expect(screen.getByTestId('where').textContent).toBe('/jobs/3/probe'));
        expect(said()).toEqual({ start: true });
    });
    it('are begun once', async () => {
        given.job = jobOf([step({ ...proved, started_at: '2026-11-29T10:00:00Z' })]);
        show(<Work />);
        fireEvent.click(screen.getByRole('button', { name: 'Read the groups' }));
        await waitFor(() => expect(screen.getByTestId('where').textContent).toBe('/jobs/3/probe'));
        expect(post).not.toHaveBeenCalled();
    });
    it('are left with a reason alone', async () => {
        given.job = jobOf([step(proved)]);
        show(<Work />);
        fireEvent.click(screen.getByRole('button', { name: 'Leave it' }));
        expect((screen.getByRole('button', { name: 'Leave it out' }) as HTMLButtonElement).disabled).toBe(true);
        fireEvent.change(screen.getByLabelText(/Why it is left/), { target: { value: 'Came without a plug.' } });
        fireEvent.click(screen.getByRole('button', { name: 'Leave it out' }));
        await waitFor(() => expect(said()).toEqual({ skip: 'Came without a plug.' }));
    });
    it('say what proved them, whose word it was, or why they were left, and take back what a person said', async () => {
        given.job = jobOf([
            step({ state: 'done', typed: '0.00', by: 'Tobiah Reeve', done_at: '2026-11-29T10:00:00Z' }),
            step({ ...proved, state: 'done', proof: '4 groups read at rest', done_at: '2026-11-29T10:20:00Z', minutes: 12.3 }),
            step({ ...proved, id: 4, state: 'skipped', skipped: 'No plug.', by: 'Sunniva Lark', done_at: '2026-11-29T10:20:00Z' }),
        ]);
        show(<Work />);
        const [word, proof, left] = screen.getAllByRole('listitem');
        expect(word!.textContent).toContain('Tobiah Reeve, by their word');
        expect(proof!.textContent).toContain('4 groups read at rest');
        expect(proof!.textContent).toContain('12 min');
        expect(within(proof!).queryByRole('button', { name: 'Take it back' })).toBeNull();
        expect(left!.textContent).toContain('◇ left');
        expect(left!.textContent).toContain('No plug.');
        fireEvent.click(within(left!).getByRole('button', { name: 'Take it back' }));
        await waitFor(() => expect(said()).toMatchObject({ done: false }));
    });
    it('are only told once the job is closed', () => {
        given.job = jobOf([step({}), step(proved)], { status: 'returned' });
        show(<Work />);
        expect(screen.queryByRole('button', { name: 'Leave it' })).toBeNull();
        expect(screen.queryByRole('button', { name: 'Done' })).toBeNull();
    });
});

describe('the way back to the work', () => {
    it('says from any room which step waits, and for what', () => {
        show(<BackToWork job={jobOf([step({ state: 'done' }), step(proved)])} />);
        const nav = screen.getByRole('navigation', { name: 'The work' });
        expect(nav.textContent).toContain('2 of 2: Read every group again.');
        expect(nav.textContent).toContain('No set at rest since.');
        expect(within(nav).getByRole('link').getAttribute('href')).toBe('/jobs/3/work');
    });
    it('says when every step is closed, and is not there before the work or after it', () => {
        show(<BackToWork job={jobOf([step({ state: 'done' })])} />);
        expect(screen.getByText('✓ Every step is closed.')).toBeTruthy();
        cleanup();
        show(<BackToWork job={jobOf([step({})], { stage: 'plan' })} />);
        expect(screen.queryByRole('navigation', { name: 'The work' })).toBeNull();
        cleanup();
        show(<BackToWork job={jobOf([step({})], { status: 'returned' })} />);
        expect(screen.queryByRole('navigation', { name: 'The work' })).toBeNull();
    });
});
