import { useState } from 'react';
import { OverCeiling } from './intake/Agreed';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay, usePerson } from '@/lib/bench';
import { money } from '@/lib/format';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { slots } from '@/lib/slots';
import { QueryState } from '@/parts/QueryState';
import { Sheet } from '@/parts/Sheet';
import { fieldErrors, jobQuery, useJobWrite } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { Basis, Button, Cautions, Field, Go } from '@/parts/basics';
import { Clash } from '@/parts/Clash';
import { CoreSample } from '@/parts/CoreSample';
import { LearnIt } from '@/parts/LearnIt';
import { Word } from '@/parts/Word';
import { bandsOf } from '@/lib/bands';
import { useReplay } from '@/lib/replay';

export function Component() {
    const job = useOutletContext<Job>();
    return <Plan key={job.id} job={job} />;
}

const NO_REASON = '';

function Plan({ job }: { job: Job }) {
    const person = usePerson();
    const may = useMay('decide');
    const sets = useMay('settings');
    const navigate = useNavigate();
    const options = job.verdict ? job.verdict.document.options.map((o, i) => ({ ...o, ...job.verdict!.detail.options[i]! })) : [];
    const [chosen, setChosen] = useState<string | null>(job.decision?.action ?? options[0]?.action ?? null);
    const [also, setAlso] = useState<string[]>([]);
    const choose = (action: string) => {
        setChosen(action);
        setAlso([]);
    };
    const [reason, setReason, clear] = useDraft(`reason.${job.id}.${person.id}`, NO_REASON);
    const replay = useReplay(job, job.verdict !== null);
    const runs = new Map(replay.data?.options.map((o) => [o.action, o]));
    const queries = useQueryClient();
    const decide = useJobWrite(
        (seen: number | null) =>
            unwrap(
                api.POST('/api/jobs/{job}/decision', {
                    params: { path: { job: job.id }, header: key() },
                    body: { verdict_id: job.verdict!.id, action: chosen!, with: also, reason, seen },
                }),
            ),
        (j) => {
            clear();
            void navigate(`/jobs/${j.id}/${j.stage}`);
        },
    );
    const joined = useQuery({
        queryKey: slots.job(job.id, 'plan', job.verdict?.id, chosen, also.join(',')),
        queryFn: () =>
            unwrap(
                api.GET('/api/jobs/{job}/plan', {
                    params: { path: { job: job.id }, query: { action: chosen!, with: also.join(',') } },
                }),
            ),
        enabled: also.length > 0,
        retry: false,
    });
    if (!job.verdict) {
        return (
            <div className="p-6 grid gap-3">
                <p>There is no verdict to plan from yet.</p>
                <div>
                    <Go to={`/jobs/${job.id}/probe`} look="main">
                        Probe the groups
                    </Go>
                </div>
            </div>
        );
    }
    const currency = person.workshop.currency;
    const best = Math.max(...options.map((o) => runs.get(o.action)?.usable_ah ?? o.usable_ah ?? 0), 0.1);
    const now = runs.get('none')?.usable_ah ?? job.verdict?.document.window?.discharge_ah ?? null;
    const errors = fieldErrors(decide.error);
    const one = options.find((o) => o.action === chosen);
    // Several are one plan with one price: everything below speaks of that.
    const choice = also.length > 0 ? joined.data : one;
    const beside = one?.joins ? options.filter((o) => o.action !== chosen && o.joins) : [];
    return (
        <div className="p-5 grid gap-5 lg:grid-cols-[240px_1fr] items-start">
            <div className="max-lg:order-2">
                <CoreSample bands={bandsOf(job)} height={520} width={236} />
            </div>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    decide.mutate(job.decision?.id ?? null);
                }}
            >
                {job.decision && (
                    <p className="border-l-4 border-bark pl-3">
                        Decided: <b>{job.decision.said}</b>. {job.decision.reason} <span className="text-muted">{job.decision.by}</span>
                    </p>
                )}
                {job.verdict.stale && (
                    <p role="alert" className="border-l-4 border-amber pl-3">
                        Something was measured since this verdict. <Go to={`/jobs/${job.id}/verdict`}>Read it again</Go>
                    </p>
                )}
                {job.verdict.detail.suspicions.map((s) => (
                    <p key={s.text} role="alert" className="border-l-4 border-amber pl-3">
                        <b>A reading is doubted, and what is offered hangs on it.</b> {s.text}{' '}
                        <Link to={`/jobs/${job.id}/verdict`} className="underline underline-offset-4">
                            Read it again first
                        </Link>
                    </p>
                ))}
                <fieldset className="grid gap-3">
                    <legend className="font-bold text-lg pb-2">
                        What is to be done?{' '}
                        <span className="font-normal text-base text-muted">
                            What is not worth it may be a <Word of="donor">donor</Word>.
                        </span>
                    </legend>
                    {options.map((o) => (
                        <label
                            key={o.action}
                            className={`sheet p-4 flex gap-4 cursor-pointer ${chosen === o.action ? 'border-bark border-[3px]' : ''}`}
                        >
                            <input
                                type="radio"
                                name="option"
                                className="mt-1"
                                checked={chosen === o.action}
                                onChange={() => choose(o.action)}
                            />
                            <span className="grow grid gap-1.5 gap-x-5 md:grid-cols-[1.4fr_1fr_1fr]">
                                <span>
                                    <b className="text-lg block leading-tight">{o.said}</b>
                                    <span className="text-muted">{o.why}</span>
                                    {o.school && (
                                        <span className={`block ${o.school.agrees ? 'text-muted' : 'text-amber'}`}>{o.school.text}</span>
                                    )}
                                    {o.leaves.length > 0 && (
                                        <span className="block text-amber">
                                            Leaves unsolved: {o.leaves.map((c) => c.split('.')[1]?.replaceAll('-', ' ')).join(', ')}
                                        </span>
                                    )}
                                </span>
                                <span>
                                    {o.usable_ah !== null ? (
                                        <>
                                            <span className="digits text-xl">
                                                {(runs.get(o.action)?.usable_ah ?? o.usable_ah).toFixed(1)} Ah
                                            </span>{' '}
                                            <Basis of="predicted" />
                                            <span
                                                className="block relative h-3.5 mt-1 border border-muted rounded-sm bg-paper"
                                                aria-hidden="true"
                                            >
                                                <span
                                                    className="block h-full bg-bark"
                                                    style={{ width: `${(100 * (runs.get(o.action)?.usable_ah ?? o.usable_ah)) / best}%` }}
                                                />
                                                {now !== null && (
                                                    <span
                                                        className="absolute top-[-3px] bottom-[-3px] w-[3px] bg-ember"
                                                        style={{ left: `${Math.min(99, (100 * now) / best)}%` }}
                                                    />
                                                )}
                                            </span>
                                            {runs.has(o.action) && (
                                                <span className="text-muted text-sm block">{runs.get(o.action)!.sentence}</span>
                                            )}
                                        </>
                                    ) : (
                                        <span className="text-muted">no usable capacity</span>
                                    )}
                                </span>
                                <span>
                                    <span className="text-xl">{money(o.quote.total_cents, currency)}</span> <Basis of="predicted" />
                                    <span className="block text-muted text-sm">
                                        parts {money(o.quote.parts_cents, currency)}
                                        {o.quote.lines.length > 1 &&
                                            ` (${o.quote.lines.map((l) => `${l.what} ${money(l.cents, currency)}`).join(', ')})`}
                                        , {o.hands_minutes} min of hands
                                        {o.hands_from ? ` (as ${o.hands_from} jobs took here)` : ''}
                                        {o.wait_hours > 0 && `, ${o.wait_hours} h of waiting`}
                                        {(o.quote.tax_cents ?? 0) > 0 &&
                                            `; of it ${o.quote.tax} ${o.quote.tax_percent} % ${money(o.quote.tax_cents!, currency)}`}
                                    </span>
                                    {o.quote.scrap && (
                                        <span className="block text-ember text-sm">Over the scrap line: {o.quote.scrap}</span>
                                    )}
                                </span>
                            </span>
                        </label>
                    ))}
                </fieldset>
                {beside.length > 0 && (
                    <fieldset className="sheet p-4 grid gap-1">
                        <legend className="font-bold">And with it, opened once and at one price</legend>
                        <div className="flex flex-wrap gap-x-6">
                            {beside.map((o) => (
                                <label key={o.action} className="flex items-center gap-2 min-h-[44px]">
                                    <input
                                        type="checkbox"
                                        checked={also.includes(o.action)}
                                        onChange={(e) =>
                                            setAlso(e.target.checked ? [...also, o.action] : also.filter((a) => a !== o.action))
                                        }
                                    />
                                    {o.said}
                                </label>
                            ))}
                        </div>
                        {joined.error && also.length > 0 && (
                            <p role="alert" className="text-ember">
                                {joined.error.message}
                            </p>
                        )}
                    </fieldset>
                )}
                {also.length > 0 && joined.data && <Together plan={joined.data} currency={currency} />}
                {choice && (
                    <p className={choice.leaves.length > 0 ? 'border-l-4 border-amber pl-3' : 'border-l-4 border-moss pl-3'}>
                        {choice.leaves.length > 0 ? (
                            <>
                                <b>Left as it is:</b> {choice.leaves.map((c) => c.split('.')[1]?.replaceAll('-', ' ')).join(', ')}. It stays
                                on the quote and on the report.
                            </>
                        ) : (
                            'Every finding is answered by it.'
                        )}
                    </p>
                )}
                {now !== null && (
                    <p className="text-muted">
                        The mark in each bar is what the pack gives as it is: {now.toFixed(1)} Ah. <Basis of="predicted" />
                    </p>
                )}
                {(replay.data?.weakest.length ?? 0) > 1 && (
                    <p>
                        Replacing the weakest groups, one after another:{' '}
                        {replay
                            .data!.weakest.map((w) => `${w.replaced === 0 ? 'none' : w.groups.join(' and ')} ${w.usable_ah.toFixed(1)} Ah`)
                            .join(', ')}
                        . One more adds under 3 %. <Basis of="predicted" />
                    </p>
                )}
                {sets && (
                    <p>
                        <Link to="/settings#prices" className="underline underline-offset-4">
                            Prices of this shop
                        </Link>
                    </p>
                )}
                {choice && <OverCeiling job={job} cents={choice.quote.total_cents} />}
                {choice?.quote.new_pack_cents != null && (
                    <p className="text-muted">
                        {choice.quote.new_pack_listed ? (
                            <>A new pack of this model costs {money(choice.quote.new_pack_cents, currency)} by the price list.</>
                        ) : (
                            <>
                                A new one of its size: about {money(choice.quote.new_pack_cents, currency)}. <Basis of="assumed" />{' '}
                                {sets && (
                                    <Link to="/settings#prices" className="underline underline-offset-4 text-ink">
                                        Say what a new one costs
                                    </Link>
                                )}
                            </>
                        )}
                    </p>
                )}
                {choice && choice.steps.length > 0 && (
                    <section aria-label="How it is done" className="grid gap-1">
                        <h2 className="!text-base">How it is done, and where</h2>
                        <ol className="columns-1 lg:columns-2 gap-6 list-decimal pl-6">
                            {choice.steps.map((s) => (
                                <li key={s.title} className="break-inside-avoid py-0.5">
                                    {s.title}{' '}
                                    {s.room && (
                                        <Link to={`/jobs/${job.id}/${s.room}`} className="underline underline-offset-4 text-muted">
                                            {s.door}
                                        </Link>
                                    )}
                                </li>
                            ))}
                        </ol>
                    </section>
                )}
                {choice && <CustomersQuote job={job.id} action={chosen!} also={also.join(',')} />}
                <Cautions lines={job.cautions['plan'] ?? []} />
                {job.status === 'open' &&
                    (may ? (
                        <>
                            <Clash
                                error={decide.error}
                                labels={{ action: 'To be done', reason: 'Why', by: 'By' }}
                                mine={{ action: choice?.said ?? '', reason, by: person.name }}
                                onMine={() =>
                                    void queries
                                        .fetchQuery({ ...jobQuery(job.id), staleTime: 0 })
                                        .then((now) => decide.mutate(now.decision?.id ?? null))
                                }
                                onTheirs={() => {
                                    decide.reset();
                                    clear();
                                    void queries
                                        .fetchQuery({ ...jobQuery(job.id), staleTime: 0 })
                                        .then((now) => setChosen(now.decision?.action ?? chosen));
                                }}
                            />
                            <div className="sticky bottom-0 bg-paper border-t border-line py-3 flex flex-wrap gap-3 items-end">
                                <div className="grow basis-[20rem]">
                                    <Field
                                        label="Why this one"
                                        error={errors['reason']}
                                        why="It is what the customer is told, and what the next person reads when the pack comes back."
                                    >
                                        {(p) => (
                                            <textarea
                                                {...p}
                                                required
                                                rows={1}
                                                className="!min-h-[44px]"
                                                value={reason}
                                                onChange={(e) => setReason(e.target.value)}
                                            />
                                        )}
                                    </Field>
                                </div>
                                <Button type="submit" look="main" disabled={decide.isPending || !choice}>
                                    Do this: {choice?.said ?? ''}
                                </Button>
                            </div>
                        </>
                    ) : (
                        <p className="text-muted">
                            A technician, senior or the owner decides. <LearnIt />
                        </p>
                    ))}
            </form>
        </div>
    );
}

