import { numberOr } from '@/lib/number';
import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Job, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { Basis, Cautions, Field, Go } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { SimulatedHand } from '@/parts/SimulatedHand';
import { Word } from '@/parts/Word';
import { useInstruments } from '@/lib/instruments';
import { StartRun } from './start';
import type { Overview } from './Supply';

/** One low group: the plan with its figures, or why it is not done. */
export function Recover({ job, overview }: { job: Job; overview: Overview }) {
    const low = overview.groups.filter((g) => g.low);
    const unread = overview.groups.filter((g) => g.v === null).map((g) => g.group);
    const [chosen, setChosen] = useState<number | null>(null);
    const group = chosen ?? low[0]?.group ?? null;
    const senior = useMay('release');
    const simulated = (useInstruments().data?.instruments ?? []).some((i) => i.simulated);
    const [days, setDays] = useState('');
    const [reason, setReason] = useState('');
    const [ambient, setAmbient] = useState('20');
    const entries = {
        kind: 'recovery' as const,
        group: group ?? 1,
        ambient_c: numberOr(ambient, 20),
        ...(days === '' ? {} : { below_floor_days: Number(days) }),
        ...(reason === '' ? {} : { override: reason }),
    };
    const plan = useQuery({
        queryKey: slots.recoveryPlan(job.id, entries, job.measurements.length),
        queryFn: () => unwrap(api.POST('/api/jobs/{job}/recovery-plan', { params: { path: { job: job.id } }, body: entries })),
        enabled: group !== null,
    }).data?.recovery;
    if (overview.groups.every((g) => g.v === null)) {
        return (
            <div className="grid gap-3">
                <p>No group has a rest voltage yet.</p>
                <div>
                    <Go to={`/jobs/${job.id}/probe`} look="main">
                        Read the groups
                    </Go>
                </div>
            </div>
        );
    }
    return (
        <div className="grid gap-5 lg:grid-cols-[260px_minmax(0,1fr)] items-start">
            <section aria-label="Groups" className="grid gap-1">
                <p className="eyebrow">Low groups first</p>
                {[...overview.groups]
                    .sort((a, b) => Number(b.low) - Number(a.low) || a.group - b.group)
                    .map((g) => (
                        <button
                            key={g.group}
                            type="button"
                            aria-pressed={g.group === group}
                            onClick={() => setChosen(g.group)}
                            className={clsx(
                                'min-h-[44px] px-3 flex justify-between items-center border',
                                g.group === group ? 'border-bark border-2 bg-knot font-bold' : 'border-line',
                            )}
                        >
                            <span>
                                {g.low ? '▼ ' : ''}group {g.group}
                            </span>
                            <span className="digits">{g.v === null ? 'unread' : `${g.v.toFixed(3)} V`}</span>
                        </button>
                    ))}
            </section>
            <section aria-label="Plan" className="grid gap-4">
                {group === null && unread.length === 0 && (
                    <p className="text-xl">Every group is past the release voltage: none has to be brought up.</p>
                )}
                {group === null && unread.length > 0 && (
                    <div className="grid gap-3">
                        <p className="text-xl">
                            No group that was read is low;{' '}
                            {unread.length === 1 ? `group ${unread[0]} is` : `groups ${unread.join(', ')} are`} not read yet.
                        </p>
                        <div>
                            <Go to={`/jobs/${job.id}/probe`} look="main">
                                Read the rest
                            </Go>
                        </div>
                    </div>
                )}
                {group !== null && !plan && <p className="text-muted">Group {group} has not been read at rest.</p>}
                {plan && (
                    <>
                        <h2>
                            Group {plan.group}: from {plan.start_v.toFixed(3)} V to{' '}
                            {plan.to_full ? 'full' : `${plan.target_v.toFixed(3)} V at rest`}
                        </h2>
                        {plan.refusals.length > 0 ? (
                            <div className="sheet p-4 border-l-8 !border-l-ember grid gap-2" role="status">
                                <b className="text-ember text-xl">⬣ Not done</b>
                                {plan.refusals.map((r) => (
                                    <p key={r} className="text-lg">
                                        {r}
                                    </p>
                                ))}
                            </div>
                        ) : (
                            <ol className="grid gap-2 text-lg">
                                <li>
                                    <Word of="floor">Slowly</Word>: <b className="digits">{plan.precharge_a.toFixed(2)} A</b> up to{' '}
                                    <b className="digits">{plan.precharge_v.toFixed(2)} V</b>, supply limit{' '}
                                    <b className="digits">{plan.supply_v.toFixed(2)} V</b>. <Basis of="derived" />
                                </li>
                                <li>
                                    Then 60 min <Word of="rest">with the output off</Word>: it must hold.
                                </li>
                                <li>
                                    <b className="digits">{plan.raise_a.toFixed(2)} A</b>{' '}
                                    {plan.to_full ? <Word of="taper">until its tail current</Word> : "up to its neighbours' charge"}, rest,
                                    read again.
                                </li>
                                <li>
                                    About <b>{plan.hours.toFixed(1)} h</b> in all, somebody there; then the{' '}
                                    <Word of="hold-test">hold test</Word>. <Basis of="predicted" />
                                </li>
                            </ol>
                        )}
                        <Cautions lines={plan.cautions} />
                        <div className="grid gap-3 sm:grid-cols-3">
                            <NumberField label="Around it" unit="degC" value={ambient} onChange={setAmbient} />
                            <NumberField label="Known days under the floor" placeholder="not known" value={days} onChange={setDays} />
                            {senior && (
                                <Field label="Senior's reason, if it needs one">
                                    {(p) => <input {...p} value={reason} onChange={(e) => setReason(e.target.value)} />}
                                </Field>
                            )}
                        </div>
                        {plan.refusals.length === 0 && (
                            <StartRun
                                job={job}
                                entries={entries}
                                checks={overview.checks}
                                label="Start, I stay with it"
                                clip={plan.group}
                            />
                        )}
                        {simulated && <SimulatedHand job={job} />}
                    </>
                )}
                {senior && <Exception job={job} overview={overview} ambient={numberOr(ambient, 20)} />}
            </section>
        </div>
    );
}

/** Never offered, and there when a senior asks for it with a reason: the whole pack past its board, every group watched. */
function Exception({ job, overview, ambient }: { job: Job; overview: Overview; ambient: number }) {
    const [reason, setReason] = useState('');
    return (
        <details className="border-t border-line pt-2">
            <summary className="min-h-[44px] cursor-pointer text-muted">Logged exception: the whole pack past its board</summary>
            {overview.past_board !== null ? (
                <p className="pt-2">{overview.past_board}</p>
            ) : (
                <div className="grid gap-3 pt-2">
                    <p>
                        Groups charge unseen by the board. A senior answers for it in words; a twentieth of the capacity at most; every
                        group is read from the board&apos;s own report at least once a minute; it ends at the first full group, at any rule
                        of a recovery, and as soon as the board can take over.
                    </p>
                    <Field label="Why; it stays on the report">
                        {(p) => <textarea {...p} value={reason} onChange={(e) => setReason(e.target.value)} />}
                    </Field>
                    <StartRun
                        job={job}
                        entries={{ kind: 'bypass', override: reason, ambient_c: ambient }}
                        checks={overview.checks}
                        label="Start the exception, I stay with it"
                        clip={-1}
                    />
                </div>
            )}
        </details>
    );
}
