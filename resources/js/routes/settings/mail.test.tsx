// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn(), put: vi.fn() }));
vi.mock('@/api/client', async (real) => ({
    ...(await real<typeof import('@/api/client')>()),
    api: { GET: server.get, POST: server.post, PUT: server.put },
}));
import { Mail } from './Mail';

const ok = (data: unknown) => ({ data, response: new Response() });
const state = (secret: boolean) => ok({ open: [], done: [], mail: true, simulated: true, secret, kinds: [] });
const show = () =>
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <MemoryRouter>
                <Mail />
            </MemoryRouter>
        </QueryClientProvider>,
    );
afterEach(cleanup);

describe('the mail server of a shop', () => {
    it('keeps a password without ever showing one', async () => {
        server.get.mockResolvedValue(state(false));
        server.put.mockResolvedValue(state(true));
        show();
        expect(await screen.findByText('None is kept.')).toBeTruthy();
        const field = screen.getByLabelText('Password there') as HTMLInputElement;
        expect(field.type).toBe('password');
        fireEvent.change(field, { target: { value: 'between-the-boards' } });
        fireEvent.click(screen.getByRole('button', { name: 'Keep the password' }));
        expect(await screen.findByText(/One is kept, and shown to nobody/)).toBeTruthy();
        expect(field.value).toBe('');
        expect(server.put.mock.calls[0]![1].body).toEqual({ password: 'between-the-boards' });
    });
    it('says whether a letter to oneself was taken, or why it was not', async () => {
        server.get.mockResolvedValue(state(true));
        server.post.mockResolvedValueOnce(ok({ to: 'maren@gannetquay.example' }));
        show();
        const test = await screen.findByRole('button', { name: 'Send me a test' });
        fireEvent.click(test);
        expect(await screen.findByText(/took a letter to maren@/)).toBeTruthy();
        const refused = { code: 'no-mail', message: 'The mail server did not take it: no such user.', fields: {}, request: '' };
        server.post.mockResolvedValueOnce({ error: refused, response: new Response(null, { status: 409 }) });
        fireEvent.click(test);
        await waitFor(() => expect(screen.getByRole('status').textContent).toContain('no such user'));
    });
});
