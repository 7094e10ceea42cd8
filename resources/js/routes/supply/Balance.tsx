import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Job, unwrap } from '@/api/client';
import { Basis, Cautions, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';
import { StartRun } from './start';
import type { Overview } from './Supply';

const hours = (h: number) => (h >= 48 ? `${(h / 24).toFixed(1)} days` : `${h.toFixed(1)} h`);

/** How far each group is from level, drawn; hours by every method; the order at the supply. */
export function Balance({ job, overview }: { job: Job; overview: Overview }) {
    const [amps, setAmps] = useState('');
    const [active, setActive] = useState('');
    const [held, setHeld] = useState(true);
    const [school, setSchool] = useState<'A' | 'B'>(overview.phosphate);
    const [method, setMethod] = useState<'level' | 'single'>(job.chemistry === 'lfp' ? 'single' : 'level');
    const entries = {
        kind: 'balance' as const,
        held,
        method,
        phosphate: school,
        ...(Number(amps) > 0 ? { supply_a: Number(amps) } : {}),
        ...(Number(active) > 0 ? { active_a: Number(active) } : {}),
    };
    const plan =
        useQuery({
            queryKey: slots.balancePlan(job.id, entries, job.measurements.length),
            queryFn: () => unwrap(api.POST('/api/jobs/{job}/recovery-plan', { params: { path: { job: job.id } }, body: entries })),
        }).data?.balance ?? overview.balance;
    if (!plan)
        return <p>Every group needs a rest voltage, and cells or label a capacity, before hours can be told. Read the groups at rest.</p>;
    const most = Math.max(0.001, ...plan.lacks_ah);
    const best = plan.methods.filter((m) => m.hours !== null).sort((a, b) => a.hours! - b.hours!)[0];
    return (
        <div className="grid gap-5 lg:grid-cols-[minmax(280px,380px)_minmax(0,1fr)] items-start">
            <section aria-label="What each group lacks" className="grid gap-1">
                <p className="eyebrow">Ah each group lacks to the fullest</p>
                {plan.blind ? (
                    <p className="border-l-4 border-ember pl-3 text-lg">
                        Cannot be told: these groups were read on the phosphate plateau, where volts say nothing of charge. Fill every group
                        singly to the top; what each takes is what it lacked.
                    </p>
                ) : (
                    [...plan.lacks_ah.entries()].reverse().map(([i, ah]) => (
                        <div key={i} className="grid grid-cols-[3rem_1fr_5rem] gap-2 items-center">
                            <b className="text-right">{i + 1}</b>
                            <span className="block h-6 border border-line bg-panel">
                                <span className="block h-full bg-knot border-r-4 border-bark" style={{ width: `${(100 * ah) / most}%` }} />
                            </span>
                            <span className="digits text-right">{ah.toFixed(2)}</span>
                        </div>
                    ))
                )}
                <p className="text-muted">
                    <Basis of="derived" /> from rest voltages
                </p>
            </section>
            <section aria-label="Ways" className="grid gap-4">
                <table>
                    <thead>
                        <tr>
                            <th className="text-left eyebrow">
                                Ways to undo an <Word of="imbalance">imbalance</Word>
                            </th>
                            <th className="text-right eyebrow">Takes</th>
                        </tr>
                    </thead>
                    <tbody>
                        {plan.methods.map((m) => (
                            <tr key={m.method} className="border-t border-line align-top">
                                <th scope="row" className="text-left py-2 pr-4">
                                    <span className={m === best ? 'font-bold' : 'font-normal'}>
                                        {m === best ? '◉ ' : '○ '}
                                        {m.title}
                                    </span>
                                    <span className="block text-muted font-normal text-[0.95rem]">{m.note}</span>
                                </th>
                                <td className="digits text-3xl text-right whitespace-nowrap py-2">
                                    {m.hours === null ? 'not so' : hours(m.hours)}
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
                <p className={plan.charger.outruns ? 'border-l-4 border-ember pl-3 text-lg' : ''}>
                    {plan.charger.text} <Basis of="predicted" />
                </p>
                {plan.resistor && (
                    <p>
                        Or bleed group {plan.resistor.group} alone: {plan.resistor.ohm} ohm, {plan.resistor.watt} W,{' '}
                        {hours(plan.resistor.hours)}.
                    </p>
                )}
                <p>
                    A full group reads {plan.relaxing.from_v.toFixed(2)} V at the end of its taper and comes down to about{' '}
                    {plan.relaxing.to_v.toFixed(2)} V at rest.
                </p>
                <div className="grid gap-3 sm:grid-cols-4">
                    <NumberField label="Supply" unit="A" placeholder="C/5" value={amps} onChange={setAmps} />
                    <NumberField label="Active balancer" unit="A" placeholder="1.0" value={active} onChange={setActive} />
                    <label className="flex items-center gap-2 min-h-[44px] self-end">
                        <input type="checkbox" checked={held} onChange={(e) => setHeld(e.target.checked)} /> held at the top
                    </label>
                    {job.chemistry === 'lfp' && (
                        <Field label="Full is">
                            {(p) => (
                                <select {...p} value={school} onChange={(e) => setSchool(e.target.value as 'A' | 'B')}>
                                    <option value="A">3.65 V, tail C/20</option>
                                    <option value="B">3.50 V, held longer</option>
                                </select>
                            )}
                        </Field>
                    )}
                </div>
                <Cautions lines={plan.cautions} />
                <h2>Group by group with the supply</h2>
                {plan.refuses ? (
                    <p className="text-ember font-bold text-lg">⬣ {plan.refuses}</p>
                ) : (
                    <>
                        {job.chemistry !== 'lfp' && (
                            <div className="flex flex-wrap gap-x-6">
                                {(
                                    [
                                        ['level', 'the low groups to the level of the fullest'],
                                        ['single', 'every group to full'],
                                    ] as const
                                ).map(([m, text]) => (
                                    <label key={m} className="flex items-center gap-2 min-h-[44px]">
                                        <input type="radio" name="method" checked={method === m} onChange={() => setMethod(m)} /> {text}
                                    </label>
                                ))}
                            </div>
                        )}
                        {plan.orders[method].length === 0 ? (
                            <p>Nothing to do this way: they are level within 1 %.</p>
                        ) : (
                            <>
                                <p>
                                    In this order, each finished before the clips move ({plan.clip_moves[method]} clip moves):{' '}
                                    {plan.orders[method].map((o) => `${o.group} (${o.ah.toFixed(1)} Ah, ${hours(o.hours)})`).join(', ')}
                                </p>
                                <StartRun
                                    job={job}
                                    entries={entries}
                                    checks={overview.checks}
                                    label="Start with the first group"
                                    clip={plan.orders[method][0]!.group}
                                />
                            </>
                        )}
                    </>
                )}
            </section>
        </div>
    );
}
