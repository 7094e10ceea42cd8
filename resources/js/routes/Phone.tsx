import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { ApiError, api, unwrap } from '@/api/client';
import { count, when } from '@/lib/format';
import { ABOUT, type Photo, photoQueue, usePhotoQueue } from '@/lib/photos';
import { slots } from '@/lib/slots';
import { TakeButton } from '@/parts/Photos';
import { PhotosOnTheWay } from '@/parts/PhotosOnTheWay';

const KINDS: Photo['about'][] = ['side', 'label', 'connector', 'damage', 'seal', 'inside', 'step'];

/** A phone as the camera of one job: no account, photos only; what is taken without a network waits here and is sent later. */
export function Component() {
    const secret = location.hash.slice(1);
    const to = `phone:${secret}`;
    const queries = useQueryClient();
    const queue = usePhotoQueue(null);
    const [about, setAbout] = useState<Photo['about']>('');
    const job = useQuery({
        queryKey: slots.phone(secret),
        queryFn: () => unwrap(api.GET('/api/phone', { params: { header: { 'X-Phone-Link': secret } } })),
        refetchOnWindowFocus: true,
    });
    useEffect(() => {
        photoQueue.onSent = () => void queries.invalidateQueries({ queryKey: slots.phone(secret) });
    }, [queries, secret]);
    const over = job.error instanceof ApiError && [404, 409].includes(job.error.status);
    const waiting = queue.items.filter((i) => i.to === to && i.state === 'waits').length;
    if (over && !job.data) {
        return (
            <main className="p-4 grid gap-3">
                <h1>Heartwood</h1>
                <p role="alert">{job.error?.message}</p>
            </main>
        );
    }
    return (
        <main className="p-4 grid gap-4 max-w-md mx-auto content-start min-h-screen">
            <header>
                <h1 className="!text-2xl">{job.data?.name ?? 'Photos for a job'}</h1>
                {job.data && (
                    <p className="text-muted">
                        Job {job.data.number}. {count(job.data.taken, 'photo')} there. Good until {when(job.data.until)}.
                    </p>
                )}
            </header>
            <div role="group" aria-label="What it shows" className="flex flex-wrap gap-2">
                {KINDS.map((k) => (
                    <button
                        key={k}
                        type="button"
                        aria-pressed={about === k}
                        className={`min-h-[48px] px-4 rounded border ${
                            about === k ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel'
                        }`}
                        onClick={() => setAbout(about === k ? '' : k)}
                    >
                        {ABOUT[k]}
                    </button>
                ))}
            </div>
            <div className="grid [&_label]:justify-center [&_label]:min-h-[88px] [&_label]:text-xl">
                <TakeButton word="Take a photo" main add={(files) => void photoQueue.add(files, to, null, about)} />
            </div>
            <p role="status">
                {waiting > 0 ? `${count(waiting, 'photo')} kept on this phone and on the way.` : queue.loaded ? 'Nothing waits here.' : ''}
            </p>
            <PhotosOnTheWay queue={queue} to={to} />
            {job.isError && !over && <p className="text-muted">No network: photos are kept on this phone and sent when it is back.</p>}
            {over && <p role="alert">{job.error?.message}</p>}
        </main>
    );
}
