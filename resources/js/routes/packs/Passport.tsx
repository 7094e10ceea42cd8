import '@/lib/ownerWords';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import { Link, useParams } from 'react-router';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { day, when } from '@/lib/format';
import { blind, seen } from '@/lib/glance';
import { slots } from '@/lib/slots';
import { Basis, Button, Field, Waiting } from '@/parts/basics';
import { GlanceMark } from '@/parts/GlanceMark';
import { WatchChart } from '@/parts/WatchChart';
import { Given } from '@/routes/probe/PackLogs';
import { EnterReadings, voltsOf } from './EnterReadings';
import { LabelSheet } from './LabelSheet';
import { Elsewhere, Jobs, Made } from './Life';
import { type Passport, usePackWrite } from './write';

/** One pack over all its jobs and owners: whether the repair holds, what was read of it, what was done to it. */
export function Component() {
    const id = Number(useParams()['pack']);
    const page = useQuery({
        queryKey: slots.pack(id),
        queryFn: () => unwrap(api.GET('/api/packs/{pack}', { params: { path: { pack: id } } })),
    });
    if (page.isError)
        return (
            <p role="alert" className="p-5">
                {page.error.message}
            </p>
        );
    if (!page.data) return <Waiting what="Opening the passport ..." />;
    return <Page pack={page.data} />;
}

function Page({ pack }: { pack: Passport }) {
    const [label, setLabel] = useState(false);
    const may = useMay('return');
    return (
        <div className="p-5 grid gap-6 max-w-6xl">
            <header className="flex flex-wrap gap-x-6 gap-y-2 items-baseline">
                <h1>{pack.name}</h1>
                <span className="digits text-xl">{pack.code}</span>
                <span className="text-muted">
                    {pack.serial && `serial ${pack.serial}, `}
                    {pack.series} groups{pack.parallel ? ` of ${pack.parallel}` : ''}, {pack.chemistry}
                </span>
                <span className="grow" />
                <a
                    href={`/api/packs/${pack.id}/passport`}
                    download
                    className="inline-flex items-center min-h-[44px] underline underline-offset-4"
                >
                    Export the passport
                </a>
                {may && (
                    <Button onClick={() => setLabel(true)}>
                        {pack.link ? 'Label and owner’s page' : 'Label with a page for its owner'}
                    </Button>
                )}
            </header>
            {label && <LabelSheet pack={pack} onClose={() => setLabel(false)} />}
            <section aria-label="Does the repair hold?" className="sheet p-5 grid gap-3">
                {pack.watch ? (
                    <Watched pack={pack} watch={pack.watch} />
                ) : (
                    <>
                        <p>It is at the workshop or never went back: what is read after its return stands here.</p>
                        <Readings pack={pack} />
                    </>
                )}
            </section>
            {pack.capacity && pack.capacity.tests.length > 0 && (
                <section aria-label="Capacity" className="max-w-xl">
                    <Given history={pack.capacity} />
                </section>
            )}
            <Jobs pack={pack} />
            <Made pack={pack} />
            <Elsewhere pack={pack} />
            <Owners pack={pack} />
        </div>
    );
}