/** Several ways as one plan: what it brings, costs and takes, all together. */
function Together({ plan, currency }: { plan: components['schemas']['Plan']; currency: string }) {
    return (
        <section aria-label="All together" className="sheet p-4 border-bark border-[3px] grid gap-1.5 gap-x-5 md:grid-cols-[1.4fr_1fr_1fr]">
            <div>
                <b className="text-lg block leading-tight">{plan.title}</b>
                <ul className="list-disc pl-5 text-muted">
                    {plan.parts.map((p) => (
                        <li key={p.action}>{p.said}</li>
                    ))}
                </ul>
            </div>
            <div>
                {plan.usable_ah !== null ? (
                    <>
                        <span className="digits text-xl">{plan.usable_ah.toFixed(1)} Ah</span> <Basis of="predicted" />
                        <span className="block text-muted text-sm">{plan.sentence}</span>
                    </>
                ) : (
                    <span className="text-muted">not predicted: a group was not read, or nobody said what it holds</span>
                )}
            </div>
            <div>
                <span className="text-xl">{money(plan.quote.total_cents, currency)}</span> <Basis of="predicted" />
                <span className="block text-muted text-sm">
                    parts {money(plan.quote.parts_cents, currency)}, {plan.hands_minutes} min of hands, opened and closed once
                    {plan.wait_hours > 0 && `, ${plan.wait_hours} h of waiting`}
                </span>
                {plan.quote.scrap && <span className="block text-ember text-sm">Over the scrap line: {plan.quote.scrap}</span>}
            </div>
        </section>
    );
}

