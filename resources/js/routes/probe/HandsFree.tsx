import { number } from '@/lib/number';
import { useEffect, useRef, useState } from 'react';
import { api, ApiError, type Job, unwrap } from '@/api/client';
import { hand, useInstruments } from '@/lib/instruments';
import { type Pair, pairKey } from '@/lib/order';
import { isMuted, say, setMuted, tone } from '@/lib/sound';
import { ticker } from '@/lib/ticker';
import { Leave } from '@/lib/watch';
import { Button, Field, Go } from '@/parts/basics';
import { SimulatedHand } from '@/parts/SimulatedHand';
import type { Line } from './set';

const tapOf = (name: string) => Number(name.slice(1));
const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? null;

/** The desk reads the meter all the while; a screen that looks so often misses nothing and waits for nobody. */
const LOOK_MS = 500;

interface Look {
    now: number;
    v: number | null;
    state: 'waiting' | 'moving' | 'steady' | 'question';
    text: string;
    typed: string | null;
    kind: string | null;
}

/** What was read before that bears on the next tap: the tap below on the same reference, and how much a group gives. */
export function context(run: Line[], target: Pair) {
    const volts = (l: Line) => number(l.typed);
    const same = run.filter(
        (l) => l.where !== 'refused' && l.from === target.from && /^T\d+$/.test(l.to) && tapOf(l.to) < tapOf(target.to),
    );
    const below = same.sort((a, b) => tapOf(b.to) - tapOf(a.to))[0] ?? null;
    const groups = run.filter((l) => tapOf(l.to) - tapOf(l.from) === 1).map(volts);
    for (const l of run) {
        const prev = run.find((p) => p.from === l.from && tapOf(p.to) === tapOf(l.to) - 1);
        if (prev) groups.push(volts(l) - volts(prev));
    }
    return {
        before: below ? volts(below) : null,
        typical: groups.length > 0 ? median(groups.filter((g) => g > 0.3)) : null,
        groups: Math.max(1, tapOf(target.to) - (below ? tapOf(below.to) : tapOf(target.from))),
    };
}

