import { registerRoute } from 'workbox-routing';
import { CacheFirst, NetworkFirst } from 'workbox-strategies';

/**
 * Keeps the owner's page on the phone, so that it opens without a network: the page itself, newest first, and the parts of it, whose names
 * change when they do. Nothing that is said of a pack is kept here, and no other screen is touched.
 */
interface Awoken extends Event {
    waitUntil(done: Promise<unknown>): void;
}
const worker = self as unknown as {
    skipWaiting(): Promise<void>;
    clients: { claim(): Promise<void> };
    addEventListener(kind: 'install' | 'activate', heard: (e: Awoken) => void): void;
};

worker.addEventListener('install', () => void worker.skipWaiting());
worker.addEventListener('activate', (e) => e.waitUntil(worker.clients.claim()));

registerRoute(
    ({ url, sameOrigin }) => sameOrigin && url.pathname === '/pack',
    new NetworkFirst({
        cacheName: 'heartwood-pack',
        networkTimeoutSeconds: 4,
        // One page for every pack: the secret behind the # is no part of its name.
        plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve('/pack') }],
    }),
);
registerRoute(({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith('/build/'), new CacheFirst({ cacheName: 'heartwood-parts' }));
