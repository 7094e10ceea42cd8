import '@/lib/ownerWords';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { useTranslation } from 'react-i18next';
import { ApiError, api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { keep, onlySigns, type OwnerReading, reading, sent, type Shows, type Sign, SIGNS, toppedUp, waiting } from '@/lib/ownerQueue';
import { ownerPhotos } from '@/lib/ownerPhotos';
import { offlineToo } from '@/lib/ownerWorker';
import { blind, seen as seenOf } from '@/lib/glance';
import { GlanceMark } from '@/parts/GlanceMark';
import { slots } from '@/lib/slots';

type Answer = components['schemas']['PackAnswer'];
type Page = components['schemas']['OwnerPage'];
const SHOWS: Shows[] = ['all', 'two', 'halves', 'whole'];
const WHEN: OwnerReading['condition'][] = ['full', 'rest', 'discharge'];
const AGAIN_MS = 5000;
const FULL_DIGITS = /^(\d{4}|\d[.,]\d{3})$/;

/** The owner's page of one pack: its state, and a reading entered in a few touches. No account; what is typed offline is sent later. */
export function Component() {
    const { t, i18n } = useTranslation();
    const secret = location.hash.slice(1);
    const queries = useQueryClient();
    const header = { 'X-Pack-Link': secret };
    const page = useQuery({
        queryKey: slots.owner(secret),
        queryFn: async () => {
            const now = await unwrap(api.GET('/api/owner', { params: { header } }));
            localStorage.setItem(lastSlot(secret), JSON.stringify(now));
            return now;
        },
        // As it was seen last on this phone, until a network says more.
        initialData: () => lastSeen(secret),
        initialDataUpdatedAt: 0,
        retry: false,
        refetchOnReconnect: true,
        refetchOnWindowFocus: (q) => !(q.state.error instanceof ApiError && q.state.error.status === 404),
    });
    const [left, setLeft] = useState(() => waiting(secret).length);
    const [answer, setAnswer] = useState<Answer | null>(null);
    const [held, setHeld] = useState<OwnerReading | null>(null);
    const [thanks, setThanks] = useState(false);
    const [refused, setRefused] = useState('');
    const sending = useRef(false);
    // A link that is not good any more is not tried again: each try counts.
    const [dead, setDead] = useState(false);
    const send = useCallback(async () => {
        const all = waiting(secret);
        if (all.length === 0 || sending.current || dead) return;
        sending.current = true;
        try {
            const now = await unwrap(
                api.POST('/api/owner/readings', { params: { header: { 'X-Pack-Link': secret } }, body: { readings: all } }),
            );
            sent(
                secret,
                all.map((r) => r.id),
            );
            queries.setQueryData(slots.owner(secret), now);
            const last = now.answers?.at(-1) ?? null;
            // Charged full, and nothing read: nothing is answered but thanks.
            const topped = all.every((r) => r.topped_up === true) && last?.answer !== 'stop';
            setThanks(topped);
            setAnswer(topped ? null : last);
            setHeld(null);
            setRefused('');
        } catch (e) {
            if (e instanceof ApiError && e.status === 422) {
                // It is no reading: it would be refused for ever.
                sent(
                    secret,
                    all.map((r) => r.id),
                );
                setHeld(null);
                setRefused(e.message);
            } else if (e instanceof ApiError && [404, 409, 429].includes(e.status)) {
                setDead(e.status === 404);
                setRefused(e.message);
            }
        } finally {
            sending.current = false;
            setLeft(waiting(secret).length);
        }
    }, [dead, queries, secret]);
    useEffect(() => {
        void offlineToo();
        // A window that keeps nothing on its disk takes readings all the same.
        void ownerPhotos.load().catch(() => undefined);
        addEventListener('online', ownerPhotos.wake);
        return () => removeEventListener('online', ownerPhotos.wake);
    }, []);
    const photos = useSyncExternalStore(ownerPhotos.subscribe, ownerPhotos.snapshot);
    const onTheWay = photos.items.filter((i) => i.to === `owner:${secret}`);
    const [large, setLarge] = useState(false);
    useEffect(() => {
        void send();
        const again = () => void send();
        const timer = setInterval(again, AGAIN_MS);
        addEventListener('online', again);
        return () => {
            clearInterval(timer);
            removeEventListener('online', again);
        };
    }, [send]);
    const date = (iso: string) =>
        new Intl.DateTimeFormat(i18n.language, { weekday: 'long', day: 'numeric', month: 'long' }).format(new Date(iso));

    const gone = page.error instanceof ApiError && page.error.status === 404;
    if (gone) localStorage.removeItem(lastSlot(secret));
    if (gone || (page.isError && !page.data && page.error instanceof ApiError && page.error.status < 500)) {
        return (
            <main className="p-4 grid gap-3 max-w-md mx-auto">
                <p role="alert" className="text-lg">
                    {page.error?.message}
                </p>
            </main>
        );
    }
    const p = page.data;
    if (!p) {
        return (
            <main className="p-4 max-w-md mx-auto">
                <p role="status">{page.isError ? t('offline') : t('loading')}</p>
            </main>
        );
    }
    if (large && p.glance) return <Large page={p} back={() => setLarge(false)} />;
    const told = (r: OwnerReading) => {
        keep(secret, r);
        setHeld(r);
        setLeft(waiting(secret).length);
        void send();
    };
    const topUp = p.topup && !p.stopped && (
        <section className={`sheet p-4 grid gap-2 border-l-8 ${p.topup.due ? 'border-l-amber' : 'border-l-moss'}`}>
            <p className="text-lg">
                {p.topup.due ? t('topup.due', { days: p.topup.every_days }) : t('topup.next', { date: date(p.topup.at) })}
            </p>
            <button
                type="button"
                className="min-h-[48px] px-3 rounded border border-line bg-panel justify-self-start"
                onClick={() => told(toppedUp())}
            >
                {t('topup.done')}
            </button>
        </section>
    );
    // What would be said of these signs is said without a network too.
    const seen = held ? SIGNS.filter((s) => held.signs[s] === true) : [];
    return (
        <main className="p-4 grid gap-4 max-w-md mx-auto content-start min-h-screen">
            <header>
                <h1 className="!text-2xl">{p.name}</h1>
                <p className="text-muted">{t('code', { code: p.code, workshop: p.workshop })}</p>
                <p className={`text-lg pt-1 ${p.stopped ? 'text-ember font-bold' : ''}`}>
                    {p.stopped ? (
                        `${t('answer.stop')}. ${t('outside')}`
                    ) : (
                        <>
                            {t(`state.${p.state}`)} {p.next_at && <b>{p.due ? t('next.due') : t('next.on', { date: date(p.next_at) })}</b>}
                        </>
                    )}
                </p>
            </header>
            {p.topup?.due && topUp}
            {thanks && (
                <p role="status" className="text-lg border-l-8 border-l-moss pl-3">
                    ✓ {t('again.topped')}
                </p>
            )}
            {answer ? (
                <Said answer={answer} date={date} another={() => setAnswer(null)} />
            ) : held ? (
                <section
                    aria-live="assertive"
                    className={`sheet p-4 grid gap-2 border-l-8 ${seen.length ? 'border-l-ember' : 'border-l-amber'}`}
                >
                    <h2 className="!text-xl">{t(seen.length ? 'answer.stop' : 'answer.kept')}</h2>
                    {seen.map((s) => (
                        <p key={s}>{t(`why.${s}`)}</p>
                    ))}
                    {seen.length > 0 && <p className="font-bold">{t('outside')}</p>}
                    <p>{t('offline')}</p>
                    <button
                        type="button"
                        className="underline underline-offset-4 min-h-[44px] justify-self-start"
                        onClick={() => setHeld(null)}
                    >
                        {t('another')}
                    </button>
                </section>
            ) : p.watched ? (
                <Enter
                    page={p}
                    done={(r, file) => {
                        if (file) void ownerPhotos.add([file], `owner:${secret}`, null, r.id);
                        told(r);
                    }}
                />
            ) : null}
            {!p.topup?.due && topUp}
            {p.glance && (
                <section className="grid gap-1">
                    <GlanceMark glance={p.glance} label={seenOf(t, p.glance)} />
                    <p>
                        <b>
                            {p.glance.inside ? '✓' : '⬣'} {t(p.glance.inside ? 'glance.inside' : 'glance.beyond')}.
                        </b>{' '}
                        {seenOf(t, p.glance)} <span className="text-muted">{blind(t, p.glance)}</span>
                    </p>
                    <button
                        type="button"
                        className="underline underline-offset-4 min-h-[44px] justify-self-start"
                        onClick={() => setLarge(true)}
                    >
                        {t('glance.big')}
                    </button>
                </section>
            )}
            {refused && (
                <p role="alert" className="text-ember font-bold">
                    {t('refused', { why: refused })}
                </p>
            )}
            {left > 0 && !held && <p role="status">{t('offline')}</p>}
            {onTheWay.map((i) => (
                <p key={i.id} role="status" className={i.state === 'refused' ? 'text-ember' : 'text-muted'}>
                    {i.state === 'refused' ? t('refused', { why: i.why }) : t('photo.kept')}
                </p>
            ))}
            <section>
                <h2 className="!text-base">{t('before')}</h2>
                {p.readings.length === 0 && <p className="text-muted">{t('none')}</p>}
                <ul>
                    {p.readings.map((r) => (
                        <li key={r.at} className="border-t border-line py-1.5 flex flex-wrap gap-x-3">
                            <span className="grow">
                                {date(r.at)}
                                {r.spread_mv !== null && `: ${t('apart', { mv: r.spread_mv })}`}
                            </span>
                            <span className="text-muted">{t(r.mine ? 'readHere' : 'readThere')}</span>
                        </li>
                    ))}
                </ul>
            </section>
        </main>
    );
}

const lastSlot = (secret: string) => `heartwood.owner.page.${secret.slice(0, 12)}`;
function lastSeen(secret: string): Page | undefined {
    try {
        return (JSON.parse(localStorage.getItem(lastSlot(secret)) ?? 'null') as Page | null) ?? undefined;
    } catch {
        return undefined;
    }
}

const TAP = 'min-h-[48px] px-3 rounded border';
const EDGE = { fine: 'border-l-moss', again: 'border-l-amber', stop: 'border-l-ember' };
const MARK = { fine: '✓', again: '↻', stop: '⬣' };

function Said({ answer, date, another }: { answer: Answer; date: (iso: string) => string; another: () => void }) {
    const { t } = useTranslation();
    return (
        <section
            aria-live="assertive"
            aria-label={t(`answer.${answer.answer}`)}
            className={`sheet p-4 grid gap-2 border-l-8 ${EDGE[answer.answer]}`}
        >
            <h2 className="!text-3xl">
                <span aria-hidden="true">{MARK[answer.answer]}</span> {t(`answer.${answer.answer}`)}
            </h2>
            {answer.why.map((w, i) => (
                <p key={i} className="text-lg">
                    {t(`why.${w.code}`, {
                        v: w.v?.toFixed(2),
                        limit: w.mv === undefined ? w.limit?.toFixed(2) : w.limit?.toFixed(0),
                        mv: w.mv?.toFixed(0),
                    })}
                </p>
            ))}
            {answer.answer === 'stop' ? (
                <p className="text-lg font-bold">{t('outside')}</p>
            ) : (
                <p className="text-lg">{t('againOn', { date: date(answer.again_at) })}</p>
            )}
            <button type="button" className="underline underline-offset-4 min-h-[44px] justify-self-start" onClick={another}>
                {t('another')}
            </button>
        </section>
    );
}

function Choice<T extends string>({
    name,
    of,
    chosen,
    choose,
    word,
}: {
    name: string;
    of: T[];
    chosen: T | null;
    choose: (t: T) => void;
    word: (t: T) => string;
}) {
    return (
        <fieldset className="grid gap-1.5">
            <legend className="font-bold pb-1">{name}</legend>
            <div className="flex flex-wrap gap-2">
                {of.map((o) => (
                    <button
                        key={o}
                        type="button"
                        aria-pressed={chosen === o}
                        className={`${TAP} ${chosen === o ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel'}`}
                        onClick={() => choose(o)}
                    >
                        {word(o)}
                    </button>
                ))}
            </div>
        </fieldset>
    );
}

/** The mark alone, as large as the screen: read in a second from two metres. */
function Large({ page, back }: { page: Page; back: () => void }) {
    const { t } = useTranslation();
    const g = page.glance!;
    const bad = page.stopped || !g.inside;
    return (
        <main className={`min-h-screen p-4 grid content-center gap-4 text-center border-[12px] ${bad ? 'border-ember' : 'border-moss'}`}>
            <p className="text-[8vmin] leading-none font-bold">{page.name}</p>
            <p className={`text-[20vmin] leading-none font-bold ${bad ? 'text-ember' : ''}`}>
                <span aria-hidden="true">{bad ? '⬣' : '✓'}</span>
                <span className="block text-[12vmin]">{t(bad ? 'glance.beyond' : 'glance.inside')}</span>
            </p>
            <GlanceMark glance={g} label={seenOf(t, g)} />
            <p>{seenOf(t, g)}</p>
            <button type="button" className="underline underline-offset-4 min-h-[44px]" onClick={back}>
                {t('glance.small')}
            </button>
        </main>
    );
}

function Enter({ page, done }: { page: Page; done: (r: OwnerReading, photo: File | null) => void }) {
    const { t } = useTranslation();
    const [photo, setPhoto] = useState<File | null>(null);
    const slot = `heartwood.owner.shows.${page.code}`;
    const [shows, setShows] = useState<Shows>(() =>
        SHOWS.includes(localStorage.getItem(slot) as Shows) ? (localStorage.getItem(slot) as Shows) : 'two',
    );
    const [when, setWhen] = useState<OwnerReading['condition']>(page.phosphate ? 'full' : 'rest');
    const [typed, setTyped] = useState<Record<string, string>>({});
    const [signs, setSigns] = useState<'no' | 'yes' | null>(null);
    const [which, setWhich] = useState<Sign[]>([]);
    const [wrong, setWrong] = useState('');
    const form = useRef<HTMLFormElement>(null);
    const fields =
        shows === 'all'
            ? Array.from({ length: page.series }, (_, i) => [`g${i + 1}`, t('group', { n: i + 1 })] as const)
            : shows === 'two'
              ? ([
                    ['highest', t('highest')],
                    ['lowest', t('lowest')],
                ] as const)
              : shows === 'halves'
                ? ([
                      ['lowerHalf', t('lowerHalf')],
                      ['upperHalf', t('upperHalf')],
                  ] as const)
                : ([
                      ['percent', t('percent')],
                      ['volts', t('volts')],
                  ] as const);
    const type = (key: string, value: string) => {
        setTyped({ ...typed, [key]: value });
        setWrong('');
        // Four digits are a voltage: on to the next field without a touch.
        if ((shows === 'all' || shows === 'two') && FULL_DIGITS.test(value)) {
            const all = [...(form.current?.querySelectorAll<HTMLInputElement>('input') ?? [])];
            all[all.findIndex((e) => e.name === key) + 1]?.focus();
        }
    };
    const submit = () => {
        if (signs === null || (signs === 'yes' && which.length === 0)) {
            setWrong('signs');
            return;
        }
        const answered = Object.fromEntries(SIGNS.map((s) => [s, signs === 'yes' && which.includes(s)])) as OwnerReading['signs'];
        const r = reading(shows, when, typed, answered, page.series);
        if (!('missing' in r)) {
            done(r, photo);
        } else if (which.length > 0 && signs === 'yes') {
            // A sign of harm needs no number.
            done(onlySigns(when, answered), photo);
        } else {
            setWrong(r.missing);
            form.current?.querySelector<HTMLInputElement>(`input[name="${r.missing}"]`)?.focus();
        }
    };
    return (
        <form
            ref={form}
            className="sheet p-4 grid gap-4"
            noValidate
            onSubmit={(e) => {
                e.preventDefault();
                submit();
            }}
        >
            <Choice
                name={t('shows.ask')}
                of={SHOWS}
                chosen={shows}
                choose={(s) => {
                    setShows(s);
                    localStorage.setItem(slot, s);
                }}
                word={(s) => t(`shows.${s}`)}
            />
            <div className="grid grid-cols-2 gap-2">
                {fields.map(([key, label]) => (
                    <label key={key} className="grid gap-0.5">
                        <span className="text-muted text-sm">{label}</span>
                        <input
                            name={key}
                            inputMode="decimal"
                            autoComplete="off"
                            className="digits text-xl min-h-[48px]"
                            aria-invalid={wrong === key}
                            value={typed[key] ?? ''}
                            onChange={(e) => type(key, e.target.value)}
                        />
                    </label>
                ))}
            </div>
            {wrong && wrong !== 'signs' && (
                <p role="alert" className="text-ember font-bold">
                    {t((typed[wrong] ?? '').trim() === '' ? 'missing' : shows === 'halves' ? 'notHalf' : 'notVolts')}
                </p>
            )}
            <Choice name={t('when.ask')} of={WHEN} chosen={when} choose={setWhen} word={(w) => t(`when.${w}`)} />
            <Choice
                name={t('signs.ask')}
                of={['no', 'yes']}
                chosen={signs}
                choose={(s) => {
                    setSigns(s);
                    setWrong('');
                }}
                word={(s) => t(`signs.${s}`)}
            />
            {signs === 'yes' && (
                <div className="flex flex-wrap gap-2">
                    {SIGNS.map((s) => (
                        <button
                            key={s}
                            type="button"
                            aria-pressed={which.includes(s)}
                            className={`${TAP} ${which.includes(s) ? 'border-2 border-ember font-bold' : 'border-line bg-panel'}`}
                            onClick={() => setWhich(which.includes(s) ? which.filter((w) => w !== s) : [...which, s])}
                        >
                            {t(`signs.${s}`)}
                        </button>
                    ))}
                </div>
            )}
            {wrong === 'signs' && (
                <p role="alert" className="text-ember font-bold">
                    {t(signs === 'yes' ? 'signs.which' : 'signs.answer')}
                </p>
            )}
            <label className={`${TAP} inline-flex items-center justify-self-start border-line bg-panel`}>
                {photo ? `✓ ${t('photo.taken')}` : t('photo.add')}
                <input
                    type="file"
                    accept="image/*"
                    capture="environment"
                    className="sr-only"
                    onChange={(e) => setPhoto(e.target.files?.[0] ?? null)}
                />
            </label>
            <button type="submit" className="min-h-[56px] rounded bg-bark text-on-bark font-bold text-xl">
                {t('send')}
            </button>
        </form>
    );
}
