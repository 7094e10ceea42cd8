import { count } from '@/lib/format';
import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import { useLocation } from 'react-router';
import { useOutbox, useOutboxNow } from '@/lib/bench';
import { Button, Go } from './basics';

/** Whether what was typed is safe on the server yet, and what is not. */
export function Safekeeping() {
    const { loaded, writing, waiting, refused, problem } = useOutboxNow();
    const outbox = useOutbox();
    const { pathname } = useLocation();
    const unsent = writing + waiting.length;
    const n = unsent + refused.length;
    const stuck = problem?.kind === 'disk';
    const text = stuck
        ? 'not kept here'
        : !loaded
          ? 'looking'
          : refused.length > 0
            ? `${refused.length} refused`
            : unsent > 0
              ? `${unsent} only on this bench`
              : 'all kept';
    return (
        <Popover.Root>
            <Popover.Trigger asChild>
                <button
                    type="button"
                    className={clsx(
                        'min-h-[44px] px-3 rounded border-[1.5px] font-bold',
                        n > 0 || stuck ? 'border-amber text-amber bg-knot' : 'border-transparent text-moss',
                    )}
                >
                    <span role="status" aria-live="polite" data-testid="safekeeping">
                        <span aria-hidden="true">{n > 0 || stuck ? '△ ' : loaded ? '✓ ' : '○ '}</span>
                        {text}
                    </span>
                </button>
            </Popover.Trigger>
            <Popover.Portal>
                <Popover.Content
                    sideOffset={6}
                    aria-label="What is kept"
                    className="sheet p-4 w-[23rem] max-h-[60vh] overflow-auto grid gap-3 shadow-lg z-20 bg-panel text-ink"
                >
                    {stuck && <p>{problem.message}</p>}
                    {n === 0 && loaded && !stuck && <p>Everything typed here is safe on the server.</p>}
                    {waiting.length > 0 && (
                        <p>
                            {count(waiting.length, 'entry waits', 'entries wait')} on this bench, written to its disk.{' '}
                            {problem?.message ?? 'Sending.'}
                        </p>
                    )}
                    {problem?.kind === 'signed-out' && (
                        <Go to={`/sign-in?to=${encodeURIComponent(pathname)}`} look="main">
                            Sign in again
                        </Go>
                    )}
                    {refused.map((e) => (
                        <div key={e.seq} className="border-l-4 border-ember pl-3 grid gap-2">
                            <p>
                                <b>
                                    {String(e.data['from'] ?? e.kind)} {e.data['to'] ? `to ${String(e.data['to'])}` : ''}{' '}
                                    {String(e.data['typed'] ?? '')}
                                </b>{' '}
                                was refused: {Object.values(e.errors ?? {}).join(' ')}
                            </p>
                            <div>
                                <Button onClick={() => void outbox.dismiss(e)}>Dealt with</Button>
                            </div>
                        </div>
                    ))}
                </Popover.Content>
            </Popover.Portal>
        </Popover.Root>
    );
}
