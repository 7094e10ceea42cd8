import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type ReactNode, useState } from 'react';
import { Navigate, useNavigate, useOutletContext } from 'react-router';
import { api, key, unwrap } from '@/api/client';
import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useDraft } from '@/lib/useDraft';
import { Button, Field, Go } from '@/parts/basics';
import { Checks } from './Checks';
import { RunCurve } from './RunCurve';
import { places, useChoices } from './Plan';
import type { InRound } from './Round';
import { type Act, type Check, cameTo, type Round, said } from './training';

type Work = NonNullable<Round['work']>;

/** The choice carried out: by hand, at the supply, on the charger; what is proved of it so far; and whether it goes back. */
export function Component() {
    const { round, act, doing } = useOutletContext<InRound>();
    if (!round.work) return <Navigate to={`/training/${round.id}/intake`} replace />;
    return <WorkRoom key={round.id} round={round} work={round.work} act={act} doing={doing} />;
}

function WorkRoom({ round, work, act, doing }: InRound & { work: Work }) {
    const byHand = useChoices()?.find((c) => c.action === work.action)?.by_hand === true;
    const off = round.over !== null || doing > 0;
    const last = round.acts.slice(work.after).at(-1);
    const hands = <Hands key="hands" round={round} work={work} act={act} off={off} />;
    const supply = <Supply key="supply" round={round} act={act} off={off} />;
    return (
        <div className="p-5 grid gap-5 lg:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] items-start">
            <div className="grid gap-5 min-w-0">
                <section aria-label="What was chosen" className="sheet p-5 grid gap-3">
                    <h2>{work.chose ?? 'Nothing was chosen'}</h2>
                    {work.steps.length > 0 && (
                        <details>
                            <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                                The steps of this work: {work.steps.length}
                            </summary>
                            <ol className="list-decimal pl-6 grid gap-1">
                                {work.steps.map((s) => (
                                    <li key={s.title}>
                                        {s.title} {s.caution && <span className="text-muted">{s.caution}</span>}
                                    </li>
                                ))}
                            </ol>
                        </details>
                    )}
                    <div className="flex flex-wrap items-center gap-3">
                        <Button disabled={off} look={work.isolated ? 'plain' : 'main'} onClick={() => void act({ do: 'isolate' })}>
                            Take charger and load off, prove zero current
                        </Button>
                        <p className={work.isolated ? 'text-moss font-bold' : 'text-amber font-bold'} role="status">
                            {work.isolated ? '✓ Nothing is connected' : '◌ Zero current is not proved'}
                        </p>
                    </div>
                    <p>
                        <Go to={`/training/${round.id}/probe`}>Read and test</Go>{' '}
                        <span className="text-muted">The bench&rsquo;s own meter lies beside it now.</span>
                    </p>
                </section>
                {last && (
                    <div
                        className="border-l-4 border-drill bg-knot rounded-r px-4 py-2 grid gap-1"
                        aria-label="What came of it"
                        role="status"
                    >
                        <p className="font-bold">{said(last.act as Act)}</p>
                        <p className="break-words">{cameTo(last.result) || 'Done.'}</p>
                        <RunCurve of={last.result} />
                    </div>
                )}
                {!round.over && (byHand ? [hands, supply] : [supply, hands])}
                {!round.over && <Level work={work} act={act} off={off} />}
            </div>
            <div className="grid gap-5 min-w-0">
                <Proof checks={work.checks} />
                <HandBack round={round} checks={work.checks} off={off} />
                <Done round={round} work={work} />
            </div>
        </div>
    );
}

interface Typed {
    action: string | null;
    places: string | null;
    stands: string;
}
const NOTHING_TYPED: Typed = { action: null, places: null, stands: '' };

function Card({ title, say, children, onSubmit }: { title: string; say: string; children: ReactNode; onSubmit: () => void }) {
    return (
        <form
            aria-label={title}
            className="sheet p-5 grid gap-3"
            onSubmit={(e: FormEvent) => {
                e.preventDefault();
                onSubmit();
            }}
        >
            <h2>{title}</h2>
            <p className="text-muted">{say}</p>
            {children}
        </form>
    );
}

