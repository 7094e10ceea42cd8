import type { QueueState } from '@/lib/photoQueue';
import { photoQueue } from '@/lib/photos';
import { Button } from './basics';

/** Photos that are on this device's disk and not yet at the server: how far, why not, and what was refused. */
export function PhotosOnTheWay({ queue, to }: { queue: QueueState; to: string }) {
    const mine = queue.items.filter((i) => i.to === to);
    if (mine.length === 0) return null;
    return (
        <ul aria-label="Photos on their way" className="grid gap-1">
            {mine.map((p) => {
                const share = queue.sending?.id === p.id ? queue.sending.share : null;
                return (
                    <li key={p.id} className="grid gap-1">
                        <span className="flex flex-wrap gap-x-3 items-center">
                            <span className="truncate max-w-[16rem]">{p.name || 'photo'}</span>
                            {p.state === 'refused' ? (
                                <>
                                    <span role="alert" className="text-ember font-bold">
                                        {p.why}
                                    </span>
                                    <Button look="quiet" onClick={() => void photoQueue.dismiss(p.id)}>
                                        Leave it out
                                    </Button>
                                </>
                            ) : (
                                <span className="text-muted digits">{share === null ? 'waits' : `${Math.round(100 * share)} %`}</span>
                            )}
                        </span>
                        {share !== null && <progress className="w-full h-1.5" value={share} aria-label={`Sending ${p.name}`} />}
                    </li>
                );
            })}
            {queue.away && (
                <li role="status" className="text-muted">
                    {queue.away}
                </li>
            )}
        </ul>
    );
}
