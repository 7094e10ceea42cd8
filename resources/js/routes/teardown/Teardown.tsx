import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { count } from '@/lib/format';
import { photoUrl } from '@/lib/photos';
import { slots } from '@/lib/slots';
import { Beside } from '@/parts/Beside';
import { Button, Field, Go } from '@/parts/basics';
import { PhoneSheet } from '@/parts/PhoneSheet';
import { TakeButton, usePhotos, useTake } from '@/parts/Photos';
import { PhotosOnTheWay } from '@/parts/PhotosOnTheWay';
import { QueryState } from '@/parts/QueryState';
import { Sheet } from '@/parts/Sheet';
import { Tabs, useTab } from '@/parts/Tabs';
import { useLines } from './lines';
import { WayBack } from './WayBack';

export type Data = components['schemas']['Teardown'];
type Step = components['schemas']['TeardownStep'];

const TABS = [
    ['apart', 'Take it apart'],
    ['back', 'The way back'],
] as const;

/** A pack is taken apart step by step, and goes together again by the same steps in reverse. */
export function Component() {
    const job = useOutletContext<Job>();
    const tab = useTab(TABS);
    const data = useQuery({
        queryKey: slots.teardown(job.id),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/teardown', { params: { path: { job: job.id } } })),
    });
    if (!data.data) return <QueryState of={data} what="Fetching the teardown ..." />;
    return (
        <Beside job={job} stage="work" narrow>
            <Tabs label="Teardown" tabs={TABS} at={tab} />
            {tab === 'apart' ? <Apart job={job} data={data.data} /> : <WayBack job={job} data={data.data} />}
        </Beside>
    );
}

function Apart({ job, data }: { job: Job; data: Data }) {
    const may = useMay('work') && job.status === 'open';
    const [typed, setTyped] = useState('');
    const [wrong, setWrong] = useState('');
    const [phone, setPhone] = useState(false);
    const photos = usePhotos(job.id);
    const field = useRef<HTMLInputElement>(null);
    const lines = useLines(job.id, (line, why) => {
        setTyped((now) => (now === '' ? line : now));
        setWrong(`"${line}": ${why}`);
        field.current?.focus();
    });
    const take = useTake(job.id, 'step');
    const refused = job.gates['open'] ?? null;
    const { guide } = data;
    // While steps are on their way, what comes next is not known yet.
    const next = lines.waiting.length === 0 ? guide?.next : null;
    const add = () => {
        const line = typed.trim() || next?.line || '';
        if (line === '') return;
        lines.add(line);
        setTyped('');
        setWrong('');
    };
    return (
        <div className="grid gap-4">
            {refused && (
                <p role="alert" className="border-l-4 border-ember pl-3 font-bold">
                    {refused}
                </p>
            )}
            {!job.agreed && job.pack.build !== 'new' && (
                <p className="border-l-4 border-amber pl-3">
                    Nobody has agreed to opening it yet.{' '}
                    <Link to={`/jobs/${job.id}/intake`} className="underline underline-offset-4">
                        Agree on it first
                    </Link>
                </p>
            )}
            {may && !refused && (
                <form
                    className="sheet p-4 grid gap-3"
                    onSubmit={(e) => {
                        e.preventDefault();
                        add();
                    }}
                >
                    {next && (
                        <div className="flex gap-4 items-start">
                            {next.photo_id && (
                                <img
                                    src={photoUrl({ id: next.photo_id }, 'small')}
                                    alt="This step at the pack before"
                                    width={120}
                                    height={90}
                                    className="w-[120px] h-[90px] object-cover rounded border border-line"
                                />
                            )}
                            <div className="grid gap-1 grow">
                                <p>
                                    <span className="text-muted">As at job {guide!.job}, next:</span> <b>{next.text}</b>
                                    {next.hidden && <b className="text-ember"> (hidden)</b>}
                                </p>
                                {(next.how || next.remark) && (
                                    <p className="text-muted">{[next.how, next.remark].filter(Boolean).join('. ')}</p>
                                )}
                                {next.volts !== null && (
                                    <p>It read {next.volts} V there. Measure this one, and type it behind = at the end of the line.</p>
                                )}
                                <p className="text-muted">
                                    {count(guide!.left, 'step')} to go
                                    {guide!.minutes_left ? `, ${guide!.minutes_left.toFixed(0)} minutes by the last` : ''}.
                                </p>
                            </div>
                            <Button onClick={() => (next.volts === null ? lines.add(next.line) : setTyped(`${next.line} = `))}>
                                {next.volts === null ? 'As last time' : 'With its volts'}
                            </Button>
                        </div>
                    )}
                    <div className="flex flex-wrap gap-3 items-end">
                        <div className="grow">
                            <Field
                                label="What came off"
                                hint="11 screws M3x8 @ lid & hex 2; lead red @ T3 to pin 4 = 11.4; ~ how it lay; ! hidden; # remark"
                                error={wrong || undefined}
                            >
                                {(p) => (
                                    <input
                                        {...p}
                                        ref={field}
                                        value={typed}
                                        maxLength={400}
                                        autoFocus
                                        autoComplete="off"
                                        data-next-field
                                        placeholder={next?.line}
                                        onChange={(e) => setTyped(e.target.value)}
                                    />
                                )}
                            </Field>
                        </div>
                        <Button type="submit" look="main">
                            It is off
                        </Button>
                        <TakeButton word="Photo" add={take.add} />
                        <Button onClick={() => setPhone(true)}>With a phone</Button>
                    </div>
                    <PhotosOnTheWay queue={take.queue} to={take.to} />
                    {lines.waiting.map((l) => (
                        <p key={l.id} className="text-muted" role="status">
                            {l.line}: {lines.away ? `kept here. ${lines.away}` : 'on its way'}
                        </p>
                    ))}
                </form>
            )}
            {phone && <PhoneSheet job={job} until={photos.data?.phone_until ?? null} onClose={() => setPhone(false)} />}
            {(guide?.deviations ?? []).map((d) => (
                <p key={d} className="border-l-4 border-amber pl-3">
                    <b>Other than last time:</b> {d} Is it so?
                </p>
            ))}
            {data.leads.map((w) => (
                <p key={w} className="border-l-4 border-ember pl-3">
                    {w}
                </p>
            ))}
            {data.steps.length === 0 ? (
                <p className="text-muted">
                    Nothing has come off yet. Each step is a line and a photo; the way back writes itself from them.
                </p>
            ) : (
                <>
                    <ol aria-label="Steps so far" className="grid">
                        {data.steps.map((s, i) => (
                            <Row key={s.id} job={job} step={s} n={i + 1} may={may} />
                        ))}
                    </ol>
                    <p className="text-muted">
                        {Object.entries(data.fasteners)
                            .map(([kind, n]) => `${n} ${kind}`)
                            .join(', ') || 'No fasteners'}
                        . {data.minutes > 0 && `${data.minutes.toFixed(0)} minutes so far.`}
                    </p>
                    <p>
                        <Go to={`/jobs/${job.id}/teardown?do=back`} look="main">
                            The way back
                        </Go>
                    </p>
                </>
            )}
        </div>
    );
}

