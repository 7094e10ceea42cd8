// One word from the page says how often; then it ticks. See ticker.ts for why a page cannot do this itself.
self.onmessage = (e: MessageEvent<number>) => {
    setInterval(() => postMessage(0), e.data);
};
