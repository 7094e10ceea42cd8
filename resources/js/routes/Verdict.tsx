import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, type Finding, type Job, key, unwrap } from '@/api/client';
import { guided, odds, percent, place, sureness, tests, volts, weight, when } from '@/lib/format';
import { useJobWrite } from '@/lib/job';
import { Basis, Button, Cautions, Go, Settle, Waiting } from '@/parts/basics';
import { bandsOf } from '@/lib/bands';
import { CoreSample } from '@/parts/CoreSample';
import { SetsPicture } from '@/parts/SetsPicture';
import { SetsTable } from '@/parts/SetsTable';
import { Balance } from '@/parts/Balance';
import { Windows } from '@/parts/Windows';
import { Word } from '@/parts/Word';
import { useReplay } from '@/lib/replay';

const PriorsSheet = lazy(() => import('@/parts/PriorsSheet'));
const TimeChart = lazy(() => import('@/parts/TimeChart'));

/** Where a test is done: at the supply, at the plug, or with probes and forms. */
const testLink = (job: number, t: { test: string; where: Record<string, unknown> | null }) => {
    if (t.test === 'recovery-trial') return `/jobs/${job}/supply`;
    if (t.test === 'pin-check') return `/jobs/${job}/build`;
    const place = Object.fromEntries(Object.entries(t.where ?? {}).map(([k, v]) => [k, String(v)]));
    if (guided[t.test]) return `/jobs/${job}/guided?${new URLSearchParams({ start: guided[t.test]!, ...place }).toString()}`;
    return `/jobs/${job}/probe?${new URLSearchParams({ test: t.test, ...place }).toString()}`;
};

const SEVERITY = {
    stop: { sign: '⬣', word: 'stop', ink: 'text-ember' },
    fix: { sign: '◆', word: 'fix', ink: 'text-bark' },
    watch: { sign: '◐', word: 'watch', ink: 'text-amber' },
    note: { sign: '○', word: 'note', ink: 'text-muted' },
};

