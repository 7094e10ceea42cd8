import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, type Job, unwrap } from '@/api/client';
import { useMay, usePerson } from '@/lib/bench';
import { count, when } from '@/lib/format';
import { ABOUT, type Photo, photoQueue, photoUrl, usePhotoQueue } from '@/lib/photos';
import { slots } from '@/lib/slots';
import { Button } from './basics';
import { PhoneSheet } from './PhoneSheet';
import { PhotoSheet } from './PhotoSheet';
import { PhotosOnTheWay } from './PhotosOnTheWay';

/** Photos of a job; asked again now and then while a phone may add some. */
export const usePhotos = (job: number) =>
    useQuery({
        queryKey: slots.photos(job),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/photos', { params: { path: { job } } })),
        refetchInterval: (q) => (q.state.data?.phone_until ? 4000 : false),
    });

/** All of a job's photos: dropped here, chosen, or taken by a phone; each opens to be marked. */
export function Photos({ job }: { job: Job }) {
    const photos = usePhotos(job.id);
    const may = useMay('intake') && job.status === 'open';
    const [open, setOpen] = useState<string | null>(null);
    const [phone, setPhone] = useState(false);
    const [over, setOver] = useState(false);
    const all = photos.data?.photos ?? [];
    const take = useTake(job.id);
    const shown = all.find((p) => p.id === open);
    return (
        <section
            aria-label="Photos"
            className={`grid gap-2 ${over ? 'outline-2 outline-dashed outline-bark' : ''}`}
            onDragOver={(e) => {
                if (!may) return;
                e.preventDefault();
                setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={(e) => {
                e.preventDefault();
                setOver(false);
                if (may) take.add(e.dataTransfer.files);
            }}
        >
            <div className="flex flex-wrap gap-3 items-center">
                <h2 className="grow">{all.length === 0 ? 'Photos' : count(all.length, 'photo')}</h2>
                {may && (
                    <>
                        <TakeButton word="Add photos" add={take.add} />
                        <Button onClick={() => setPhone(true)}>With a phone</Button>
                    </>
                )}
            </div>
            {may && all.length === 0 && take.queue.items.length === 0 && (
                <p className="text-muted">All sides, the label, the connector, damage, the seal. Files can be dropped here.</p>
            )}
            <PhotosOnTheWay queue={take.queue} to={take.to} />
            <ul className="flex flex-wrap gap-2">
                {all.map((p) => (
                    <li key={p.id}>
                        <Thumb photo={p} onOpen={() => setOpen(p.id)} />
                    </li>
                ))}
            </ul>
            {shown && <PhotoSheet key={shown.id} photo={shown} job={job} onClose={() => setOpen(null)} />}
            {phone && <PhoneSheet job={job} until={photos.data?.phone_until ?? null} onClose={() => setPhone(false)} />}
        </section>
    );
}

/** The photo of the label, beside the fields that are read off it. */
export function LabelPhoto({ job }: { job: number }) {
    const label = (usePhotos(job).data?.photos ?? []).filter((p) => p.about === 'label').pop();
    if (!label) return null;
    return (
        <a href={photoUrl(label, 'whole')} target="_blank" rel="noreferrer" className="block w-fit">
            <img
                src={photoUrl(label, 'whole')}
                alt="The label of the pack, as it was taken"
                loading="lazy"
                className="max-h-56 max-w-full rounded border border-line"
            />
        </a>
    );
}

/** Photos taken here go to this job, under the name of whoever is signed in. */
export function useTake(job: number, about = '') {
    const person = usePerson().id;
    const queue = usePhotoQueue(person);
    const queries = useQueryClient();
    const to = `job:${job}`;
    useEffect(() => {
        photoQueue.onSent = (p) => {
            // A first answer that is still on its way is older than this photo: it is not waited for.
            const slot = { queryKey: slots.photos(Number(p.to.slice(4))) };
            void queries.cancelQueries(slot).then(() => queries.invalidateQueries(slot));
        };
    }, [queries]);
    return { queue, to, add: (files: Iterable<File>) => void photoQueue.add(files, to, person, about) };
}

export function TakeButton({ word, add, main = false }: { word: string; add: (files: File[]) => void; main?: boolean }) {
    return (
        <label
            className={`min-h-[44px] px-4 rounded border-2 border-bark font-bold flex items-center cursor-pointer ${
                main ? 'bg-bark text-on-bark' : 'bg-panel hover:bg-knot'
            } focus-within:outline-3 focus-within:outline-offset-2 focus-within:outline-water`}
        >
            {word}
            <input
                type="file"
                className="sr-only"
                accept="image/jpeg,image/png,image/webp"
                multiple
                onChange={(e) => {
                    add([...(e.target.files ?? [])]);
                    e.target.value = '';
                }}
            />
        </label>
    );
}

export function Thumb({ photo: p, onOpen }: { photo: Photo; onOpen: () => void }) {
    const said = [ABOUT[p.about] === 'not said' ? '' : ABOUT[p.about], p.note, p.marks.length > 0 ? count(p.marks.length, 'mark') : '']
        .filter(Boolean)
        .join(', ');
    return (
        <button
            type="button"
            className="grid gap-0.5 w-[104px] text-left text-[0.8rem] leading-tight hover:bg-knot rounded"
            onClick={onOpen}
            aria-label={`Photo of ${when(p.at)}${said ? `: ${said}` : ''}`}
        >
            <img
                src={photoUrl(p, 'small')}
                alt=""
                loading="lazy"
                decoding="async"
                width={104}
                height={78}
                className="w-[104px] h-[78px] object-cover rounded border border-line bg-knot"
            />
            <span className="truncate">
                {p.on_report && <b title="on the report">▤ </b>}
                {said || when(p.at)}
            </span>
        </button>
    );
}
