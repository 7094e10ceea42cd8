// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { api, key } from './client';

const quiet = vi.fn();
beforeEach(() => {
    vi.useFakeTimers();
    vi.setSystemTime(Date.now());
    quiet.mockReset();
    vi.stubGlobal('fetch', (request: Request) => {
        quiet(new URL(request.url).pathname, request.headers.get('X-Heartwood-Quiet'));
        return Promise.resolve(new Response('{}', { status: 200, headers: { 'Content-Type': 'application/json' } }));
    });
});
afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
});

const ask = async () => {
    await api.GET('/api/bench');
    await api.POST('/api/outbox', { body: { outbox_id: crypto.randomUUID(), entries: [] } });
    await api.POST('/api/batches/arrival', { params: { header: key() }, body: { list: 'A' } });
    const said = Object.fromEntries(quiet.mock.calls as [string, string | null][]);
    quiet.mockReset();
    return [said['/api/bench'], said['/api/outbox'], said['/api/batches/arrival']];
};

it('says of what a screen asks by itself that nobody touched it, so that a session left alone ends', async () => {
    window.dispatchEvent(new Event('pointerdown'));
    expect(await ask()).toEqual([null, null, null]);
    vi.setSystemTime(Date.now() + 61_000);
    expect(await ask()).toEqual(['1', '1', null]);
    window.dispatchEvent(new Event('keydown'));
    expect(await ask()).toEqual([null, null, null]);
});
