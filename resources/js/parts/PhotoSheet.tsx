import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { when } from '@/lib/format';
import { ABOUT, MARK, type Photo, photoUrl } from '@/lib/photos';
import { slots } from '@/lib/slots';
import { Button, Field } from './basics';
import { Sheet } from './Sheet';

type Mark = components['schemas']['PhotoMark'];
const STEP = 0.02;
const inside = (x: number) => Math.min(1, Math.max(0, x));
const MOVES: Record<string, [number, number]> = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] };

/** One photo, large: a touch marks a place, a word says what is there; the picture itself stays as it came. */
export function PhotoSheet({ photo, job, onClose }: { photo: Photo; job: Job; onClose: () => void }) {
    const queries = useQueryClient();
    const may = useMay('intake') && job.status === 'open';
    const [marks, setMarks] = useState<Mark[]>(photo.marks);
    const [about, setAbout] = useState(photo.about);
    const [note, setNote] = useState(photo.note);
    const [onReport, setOnReport] = useState(photo.on_report);
    const keep = useMutation({
        mutationFn: (removed: boolean) =>
            unwrap(
                api.PATCH('/api/photos/{photo}', {
                    params: { path: { photo: photo.id }, header: { ...key(), 'If-Match': photo.version } },
                    body: removed ? { removed } : { marks, about, note, on_report: onReport },
                }),
            ),
        onSuccess: (_, removed) => {
            void queries.invalidateQueries({ queryKey: slots.photos(job.id) });
            toast.success(removed ? 'Put away.' : 'Kept.');
            onClose();
        },
        onError: (e) => toast.error(e.message),
    });
    const change = (i: number, to: Partial<Mark>) => setMarks(marks.map((m, k) => (k === i ? { ...m, ...to } : m)));
    return (
        <Sheet
            title={`Photo of ${when(photo.at)}${photo.by ? `, ${photo.phone ? 'by the phone of' : 'by'} ${photo.by}` : ''}`}
            onClose={onClose}
            wide
        >
            <div className="relative w-fit max-w-full justify-self-center">
                {/* The keyboard marks by "Mark a place" and moves marks by arrows. */}
                {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-noninteractive-element-interactions */}
                <img
                    src={photoUrl(photo, 'whole')}
                    alt={`What was taken: ${ABOUT[about]}${note ? `, ${note}` : ''}`}
                    width={photo.width}
                    height={photo.height}
                    className="max-h-[40vh] w-auto max-w-full rounded"
                    onClick={(e) => {
                        if (!may) return;
                        const box = e.currentTarget.getBoundingClientRect();
                        setMarks([
                            ...marks,
                            { x: inside((e.clientX - box.left) / box.width), y: inside((e.clientY - box.top) / box.height), text: '' },
                        ]);
                    }}
                />
                {marks.map((m, i) => (
                    <button
                        key={i}
                        type="button"
                        aria-label={`Mark ${i + 1}${m.text ? `: ${m.text}` : ''}; arrows move it`}
                        className={`${MARK} w-8 h-8`}
                        style={{ left: `${100 * m.x}%`, top: `${100 * m.y}%` }}
                        onKeyDown={(e) => {
                            const move = MOVES[e.key];
                            if (!move || !may) return;
                            e.preventDefault();
                            change(i, { x: inside(m.x + move[0]), y: inside(m.y + move[1]) });
                        }}
                    >
                        {i + 1}
                    </button>
                ))}
            </div>
            {may ? (
                <form
                    className="grid gap-3"
                    onSubmit={(e) => {
                        e.preventDefault();
                        keep.mutate(false);
                    }}
                >
                    {marks.map((m, i) => (
                        <div key={i} className="flex gap-3 items-end">
                            <div className="grow">
                                <Field label={`Mark ${i + 1}`}>
                                    {(p) => (
                                        <input
                                            {...p}
                                            value={m.text ?? ''}
                                            maxLength={120}
                                            onChange={(e) => change(i, { text: e.target.value })}
                                        />
                                    )}
                                </Field>
                            </div>
                            <Button look="quiet" onClick={() => setMarks(marks.filter((_, k) => k !== i))}>
                                Take it off
                            </Button>
                        </div>
                    ))}
                    <div className="flex flex-wrap gap-3 items-end">
                        <Button onClick={() => setMarks([...marks, { x: 0.5, y: 0.5, text: '' }])}>Mark a place</Button>
                        <Field label="It shows">
                            {(p) => (
                                <select {...p} value={about} onChange={(e) => setAbout(e.target.value as Photo['about'])}>
                                    {(Object.keys(ABOUT) as Photo['about'][]).map((a) => (
                                        <option key={a} value={a}>
                                            {ABOUT[a]}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        <div className="grow">
                            <Field label="Note">
                                {(p) => <input {...p} value={note} maxLength={400} onChange={(e) => setNote(e.target.value)} />}
                            </Field>
                        </div>
                        <label className="flex items-center gap-2 min-h-[44px]">
                            <input type="checkbox" checked={onReport} onChange={(e) => setOnReport(e.target.checked)} /> on the report
                        </label>
                    </div>
                    <div className="flex gap-3">
                        <Button type="submit" look="main" disabled={keep.isPending}>
                            Keep it
                        </Button>
                        <Button look="quiet" disabled={keep.isPending} onClick={() => keep.mutate(true)}>
                            Put the photo away
                        </Button>
                    </div>
                </form>
            ) : (
                <ol className="list-decimal pl-6">
                    {marks.map((m, i) => (
                        <li key={i}>{m.text || 'marked'}</li>
                    ))}
                </ol>
            )}
        </Sheet>
    );
}
