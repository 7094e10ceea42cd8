import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { useKeep } from '@/lib/bench';
import { Button } from '@/parts/basics';
import { Word } from '@/parts/Word';
import type { Overview } from './Supply';

/** Ways to wake the board in their order; what came of each is a test of the record and moves the verdict. */
export function Wake({ job, overview }: { job: Job; overview: Overview }) {
    const write = useKeep();
    const keep = async (action: string, woke: boolean) => {
        if (!(await write({ kind: 'test', job: job.id, data: { kind: 'wake', action, woke } }))) return;
        toast.success(woke ? 'Kept: it woke.' : 'Kept: it did not wake.');
    };
    const next = overview.wake.actions.find((a) => !a.tried);
    return (
        <section aria-label="Wake the board" className="grid gap-3 max-w-4xl">
            <p className={`text-lg ${overview.wake.ready ? '' : 'border-l-8 border-ember pl-3 font-bold'}`}>{overview.wake.why}</p>
            <p className="text-muted">
                How to <Word of="wake">wake</Word> a <Word of="board">board</Word>, in this order.
            </p>
            <ol className="grid gap-2">
                {overview.wake.actions.map((a, i) => (
                    <li
                        key={a.action}
                        className={`sheet p-3 flex flex-wrap gap-3 items-center ${a === next ? 'border-l-8 !border-l-bark' : ''}`}
                    >
                        <span className="grow text-lg">
                            <span className="text-muted">{i + 1}.</span> {a.text}
                        </span>
                        {a.tried ? (
                            <b className="text-muted">✕ tried, stayed off</b>
                        ) : (
                            <>
                                <Button
                                    look={a === next ? 'main' : 'plain'}
                                    disabled={!overview.wake.ready}
                                    onClick={() => void keep(a.action, true)}
                                >
                                    It woke
                                </Button>
                                <Button disabled={!overview.wake.ready} onClick={() => void keep(a.action, false)}>
                                    Stayed off
                                </Button>
                            </>
                        )}
                    </li>
                ))}
            </ol>
        </section>
    );
}
