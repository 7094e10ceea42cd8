// @vitest-environment jsdom
import 'fake-indexeddb/auto';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post },
}));
import { Component as Owner } from './Owner';

const page = {
    name: 'Ferry block',
    code: 'ABCD-EFGH',
    workshop: 'Gannet Quay Bench',
    series: 3,
    phosphate: false,
    watched: true,
    state: 'holds',
    stopped: false,
    next_at: '2026-12-09T12:00:00Z',
    due: false,
    topup: null,
    glance: null,
    readings: [],
};
const answers = (a: object) => ({
    data: { ...page, answers: [{ id: 'x', why: [], again_at: '2026-12-20T12:00:00Z', ...a }] },
    response: new Response(),
});
const refuses = (status: number, message: string) => ({
    error: { code: 'no', message, fields: {}, request: '' },
    response: new Response(null, { status }),
});
const show = () =>
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <Owner />
        </QueryClientProvider>,
    );
beforeEach(() => {
    localStorage.clear();
    location.hash = '#a-secret-of-this-pack';
    server.get.mockReset().mockResolvedValue({ data: page, response: new Response() });
    server.post.mockReset();
});
afterEach(cleanup);

const tell = async (...volts: string[]) => {
    await screen.findByLabelText('Highest, V');
    fireEvent.change(screen.getByLabelText('Highest, V'), { target: { value: volts[0] } });
    fireEvent.change(screen.getByLabelText('Lowest, V'), { target: { value: volts[1] } });
    fireEvent.click(screen.getByRole('button', { name: 'No, none of it' }));
    fireEvent.click(screen.getByRole('button', { name: 'Done' }));
};