function Watched({ pack, watch }: { pack: Passport; watch: components['schemas']['PackWatch'] }) {
    const r = watch.reaches;
    const { t } = useTranslation();
    return (
        <>
            <div className="flex flex-wrap gap-x-6 items-baseline">
                <h2 className="!text-2xl">{watch.words}</h2>
                <p className={watch.due ? 'text-amber font-bold' : ''}>
                    {watch.due ? `To be read since ${day(watch.next_at)}` : `To be read on ${day(watch.next_at)}`}
                </p>
            </div>
            {watch.over && (
                <p role="alert" className="border-l-4 border-ember pl-3 font-bold">
                    {watch.notes[0]}
                </p>
            )}
            {watch.notes.slice(watch.over ? 1 : 0).map((n) => (
                <p key={n} className="border-l-4 border-amber pl-3">
                    {n}
                </p>
            ))}
            {pack.topup && <TopUp topup={pack.topup} />}
            <div className="grid gap-x-6 gap-y-3 lg:grid-cols-[minmax(0,2fr)_minmax(15rem,1fr)] items-start">
                <WatchChart watch={watch} />
                {pack.glance && (
                    <div className="grid gap-1 content-start">
                        <p>
                            <b>
                                {pack.glance.inside ? '✓' : '⬣'} {t(pack.glance.inside ? 'glance.inside' : 'glance.beyond')}
                            </b>{' '}
                            <span className="text-muted">{day(pack.glance.at)}</span>
                        </p>
                        <GlanceMark glance={pack.glance} label={seen(t, pack.glance)} />
                        <p className="text-sm">{seen(t, pack.glance)}</p>
                        <p className="text-sm text-muted">{blind(t, pack.glance)}</p>
                    </div>
                )}
            </div>
            {watch.slope && (
                <p>
                    The spread changes by {watch.slope.mid.toFixed(2)} mV a day, {watch.slope.low.toFixed(2)} to{' '}
                    {watch.slope.high.toFixed(2)} with 90 %.{' '}
                    {r && (
                        <>
                            It passes {watch.limit_mv.toFixed(0)} mV {r.likely ? `about ${day(r.likely)}` : 'perhaps'}
                            {r.early && `, at the earliest ${day(r.early)}`}
                            {r.late && `, at the latest ${day(r.late)}`}.
                        </>
                    )}{' '}
                    <Basis of="derived" />
                </p>
            )}
            {watch.groups.some((g) => g.state === 'grows') && (
                <p>
                    {watch.groups
                        .filter((g) => g.state === 'grows')
                        .map(
                            (g) =>
                                `Group ${g.group} ${g.mid < 0 ? 'falls behind' : 'runs ahead'} by ${Math.abs(g.mid).toFixed(2)} mV a day`,
                        )
                        .join('; ')}
                    .
                </p>
            )}
            <EnterReadings pack={pack} />
            <Readings pack={pack} />
            {watch.left_out.length > 0 && (
                <details>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                        Readings that do not compare: {watch.left_out.length}
                    </summary>
                    <ul>
                        {watch.left_out.map((l, i) => (
                            <li key={l.at + i}>
                                {when(l.at)}: {l.why}
                            </li>
                        ))}
                    </ul>
                </details>
            )}
        </>
    );
}

/** A group that leaks and stays in service: when it is charged full next. */
function TopUp({ topup }: { topup: NonNullable<Passport['topup']> }) {
    return (
        <p className={`border-l-4 pl-3 ${topup.due ? 'border-amber font-bold' : 'border-water'}`}>
            {topup.groups.length > 0 && `Group ${topup.groups.map((g) => g.group).join(', ')} leaks and stays in service. `}
            To be charged full {topup.due ? 'since' : 'by'} {day(topup.at)}, every {topup.every_days} days, attended. <Basis of="derived" />
        </p>
    );
}

const FROM: Record<string, string> = { owner: 'said by the owner', bench: 'read here', board: 'the board says', import: 'imported' };
const ANSWER: Record<string, string> = { fine: '✓ fine', again: '↻ read again', stop: '⬣ stop' };

