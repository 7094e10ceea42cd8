/** The owner's page opens without a network too, where the browser can keep it; where it cannot, it works with one. */
export async function offlineToo(): Promise<void> {
    if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
    try {
        await navigator.serviceWorker.register('/pack-worker.js', { scope: '/pack' });
        await navigator.serviceWorker.ready;
        // What this visit has fetched already is fetched again, so that it is kept as well.
        const parts = performance.getEntriesByType('resource').map((e) => e.name);
        await Promise.all(parts.filter((n) => n.includes('/build/')).map((n) => fetch(n).catch(() => undefined)));
        await fetch('/pack', { headers: { Accept: 'text/html' } }).catch(() => undefined);
    } catch {
        // Private windows keep nothing.
    }
}
