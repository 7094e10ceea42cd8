import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useOutletContext, useSearchParams } from 'react-router';
import { api, ApiError, type Job, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { tests, when } from '@/lib/format';
import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { Beside } from '@/parts/Beside';
import { Button, Field, Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { named, type Offer, OUTCOMES, type Row } from './guided';

/** Guided runs of a job: under way, asked for, all others, and what earlier ones came to. */
export function Component() {
    const job = useOutletContext<Job>();
    const [params] = useSearchParams();
    const query = useQuery({
        queryKey: slots.job(job.id, 'guided'),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/guided', { params: { path: { job: job.id } } })),
    });
    if (!query.data) return <QueryState of={query} what="Looking what can be begun ..." />;
    const wanted = params.get('start');
    const why = new Map(query.data.offered.map((o) => [o.code, asked(job, o)]));
    const rank = (o: Offer) => (o.code === wanted ? 0 : why.get(o.code) ? 1 : 2);
    const offered = [...query.data.offered].sort((a, b) => rank(a) - rank(b));
    const open = query.data.runs.filter((r) => r.ended_at === null);
    const ended = query.data.runs.filter((r) => r.ended_at !== null);
    return (
        <Beside job={job} stage="probe" narrow>
            <h2>Guided runs</h2>
            {open.length > 0 && (
                <ul aria-label="Under way" className="grid gap-2">
                    {open.map((r) => (
                        <li key={r.id} className="sheet px-4 py-2.5 border-l-8 !border-l-bark flex flex-wrap items-center gap-x-4">
                            <span className="grow">
                                <b>{named(r)}.</b> {r.next}{' '}
                                {r.waits_until && <span className="text-muted">Waits until {when(r.waits_until)}.</span>}
                            </span>
                            <Go to={`/jobs/${job.id}/guided/${r.id}`} look="main">
                                Go on
                            </Go>
                        </li>
                    ))}
                </ul>
            )}
            <ul aria-label="What can be begun" className="grid gap-2">
                {offered.map((o) => (
                    <OfferRow key={o.code} job={job} offer={o} why={why.get(o.code) ?? ''} first={o.code === wanted} under={open} />
                ))}
            </ul>
            {ended.length > 0 && (
                <section aria-label="What they came to" className="sheet p-4">
                    <h3 className="font-bold">What they came to</h3>
                    <ul>
                        {ended.map((r) => (
                            <li key={r.id} className="border-b border-line py-1">
                                <Link to={`/jobs/${job.id}/guided/${r.id}`} className="underline underline-offset-4">
                                    {named(r)}
                                </Link>
                                , {when(r.ended_at!)}:{' '}
                                {r.outcome ? (
                                    <>
                                        <b className={OUTCOMES[r.outcome.word].ink}>
                                            <span aria-hidden="true">{OUTCOMES[r.outcome.word].sign}</span> {OUTCOMES[r.outcome.word].word}
                                        </b>
                                        , {r.outcome.text}
                                    </>
                                ) : (
                                    <span className="text-muted">left: {r.left}</span>
                                )}
                            </li>
                        ))}
                    </ul>
                </section>
            )}
        </Beside>
    );
}

/** Who asks for it: the verdict's tests, or a check that is missing; empty when nobody does. */
export function asked(job: Job, offer: Offer): string {
    const test = (job.verdict?.document.next_tests ?? []).find((t) => offer.tests.includes(t.test));
    if (test && job.stage !== 'proof' && job.stage !== 'report') return `The verdict asks for it: ${tests[test.test] ?? test.test}.`;
    const check = job.stage === 'proof' ? job.proof.find((c) => c.status === 'missing' && offer.proves.includes(c.code)) : undefined;
    return check ? `The proof lacks it: ${check.title}.` : '';
}

function OfferRow({ job, offer, why, first, under }: { job: Job; offer: Offer; why: string; first: boolean; under: Row[] }) {
    const mayCharge = useMay('recover');
    const may = useMay('probe') && job.status === 'open' && (mayCharge || !offer.charges);
    const navigate = useNavigate();
    const queries = useQueryClient();
    const [params] = useSearchParams();
    const [where, setWhere] = useState(params.get('group') ?? params.get('joint') ?? params.get('tap') ?? '');
    const joint = offer.scope === 'joint';
    const begin = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/guided', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        code: offer.code,
                        where: offer.scope === 'pack' || where.trim() === '' ? null : { [joint ? 'joint' : 'group']: number(where) },
                    },
                }),
            ),
        onSuccess: (run) => {
            queries.setQueryData(slots.job(job.id, 'guided', run.id), run);
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            void queries.invalidateQueries({ queryKey: slots.bench() });
            void navigate(`/jobs/${job.id}/guided/${run.id}`);
        },
    });
    const unmet = offer.needs.filter((n) => n.met === false);
    const error = begin.error instanceof ApiError ? (begin.error.fields['where'] ?? begin.error.message) : begin.error?.message;
    const running = under.some((r) => r.code === offer.code && (r.where === null || offer.scope === 'pack'));
    return (
        <li
            className={clsx(
                'sheet px-4 py-2.5 grid gap-x-4 gap-y-1 md:grid-cols-[1fr_auto] items-center',
                (first || why) && 'border-l-8 !border-l-amber',
            )}
        >
            <div className="grid gap-0.5">
                <b className="text-lg">{offer.title}</b>
                {why && <span>{why}</span>}
                <span className="text-muted">{offer.why}</span>
                {offer.charges && !mayCharge && <span className="text-amber">A technician or a senior begins it: it charges cells.</span>}
                {offer.needs
                    .filter((n) => n.met !== true)
                    .map((n) => (
                        <span key={n.text} className={n.met === false ? 'text-ember' : 'text-amber'}>
                            {n.text}{' '}
                            {n.room && (
                                <Link to={`/jobs/${job.id}/${n.room}`} className="underline underline-offset-4 text-ink">
                                    {n.door}
                                </Link>
                            )}
                        </span>
                    ))}
            </div>
            {may && !running && unmet.length === 0 && (
                <form
                    className="flex items-end gap-2"
                    onSubmit={(e) => {
                        e.preventDefault();
                        begin.mutate();
                    }}
                >
                    {offer.scope !== 'pack' && (
                        <div className="w-40">
                            <Field label={joint ? 'Joint at tap' : 'Group, or the pack'}>
                                {(p) => (
                                    <input
                                        {...p}
                                        inputMode="numeric"
                                        className="digits"
                                        required={joint || offer.scope === 'group'}
                                        value={where}
                                        onChange={(e) => setWhere(e.target.value)}
                                    />
                                )}
                            </Field>
                        </div>
                    )}
                    <Button type="submit" look={first || why ? 'main' : 'plain'} autoFocus={first} disabled={begin.isPending}>
                        Begin
                    </Button>
                </form>
            )}
            {error && (
                <p role="alert" className="text-ember md:col-span-2">
                    {error}
                </p>
            )}
        </li>
    );
}