export function Component() {
    const job = useOutletContext<Job>();
    const navigate = useNavigate();
    const [group, setGroup] = useState<number | null>(null);
    const [priors, setPriors] = useState(false);
    const [plain, setPlain] = useState(() => localStorage.getItem('heartwood.words') === 'plain');
    const issue = useJobWrite(() =>
        unwrap(api.POST('/api/jobs/{job}/verdict', { params: { path: { job: job.id }, header: key() }, body: {} })),
    );
    const plan = useJobWrite(
        () => unwrap(api.POST('/api/jobs/{job}/stage', { params: { path: { job: job.id }, header: key() }, body: { stage: 'plan' } })),
        () => void navigate(`/jobs/${job.id}/plan`),
    );
    const due = job.status === 'open' && job.measurements.length + job.tests.length > 0 && (!job.verdict || job.verdict.stale);
    useEffect(() => {
        if (due && issue.isIdle) issue.mutate(undefined);
    }, [due, issue]);
    if (!job.verdict) {
        return due ? (
            <Waiting what="Working out the verdict ..." />
        ) : (
            <div className="p-6 grid gap-3">
                <p>Nothing has been measured yet, so there is nothing to judge.</p>
                <div>
                    <Go to={`/jobs/${job.id}/probe`} look="main">
                        Probe the groups
                    </Go>
                </div>
            </div>
        );
    }
    const { document: d, detail } = job.verdict;
    // A group that was picked: what is said of it, and of the pack as a whole.
    const [first, ...others] = detail.statements
        .map((s) => ({ title: s.title, at: inOrder(s.findings.map((i) => ({ finding: d.findings[i]!, note: detail.ledger[i] }))) }))
        .filter((s) => group === null || s.at.some(({ finding: f }) => !f.where || !('group' in f.where) || f.where['group'] === group));
    const next = d.next_tests[0];
    const nextName = next ? (tests[next.test] ?? next.test) : '';
    const unread = d.groups.every((g) => g.v === null);
    // While the first finding is not sure, the test that tells most comes before any repair.
    const measureFirst =
        next !== undefined && (next.gain_bits >= 1 || (next.gain_bits >= 0.3 && (first?.at[0]!.finding.probability ?? 1) < 0.85));
    return (
        <div className="p-4 grid gap-5 lg:grid-cols-[260px_minmax(0,1fr)] xl:grid-cols-[250px_minmax(0,1fr)_330px] items-start">
            <section aria-label="Core sample" className="grid gap-2 max-lg:order-2">
                <CoreSample bands={bandsOf(job)} height={520} width={250} onPick={(k) => setGroup(group === k ? null : k)} picked={group} />
                {group !== null && <GroupDetail job={job} group={group} />}
            </section>
            <div className="grid gap-4">
                <div className="flex gap-2 items-center" role="group" aria-label="Words">
                    {[true, false].map((p) => (
                        <Button
                            key={String(p)}
                            look={plain === p ? 'main' : 'plain'}
                            aria-pressed={plain === p}
                            onClick={() => {
                                setPlain(p);
                                localStorage.setItem('heartwood.words', p ? 'plain' : 'detail');
                            }}
                        >
                            {p ? 'Plain' : 'Detail'}
                        </Button>
                    ))}
                    <span className="text-muted">{plain ? 'for the person over the counter' : 'every number and where it comes from'}</span>
                </div>
                <section aria-label="Findings" className="grid gap-3">
                    {first ? (
                        <FindingCard said={first} plain={plain} main />
                    ) : (
                        <p className="sheet p-5 text-xl font-bold">
                            {unread
                                ? `Nothing is measured yet${job.revision > 1 ? `, on revision ${job.revision} of the pack` : ''}.`
                                : 'Nothing wrong in what was measured.'}
                            {!unread && job.symptoms.length > 0 && job.status === 'open' && (
                                <span className="block font-normal text-base pt-1">
                                    What was said of it may come from outside the pack:{' '}
                                    <Link to={`/jobs/${job.id}/probe?test=load-check`} className="underline underline-offset-4">
                                        measure device and harness
                                    </Link>{' '}
                                    or{' '}
                                    <Link to={`/jobs/${job.id}/probe?test=charger-check`} className="underline underline-offset-4">
                                        the charger
                                    </Link>
                                    , before it goes back as sound.
                                </span>
                            )}
                        </p>
                    )}
                </section>
                {detail.suspicions.map((s) => (
                    <p key={s.text} className="border-[3px] border-amber rounded bg-panel p-3">
                        <b>
                            <Word of="off-reading">Doubtful reading.</Word>
                        </b>{' '}
                        {s.text} {s.settle}
                    </p>
                ))}
                <section aria-label="What next" className="sheet p-4 grid gap-3">
                    {next ? (
                        <>
                            <p className="text-lg">
                                <b>{nextName}</b> ({place(next.where)}) would <Word of="next-test">tell most</Word>: {next.why}{' '}
                                <span className="text-muted">
                                    About {next.minutes} min, {next.gain_bits.toFixed(1)} bit expected.
                                </span>{' '}
                                <Basis of="predicted" />
                            </p>
                            {d.next_tests.length > 1 && (
                                <details>
                                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                                        Other tests worth their minutes
                                    </summary>
                                    <ul className="grid gap-1.5 pt-1">
                                        {d.next_tests.slice(1).map((t) => (
                                            <li key={t.test + JSON.stringify(t.where)}>
                                                <b>{tests[t.test] ?? t.test}</b>, {place(t.where)}: {t.why}{' '}
                                                <span className="text-muted">
                                                    {t.minutes} min, {t.gain_bits.toFixed(1)} bit
                                                </span>
                                            </li>
                                        ))}
                                    </ul>
                                </details>
                            )}
                        </>
                    ) : (
                        <p>
                            {job.safety_state === 'clear'
                                ? 'Enough is known: no test is worth its minutes now.'
                                : 'No test is asked for in this safety state.'}
                        </p>
                    )}
                    {job.status === 'open' && job.safety_state !== 'clear' && (
                        <p>
                            <b>What comes next is the way out</b>, at the top of this screen: nothing is chosen, charged or opened before
                            it.
                        </p>
                    )}
                    {job.status === 'open' && job.safety_state === 'clear' && (
                        <div className="flex flex-wrap gap-3">
                            <Button look={measureFirst ? 'plain' : 'main'} disabled={plan.isPending} onClick={() => plan.mutate(undefined)}>
                                Choose what to do
                            </Button>
                            <Go to={next ? testLink(job.id, next) : `/jobs/${job.id}/probe`} look={measureFirst ? 'main' : 'plain'}>
                                {next ? `Do that: ${nextName.toLowerCase()}` : 'Measure more'}
                            </Go>
                        </div>
                    )}
                </section>
                {others.length > 0 && (
                    <section aria-label="Other findings" className="grid gap-3">
                        {others.map((s) => (
                            <FindingCard key={s.title} said={s} plain={plain} />
                        ))}
                    </section>
                )}
                {detail.parallel && !plain && (
                    <section aria-label="Which cell">
                        <h3 className="font-bold">Which cell of group {detail.parallel.group}?</h3>
                        <ol className="list-decimal pl-6">
                            {detail.parallel.steps.map((t) => (
                                <li key={t}>{t}</li>
                            ))}
                        </ol>
                    </section>
                )}
                <ReplaySection job={job} />
                {!plain && <SetsTable job={job} />}
                {!plain && (
                    <div>
                        <Button look="quiet" onClick={() => setPriors(true)}>
                            What was assumed before measuring
                        </Button>
                    </div>
                )}
                <Suspense>{priors && <PriorsSheet onClose={() => setPriors(false)} />}</Suspense>
                <Cautions lines={job.cautions['verdict'] ?? []} />
            </div>
            <section aria-label="What it does" className="grid gap-3 lg:max-xl:col-start-2 max-xl:max-w-2xl max-lg:order-3">
                {detail.window && (
                    <div className="grid gap-1">
                        <h2 className="!text-base">
                            <Word of="window">Charge window</Word>
                        </h2>
                        <Windows document={d} width={330} />
                        <p>
                            {detail.window.sentence} <Basis of="derived" />{' '}
                            {detail.window.capacity_basis === 'assumed' && (
                                <span className="text-muted text-sm">
                                    {(job.pack.label?.capacity_ah ?? job.pack.cell?.capacity_ah) ? (
                                        '(as if it still held what it held when new: no capacity was measured)'
                                    ) : (
                                        <>
                                            (capacity assumed from the cells:{' '}
                                            <Settle job={job.id} field="pack.label.capacity_ah">
                                                say what the label says
                                            </Settle>
                                            )
                                        </>
                                    )}
                                </span>
                            )}
                        </p>
                    </div>
                )}
                {job.sets.columns.length > 1 && (
                    <div className="grid gap-1">
                        <h2 className="!text-base">The sets, side by side</h2>
                        <SetsPicture job={job} width={330} />
                    </div>
                )}
                {detail.spread && (
                    <p>
                        <Word of="spread">Rest spread</Word>: {detail.spread.sentence} <Basis of="derived" />
                    </p>
                )}
                {detail.leak_ready_days !== null && next?.test === 'rest-again' && <LeakWait job={job} days={detail.leak_ready_days} />}
                {d.lacks.length > 0 && (
                    <div>
                        <h2 className="!text-base">Not known yet</h2>
                        <ul className="text-muted">
                            {d.lacks.map((l) => (
                                <li key={l}>○ {l}</li>
                            ))}
                        </ul>
                    </div>
                )}
            </section>
        </div>
    );
}

