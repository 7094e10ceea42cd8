import { useSyncExternalStore } from 'react';

const watch = (changed: () => void) => {
    const seen = new MutationObserver(changed);
    seen.observe(document.documentElement, { attributes: true, attributeFilter: ['data-light'] });
    return () => seen.disconnect();
};

/** Whether the screen is dimmed: for what reads its colours once and draws by itself. */
export const useDim = () => useSyncExternalStore(watch, () => document.documentElement.dataset['light'] === 'dim');