/** A number, or several, typed as it stands. */
function Plain({ label, hint, mode, off, value, set }: PlainOf) {
    return (
        <Field label={label} hint={hint}>
            {(p) => <input {...p} className="digits" inputMode={mode} disabled={off} value={value} onChange={(e) => set(e.target.value)} />}
        </Field>
    );
}
interface PlainOf {
    label: string;
    hint?: string;
    mode: 'numeric' | 'decimal';
    off: boolean;
    value: string;
    set: (typed: string) => void;
}

/** Parts in and out, joints, welds, leads: what hands do. */
function Hands({ round, work, act, off }: { round: Round; work: Work; act: InRound['act']; off: boolean }) {
    const all = useChoices()?.filter((c) => c.by_hand) ?? [];
    const chosen = all.find((c) => c.action === work.action);
    // What was chosen stands there until something else is typed.
    const [typed, setTyped] = useDraft<Typed>(`training.${round.id}.hands`, NOTHING_TYPED);
    const [wrong, setWrong] = useState<string | null>(null);
    const one = typed.action === null ? chosen : all.find((c) => c.action === typed.action);
    const where = typed.places ?? (chosen ? work.where.flatMap((w) => Object.values(w ?? {})).join(' ') : '');
    const at = places(where);
    const v = number(typed.stands);
    const cells = one?.new_cells === true;
    const submit = () => {
        const lacks =
            one === undefined
                ? 'Choose what is done.'
                : one.at && at.length === 0
                  ? `Say which ${one.at === 'group' ? 'groups' : 'joints'}.`
                  : cells && !(v > 0)
                    ? 'Say at what voltage the new cells stand.'
                    : null;
        setWrong(lacks);
        if (lacks || !one) return;
        void act({
            do: 'hands',
            action: one.action,
            ...(one.at ? { where: at.map((k) => ({ [one.at!]: k })) } : {}),
            ...(cells ? { stands_v: v } : {}),
        });
        setTyped({ ...typed, stands: '' });
    };
    return (
        <Card title="By hand" say="Parts, joints, welds, leads. What comes out of the drawer has a charge of its own." onSubmit={submit}>
            <div className="grid gap-3 sm:grid-cols-2">
                <Field label="What is done">
                    {(p) => (
                        <select
                            {...p}
                            disabled={off}
                            value={one?.action ?? ''}
                            onChange={(e) => setTyped({ ...typed, action: e.target.value })}
                        >
                            <option value="">choose what is done</option>
                            {all.map((c) => (
                                <option key={c.action} value={c.action}>
                                    {c.title}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                {one?.at && (
                    <Plain
                        label={one.at === 'group' ? 'Which groups' : 'Joints at which taps'}
                        mode="numeric"
                        off={off}
                        value={where}
                        set={(t) => setTyped({ ...typed, places: t })}
                    />
                )}
                {cells && (
                    <Plain
                        label="The new cells were brought to, V"
                        hint="each of them, at rest"
                        mode="decimal"
                        off={off}
                        value={typed.stands}
                        set={(t) => setTyped({ ...typed, stands: t })}
                    />
                )}
            </div>
            {wrong && (
                <p role="alert" className="text-ember font-bold">
                    {wrong}
                </p>
            )}
            <div>
                <Button type="submit" disabled={off}>
                    Do it by hand
                </Button>
            </div>
        </Card>
    );
}

/** The supply of the simulated bench: the same plan, the same proof, the same rules that end it. */
function Supply({ round, act, off }: { round: Round; act: InRound['act']; off: boolean }) {
    const where = (round.work?.where ?? []).flatMap((w) => (w?.['group'] ? [String(w['group'])] : []));
    const [on, setOn] = useState(where[0] ?? '');
    const [to, setTo] = useState('neighbours');
    const [amps, setAmps] = useState('');
    const a = number(amps);
    const submit = () =>
        void act({
            do: 'supply',
            ...(on === '' ? {} : { group: Number(on), to }),
            ...(a > 0 ? { current_a: a } : {}),
        });
    return (
        <Card
            title="At the supply"
            say="Read the group at its clips, then start: the run proves the clips, watches each sample, and ends itself by the rules."
            onSubmit={submit}
        >
            <div className="grid gap-3 sm:grid-cols-3">
                <Field label="Clips on">
                    {(p) => (
                        <select {...p} disabled={off} value={on} onChange={(e) => setOn(e.target.value)}>
                            <option value="">the whole string, past its board</option>
                            {Array.from({ length: round.brief.pack.series }, (_, i) => (
                                <option key={i} value={String(i + 1)}>
                                    group {i + 1}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                {on !== '' && (
                    <Field label="Up to">
                        {(p) => (
                            <select {...p} disabled={off} value={to} onChange={(e) => setTo(e.target.value)}>
                                <option value="neighbours">its neighbours</option>
                                <option value="full">full, by its tail</option>
                            </select>
                        )}
                    </Field>
                )}
                <Plain label="Amps" hint="empty: as the plan has it" mode="decimal" off={off} value={amps} set={(t) => setAmps(t)} />
            </div>
            <div>
                <Button type="submit" disabled={off}>
                    Start the run
                </Button>
            </div>
        </Card>
    );
}

function Level({ work, act, off }: { work: Work; act: InRound['act']; off: boolean }) {
    const [typed, setTyped] = useState('12');
    const h = number(typed);
    const may = h > 0 && h <= work.most_level_h;
    return (
        <Card
            title="On its charger"
            say="Held at full, so that the board bleeds what stands over the lowest group: slowly, and only near the top."
            onSubmit={() => may && void act({ do: 'level', hours: h })}
        >
            <div className="flex flex-wrap gap-3 items-end">
                <Plain label={`Hours, at most ${work.most_level_h}`} mode="decimal" off={off} value={typed} set={(t) => setTyped(t)} />
                <Button type="submit" disabled={off || !may}>
                    Leave it on
                </Button>
            </div>
        </Card>
    );
}

function Proof({ checks }: { checks: Check[] }) {
    return (
        <section aria-label="What is proved" className="sheet p-5 grid gap-2">
            <h2>What is proved of it as it is now</h2>
            <Checks of={checks} />
        </section>
    );
}

/** The last word: whether it goes back. */
function HandBack({ round, checks, off }: { round: Round; checks: Check[]; off: boolean }) {
    const queries = useQueryClient();
    const navigate = useNavigate();
    const open = checks.filter((c) => c.status !== 'passed').length;
    const finish = useMutation({
        mutationFn: (returned: boolean | null) =>
            unwrap(
                api.POST('/api/training/rounds/{trainingRound}/finish', {
                    params: { path: { trainingRound: round.id }, header: key() },
                    body: { returned },
                }),
            ),
        onSuccess: (r) => {
            queries.setQueryData(slots.training('round', round.id), r);
            void queries.invalidateQueries({ queryKey: slots.training(), exact: true });
            void navigate(`/training/${round.id}/debrief`);
        },
    });
    if (round.over) return null;
    const no = off || finish.isPending;
    return (
        <section aria-label="Does it go back" className="sheet p-5 grid gap-3">
            <h2>Does it go back?</h2>
            <p>
                {open === 0
                    ? 'Everything that can be proved here is proved.'
                    : `${open} of ${checks.length} not passed: you sign for what was not measured, too.`}
            </p>
            <div className="flex flex-wrap gap-3">
                <Button look={open === 0 ? 'main' : 'plain'} disabled={no} onClick={() => finish.mutate(true)}>
                    It goes back
                </Button>
                <Button disabled={no} onClick={() => finish.mutate(false)}>
                    It does not
                </Button>
                <Button look="quiet" disabled={no} onClick={() => finish.mutate(null)}>
                    Leave it, and show me
                </Button>
            </div>
            {finish.error && (
                <p role="alert" className="text-ember font-bold">
                    {finish.error.message}
                </p>
            )}
        </section>
    );
}

function Done({ round, work }: { round: Round; work: Work }) {
    const acts = round.acts.slice(work.after).filter((a) => (a.act as Act).do !== 'read');
    if (acts.length === 0) return null;
    return (
        <section aria-label="Done so far" className="sheet p-5 grid gap-2">
            <h2>Done so far</h2>
            <ol className="text-[0.95rem]">
                {acts.map((a, i) => (
                    <li key={i} className="border-b border-line py-1 break-words">
                        {said(a.act as Act)} <span className="text-muted">{cameTo(a.result)}</span>
                    </li>
                ))}
            </ol>
        </section>
    );
}
