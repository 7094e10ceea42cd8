import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Navigate, useNavigate, useOutletContext } from 'react-router';
import { toast } from 'sonner';
import { usePerson } from '@/lib/bench';
import { money, percent } from '@/lib/format';
import { Button, Go } from '@/parts/basics';
import { Word } from '@/parts/Word';
import { Checks } from './Checks';
import { Evidence } from './Evidence';
import { begin } from './begin';
import type { InRound } from './Round';
import { OUTCOMES, type Round } from './training';

/** What it was, how it went, and the evidence in the order in which it came. */
export function Component() {
    const { round } = useOutletContext<InRound>();
    if (!round.over) return <Navigate to={`/training/${round.id}/intake`} replace />;
    return <Debrief round={round} over={round.over} />;
}

type Over = NonNullable<Round['over']>;

function Debrief({ round, over }: { round: Round; over: Over }) {
    const navigate = useNavigate();
    const queries = useQueryClient();
    const look = OUTCOMES[over.outcome];
    const score = over.score;
    const again = useMutation({
        mutationFn: () => begin(queries, { level: round.case === null ? round.level : null, case: null }),
        onSuccess: (r) => void navigate(`/training/${r.id}/intake`),
        onError: (e) => toast.error(e.message),
    });
    return (
        <div className="p-5 grid gap-5 xl:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] items-start">
            <div className="grid gap-5 min-w-0">
                <section aria-label="How it went" className="sheet p-5 grid gap-3">
                    <h2 className={`!text-[1.5rem] ${look.ink}`}>
                        <span aria-hidden="true">{look.sign}</span> {look.word}
                    </h2>
                    {over.unsafe && (
                        <p className="border-[3px] border-ember rounded p-3">
                            <b>The rule:</b> {over.unsafe}
                        </p>
                    )}
                    <div className="grid gap-3 sm:grid-cols-2">
                        <div>
                            <h3 className="eyebrow">You said</h3>
                            {over.answer === null ? (
                                <p>Nothing.</p>
                            ) : over.said.length === 0 ? (
                                <p>
                                    Nothing is wrong with it
                                    {typeof over.answer['nothing'] === 'number' && `, ${percent(over.answer['nothing'])} sure`}.
                                </p>
                            ) : (
                                <ul>
                                    {over.said.map((f, i) => (
                                        <li key={i}>
                                            {f.title} <b className="digits">{percent(f.probability ?? 0)}</b>
                                        </li>
                                    ))}
                                </ul>
                            )}
                            {over.chose && <p className="pt-1">To be done: {over.chose}.</p>}
                        </div>
                        <div>
                            <h3 className="eyebrow">It was</h3>
                            {over.truth.length === 0 ? (
                                <p>
                                    <b>Nothing was wrong with it.</b>
                                </p>
                            ) : (
                                <ul>
                                    {over.truth.map((t, i) => (
                                        <li key={i}>
                                            <b>{t.title}</b>
                                        </li>
                                    ))}
                                </ul>
                            )}
                        </div>
                    </div>
                    <Figures score={score} />
                </section>
                {score.outturn && <Ran of={score.outturn} over={over} />}
                <section aria-label="The evidence in its order" className="sheet p-5 grid gap-2">
                    <h2>The evidence, in the order in which it came</h2>
                    <ol className="list-decimal pl-6 grid gap-1.5">
                        {score.debrief.map((line, i) => (
                            <li key={i}>{line}</li>
                        ))}
                    </ol>
                </section>
                <div className="no-print flex flex-wrap gap-3">
                    <Button look="main" disabled={again.isPending} onClick={() => again.mutate()}>
                        Another round
                    </Button>
                    <Go to="/training">How I get on</Go>
                    <Button look="quiet" onClick={() => window.print()}>
                        Print this
                    </Button>
                </div>
                {over.seed !== null && (
                    <p className="text-muted text-sm">
                        Level {round.level}, seed <span className="digits">{over.seed}</span>: ./heartwood train plays the same pack again.
                    </p>
                )}
            </div>
            <Evidence round={round} />
        </div>
    );
}