type Note = NonNullable<Job['verdict']>['detail']['ledger'][number];

/** What is said of the pack, and the findings that it says: several groups with one fault are one statement. */
type Said = { title: string; at: { finding: Finding; note?: Note }[] };

const numberOf = (f: Finding) => Number(Object.values(f.where ?? {})[0] ?? 0);
const inOrder = (at: Said['at']) => [...at].sort((a, b) => numberOf(a.finding) - numberOf(b.finding));

function FindingCard({ said, plain, main = false }: { said: Said; plain: boolean; main?: boolean }) {
    const { finding, note } = said.at[0]!;
    const s = SEVERITY[finding.severity];
    const several = said.at.length > 1;
    const ledgers = said.at.map((f) => <Ledger key={JSON.stringify(f.finding.where)} {...f} titled={several} />);
    return (
        <article className={`sheet ${main ? 'p-5 border-l-8 border-l-bark' : 'px-4 py-2.5'}`}>
            <h2 className={main ? 'text-2xl' : ''}>{said.title}</h2>
            {note?.plain && (plain || main) && <p className={plain ? 'text-lg' : 'text-muted'}>{note.plain}</p>}
            <p>
                <b className={s.ink}>
                    <span aria-hidden="true">{s.sign}</span> {s.word}
                </b>
                , <Word of="sureness">{sureness(finding.probability)}</Word>
                {!plain && (
                    <>
                        {' '}
                        ({percent(finding.probability)} <Basis of="derived" word={false} />)
                    </>
                )}
                .{!plain && !main && !several && <span className="text-muted"> {finding.evidence[0]?.text}.</span>}
            </p>
            {!plain && several && (
                <ul className="grid gap-0.5 pt-1">
                    {said.at.map(({ finding: f }) => (
                        <li key={JSON.stringify(f.where)} className="flex flex-wrap gap-x-3 border-t border-line py-0.5">
                            <b className="w-20">{place(f.where)}</b>
                            <span className="grow">{f.evidence[0]?.text}</span>
                            <span className="text-sm whitespace-nowrap">
                                {percent(f.probability)} sure <Basis of={f.evidence[0]?.basis ?? 'derived'} word={false} />
                            </span>
                        </li>
                    ))}
                </ul>
            )}
            {!plain && main && !several && ledgers}
            {!plain && (!main || several) && (
                <details>
                    <summary className="min-h-[32px] text-sm underline underline-offset-4 flex items-center">Why</summary>
                    {ledgers}
                </details>
            )}
        </article>
    );
}

