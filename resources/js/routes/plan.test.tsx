import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, type Job } from '@/api/client';
import { Component as Plan } from './Plan';

const get = vi.hoisted(() => vi.fn());
const post = vi.hoisted(() => vi.fn());
const given = vi.hoisted(() => ({ job: {} as unknown }));
vi.mock('@/lib/bench', () => ({ useMay: () => true, usePerson: () => ({ id: 7, name: 'Ann', workshop: { currency: 'EUR' } }) }));
vi.mock('@/lib/replay', () => ({ useReplay: () => ({ data: undefined }) }));
vi.mock('@/parts/CoreSample', async (original) => ({ ...(await original<object>()), CoreSample: () => null }));
vi.mock('react-router', async (original) => ({ ...(await original<object>()), useOutletContext: () => given.job }));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: { GET: get, POST: post },
    unwrap: (answer: Promise<unknown>) => answer,
}));

const quote = (total: number) => ({
    lines: [],
    parts_cents: 0,
    labour_cents: total,
    fee_cents: 0,
    tax_cents: 0,
    total_cents: total,
    new_pack_cents: null,
    new_pack_listed: false,
    cents_per_wh: null,
    scrap: null,
});
const option = (action: string, more: object = {}) => ({
    action,
    title: `To ${action}`,
    said: `To ${action}`,
    where: [],
    why: '',
    usable_ah: null,
    leaves: [],
    cells: 0,
    hands_minutes: 10,
    hands_from: null,
    wait_hours: 0,
    joins: true,
    school: null,
    quote: quote(1000),
    steps: [],
    ...more,
});

function show(options: ReturnType<typeof option>[]) {
    given.job = {
        id: 3,
        status: 'open',
        stage: 'plan',
        series: 3,
        decision: null,
        agreed: null,
        measurements: [],
        cautions: {},
        verdict: {
            id: 5,
            stale: false,
            document: { options, window: null, groups: [], next_tests: [] },
            detail: { options, suspicions: [] },
        },
    } as unknown as Job;
    render(
        <QueryClientProvider client={new QueryClient()}>
            <MemoryRouter>
                <Plan />
            </MemoryRouter>
        </QueryClientProvider>,
    );
}

beforeEach(() => {
    get.mockReset();
    post.mockReset();
    localStorage.clear();
});
afterEach(cleanup);

const both = {
    ...option('replace-group', {
        title: 'Both of them',
        said: 'Both of them',
        quote: quote(2500),
        hands_minutes: 80,
        leaves: ['pack.aged'],
        usable_ah: 4.8,
    }),
    sentence: 'It stops after 4.8 Ah.',
    parts: [
        { action: 'replace-group', title: 'To replace', said: 'To replace group 2', where: [{ group: 2 }] },
        { action: 'balance', title: 'To balance', said: 'To balance', where: [] },
    ],
};

describe('a plan of several ways', () => {
    const ways = [
        option('replace-group', { where: [{ group: 2 }], leaves: ['pack.spread'] }),
        option('balance', { leaves: ['group.dead'] }),
        option('recycle', { joins: false }),
    ];

    it('offers beside a way what goes with it, and nothing beside one that stands by itself', () => {
        show(ways);
        const beside = screen.getByRole('group', { name: /And with it/ });
        expect(within(beside).getAllByRole('checkbox')).toHaveLength(1);
        fireEvent.click(screen.getByRole('radio', { name: /To recycle/ }));
        expect(screen.queryByRole('group', { name: /And with it/ })).toBeNull();
    });

    it('says what one way leaves, or that it answers all of it', () => {
        show(ways);
        expect(screen.getByText(/Left as it is:/).parentElement!.textContent).toContain('spread');
        fireEvent.click(screen.getByRole('radio', { name: /To recycle/ }));
        expect(screen.getByText('Every finding is answered by it.')).toBeTruthy();
    });

    it('shows one price and one prediction for both, and decides both', async () => {
        get.mockResolvedValue(both);
        post.mockResolvedValue({ ...(given.job as object), id: 3, stage: 'work' });
        show(ways);
        fireEvent.click(screen.getByRole('checkbox', { name: /To balance/ }));
        const together = await screen.findByRole('region', { name: 'All together' });
        expect(together.textContent).toContain('25.00');
        expect(together.textContent).toContain('4.8 Ah');
        expect(together.textContent).toContain('80 min of hands, opened and closed once');
        expect(get.mock.lastCall![1].params.query).toEqual({ action: 'replace-group', with: 'balance' });
        expect(screen.getByText(/Left as it is:/).parentElement!.textContent).toContain('aged');
        fireEvent.change(screen.getByLabelText('Why this one'), { target: { value: 'One opening.' } });
        fireEvent.click(screen.getByRole('button', { name: 'Do this: Both of them' }));
        await waitFor(() => expect(post).toHaveBeenCalled());
        expect(post.mock.lastCall![1].body).toEqual({
            verdict_id: 5,
            action: 'replace-group',
            with: ['balance'],
            reason: 'One opening.',
            seen: null,
        });
    });

    it('forgets what went with another way, and says why two are no plan', async () => {
        get.mockRejectedValue(new ApiError(422, 'no-plan', 'One of them is enough.'));
        show(ways);
        fireEvent.click(screen.getByRole('checkbox', { name: /To balance/ }));
        expect((await screen.findByRole('alert')).textContent).toBe('One of them is enough.');
        expect(screen.getByRole('button', { name: /^Do this/ })).toHaveProperty('disabled', true);
        fireEvent.click(screen.getByRole('radio', { name: /To balance/ }));
        expect(screen.getByRole('checkbox', { name: /To replace-group/ })).toHaveProperty('checked', false);
        expect(screen.getByRole('button', { name: 'Do this: To balance' })).toHaveProperty('disabled', false);
    });

    it("says where minutes are the shop's own", () => {
        show([option('balance', { hands_minutes: 32, hands_from: 6 })]);
        expect(screen.getByText(/32 min of hands/).textContent).toContain('(as 6 jobs took here)');
    });
});
