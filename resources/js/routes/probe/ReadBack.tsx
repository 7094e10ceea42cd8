import { memo } from 'react';
import type { Pair } from '@/lib/order';
import type { Line } from './set';

/** What was taken in this set, the latest first, and whether it is safe on the server. */
export const ReadBack = memo(function ReadBack({ run, pick }: { run: Line[]; pick: (pair: Pair) => void }) {
    if (run.length === 0) return <p className="text-muted">Nothing read in this set yet.</p>;
    return (
        <table className="w-full">
            <caption className="text-left font-bold pb-1">Read back</caption>
            <tbody>
                {[...run].reverse().map((l) => (
                    <tr key={l.id} className="border-b border-line">
                        <td className="py-1">
                            <button
                                type="button"
                                className="min-h-[36px] underline underline-offset-4"
                                onClick={() => pick({ from: l.from, to: l.to })}
                            >
                                {l.from} to {l.to}
                            </button>
                        </td>
                        <td className="digits text-right py-1">{l.typed}</td>
                        <td className="text-right text-sm pl-2">
                            {l.where === 'server' ? (
                                <span className="text-moss">✓ kept</span>
                            ) : l.where === 'bench' ? (
                                <span className="text-amber">△ here only</span>
                            ) : (
                                <span className="text-ember">✗ {l.errors}</span>
                            )}
                        </td>
                    </tr>
                ))}
            </tbody>
        </table>
    );
});
