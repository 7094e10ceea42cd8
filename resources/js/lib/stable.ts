import { useCallback, useLayoutEffect, useRef } from 'react';

/** A handler that is the same one at every drawing and does what the latest would: what is given it need not be drawn again. */
export function useStable<A extends unknown[], R>(handler: (...args: A) => R): (...args: A) => R {
    const latest = useRef(handler);
    useLayoutEffect(() => {
        latest.current = handler;
    });
    return useCallback((...args: A) => latest.current(...args), []);
}