function Row({ job, step: s, n, may }: { job: Job; step: Step; n: number; may: boolean }) {
    const queries = useQueryClient();
    const [editing, setEditing] = useState<string | null>(null);
    const [choosing, setChoosing] = useState(false);
    const change = async (body: { line?: string; photo_id?: string | null; removed?: boolean }) => {
        try {
            const now = await unwrap(
                api.PATCH('/api/teardown-steps/{teardownStep}', {
                    params: { path: { teardownStep: s.id }, header: { ...key(), 'If-Match': s.version } },
                    body,
                }),
            );
            queries.setQueryData(slots.teardown(job.id), now);
            setEditing(null);
            setChoosing(false);
        } catch (e) {
            toast.error(e instanceof Error ? e.message : String(e));
        }
    };
    return (
        <li className="border-t border-line py-1.5 grid gap-2">
            <div className="flex flex-wrap gap-x-3 gap-y-1 items-center">
                <span className="digits text-muted w-7">{n}</span>
                {s.photo_id ? (
                    <button type="button" aria-label={`Photo of step ${n}`} onClick={() => setChoosing(true)}>
                        <img
                            src={photoUrl({ id: s.photo_id }, 'small')}
                            alt=""
                            loading="lazy"
                            width={64}
                            height={48}
                            className="w-16 h-12 object-cover rounded border border-line"
                        />
                    </button>
                ) : (
                    may && (
                        <Button look="quiet" onClick={() => setChoosing(true)}>
                            Its photo
                        </Button>
                    )
                )}
                <span className="grow">
                    <b>{s.text}</b>
                    {s.volts !== null && <span className="digits"> {s.volts} V</span>}
                    {s.hidden && <b className="text-ember"> hidden</b>}{' '}
                    <span className="text-muted">{[s.how, s.remark].filter(Boolean).join('. ')}</span>
                </span>
                {s.minutes !== null && <span className="digits text-muted">{s.minutes.toFixed(1)} min</span>}
                {may && (
                    <Button look="quiet" onClick={() => setEditing(editing === null ? s.line : null)}>
                        Say it better
                    </Button>
                )}
            </div>
            {editing !== null && (
                <form
                    className="flex flex-wrap gap-3 items-end"
                    onSubmit={(e) => {
                        e.preventDefault();
                        void change({ line: editing });
                    }}
                >
                    <div className="grow">
                        <Field label={`Step ${n}`}>
                            {(p) => <input {...p} autoFocus value={editing} maxLength={400} onChange={(e) => setEditing(e.target.value)} />}
                        </Field>
                    </div>
                    <Button type="submit">Keep it</Button>
                    <Button look="quiet" onClick={() => void change({ removed: true })}>
                        Take the step out
                    </Button>
                </form>
            )}
            {choosing && <ChoosePhoto job={job} n={n} onClose={() => setChoosing(false)} choose={(id) => void change({ photo_id: id })} />}
        </li>
    );
}

/** The photos of the job, newest first: a touch puts one to the step. */
function ChoosePhoto({ job, n, onClose, choose }: { job: Job; n: number; onClose: () => void; choose: (id: string) => void }) {
    const photos = [...(usePhotos(job.id).data?.photos ?? [])].reverse();
    return (
        <Sheet title={`Photo of step ${n}`} onClose={onClose} wide>
            {photos.length === 0 ? (
                <p>No photo yet. Take one here or with a phone.</p>
            ) : (
                <ul className="flex flex-wrap gap-2">
                    {photos.map((p, i) => (
                        <li key={p.id}>
                            <button type="button" aria-label={`Photo ${i + 1} from the newest`} onClick={() => choose(p.id)}>
                                <img
                                    src={photoUrl(p, 'small')}
                                    alt=""
                                    loading="lazy"
                                    width={150}
                                    height={112}
                                    className="w-[150px] h-[112px] object-cover rounded border border-line hover:border-bark"
                                />
                            </button>
                        </li>
                    ))}
                </ul>
            )}
        </Sheet>
    );
}