/** What the customer reads of it, before anything is done. */
function CustomersQuote({ job, action, also }: { job: number; action: string; also: string }) {
    const [open, setOpen] = useState(false);
    const quote = useQuery({
        queryKey: slots.quote(job, action, also),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/quote', { params: { path: { job }, query: { action, with: also } } })),
        enabled: open,
    });
    return (
        <div>
            <Button onClick={() => setOpen(true)}>The quote for the customer</Button>
            {open && (
                <Sheet title={quote.data ? `Quote: ${quote.data.title}` : 'Quote'} onClose={() => setOpen(false)}>
                    {!quote.data && <QueryState of={quote} what="Adding it up ..." />}
                    {quote.data?.parts.map((p) => (
                        <section key={p.title}>
                            <h3 className="font-bold">{p.title}</h3>
                            {p.lines.map((l) => (
                                <p key={l}>{l}</p>
                            ))}
                        </section>
                    ))}
                    {quote.data && (
                        <table>
                            <tbody>
                                {[...quote.data.lines, { what: 'together', amount: quote.data.total }].map((l) => (
                                    <tr key={l.what} className="border-t border-line">
                                        <td className="py-1">{l.what}</td>
                                        <td className="digits text-right">{l.amount}</td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    )}
                    <p>
                        <a
                            className="inline-flex items-center min-h-[44px] underline underline-offset-4"
                            href={`/api/jobs/${job}/quote.pdf?action=${action}&with=${also}`}
                            target="_blank"
                            rel="noreferrer"
                        >
                            Open as PDF
                        </a>
                    </p>
                </Sheet>
            )}
        </div>
    );
}
