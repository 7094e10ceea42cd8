/**
 * A steady tick from a worker: a page's own timers slow down to one a minute when its tab is hidden, and a run that
 * nobody seems to watch is switched off.
 */
export function ticker(ms: number, tick: () => void): () => void {
    const source = `setInterval(() => postMessage(0), ${ms});`;
    const url = URL.createObjectURL(new Blob([source], { type: 'text/javascript' }));
    const worker = new Worker(url);
    worker.onmessage = tick;
    return () => {
        worker.terminate();
        URL.revokeObjectURL(url);
    };
}
