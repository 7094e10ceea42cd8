import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { count, percent, when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button, Go } from '@/parts/basics';
import { Word } from '@/parts/Word';
import { Empty, QueryState } from '@/parts/QueryState';
import { begin } from './begin';
import { Curve } from './Curve';
import { type Home, LEVELS, OUTCOMES, type Person, type Progress, useHome } from './training';

/** Where somebody stands: the next round, how they get on, what comes back when; for the owner, everybody. */
export function Component() {
    const query = useHome();
    const owner = useMay('people');
    const home = query.data;
    if (!home) return <QueryState of={query} what="Fetching your rounds ..." />;
    return (
        <div className="p-5 grid gap-5">
            <div className="grid gap-5 lg:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] items-start">
                <Next home={home} />
                <GetOn home={home} />
            </div>
            {owner && <People />}
            <div className="grid gap-5 lg:grid-cols-2 items-start">
                <Kinds home={home} />
                <Last home={home} />
            </div>
        </div>
    );
}

const clockTime = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' });

/** The next round: at which level, of the shop's own cases, or on paper; and the sitting that has an end. */
function Next({ home }: { home: Home }) {
    const queries = useQueryClient();
    const navigate = useNavigate();
    const [level, setLevel] = useState<number | null>(null);
    const at = level ?? home.level;
    const start = useMutation({
        mutationFn: (of: { level: number | null; case: number | null }) => begin(queries, of),
        onSuccess: (r) => void navigate(`/training/${r.id}${r.acts.length > 0 ? '/probe' : ''}`),
        onError: (e) => toast.error(e.message),
    });
    const sat = home.sitting;
    return (
        <section aria-label="The next round" className="sheet p-5 grid gap-3">
            <h1>Learn on packs that cannot burn</h1>
            {home.open ? (
                <>
                    <p>A round is under way.</p>
                    <div>
                        <Go to={`/training/${home.open}`} look="main">
                            Go on with it
                        </Go>
                    </div>
                </>
            ) : (
                <>
                    {sat && !sat.over && (
                        <p>
                            This sitting ends at {clockTime(sat.ends_at)}: {count(sat.rounds, 'round')} so far, {sat.right} right.
                        </p>
                    )}
                    {sat?.over && sat.rounds > 0 && (
                        <p className="border-l-4 border-drill pl-3">
                            The sitting of {when(sat.began_at)} is over: {count(sat.rounds, 'round')}, {sat.right} right
                            {sat.unsafe > 0 && `, ${sat.unsafe} ended by an unsafe act`}. Fifteen minutes a day keep more than two hours on
                            a Sunday.
                        </p>
                    )}
                    <fieldset className="grid gap-1">
                        <legend className="eyebrow">Level</legend>
                        <div className="grid sm:grid-cols-2 gap-x-5">
                            {LEVELS.map((l) => (
                                <label key={l.level} className="flex items-center gap-2 min-h-[44px] border-b border-line">
                                    <input type="radio" name="level" checked={at === l.level} onChange={() => setLevel(l.level)} />
                                    <span>
                                        <b>
                                            {l.level} {l.name}
                                        </b>{' '}
                                        <span className="text-muted">{l.what}</span>
                                        {l.level === home.level && <span className="text-muted">, offered to you</span>}
                                    </span>
                                </label>
                            ))}
                        </div>
                    </fieldset>
                    <div className="flex flex-wrap gap-3">
                        <Button look="main" disabled={start.isPending} onClick={() => start.mutate({ level: at, case: null })}>
                            {sat?.over ? 'Begin another sitting' : 'Begin a round'}
                        </Button>
                        <Go to={`/training/paper?level=${at}`} look="quiet">
                            A round on paper
                        </Go>
                    </div>
                    {home.cases.length > 0 && (
                        <div className="grid gap-1">
                            <h2 className="!text-base">Cases of this shop, without names</h2>
                            <ul className="flex flex-wrap gap-3">
                                {home.cases.map((c) => (
                                    <li key={c.number}>
                                        <Button disabled={start.isPending} onClick={() => start.mutate({ level: null, case: c.number })}>
                                            Case {c.number}, level {c.level}
                                            {c.played > 0 && (
                                                <span className="text-muted">, played {c.played === 1 ? 'once' : `${c.played} times`}</span>
                                            )}
                                        </Button>
                                    </li>
                                ))}
                            </ul>
                        </div>
                    )}
                </>
            )}
            <p className="text-muted">
                You look, read, test and wait as at the bench; the clock runs, and waiting is skipped. You say what it is and how sure you
                are, choose, carry it out, prove it and hand it back. An act that would be unsafe on a real pack ends the round.
            </p>
        </section>
    );
}

