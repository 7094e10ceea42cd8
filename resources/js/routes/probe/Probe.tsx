import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { startTransition, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api, type Job, unwrap } from '@/api/client';
import { useOutbox, useOutboxState, usePerson } from '@/lib/bench';
import { type Draft, NO_DISK } from '@/lib/outbox';
import { sets } from '@/lib/format';
import { type Order, type Pair, pairKey, sequence } from '@/lib/order';
import { useStable } from '@/lib/stable';
import { Basis, Cautions } from '@/parts/basics';
import { bandsOfCheck } from '@/lib/bands';
import { CoreSample } from '@/parts/CoreSample';
import { keepSet, type Line, lines, type Meter, METERS, newId, nextPair, setFor } from './set';
import { BoardReport } from './BoardReport';
import { SetBar, type SetChoice } from './SetBar';
import { OnToVerdict } from './OnToVerdict';
import { PackLogs } from './PackLogs';
import { OtherTests } from './OtherTests';
import { FORMS } from './tests';
import { HandsFree } from './HandsFree';
import { Questions } from './Questions';
import { ReadBack } from './ReadBack';
import { Typed } from './Typed';

/** For so long a reading that was taken counts as taken, whatever is drawn. */
const JUST_MS = 3_000;

export function Component() {
    const job = useOutletContext<Job>();
    return <Probe key={job.id} job={job} />;
}

const stored = <T,>(slot: string, fallback: T): T => {
    try {
        return (JSON.parse(localStorage.getItem(slot) ?? 'null') as T | null) ?? fallback;
    } catch {
        return fallback;
    }
};

