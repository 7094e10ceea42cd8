import { useState, memo } from 'react';
import type { LiveCheck } from '@/api/client';
import { type Pair, pairKey } from '@/lib/order';
import { Button } from '@/parts/basics';

/** What core finds odd about the set, asked at once; with the server away it says that nothing was checked yet. */
export const Questions = memo(function Questions({
    check,
    unsent,
    any,
    ask,
}: {
    check: LiveCheck | null;
    unsent: number;
    any: boolean;
    ask: (...pairs: Pair[]) => void;
}) {
    const [settled, setSettled] = useState<string[]>([]);
    const open = check?.questions.filter((q) => !settled.includes(q.text)) ?? [];
    const across = open.flatMap((q) => (q.kind === 'same-value' && q.settle ? [q.settle] : []));
    return (
        <div aria-live="assertive" className="grid gap-3" data-testid="questions">
            {across.length > 1 && (
                <div>
                    <Button look="main" onClick={() => ask(...across)}>
                        Read these {across.length} across, one after another
                    </Button>
                </div>
            )}
            {open.map((q) => (
                <div key={q.text} className="border-[3px] border-amber rounded bg-panel p-4 grid gap-3">
                    <p className="text-lg">
                        <b>Is that right?</b> {q.text}
                    </p>
                    <div className="flex flex-wrap gap-3">
                        {q.settle && (
                            <Button look={across.length > 1 ? 'plain' : 'main'} onClick={() => ask(q.settle!)}>
                                Read {q.settle.from} to {q.settle.to} now
                            </Button>
                        )}
                        {q.readings.length === 1 && q.settle && pairKey(q.readings[0]!) !== pairKey(q.settle) && (
                            <Button onClick={() => ask(q.readings[0]!)}>
                                Repeat {q.readings[0]!.from} to {q.readings[0]!.to}
                            </Button>
                        )}
                        <Button look="quiet" onClick={() => setSettled([...settled, q.text])}>
                            It is as I read it
                        </Button>
                    </div>
                </div>
            ))}
            {unsent > 0 ? (
                <p className="text-amber font-bold">
                    {unsent} not checked yet: the server has not seen {unsent === 1 ? 'it' : 'them'}.
                </p>
            ) : (
                any && (check?.questions.length ?? 0) === 0 && <p className="text-moss font-bold">✓ Nothing odd about these readings.</p>
            )}
        </div>
    );
});