function GetOn({ home }: { home: Home }) {
    const p = home.progress;
    return (
        <section aria-label="How you get on" className="sheet p-5 grid gap-3">
            <h2>How you get on</h2>
            {p.accuracy === null ? (
                <Empty what="No round played yet: begin one, and how you get on stands here." />
            ) : (
                <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_auto]">
                    <div className="grid gap-2 content-start">
                        {p.levels.map((l) => (
                            <Share key={l.level} name={`Level ${l.level}`} of={l} />
                        ))}
                        <p>
                            {p.unsafe === 0 ? (
                                <span className="text-moss font-bold">✓ No unsafe act in {count(p.accuracy.rounds, 'round')}.</span>
                            ) : (
                                <span className="text-ember font-bold">
                                    ⬣ {count(p.unsafe, 'round')} ended by an unsafe act; {p.safe_in_a_row} since.
                                </span>
                            )}
                        </p>
                        {p.carried && <p>{carriedSaid(p.carried)}</p>}
                        {p.pace !== null && <p>Time: {p.pace.toFixed(1)} times the tool&rsquo;s own line, in the middle.</p>}
                        {p.gap !== null && (
                            <p>
                                <Word of="stated">Stated sureness</Word> is off by {Math.round(100 * p.gap)} in a hundred on the mean.
                            </p>
                        )}
                    </div>
                    <Curve of={p.calibration} width={230} />
                </div>
            )}
            {home.rights.some((r) => !r.has) && (
                <details open={p.accuracy !== null && p.accuracy.rounds >= 3}>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">What your rounds speak for</summary>
                    <Speaks of={home.rights} />
                    <p className="text-muted">The owner gives a right, by hand.</p>
                </details>
            )}
        </section>
    );
}

/** How choices were carried out, in a sentence. */
export function carriedSaid(c: NonNullable<Progress['carried']>): string {
    const back =
        c.returned === 0
            ? 'none went back'
            : `${c.returned} went back, ${c.proved} with everything proved and nothing left wrong` +
              (c.with_fault > 0 ? `, ${c.with_fault} with something still wrong` : '');
    return `Carried out: ${count(c.rounds, 'round')}, ${c.supplies} at the supply; ${back}.`;
}

/** A share with its interval: the bar is what it may be, the mark what was counted. */
function Share({ name, of }: { name: string; of: Progress['levels'][number] }) {
    const share = of.right / of.rounds;
    return (
        <div>
            <p>
                {name}: <b>{of.right}</b> of {of.rounds} right{' '}
                <span className="text-muted">
                    ({percent(of.low)} to {percent(of.high)})
                </span>
            </p>
            <div className="relative h-3 border border-muted rounded-sm bg-paper" aria-hidden="true">
                <span
                    className="absolute inset-y-0 bg-drill opacity-45"
                    style={{ left: `${100 * of.low}%`, width: `${100 * (of.high - of.low)}%` }}
                />
                <span className="absolute top-[-3px] bottom-[-3px] w-[3px] bg-drill" style={{ left: `${Math.min(99, 100 * share)}%` }} />
            </div>
        </div>
    );
}