function Ledger({ finding, note, titled }: { finding: Finding; note?: Note; titled: boolean }) {
    return (
        <>
            {titled && <h3 className="font-bold pt-2 text-base">{finding.title}</h3>}
            <table className="mt-2 w-full">
                <caption className="sr-only">For and against: {finding.title}</caption>
                <thead className="text-muted text-sm">
                    <tr>
                        <th scope="col" className="text-left font-normal">
                            <Word of="evidence">What speaks for and against</Word>
                        </th>
                        <th scope="col" className="font-normal whitespace-nowrap px-2 max-sm:hidden">
                            against | for
                        </th>
                        <th scope="col" className="sr-only">
                            how much
                        </th>
                        <th scope="col" className="text-right font-normal">
                            <Word of="basis">from</Word>
                        </th>
                    </tr>
                </thead>
                <tbody>
                    {finding.evidence.map((e) => (
                        <tr key={e.text} className="border-t border-line">
                            <td className="py-1 pr-3">{e.text}</td>
                            <td className="px-2 max-sm:hidden">
                                <Balance decibans={e.decibans} />
                            </td>
                            <td className="py-1 pr-3 text-right whitespace-nowrap text-sm">
                                {weight(e.decibans)} <span className="digits text-muted block">{odds(e.decibans)}</span>
                            </td>
                            <td className="py-1 text-right">
                                <span className="max-sm:hidden">
                                    <Basis of={e.basis} />
                                </span>
                                <span className="sm:hidden">
                                    <Basis of={e.basis} word={false} />
                                </span>
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
            {note && (note.missing.length > 0 || note.overturn) && (
                <p className="text-sm text-muted pt-1">
                    {note.missing.length > 0 && <>Not done yet: {note.missing.map((t) => (tests[t] ?? t).toLowerCase()).join(', ')}. </>}
                    {note.overturn && <>It would be overturned if {note.overturn}.</>}
                </p>
            )}
        </>
    );
}

function GroupDetail({ job, group }: { job: Job; group: number }) {
    const g = job.verdict!.document.groups[group - 1];
    const d = job.verdict!.detail.groups[group - 1];
    if (!g || !d) return null;
    return (
        <div className="sheet p-3 text-[0.95rem]">
            <p>
                <b>Group {group}</b> {volts(g.v)}{' '}
                {g.sigma_v !== null && (
                    <span className="text-muted">
                        <Word of="sigma">± {(g.sigma_v * 1000).toFixed(0)} mV</Word>
                    </span>
                )}{' '}
                <Basis of={d.basis} />
            </p>
            {g.soc && (
                <p>
                    Charge {percent(g.soc.low)} to {percent(g.soc.high)} <Basis of="derived" />
                </p>
            )}
            {d.doubt && <p className="text-amber">{d.doubt}</p>}
            <ul>
                {Object.entries(d.states)
                    .filter(([, p]) => p >= 0.01)
                    .map(([state, p]) => (
                        <li key={state}>
                            {percent(p)} {state.replace('group.', '').replaceAll('-', ' ')}
                        </li>
                    ))}
            </ul>
        </div>
    );
}

function ReplaySection({ job }: { job: Job }) {
    const [open, setOpen] = useState(false);
    const replay = useReplay(job, open);
    const r = replay.data;
    return (
        <div className="grid gap-3">
            <div>
                <Button onClick={() => setOpen(!open)} aria-expanded={open}>
                    {open ? 'Close the replay' : 'Replay what the customer saw'}
                </Button>
            </div>
            {open && replay.isError && <p role="alert">{replay.error.message}</p>}
            {open && r && !r.ready && <p>{r.why}</p>}
            {open && r?.ready && r.charge && r.discharge && (
                <div className="grid gap-4">
                    <p className="text-lg">
                        {r.sentence} <Basis of="predicted" />
                    </p>
                    {[['On the charger, as it is now', r.charge] as const, ['In the device, as it is now', r.discharge] as const].map(
                        ([title, run]) => (
                            <figure key={title} className="sheet p-3">
                                <figcaption className="font-bold">
                                    {title}: <span className="font-normal">{run.sentence}</span>
                                </figcaption>
                                <Suspense fallback={<Waiting what="Drawing ..." />}>
                                    <TimeChart
                                        time={run.time_s}
                                        groups={run.groups_v}
                                        strong={run.group}
                                        label={`${title}. ${run.sentence}`}
                                        height={220}
                                    />
                                </Suspense>
                                {run.group !== null && (
                                    <p className="text-muted text-sm">The strong line is group {run.group}: it ends the run.</p>
                                )}
                            </figure>
                        ),
                    )}
                </div>
            )}
        </div>
    );
}

/** From when on a second reading can tell a leak at all, counted from the last rest set. */
function LeakWait({ job, days }: { job: Job; days: number }) {
    const rest = [...job.measurements].reverse().find((m) => m.condition === 'rest' && m.revision === job.revision);
    if (!rest) return null;
    const due = new Date(new Date(rest.at).getTime() + days * 86_400_000);
    const ready = due < new Date();
    return (
        <p>
            <Word of="leak">Leak</Word>:{' '}
            {days > 45 ? (
                <>
                    on this <Word of="plateau">flat part of the curve</Word> it shows only after months. Fill every group, wait a week, and
                    measure what each takes to fill again.
                </>
            ) : ready ? (
                '10 % a month can be told now: read the groups again.'
            ) : (
                `10 % a month can be told from ${when(due.toISOString())} on.`
            )}{' '}
            <Basis of="predicted" />
        </p>
    );
}
