import { useCallback, useEffect, useState } from 'react';

/** Form state that survives reload and a closed browser until it is sent. One draft per name and person. */
export function useDraft<T>(name: string, initial: T): [T, (change: T | ((old: T) => T)) => void, () => void] {
    const slot = `heartwood.draft.${name}`;
    const [value, setValue] = useState<T>(() => {
        const stored = localStorage.getItem(slot);
        if (stored === null) return initial;
        try {
            return JSON.parse(stored) as T;
        } catch {
            return initial;
        }
    });
    const [done, setDone] = useState(false);
    useEffect(() => {
        if (done) return;
        // What is blank again is no draft any more: nobody finds it filled in after a reload.
        if (JSON.stringify(value) === JSON.stringify(initial)) localStorage.removeItem(slot);
        else localStorage.setItem(slot, JSON.stringify(value));
    }, [slot, value, done, initial]);
    const clear = useCallback(() => {
        setDone(true);
        localStorage.removeItem(slot);
    }, [slot]);
    return [value, setValue, clear];
}