function Kinds({ home }: { home: Home }) {
    if (home.kinds.length === 0) return null;
    return (
        <section aria-label="What comes back" className="sheet p-5">
            <h2 className="pb-1">What comes back, and when</h2>
            <table className="w-full">
                <thead>
                    <tr className="text-left text-muted">
                        <th scope="col" className="font-normal">
                            Kind
                        </th>
                        <th scope="col" className="font-normal text-right px-2">
                            Remembered
                        </th>
                        <th scope="col" className="font-normal text-right px-2">
                            Missed
                        </th>
                        <th scope="col" className="font-normal text-right">
                            Due
                        </th>
                    </tr>
                </thead>
                <tbody>
                    {home.kinds.map((k) => (
                        <tr key={k.title} className="border-t border-line">
                            <td className="py-1">{k.title}</td>
                            <td className="text-right px-2 digits">{percent(k.recall)}</td>
                            <td className="text-right px-2 digits whitespace-nowrap">
                                {k.missed} of {k.seen}
                            </td>
                            <td className="text-right whitespace-nowrap">
                                {k.due_at === null ? 'by chance' : new Date(k.due_at) <= new Date() ? 'now' : when(k.due_at)}
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </section>
    );
}

function Last({ home }: { home: Home }) {
    if (home.last.length === 0) return null;
    return (
        <section aria-label="Rounds played" className="sheet p-5">
            <h2 className="pb-1">Rounds played</h2>
            <ul>
                {home.last.map((r) => (
                    <li key={r.id} className="border-t border-line">
                        <Link
                            to={`/training/${r.id}/debrief`}
                            className="flex flex-wrap items-baseline gap-x-3 min-h-[44px] py-2 no-underline hover:bg-knot"
                        >
                            <b className={OUTCOMES[r.outcome].ink}>
                                <span aria-hidden="true">{OUTCOMES[r.outcome].sign}</span> {OUTCOMES[r.outcome].word}
                            </b>
                            <span className="underline underline-offset-4">{r.kinds.join(', ')}</span>
                            <span className="text-muted">
                                level {r.level}
                                {r.case !== null && `, case ${r.case}`}, {when(r.ended_at)}
                            </span>
                        </Link>
                    </li>
                ))}
            </ul>
        </section>
    );
}

/** The owner's: who is ready for which right. A right is given by hand, on the page of people. */
function People() {
    const query = useQuery({ queryKey: slots.training('people'), queryFn: () => unwrap(api.GET('/api/training/people')) });
    if (!query.data) return <QueryState of={query} what="Fetching how everybody gets on ..." />;
    return (
        <section aria-label="Everybody" className="sheet p-5 grid gap-2 min-w-0">
            <div className="flex flex-wrap items-baseline gap-x-4">
                <h2>Everybody, and what their rounds speak for</h2>
                <Link to="/people" className="underline underline-offset-4 inline-flex items-center min-h-[44px]">
                    Give a right by hand
                </Link>
            </div>
            <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Everybody's rounds">
                <table className="w-full">
                    <thead>
                        <tr className="text-left text-muted align-bottom">
                            {['Who', 'Level', 'Right', 'Unsafe', 'Sureness off', 'Carried out', 'May, or would be ready to'].map((h) => (
                                <th key={h} scope="col" className="font-normal pr-4">
                                    {h}
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {query.data.map((p) => (
                            <tr key={p.id} className="border-t border-line align-top">
                                <th scope="row" className="text-left py-1.5 pr-4">
                                    {p.name} <span className="font-normal text-muted block">{p.role}</span>
                                </th>
                                <td className="py-1.5 pr-4">{p.level}</td>
                                <td className="py-1.5 pr-4 whitespace-nowrap">
                                    {p.progress.accuracy === null ? (
                                        <span className="text-muted">no round yet</span>
                                    ) : (
                                        <>
                                            {p.progress.accuracy.right} of {p.progress.accuracy.rounds}
                                            <span className="text-muted block">
                                                {percent(p.progress.accuracy.low)} to {percent(p.progress.accuracy.high)}
                                            </span>
                                        </>
                                    )}
                                </td>
                                <td className="py-1.5 pr-4">
                                    {p.progress.accuracy === null ? (
                                        ''
                                    ) : p.progress.unsafe === 0 ? (
                                        'none'
                                    ) : (
                                        <b className="text-ember">⬣ {p.progress.unsafe}</b>
                                    )}
                                </td>
                                <td className="py-1.5 pr-4">
                                    {p.progress.gap !== null && (
                                        <details>
                                            <summary className="min-h-[28px] underline underline-offset-4">
                                                {Math.round(100 * p.progress.gap)}
                                                <span className="sr-only"> in a hundred: show the curve of {p.name}</span>
                                            </summary>
                                            <Curve of={p.progress.calibration} width={220} />
                                        </details>
                                    )}
                                </td>
                                <td className="py-1.5 pr-4">
                                    {p.progress.carried && (
                                        <>
                                            {count(p.progress.carried.rounds, 'round')}
                                            <span className="text-muted block">
                                                {p.progress.carried.proved} of {p.progress.carried.returned} back with all proved
                                            </span>
                                        </>
                                    )}
                                </td>
                                <td className="py-1.5">
                                    <Speaks of={p.rights} />
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
        </section>
    );
}

/** What somebody may, is ready for, or lacks; what is lacking for every right is told once. */
function Speaks({ of }: { of: Person['rights'] }) {
    const open = of.filter((r) => !r.has && !r.ready);
    const may = of.filter((r) => r.has);
    const common = (open[0]?.missing ?? []).filter((m) => open.every((r) => r.missing.includes(m)));
    return (
        <ul>
            {may.length > 0 && <li className="text-muted">may {may.map((r) => r.title).join('; ')}</li>}
            {of
                .filter((r) => !r.has && r.ready)
                .map((r) => (
                    <li key={r.right}>
                        <b className="text-moss">✓ ready to {r.title}</b>
                    </li>
                ))}
            {open.map((r) => {
                const own = r.missing.filter((m) => open.length === 1 || !common.includes(m));
                return (
                    <li key={r.right}>
                        to {r.title}: <span className="text-muted">{own.length > 0 ? own.join(' ') : 'only what is said below.'}</span>
                    </li>
                );
            })}
            {open.length > 1 && common.length > 0 && (
                <li>
                    to any of them: <span className="text-muted">{common.join(' ')}</span>
                </li>
            )}
        </ul>
    );
}
