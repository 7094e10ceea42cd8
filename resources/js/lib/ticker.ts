/**
 * A steady tick from a worker: a page's own timers slow down to one a minute when its tab is hidden, and a run that
 * nobody seems to watch is switched off.
 */
export function ticker(ms: number, tick: () => void): () => void {
    const worker = new Worker(new URL('./ticker.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = tick;
    worker.postMessage(ms);
    return () => worker.terminate();
}