/** The meter is listened to: the next tap in digits for two metres, taken when steady, announced by tone and word. */
export function HandsFree({
    job,
    target,
    run,
    take,
    takeBack,
    stop,
}: {
    job: Job;
    target: Pair | null;
    run: Line[];
    take: (numbers: string[]) => void;
    takeBack: () => void;
    stop: () => void;
}) {
    const instruments = useInstruments();
    const meters = (instruments.data?.instruments ?? []).filter((i) => i.kind === 'meter' && i.checked_at);
    const [chosen, setChosen] = useState<number | null>(null);
    const meter = meters.find((m) => m.id === chosen) ?? meters[0] ?? null;
    const [look, setLook] = useState<Look | null>(null);
    const [fault, setFault] = useState<string | null>(null);
    const [muted, mute] = useState(isMuted);
    const [follow, setFollow] = useState(false);
    const now = useRef({
        target,
        run,
        since: null as number | null,
        now: null as number | null,
        left: null as number | null,
        hasLeft: true,
        busy: false,
        asked: '',
    });
    now.current.target = target;
    now.current.run = run;
    const taking = useRef(take);
    taking.current = take;

    const accept = (typed: string) => {
        const n = now.current;
        n.left = Number(typed);
        n.hasLeft = false;
        n.since = n.now;
        n.asked = '';
        tone('taken');
        taking.current([typed]);
    };
    const accepting = useRef(accept);
    accepting.current = accept;

    // The next tap is announced, and shown to a simulated hand that follows.
    const key = target ? pairKey(target) : '';
    useEffect(() => {
        if (!target) {
            say('Every tap is read');
            return;
        }
        say(target.to.startsWith('T') ? `Tap ${tapOf(target.to)}` : target.to);
        if (follow && meter?.simulated && target.to.startsWith('T'))
            void hand({ do: 'prompt', from: tapOf(target.from), to: tapOf(target.to) }).catch(() => {});
    }, [key, follow, meter?.simulated]); // eslint-disable-line react-hooks/exhaustive-deps

    useEffect(() => {
        if (!meter) return;
        let gone = false;
        const leave = new Leave();
        const once = async () => {
            const n = now.current;
            if (n.busy || !n.target) return;
            n.busy = true;
            const asked = pairKey(n.target);
            try {
                const ctx = context(n.run, n.target);
                await leave.have(() =>
                    unwrap(
                        api.POST('/api/instruments/{instrument}/watch/{job}', {
                            params: { path: { instrument: meter.id, job: job.id } },
                        }),
                    ),
                );
                const answer = await leave.by((word) =>
                    unwrap(
                        api.POST('/api/watch/meter', {
                            params: { header: { 'X-Heartwood-Watch': word } },
                            body: { since: n.since, left_v: n.left, has_left: n.hasLeft, ...ctx },
                        }),
                    ),
                );
                if (answer === null) return;
                if (gone || !n.target || pairKey(n.target) !== asked) return;
                n.now = answer.now;
                n.hasLeft = answer.has_left;
                setLook(answer);
                setFault(null);
                if (answer.state === 'steady' && answer.typed) accepting.current(answer.typed);
                else if (answer.state === 'question' && n.asked !== answer.kind) {
                    n.asked = answer.kind ?? '';
                    tone('question');
                    say(answer.text);
                }
            } catch (e) {
                if (!gone) setFault(e instanceof ApiError ? e.message : String(e));
            } finally {
                n.busy = false;
            }
        };
        const end = ticker(LOOK_MS, () => void once());
        return () => {
            gone = true;
            end();
        };
    }, [meter?.id, job.id]); // eslint-disable-line react-hooks/exhaustive-deps

    useEffect(() => {
        const onKey = (e: KeyboardEvent) => {
            if (e.target instanceof HTMLElement && ['INPUT', 'SELECT', 'TEXTAREA', 'BUTTON'].includes(e.target.tagName)) return;
            if (e.key === ' ' || e.key === 'Enter') {
                e.preventDefault();
                if (look?.typed && target) accept(look.typed);
            } else if (e.key === 'Backspace') {
                e.preventDefault();
                now.current.left = null;
                takeBack();
            } else if (e.key === 'm') {
                setMuted(!isMuted());
                mute(isMuted());
            }
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    });

    if (instruments.isSuccess && meters.length === 0) {
        return (
            <div className="sheet p-5 grid gap-3">
                <p>No meter is known to this workshop yet. Type the values, or add a meter that speaks over the network.</p>
                <div className="flex gap-3">
                    <Go to="/instruments" look="main">
                        Add a meter
                    </Go>
                    <Button onClick={stop}>Type instead</Button>
                </div>
            </div>
        );
    }
    const question = look?.state === 'question';
    return (
        <div className="grid gap-4">
            <div className={`sheet p-5 grid gap-1 ${question ? '!border-[3px] !border-ember' : ''}`}>
                <p className="eyebrow">{target ? `Now touch. ${target.from} is the black probe.` : 'Done'}</p>
                <p className="digits font-medium leading-none text-[clamp(5rem,15vw,12rem)]" data-testid="target" aria-live="assertive">
                    {target ? target.to : 'all read'}
                </p>
                {target && (
                    <>
                        <p className="digits text-[clamp(2.6rem,7vw,5.5rem)] leading-none" data-testid="live">
                            {look?.v == null ? '-.---' : look.v.toFixed(3)} <span className="text-[0.5em]">V</span>
                        </p>
                        <p className={`text-2xl ${question ? 'text-ember font-bold' : ''}`} role="status" data-testid="look">
                            {fault ??
                                `${question ? '▲ ' : look?.state === 'steady' ? '● ' : '○ '}${look?.text ?? 'listening to the meter'}`}
                        </p>
                    </>
                )}
                <div className="flex flex-wrap gap-3 pt-2">
                    {target && (
                        <Button look="main" disabled={!look?.typed} onClick={() => look?.typed && accept(look.typed)}>
                            {question ? 'It is so: take it' : 'Take it now'} <kbd className="font-normal">Space</kbd>
                        </Button>
                    )}
                    <Button
                        disabled={run.length === 0}
                        onClick={() => {
                            now.current.left = null;
                            takeBack();
                        }}
                    >
                        Take the last back <kbd>Backspace</kbd>
                    </Button>
                    <Button
                        look="quiet"
                        aria-pressed={muted}
                        onClick={() => {
                            setMuted(!muted);
                            mute(!muted);
                        }}
                    >
                        {muted ? 'Sound is off' : 'Sound is on'} <kbd>m</kbd>
                    </Button>
                    <Button look="quiet" onClick={stop}>
                        Type instead
                    </Button>
                </div>
            </div>
            {meters.length > 1 && (
                <Field label="Listen to">
                    {(p) => (
                        <select {...p} value={meter?.id ?? ''} onChange={(e) => setChosen(Number(e.target.value))}>
                            {meters.map((m) => (
                                <option key={m.id} value={m.id}>
                                    {m.name}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            {meter?.simulated && (
                <SimulatedHand
                    job={job}
                    follow={follow}
                    setFollow={setFollow}
                    again={() => target && void hand({ do: 'prompt', from: tapOf(target.from), to: tapOf(target.to) })}
                />
            )}
        </div>
    );
}