function Probe({ job }: { job: Job }) {
    const outbox = useOutbox();
    const person = usePerson().id;
    const { loaded, waiting, refused } = useOutboxState();
    const mine = useMemo(() => [...waiting, ...refused].filter((e) => e.job_id === job.id), [waiting, refused, job.id]);
    const [setId, setSetId] = useState<string | null>(() => setFor(asksFor(), job, mine, loaded, person));
    const [meter, setMeter] = useState<Meter>(() =>
        asksFor() === 'low-impedance-terminal' ? METERS.find((m) => m.input === 'low')! : stored('heartwood.meter', METERS[0]!),
    );
    const [order, setOrder] = useState<Order>(() => stored('heartwood.order', 'taps'));
    const [choice, setChoice] = useState<SetChoice>(() => ({
        condition: sets[asksFor()] ?? 'rest',
        current: '',
        rested: '600',
        room: '',
        plugOut: asksFor() === 'sense-unplugged-rest',
    }));
    const [params] = useSearchParams();
    const test = params.get('test');
    const wanted = Number(params.get('group')) || null;
    // What is asked for out of the order, one after another; the ref is what a hand that types fast goes by.
    const [asks, setAsks] = useState<Pair[]>(() => {
        if (test === 'group-reading' && wanted) return [{ from: `T${wanted - 1}`, to: `T${wanted}` }];
        return test === 'low-impedance-terminal' ? [{ from: 'P-', to: 'P+' }] : [];
    });
    const asksNow = useRef(asks);
    const setAsked = (pairs: Pair[]) => {
        asksNow.current = pairs;
        setAsks(pairs);
    };
    const asked = asks[0] ?? null;
    const [free, setFree] = useState(() => params.get('hands') === 'free');
    // Numbers taken in the last moments, on their way to this bench's disk: the next tap is asked for without waiting.
    const [early, setEarly] = useState<Line[]>([]);
    const field = useRef<HTMLInputElement>(null);

    const setIdRef = useRef(setId);
    setIdRef.current = setId ?? setIdRef.current;

    // What this bench's disk holds is known after the first drawing, and what the server holds after the job as it was last seen here:
    // look again for a set that was started here, as long as none is open.
    const looked = useRef(false);
    useEffect(() => {
        if (!loaded || early.length > 0 || sets[asksFor()] || (looked.current && setId !== null)) return;
        looked.current = true;
        const id = setFor(asksFor(), job, mine, loaded, person);
        setIdRef.current = id;
        setSetId(id);
        // eslint-disable-next-line react-hooks/exhaustive-deps
    }, [loaded, job.measurements.length]);

    const serverSet = job.measurements.find((m) => m.id === setId);
    const startedHere = mine.find((e) => e.id === setId);
    const condition = serverSet?.condition ?? (startedHere?.data['condition'] as string | undefined) ?? choice.condition;
    const run = useMemo(() => {
        const known = setId ? lines(serverSet, mine, setId) : [];
        return [...known, ...early.filter((e) => !known.some((l) => l.id === e.id))];
    }, [serverSet, mine, setId, early]);
    const plan = useMemo(() => sequence(order, job.series), [order, job.series]);
    const target = asked ?? nextPair(plan, run);
    const unsent =
        run.filter((l) => l.where === 'bench').length +
        mine.filter((e) => e.kind === 'reading' && e.status === 'waiting' && e.data['typed'] === '').length;
    const check = useQuery({
        queryKey: slots.check(setId),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/check/{measurement}', { params: { path: { job: job.id, measurement: setId! } } })),
        enabled: setId !== null && serverSet !== undefined,
        retry: false,
        staleTime: Infinity,
    });
    const groups = check.data?.groups;
    const bands = useMemo(() => bandsOfCheck(groups, job.series), [groups, job.series]);

    /** Begun at once: the outbox notes what it is given before anything is awaited, and writes it in the order in which it came. */
    const said = (work: () => Promise<void>) => void work().catch((e: unknown) => toast.error(NO_DISK + String(e)));

    /** The set that readings belong to, named at once (what is typed before "New set" stays in the old one), and what opens it. */
    const openSet = (): { id: string; opening: Draft[] } => {
        const id = setIdRef.current ?? newId();
        if (!setIdRef.current) {
            setIdRef.current = id;
            keepSet(job.id, person, id);
        }
        const still = choice.condition === 'rest' || choice.condition === 'relaxing';
        const data = {
            condition: choice.condition,
            ...(choice.condition === 'rest' ? { rested_min: Number(choice.rested) || 0 } : { current_a: signed(choice) }),
            ...(choice.room.trim() === '' ? {} : { ambient_c: number(choice.room) }),
            ...(choice.plugOut && still ? { sense_connected: false } : {}),
            instrument: { kind: 'multimeter', ...meter },
        };
        setSetId(id);
        return { id, opening: [{ kind: 'measurement', job: job.id, data, id }] };
    };
    const opened = useRef(new Set<string>());

    // What this hand has just taken, whatever a drawing in between makes of it: a number typed fast goes to the tap after it, never to
    // the same one twice.
    const justTaken = useRef<{ line: Line; at: number }[]>([]);

    const take = (numbers: string[]) => {
        const taken: { line: Line; corrects?: string }[] = [];
        justTaken.current = justTaken.current.filter((t) => performance.now() - t.at < JUST_MS);
        const unseen = justTaken.current.filter((t) => !run.some((l) => l.id === t.line.id || pairKey(l) === pairKey(t.line)));
        let done = [...run, ...unseen.map((t) => t.line)];
        const left = [...asksNow.current];
        for (const number of numbers) {
            const pair = left.shift() ?? nextPair(plan, done);
            if (!pair) break;
            const old = done.find((l) => pairKey(l) === pairKey(pair) && l.where !== 'refused');
            const line: Line = { ...pair, id: newId(), typed: number, where: 'bench' };
            taken.push({ line, corrects: old?.id });
            justTaken.current.push({ line, at: performance.now() });
            done = [...done.filter((l) => l.id !== old?.id), line];
        }
        setAsked(left);
        if (taken.length === 0) return;
        const set = openSet();
        setEarly((e) => [...e, ...taken.map((t) => t.line)]);
        const readings = taken.map(({ line, corrects }): Draft => {
            const data = {
                measurement_id: set.id,
                from: line.from,
                to: line.to,
                typed: line.typed,
                ...(corrects ? { corrects_id: corrects } : {}),
            };
            return { kind: 'reading', job: job.id, data, id: line.id };
        });
        // A set that was named and is not known to be on the disk is opened with its readings: there it is told apart by its id.
        const { waiting, refused } = outbox.snapshot();
        const has = opened.current.has(set.id) || [...job.measurements, ...waiting, ...refused].some((m) => m.id === set.id);
        said(async () => {
            await outbox.addAll([...(has ? [] : set.opening), ...readings]);
            opened.current.add(set.id);
            // With the outbox's own word of it, and not before: the line is never in neither.
            startTransition(() => setEarly((e) => e.filter((l) => !readings.some((r) => r.id === l.id))));
        });
        field.current?.focus();
    };

    const takeBack = () => {
        const last = run[run.length - 1];
        if (!last || !setId) return;
        justTaken.current = justTaken.current.filter((t) => t.line.id !== last.id);
        said(async () => {
            if (last.where === 'refused') return;
            await outbox.add('reading', job.id, { measurement_id: setId, from: last.from, to: last.to, typed: '', corrects_id: last.id });
            toast(`Taken back: ${last.from} to ${last.to}, ${last.typed}`, {
                action: {
                    label: 'Put it back',
                    onClick: () =>
                        void outbox.add('reading', job.id, { measurement_id: setId, from: last.from, to: last.to, typed: last.typed }),
                },
            });
            setAsked([{ from: last.from, to: last.to }]);
        });
    };

    const move = (step: number) => {
        const i = target ? plan.findIndex((p) => pairKey(p) === pairKey(target)) : plan.length;
        setAsked(plan.slice(Math.max(0, Math.min(plan.length - 1, i + step))).slice(0, 1));
    };

    const ask = (...pairs: Pair[]) => {
        setAsked(pairs);
        field.current?.focus();
    };
    const newSet = () => {
        keepSet(job.id, person, 'new');
        justTaken.current = [];
        setIdRef.current = null;
        setSetId(null);
        setAsked([]);
        field.current?.focus();
    };

    const steady = {
        take: useStable(take),
        takeBack: useStable(takeBack),
        move: useStable(move),
        ask: useStable(ask),
        group: useStable((k: number) => ask({ from: `T${k - 1}`, to: `T${k}` })),
        output: useStable(() => ask({ from: 'P-', to: 'P+' })),
        whole: useStable(() => ask({ from: 'T0', to: `T${job.series}` })),
        listen: useStable(() => setFree(true)),
        newSet: useStable(newSet),
        choose: useStable((id: string) => {
            justTaken.current = [];
            keepSet(job.id, person, id);
            setIdRef.current = id;
            setSetId(id);
            setAsked([]);
        }),
        setMeter: useStable((m: Meter) => {
            setMeter(m);
            localStorage.setItem('heartwood.meter', JSON.stringify(m));
        }),
        setOrder: useStable((o: Order) => {
            setOrder(o);
            setAsked([]);
            localStorage.setItem('heartwood.order', JSON.stringify(o));
        }),
    };
    // The next tap is drawn first; what was read, and the sample, a moment after it.
    const readBack = useDeferredValue(run);
    const picked = useDeferredValue(target && tapOf(target.to) - tapOf(target.from) === 1 ? tapOf(target.to) : null);

    return (
        <div className="p-5 grid gap-5 lg:grid-cols-[240px_minmax(0,1fr)_250px] xl:grid-cols-[320px_minmax(0,1fr)_300px] items-start">
            <section aria-label="Core sample" className="grid gap-2 max-lg:order-2 [contain:layout_style] will-change-transform">
                <CoreSample bands={bands} onPick={steady.group} picked={picked} height={560} />
                {check.data?.spread && unsent === 0 && (
                    <p>
                        {check.data.spread} <Basis of="derived" />
                    </p>
                )}
            </section>
            <section aria-label="Take a reading" className="grid gap-4">
                {free ? (
                    <HandsFree
                        job={job}
                        target={target}
                        run={run}
                        take={steady.take}
                        takeBack={steady.takeBack}
                        stop={() => setFree(false)}
                    />
                ) : (
                    <Typed
                        target={target}
                        at={run.length}
                        of={plan.length}
                        field={field}
                        take={steady.take}
                        takeBack={steady.takeBack}
                        move={steady.move}
                        output={steady.output}
                        whole={steady.whole}
                        listen={steady.listen}
                    />
                )}
                <Questions check={check.data ?? null} unsent={unsent} any={run.length > 0} ask={steady.ask} />
                <OnToVerdict job={job} ready={!target || job.measurements.length > 0} main={!target} />
                <Cautions lines={job.cautions['probe'] ?? []} />
            </section>
            <section aria-label="This set" className="grid gap-4 max-lg:order-3 [contain:layout_style] will-change-transform">
                <SetBar
                    job={job}
                    setId={setId}
                    choose={steady.choose}
                    newSet={steady.newSet}
                    condition={condition}
                    choice={choice}
                    setChoice={setChoice}
                    started={setId !== null}
                    meter={meter}
                    setMeter={steady.setMeter}
                    order={order}
                    setOrder={steady.setOrder}
                />
                <ReadBack run={readBack} pick={steady.ask} />
                <BoardReport job={job} ask={test === 'bms-report'} />
                <PackLogs job={job} ask={test === 'log'} />
                <OtherTests
                    job={job}
                    ask={FORMS[test ?? '']}
                    group={wanted}
                    joint={params.get('joint') === null ? null : Number(params.get('joint'))}
                />
            </section>
        </div>
    );
}

const asksFor = () => new URLSearchParams(location.search).get('test') ?? '';

const tapOf = (name: string) => (name.startsWith('T') ? Number(name.slice(1)) : NaN);
const signed = (c: SetChoice) => (c.condition === 'discharge' ? -1 : 1) * Math.abs(number(c.current) || 0);
