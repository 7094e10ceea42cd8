import { type ReactNode } from 'react';
import type { UseQueryResult } from '@tanstack/react-query';
import { ApiError } from '@/api/client';
import { Button, Go, Waiting } from './basics';

/** What stands in the place of an answer that is not there yet: waited for, with what; or refused, with the mend. */
export function QueryState({ of, what }: { of: Pick<UseQueryResult, 'error' | 'isFetching' | 'refetch'>; what: string }) {
    if (of.error === null || of.isFetching) return <Waiting what={what} />;
    const gone = of.error instanceof ApiError && of.error.status === 404;
    return (
        <div role="alert" className="p-6 grid gap-3 max-w-[70ch]">
            <p className="text-ember font-bold">⬣ {of.error.message}</p>
            <div className="flex flex-wrap gap-3">
                {!gone && (
                    <Button look="main" onClick={() => void of.refetch()}>
                        Ask again
                    </Button>
                )}
                <Go to="/">To the bench</Go>
            </div>
        </div>
    );
}

/** Nothing there: what that means, and what to do about it. */
export function Empty({ what, children }: { what: string; children?: ReactNode }) {
    return (
        <div className="border-l-4 border-line pl-4 py-1 grid gap-2 max-w-[70ch]">
            <p>{what}</p>
            {children}
        </div>
    );
}