describe('the page of an owner', () => {
    it('says how the pack is, and answers a reading with its reasons', async () => {
        server.post.mockResolvedValue(answers({ answer: 'stop', why: [{ code: 'apart', mv: 320.4, limit: 300 }] }));
        show();
        expect(await screen.findByText(/The repair holds/)).toBeTruthy();
        await tell('4180', '3860');
        expect(await screen.findByRole('heading', { name: /Stop using it/ })).toBeTruthy();
        expect(screen.getByText('The groups are 320 mV apart, and 300 mV is the most that is safe to use.')).toBeTruthy();
        expect(server.post.mock.calls[0]![1].body.readings[0]).toMatchObject({
            highest_v: 4.18,
            lowest_v: 3.86,
            signs: { hot: false, wet: false },
        });
        expect(localStorage.getItem('heartwood.owner.a-secret-of-')).toBeNull();
    });

    it('keeps on the phone what could not be sent, and says stop without a network where a sign of harm is there', async () => {
        server.post.mockRejectedValue(new TypeError('no network'));
        show();
        await screen.findByLabelText('Highest, V');
        fireEvent.click(screen.getByRole('button', { name: 'Yes' }));
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        expect(screen.getByRole('alert').textContent).toBe('Which of them?');
        fireEvent.click(screen.getByRole('button', { name: 'wet' }));
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        expect(await screen.findByRole('heading', { name: 'Stop using it and bring it in' })).toBeTruthy();
        expect(screen.getByText('It was wet.')).toBeTruthy();
        expect(JSON.parse(localStorage.getItem('heartwood.owner.a-secret-of-')!)).toHaveLength(1);
    });

    it('asks for the question and for the volts before anything is sent', async () => {
        show();
        await screen.findByLabelText('Highest, V');
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        expect(screen.getByRole('alert').textContent).toBe('Say whether any of it is so.');
        await tell('51.2', '3.3');
        expect(screen.getByRole('alert').textContent).toContain('no voltage of one group');
        expect(server.post).not.toHaveBeenCalled();
    });

    it('lets go of what the server calls no reading, and says why', async () => {
        server.post.mockResolvedValue(refuses(422, 'Read at a time that is yet to come.'));
        show();
        await tell('4.18', '4.17');
        await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('Read at a time that is yet to come.'));
        expect(localStorage.getItem('heartwood.owner.a-secret-of-')).toBeNull();
    });

    it('shows nothing by a link that is not good', async () => {
        server.get.mockResolvedValue(refuses(404, 'This link is not good any more.'));
        show();
        expect((await screen.findByRole('alert')).textContent).toContain('not good any more');
        expect(screen.queryByText('Ferry block')).toBeNull();
    });

    it('takes two halves by a meter, and says what such a reading cannot see', async () => {
        const glance = {
            kind: 'halves',
            value_v: 0.1,
            should_v: 0,
            low_v: -0.3,
            high_v: 0.3,
            sees_v: 0.3,
            flat: false,
            inside: true,
            at: '2026-12-01T12:00:00Z',
        };
        server.post.mockResolvedValue({ data: { ...page, glance, answers: [] }, response: new Response() });
        show();
        fireEvent.click(await screen.findByRole('button', { name: 'Two halves, by a meter' }));
        fireEvent.change(screen.getByLabelText('Lower half, V'), { target: { value: '18,9' } });
        fireEvent.click(screen.getByRole('button', { name: 'No, none of it' }));
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        expect(screen.getByRole('alert').textContent).toContain('Enter the volts');
        fireEvent.change(screen.getByLabelText('Upper half, V'), { target: { value: '19.0' } });
        fireEvent.click(screen.getByRole('button', { name: 'Done' }));
        await waitFor(() => expect(server.post).toHaveBeenCalled());
        const { readings } = server.post.mock.calls[0]![1].body;
        expect(readings[0]).toMatchObject({ halves_v: [18.9, 19], resolution_v: 0.1 });
        expect(await screen.findByText(/not two alike, one in each half/)).toBeTruthy();
        fireEvent.click(screen.getByRole('button', { name: 'Show it large' }));
        expect(screen.getByText('In its band')).toBeTruthy();
        fireEvent.click(screen.getByRole('button', { name: 'Back' }));
        expect(screen.getByText(/The repair holds/)).toBeTruthy();
    });

    it('asks for a top-up of what leaks, and one touch says that it is done', async () => {
        const due = { every_days: 16, at: '2026-12-01T12:00:00Z', due: true };
        server.get.mockResolvedValue({ data: { ...page, topup: due }, response: new Response() });
        server.post.mockResolvedValue({ data: { ...page, topup: { ...due, due: false }, answers: [] }, response: new Response() });
        show();
        expect(await screen.findByText(/Charge it full now.*16 days/)).toBeTruthy();
        fireEvent.click(screen.getByRole('button', { name: 'It is charged full' }));
        await waitFor(() => expect(server.post).toHaveBeenCalled());
        expect(server.post.mock.calls[0]![1].body.readings[0]).toMatchObject({ condition: 'full', topped_up: true });
        expect(await screen.findByText(/Charge it full by/)).toBeTruthy();
        expect(screen.getByText(/Thank you: it is charged full/)).toBeTruthy();
    });

    it('shows without a network what it saw last, and forgets it when the link is withdrawn', async () => {
        show();
        await screen.findByText(/The repair holds/);
        cleanup();
        server.get.mockRejectedValue(new TypeError('Failed to fetch'));
        show();
        expect(await screen.findByText('Ferry block')).toBeTruthy();
        cleanup();
        server.get.mockResolvedValue(refuses(404, 'This link is not good any more.'));
        show();
        expect(await screen.findByText(/not good any more/)).toBeTruthy();
        expect(Object.keys(localStorage).filter((k) => k.includes('page'))).toEqual([]);
    });

    it('keeps the photo of a display on the phone until it is sent, beside its reading', async () => {
        const sent: FormData[] = [];
        class Wire {
            status = 201;
            upload = {};
            onload = () => {};
            address = '';
            headers: Record<string, string> = {};
            open(_: string, address: string) {
                this.address = address;
            }
            setRequestHeader(name: string, value: string) {
                this.headers[name] = value;
            }
            send(body: FormData) {
                body.set('to', `${this.address} ${this.headers['X-Pack-Link']}`);
                sent.push(body);
                this.onload();
            }
        }
        vi.stubGlobal('XMLHttpRequest', Wire);
        server.post.mockResolvedValue(answers({ answer: 'fine' }));
        show();
        await screen.findByLabelText('Highest, V');
        const file = new File([new Uint8Array([1, 2])], 'display.jpg', { type: 'image/jpeg' });
        file.arrayBuffer = () => Promise.resolve(new ArrayBuffer(2));
        fireEvent.change(screen.getByLabelText('Photo of the display'), { target: { files: [file] } });
        expect(await screen.findByText('✓ Photo taken')).toBeTruthy();
        await tell('4.1', '4.09');
        await waitFor(() => expect(sent).toHaveLength(1));
        expect(sent[0]!.get('to')).toBe('/api/owner/photos a-secret-of-this-pack');
        expect(sent[0]!.get('reading')).toBe(server.post.mock.calls[0]![1].body.readings[0].id);
        vi.unstubAllGlobals();
    });
});
