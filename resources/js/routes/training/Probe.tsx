import { useEffect, useMemo, useRef, useState } from 'react';
import { useOutletContext } from 'react-router';
import { number } from '@/lib/number';
import { type Order, type Pair, sequence } from '@/lib/order';
import { Button, Field, Go } from '@/parts/basics';
import { bandsOfCheck } from '@/lib/bands';
import { CoreSample } from '@/parts/CoreSample';
import { Sheet } from '@/parts/Sheet';
import { Asks } from '../probe/Asks';
import { Questions } from '../probe/Questions';
import { ReadBack } from '../probe/ReadBack';
import { Target } from '../probe/Target';
import { type Line, nextPair } from '../probe/set';
import { entryOf, problems, startValues, type TestForm, type Values } from '../probe/tests';
import type { InRound } from './Round';
import { type Act, cameTo, FLOWS, said, sitting, TRIALS } from './training';

const ORDERS: [Order, string][] = [
    ['taps', 'from B- tap by tap'],
    ['across', 'across each group'],
    ['coarse', 'halves, then finer'],
];

/** The probes of a round: where they go, what the meter shows, what was read; tests, currents and the sense plug beside it. */
export function Component() {
    const { round, act, doing } = useOutletContext<InRound>();
    const series = round.brief.pack.series;
    const [order, setOrder] = useState<Order>('across');
    const [asks, setAsks] = useState<Pair[]>([]);
    const [going, setGoing] = useState<Pair[]>([]);
    const run = useMemo(() => sitting(round.acts), [round.acts]);
    const early = going.map((p, i): Line => ({ ...p, id: `early-${i}`, typed: '', where: 'bench' }));
    const plan = useMemo(() => sequence(order, series), [order, series]);
    const target = asks[0] ?? nextPair(plan, [...run, ...early]);
    const last = round.acts.at(-1);
    const shown = run.at(-1);
    const button = useRef<HTMLButtonElement>(null);
    // After anything but a reading the probes are the next thing, and Enter takes them.
    const done = round.acts.length;
    const seen = useRef(done);
    useEffect(() => {
        if (seen.current !== done && run.length === 0) button.current?.focus();
        seen.current = done;
    }, [done, run.length]);
    const read = (pair: Pair | null) => {
        if (!pair || round.over) return;
        setAsks(asks.slice(1));
        setGoing((g) => [...g, pair]);
        void act({ do: 'read', ...pair }).finally(() => setGoing((g) => g.slice(1)));
    };
    const ask = (...pairs: Pair[]) => {
        setAsks(pairs);
        button.current?.focus();
    };
    const groups = run.length > 0 ? round.check?.groups : undefined;
    // Under current every group is seen at once: that stands there until the next is read by hand.
    const flowing = (last && run.length === 0 ? (last.result as { groups_v?: number[] }).groups_v : undefined) ?? [];
    const bands = bandsOfCheck(groups, series).map((b, i) =>
        flowing[i] === undefined ? b : { ...b, v: flowing[i], note: 'with current' },
    );
    const to = target && /^T\d+$/.test(target.to) ? Number(target.to.slice(1)) : null;
    return (
        <div className="p-5 grid gap-5 lg:grid-cols-[240px_minmax(0,1fr)_250px] xl:grid-cols-[280px_minmax(0,1fr)_330px] items-start">
            <section aria-label="Core sample" className="grid gap-2 max-lg:order-2">
                <CoreSample bands={bands} height={540} width={280} onPick={(k) => ask({ from: `T${k - 1}`, to: `T${k}` })} picked={to} />
                {run.length > 0 && round.check?.spread && <p>{round.check.spread}</p>}
            </section>
            <section aria-label="Take a reading" className="grid gap-4">
                <div className="sheet p-5 grid gap-2">
                    <Target target={target} at={run.length} of={plan.length} />
                    <p className="eyebrow">The meter showed</p>
                    <p
                        className="digits text-5xl border-[1.5px] border-muted rounded bg-panel px-3 min-h-[84px] flex items-center"
                        role="status"
                    >
                        {shown ? shown.typed : '-.---'}
                        <span className="text-xl text-muted pl-4">{shown ? `V, ${shown.from} to ${shown.to}` : 'V'}</span>
                    </p>
                    <div className="flex flex-wrap gap-3">
                        <Button
                            ref={button}
                            autoFocus
                            look={target ? 'main' : 'plain'}
                            disabled={!target || round.over !== null}
                            onClick={() => read(target)}
                            onKeyDown={(e) => {
                                if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
                                e.preventDefault();
                                const at = plan.findIndex((p) => p.from === target?.from && p.to === target?.to);
                                const next = plan[at + (e.key === 'ArrowUp' ? -1 : 1)];
                                if (next) setAsks([next]);
                            }}
                        >
                            Probes on, read it <kbd className="font-normal max-md:hidden">Enter</kbd>
                        </Button>
                        <Button look="quiet" disabled={round.over !== null} onClick={() => ask({ from: 'P-', to: 'P+' })}>
                            Output P- to P+
                        </Button>
                        <Button look="quiet" disabled={round.over !== null} onClick={() => ask({ from: 'T0', to: `T${series}` })}>
                            Whole string
                        </Button>
                    </div>
                </div>
                {run.length > 0 && <Questions check={round.check} unsent={doing} any ask={ask} />}
                {last && (last.act as Act).do !== 'read' && (last.act as Act).do !== 'look' && (
                    <div className="border-l-4 border-drill bg-knot rounded-r px-4 py-2" aria-label="What came of it" role="status">
                        <p className="font-bold">{said(last.act as Act)}</p>
                        <p className="digits break-words">{cameTo(last.result) || 'Done.'}</p>
                    </div>
                )}
                <div>
                    <Go to={`/training/${round.id}/${round.work ? 'carry-out' : 'verdict'}`} look={target ? 'plain' : 'main'}>
                        {round.work ? 'Back to the work' : 'Say what it is'}
                    </Go>
                </div>
            </section>
            <section aria-label="Tests" className="grid gap-4 max-lg:order-3">
                <Field label="Order of the taps">
                    {(p) => (
                        <select
                            {...p}
                            value={order}
                            onChange={(e) => {
                                setOrder(e.target.value as Order);
                                setAsks([]);
                            }}
                        >
                            {ORDERS.map(([o, name]) => (
                                <option key={o} value={o}>
                                    {name}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <p className="text-muted text-[0.95rem]">
                    Your meter: within {round.meter.percent} % and {round.meter.counts} counts.
                </p>
                <More round={round} act={act} />
                <ReadBack run={run} pick={(p) => ask(p)} />
                <Before round={round} />
            </section>
        </div>
    );
}

/** Tests, currents and the sense plug: what is done and where; what comes of it, the pack says. */
function More({ round, act }: { round: InRound['round']; act: InRound['act'] }) {
    const [open, setOpen] = useState<string | null>(null);
    const test = [...FLOWS, ...TRIALS].find((t) => t.kind === open);
    if (round.over) return null;
    return (
        <div className="grid gap-2">
            <Field label="Another test, or something done">
                {(p) => (
                    <select
                        {...p}
                        value=""
                        onChange={(e) => {
                            if (e.target.value === 'plug') void act({ do: round.plugged ? 'unplug' : 'plug' });
                            else setOpen(e.target.value);
                        }}
                    >
                        <option value="">choose what is done</option>
                        <optgroup label="With current">
                            {FLOWS.map((t) => (
                                <option key={t.kind} value={t.kind}>
                                    {t.title}
                                </option>
                            ))}
                        </optgroup>
                        <optgroup label="Found out">
                            {TRIALS.map((t) => (
                                <option key={t.kind} value={t.kind}>
                                    {t.title}
                                </option>
                            ))}
                        </optgroup>
                        <optgroup label="Done to the pack">
                            <option value="plug">{round.plugged ? 'Pull the sense plug' : 'Put the sense plug in'}</option>
                        </optgroup>
                    </select>
                )}
            </Field>
            {test && <Trial key={test.kind} test={test} act={act} onClose={() => setOpen(null)} />}
        </div>
    );
}

/** The act that a form stands for. */
export function actOf(test: TestForm, values: Values): Act {
    if (test.kind === 'load')
        return { do: 'load', current_a: -Math.abs(number(values['current_a'] ?? '')), seconds: number(values['seconds'] ?? '') };
    if (test.kind === 'charge-step')
        return { do: 'charge', current_a: Math.abs(number(values['current_a'] ?? '')), minutes: number(values['minutes'] ?? '') };
    return { do: 'test', test: entryOf(test, values).data };
}

function Trial({ test, act, onClose }: { test: TestForm; act: InRound['act']; onClose: () => void }) {
    const [values, setValues] = useState<Values>(() => startValues(test, null, null));
    const [wrong, setWrong] = useState<Record<string, string>>({});
    return (
        <Sheet title={test.title} onClose={onClose}>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    const found = problems(test, values);
                    setWrong(found);
                    if (Object.keys(found).length > 0) return;
                    void act(actOf(test, values));
                    onClose();
                }}
            >
                <Asks test={test} values={values} set={(name, typed) => setValues({ ...values, [name]: typed })} wrong={wrong} />
                {test.asks.length === 0 && <p>Nothing to choose: it is done on the pack as it is.</p>}
                <div>
                    <Button type="submit" look="main">
                        Do it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}

/** What was done before, the latest first; single readings are told together. */
function Before({ round }: { round: InRound['round'] }) {
    const lines: { key: number; what: string; came: string }[] = [];
    round.acts.forEach((a, i) => {
        const act = a.act as Act;
        if (act.do !== 'read') lines.push({ key: i, what: said(act), came: act.do === 'look' ? '' : cameTo(a.result) });
    });
    const sets = round.sets.length;
    if (lines.length === 0) return null;
    return (
        <details open={lines.length <= 4}>
            <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                Done so far: {lines.length}, in {sets} {sets === 1 ? 'set' : 'sets'}
            </summary>
            <ul className="text-[0.95rem]">
                {[...lines].reverse().map((l) => (
                    <li key={l.key} className="border-b border-line py-1 break-words">
                        {l.what} <span className="text-muted digits">{l.came}</span>
                    </li>
                ))}
            </ul>
        </details>
    );
}
