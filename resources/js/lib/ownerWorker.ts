const TAKEN_OVER_MS = 6000;

/** The owner's page opens without a network too, where the browser can keep it; where it cannot, it works with one. */
export async function offlineToo(): Promise<void> {
    if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
    try {
        await navigator.serviceWorker.register('/pack-worker.js', { scope: '/pack' });
        if (!navigator.serviceWorker.controller) {
            // Until it has taken this page over, it hears nothing.
            await new Promise((done) => {
                navigator.serviceWorker.addEventListener('controllerchange', done, { once: true });
                setTimeout(done, TAKEN_OVER_MS);
            });
        }
        // What this visit has fetched already is fetched again, so that it is kept as well.
        const kept = new Set<string>();
        new PerformanceObserver((list) => {
            for (const { name } of list.getEntries()) {
                if (!name.includes('/build/') || kept.has(name)) continue;
                kept.add(name);
                void fetch(name).catch(() => kept.delete(name));
            }
        }).observe({ type: 'resource', buffered: true });
        await fetch('/pack', { headers: { Accept: 'text/html' } }).catch(() => undefined);
    } catch {
        // Private windows keep nothing.
    }
}
