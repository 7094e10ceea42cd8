// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';

const server = vi.hoisted(() => ({ get: vi.fn() }));
vi.mock('@/api/client', async (real) => ({ ...(await real<typeof import('@/api/client')>()), api: { GET: server.get } }));
import { Backup } from './Backup';

const show = (data: object) => {
    server.get.mockReset().mockResolvedValue({ data, response: new Response() });
    render(
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
            <Backup />
        </QueryClientProvider>,
    );
};
afterEach(cleanup);
const good = { at: '2026-11-30T02:30:00Z', words: 'taken 2026-11-30T02:30:00Z, 12 files, 3.4 MB' };

describe('the last good backup', () => {
    it('is said with what is in it', async () => {
        show({ good, failed: null, old: false });
        expect((await screen.findByText(/The last good one is of/)).textContent).toContain(': 12 files, 3.4 MB.');
        expect(screen.queryByRole('alert')).toBeNull();
    });
    it('is missing, old, or followed by one that failed: each is said', async () => {
        show({ good: null, failed: null, old: true });
        expect((await screen.findByRole('status')).textContent).toContain('No backup was taken yet');
        expect(screen.queryByRole('alert')).toBeNull();
        cleanup();
        show({ good, failed: { at: '2026-12-01T02:30:00Z', words: 'the disk is full' }, old: true });
        const said = (await screen.findAllByRole('alert')).map((a) => a.textContent);
        expect(said[0]).toContain('more than a night ago');
        expect(said[1]).toContain('the disk is full');
    });
});