const minutes = (s: number) =>
    s < 5400 ? `${Math.round(s / 60)} min` : s < 172_800 ? `${(s / 3600).toFixed(1)} h` : `${(s / 86_400).toFixed(1)} days`;

const ah = (c: { usable_ah: number } | null) => (c ? `${c.usable_ah.toFixed(1)} Ah` : '--');
const took = (t: { readings: number; tests: number }) => `${t.readings} + ${t.tests}`;
const hands = (c: { minutes: number } | null) => (c ? `${c.minutes} min` : '--');

/** What came of the choice as it was carried out, beside what was proved of it. */
function Ran({ of, over }: { of: NonNullable<Over['score']['outturn']>; over: Over }) {
    const currency = usePerson().workshop.currency;
    return (
        <section aria-label="How you carried it out" className="sheet p-5 grid gap-2">
            <h2>How you carried it out</h2>
            <p>
                It gives <b className="digits">{of.usable_ah.toFixed(1)} Ah</b>. Parts and hands:{' '}
                <b className="digits">{money(Math.round(100 * of.cost), currency)}</b>, {of.minutes} min of hands, {minutes(of.seconds)} by
                the clock.
            </p>
            {over.left.length === 0 ? (
                <p className="text-moss font-bold">✓ Of what was wrong with it nothing is left.</p>
            ) : (
                <p className="text-ember font-bold">✗ Still wrong with it: {over.left.map((l) => l.title).join('; ')}.</p>
            )}
            <p>
                {of.returned === null
                    ? 'It was left on the bench.'
                    : of.returned
                      ? of.proved
                          ? 'It went back with everything proved that can be proved here.'
                          : 'It went back, and not everything was proved:'
                      : 'It did not go back.'}
            </p>
            <ul className="text-muted">
                {of.walk.map((line, i) => (
                    <li key={i}>{line}</li>
                ))}
            </ul>
            <Checks of={of.checks} />
        </section>
    );
}

function Figures({ score }: { score: Over['score'] }) {
    const currency = usePerson().workshop.currency;
    const rows: [ReactNode, string, string][] = [
        [<Word of="brier">Sureness</Word>, score.brier.toFixed(2), score.best_brier.toFixed(2)],
        ['Time at the bench', minutes(score.seconds), minutes(score.best_seconds)],
    ];
    if (score.took && score.best_took) rows.push(['Readings and tests', took(score.took), took(score.best_took)]);
    const { choice, best_choice: best } = score;
    if (choice) {
        const cost = (c: { cost: number } | null) => (c ? money(Math.round(100 * c.cost), currency) : '--');
        rows.push(
            [`The pack gives (as it came: ${score.came_ah.toFixed(1)} Ah)`, ah(choice), ah(best)],
            ['That costs', cost(choice), cost(best)],
            ['Hands', hands(choice), hands(best)],
        );
    }
    return (
        <table className="w-full">
            <thead>
                <tr className="text-left text-muted">
                    <td />
                    <th scope="col" className="font-normal">
                        Yours
                    </th>
                    <th scope="col" className="font-normal">
                        The tool&rsquo;s own line
                    </th>
                </tr>
            </thead>
            <tbody>
                {rows.map(([name, mine, best], i) => (
                    <tr key={i} className="border-t border-line">
                        <th scope="row" className="text-left font-normal py-1 pr-3">
                            {name}
                        </th>
                        <td className="digits font-bold pr-3">{mine}</td>
                        <td className="digits">{best}</td>
                    </tr>
                ))}
                {choice && best && (
                    <tr>
                        <td />
                        <td />
                        <td className="text-muted text-sm">{best.title}</td>
                    </tr>
                )}
            </tbody>
        </table>
    );
}
