import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, type Job } from '@/api/client';
import { kept } from './lines';
import { useLines } from './lines';
import type { Data } from './Teardown';
import { WayBack } from './WayBack';

const post = vi.hoisted(() => vi.fn());
vi.mock('@/lib/bench', () => ({ useMay: () => true, usePerson: () => ({ id: 7 }) }));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: { POST: post },
    unwrap: (answer: Promise<unknown>) => answer,
}));

const job = { id: 3, status: 'open', gates: {} } as unknown as Job;
const step = (more: object) => ({
    act: 'put-back' as const,
    text: 'Put back lid',
    step: 'a',
    of: 'a',
    count: 1,
    photo_id: null,
    remark: '',
    done: false,
    back_count: null,
    value: null,
    note: '',
    ...more,
});
const data = (way: object[], more: object = {}) =>
    ({ way_back: way, renew: {}, missing: [], steps: [], fasteners: {}, leads: [], guide: null, minutes: 0, ...more }) as unknown as Data;
const show = (node: React.ReactNode) =>
    render(
        <MemoryRouter>
            <QueryClientProvider client={new QueryClient()}>{node}</QueryClientProvider>
        </MemoryRouter>,
    );

beforeEach(() => {
    post.mockReset();
    localStorage.clear();
});
afterEach(cleanup);

describe('the way back', () => {
    it('lists what must be new, marks the next step and says when all of it is done', () => {
        show(
            <WayBack
                job={job}
                data={data([step({ done: true }), step({ of: 'b', step: 'b', text: 'Put back foam' })], { renew: { sealant: 2 } })}
            />,
        );
        expect(screen.getByText(/2 sealant/)).toBeTruthy();
        expect(screen.getAllByRole('button', { name: 'Done' })).toHaveLength(1);
        expect(screen.queryByText(/together again/)).toBeNull();
        cleanup();
        show(<WayBack job={job} data={data([step({ done: true })])} />);
        expect(screen.getByText(/together again/)).toBeTruthy();
        cleanup();
        show(<WayBack job={job} data={data([])} />);
        expect(screen.getByText(/no way back to go/)).toBeTruthy();
    });
    it('puts back the number that came off, and another only with a number typed', async () => {
        post.mockResolvedValue(data([]));
        show(<WayBack job={job} data={data([step({ count: 11, text: 'Put back 11 x screws' })])} />);
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        await waitFor(() => expect(post.mock.lastCall![1].body.count).toBe(11));
        fireEvent.click(screen.getByRole('button', { name: 'Another number' }));
        fireEvent.change(screen.getByLabelText('Went back'), { target: { value: '10' } });
        fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'one stripped' } });
        fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
        await waitFor(() => expect(post.mock.lastCall![1].body).toEqual({ count: 10, note: 'one stripped' }));
    });
    it('sends a check for the step that it proves, the insulation with its megohm and a comma read as one', async () => {
        post.mockResolvedValue(data([]));
        show(
            <WayBack
                job={job}
                data={data([
                    step({ act: 'tug', step: null, of: 'x', text: 'Tug at link' }),
                    step({ act: 'insulation', step: null, of: 'y', text: 'Measure the insulation', note: '0.4 Mohm: over 1 is wanted.' }),
                ])}
            />,
        );
        expect(screen.getByText(/over 1 is wanted/)).toBeTruthy();
        fireEvent.click(screen.getByRole('button', { name: 'It holds' }));
        await waitFor(() => expect(post.mock.lastCall![1].body).toEqual({ act: 'tug', of: 'x', note: '' }));
        fireEvent.change(screen.getByLabelText('Measured, Mohm'), { target: { value: '2,5' } });
        fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
        await waitFor(() => expect(post.mock.lastCall![1].body).toEqual({ act: 'insulation', of: 'y', value: 2.5, note: '' }));
    });
    it('asks where the difference is when the count does not match', () => {
        show(
            <WayBack
                job={job}
                data={data([step({ act: 'count', step: null, of: '', text: 'Count' })], {
                    missing: [{ kind: 'screw', out: 2, back: 1, text: '1 screw left over' }],
                })}
            />,
        );
        expect(within(screen.getByRole('listitem')).getByLabelText('1 screw left over')).toBeTruthy();
    });
    it('offers no hand where the pack may not be opened', () => {
        const held = { ...job, gates: { open: 'In quarantine.' } } as unknown as Job;
        show(<WayBack job={held} data={data([step({})])} />);
        expect(screen.queryByRole('button', { name: 'Done' })).toBeNull();
    });
});

describe('steps on their way', () => {
    function Held({ refused }: { refused: (line: string, why: string) => void }) {
        const lines = useLines(3, refused);
        return (
            <>
                <button onClick={() => lines.add('lid')}>add</button>
                <output>{lines.waiting.map((l) => l.line).join()}</output>
                <p>{lines.away}</p>
            </>
        );
    }
    it('are kept on this bench while the server is away, and gone from it when it has them', async () => {
        post.mockRejectedValueOnce(new Error('away')).mockResolvedValue(data([]));
        show(<Held refused={() => {}} />);
        fireEvent.click(screen.getByText('add'));
        await waitFor(() => expect(screen.getByText('away')).toBeTruthy());
        expect(kept('heartwood.teardown.3').map((l) => l.line)).toEqual(['lid']);
        const { id } = kept('heartwood.teardown.3')[0]!;
        cleanup();
        // Another look at the page takes them up again, the same ones.
        show(<Held refused={() => {}} />);
        await waitFor(() => expect(kept('heartwood.teardown.3')).toEqual([]));
        expect(post.mock.lastCall![1].body.lines[0]).toMatchObject({ id, line: 'lid' });
    });
    it('come back into the hand with a word when the server refuses them', async () => {
        post.mockRejectedValue(new ApiError(422, 'line', 'no voltage', {}));
        const refused = vi.fn();
        show(<Held refused={refused} />);
        fireEvent.click(screen.getByText('add'));
        await waitFor(() => expect(refused).toHaveBeenCalledWith('lid', 'no voltage'));
        expect(kept('heartwood.teardown.3')).toEqual([]);
    });
    it('read nothing out of a slot that is no list', () => {
        localStorage.setItem('x', '{"a":1}');
        expect(kept('x')).toEqual([]);
        localStorage.setItem('x', '[broken');
        expect(kept('x')).toEqual([]);
    });
});