export function Readings({ pack }: { pack: Passport }) {
    const [taking, setTaking] = useState<string | null>(null);
    const [reason, setReason] = useState('');
    const back = usePackWrite(
        pack.id,
        (id: string) =>
            unwrap(
                api.POST('/api/packs/{pack}/readings/{serviceReading}/back', {
                    params: { path: { pack: pack.id, serviceReading: id }, header: key() },
                    body: { reason },
                }),
            ),
        () => {
            setTaking(null);
            setReason('');
        },
    );
    return (
        <ul aria-label="What was read">
            {pack.readings.map((r) => (
                <li key={r.id} className={`border-t border-line py-1.5 grid gap-1 ${r.taken_back !== null ? 'text-muted' : ''}`}>
                    <div className="flex flex-wrap gap-x-4 items-center">
                        <b className="w-56 whitespace-nowrap">{when(r.at)}</b>
                        <span className="w-40">
                            {FROM[r.source] ?? r.source}
                            {r.by && `, ${r.by}`}
                        </span>
                        <span className={`digits grow ${r.taken_back !== null ? 'line-through' : ''}`}>
                            {r.soc !== null && `${(100 * r.soc).toFixed(0)} % `}
                            {voltsOf(r)}
                            {r.topped_up && ' charged full'}
                            {r.signs.length > 0 && <b className="text-ember font-sans"> {r.signs.join(', ')}</b>}
                        </span>
                        {pack.display_photos
                            .filter((p) => p.reading === r.id)
                            .map((p) => (
                                <a key={p.id} href={`/api/packs/${pack.id}/displays/${p.id}/whole`} target="_blank" rel="noreferrer">
                                    <img
                                        src={`/api/packs/${pack.id}/displays/${p.id}/small`}
                                        alt="the display at this reading"
                                        loading="lazy"
                                        className="h-11 rounded border border-line"
                                    />
                                </a>
                            ))}
                        {r.taken_back === null ? (
                            <>
                                <span className={r.answer?.answer === 'stop' ? 'text-ember font-bold' : ''}>
                                    {r.source === 'owner' || r.answer?.answer === 'stop' ? ANSWER[r.answer?.answer ?? ''] : ''}
                                </span>
                                <Button
                                    look="quiet"
                                    aria-expanded={taking === r.id}
                                    onClick={() => setTaking(taking === r.id ? null : r.id)}
                                >
                                    Take it back
                                </Button>
                            </>
                        ) : (
                            <span>taken back: {r.taken_back}</span>
                        )}
                    </div>
                    {taking === r.id && (
                        <form
                            className="flex flex-wrap gap-3 items-end"
                            onSubmit={(e) => {
                                e.preventDefault();
                                back.mutate(r.id);
                            }}
                        >
                            <div className="grow max-w-md">
                                <Field label="Why it is taken back (needed)">
                                    {(p) => <input {...p} autoFocus value={reason} onChange={(e) => setReason(e.target.value)} />}
                                </Field>
                            </div>
                            <Button type="submit" disabled={reason.trim() === '' || back.isPending}>
                                Take it back
                            </Button>
                        </form>
                    )}
                </li>
            ))}
        </ul>
    );
}

function Owners({ pack }: { pack: Passport }) {
    const may = useMay('customers');
    const [open, setOpen] = useState(false);
    const [name, setName] = useState('');
    const change = usePackWrite(
        pack.id,
        () =>
            unwrap(
                api.PATCH('/api/packs/{pack}', {
                    params: { path: { pack: pack.id }, header: { ...key(), 'If-Match': pack.version } },
                    body: { customer: name.trim() },
                }),
            ),
        () => {
            setOpen(false);
            setName('');
        },
    );
    return (
        <section aria-label="Owners" className="grid gap-2">
            <h2>Owners</h2>
            <ul>
                {pack.owners.map((o, i) => (
                    <li key={o.from_at + i} className="border-t border-line py-1.5 flex flex-wrap gap-x-4">
                        {i === 0 ? (
                            <Link to={`/customers/${pack.customer_id}`} className="font-bold underline underline-offset-4">
                                {o.name}
                            </Link>
                        ) : (
                            <span>{o.name}</span>
                        )}
                        <span className="text-muted">
                            from {day(o.from_at)}
                            {o.to_at && ` to ${day(o.to_at)}`}
                        </span>
                    </li>
                ))}
            </ul>
            {may &&
                (open ? (
                    <form
                        className="flex flex-wrap gap-3 items-end"
                        onSubmit={(e) => {
                            e.preventDefault();
                            change.mutate(undefined);
                        }}
                    >
                        <div className="grow max-w-md">
                            <Field
                                label="Who owns it now"
                                hint="the page of the owner before is withdrawn; nobody is told the other’s name"
                            >
                                {(p) => <input {...p} autoFocus value={name} onChange={(e) => setName(e.target.value)} />}
                            </Field>
                        </div>
                        <Button type="submit" disabled={name.trim() === '' || change.isPending}>
                            It is theirs now
                        </Button>
                    </form>
                ) : (
                    <div>
                        <Button look="quiet" onClick={() => setOpen(true)}>
                            It has another owner
                        </Button>
                    </div>
                ))}
        </section>
    );
}
