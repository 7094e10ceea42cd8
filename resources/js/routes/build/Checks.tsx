import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when, chemistries } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import type { BuildData } from './Build';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';

const SIDE = [
    ['v', 'Volts now'],
    ['mohm', 'mohm'],
    ['ah', 'Ah'],
    ['max_charge_a', 'Charge A'],
] as const;
type Side = Record<(typeof SIDE)[number][0] | 'chemistry', string>;
const EMPTY: Side = { v: '', mohm: '', ah: '', max_charge_a: '', chemistry: '' };
type Chemistry = NonNullable<components['schemas']['JoinSide']['chemistry']>;

/** Before something is joined: may these two lie side by side, does this board fit, at what torque is a joint set. */
export function Checks({ job, gauge }: { job: Job; gauge: BuildData['gauge'] }) {
    return (
        <div className="grid gap-6 lg:grid-cols-2 items-start">
            <Join job={job} />
            <Board job={job} />
            <Joints job={job} />
            {gauge && (
                <section className="lg:col-span-2 grid gap-1">
                    <h2>Gauge against the cells</h2>
                    <p className={gauge.stale ? 'border-l-8 border-amber pl-3 text-lg' : ''}>{gauge.text}</p>
                    {gauge.stale && <p>To relearn: {gauge.relearn.join(', ')}.</p>}
                </section>
            )}
        </div>
    );
}

function Join({ job }: { job: Job }) {
    const [a, setA] = useState(EMPTY);
    const [b, setB] = useState(EMPTY);
    const [whole, setWhole] = useState(false);
    const check = useMutation({
        mutationFn: () => {
            const side = (s: Side) => ({
                v: number(s.v),
                mohm: number(s.mohm),
                ah: number(s.ah),
                max_charge_a: number(s.max_charge_a),
                ...(s.chemistry === '' ? {} : { chemistry: s.chemistry as Chemistry }),
            });
            return unwrap(
                api.POST('/api/jobs/{job}/join-check', {
                    params: { path: { job: job.id } },
                    body: { a: side(a), b: side(b), whole_pack: whole },
                }),
            );
        },
        onError: (e) => toast.error(e.message),
    });
    const r = check.data;
    return (
        <form
            className="grid gap-3"
            onSubmit={(e) => {
                e.preventDefault();
                check.mutate();
            }}
        >
            <h2>Side by side</h2>
            <p>
                Cells, groups, or a pack going back beside its siblings. Unequal ones are never left to equalise through the joint: the{' '}
                <Word of="join">join rule</Word>.
            </p>
            {(
                [
                    ['One', a, setA],
                    ['The other', b, setB],
                ] as const
            ).map(([name, side, set]) => (
                <fieldset key={name} className="grid grid-cols-5 gap-2">
                    <legend className="eyebrow">{name}</legend>
                    {SIDE.map(([k, label]) => (
                        <NumberField label={label} key={k} required value={side[k]} onChange={(typed) => set({ ...side, [k]: typed })} />
                    ))}
                    <Field label="Chemistry">
                        {(p) => (
                            <select
                                {...p}
                                value={side.chemistry || job.chemistry}
                                onChange={(e) => set({ ...side, chemistry: e.target.value })}
                            >
                                {chemistries.map((c) => (
                                    <option key={c}>{c}</option>
                                ))}
                            </select>
                        )}
                    </Field>
                </fieldset>
            ))}
            <label className="flex items-center gap-2 min-h-[44px]">
                <input type="checkbox" checked={whole} onChange={(e) => setWhole(e.target.checked)} /> whole packs of {job.series} groups
            </label>
            <div>
                <Button type="submit" look="main">
                    May they be joined?
                </Button>
            </div>
            {r && (
                <p
                    role="status"
                    className={clsx(
                        'text-lg border-l-8 pl-3',
                        r.way === 'direct' ? 'border-moss' : r.way === 'resistor' ? 'border-amber' : 'border-ember',
                    )}
                >
                    <b>
                        {
                            {
                                direct: '✓ Directly.',
                                resistor: '◐ Through a resistor.',
                                'charge-first': '⬣ Not yet.',
                                refused: '⬣ Refused.',
                            }[r.way]
                        }
                    </b>{' '}
                    {r.text}
                </p>
            )}
        </form>
    );
}

const NUMBERS = [
    ['series', 'Groups'],
    ['discharge_limit_a', 'Continuous, A'],
    ['peak_limit_a', 'Peak, A'],
    ['high_cut_v', 'High cut, V'],
    ['low_cut_v', 'Low cut, V'],
] as const;

function Board({ job }: { job: Job }) {
    const [entry, setEntry] = useState<Record<string, string>>({});
    const [answers, setAnswers] = useState<Record<string, boolean>>({});
    const check = useMutation({
        mutationFn: (said: Record<string, boolean>) =>
            unwrap(
                api.POST('/api/jobs/{job}/board-swap', {
                    params: { path: { job: job.id } },
                    body: {
                        board: {
                            ...Object.fromEntries(
                                Object.entries(entry)
                                    .filter(([, v]) => v !== '')
                                    .map(([k, v]) => [k, number(v)]),
                            ),
                            ...said,
                        },
                    },
                }),
            ),
        onError: (e) => toast.error(e.message),
    });
    const answer = (point: string, right: boolean) => {
        const next = { ...answers, [point]: right };
        setAnswers(next);
        check.mutate(next);
    };
    return (
        <form
            className="grid gap-3"
            onSubmit={(e) => {
                e.preventDefault();
                check.mutate(answers);
            }}
        >
            <h2>Another board</h2>
            <div className="grid grid-cols-3 gap-2">
                {NUMBERS.map(([k, label]) => (
                    <NumberField label={label} key={k} value={entry[k] ?? ''} onChange={(typed) => setEntry({ ...entry, [k]: typed })} />
                ))}
            </div>
            <div>
                <Button type="submit" look="main">
                    Does it fit?
                </Button>
            </div>
            {check.data && (
                <ul role="status">
                    {check.data.points.map((p) => (
                        <li key={p.point} className="border-t border-line py-1.5 flex flex-wrap gap-3 items-center">
                            <span className={`grow ${p.state === 'wrong' ? 'text-ember font-bold' : ''}`}>
                                {{ right: '✓', wrong: '✕', unknown: '○' }[p.state]} {p.text}
                            </span>
                            {!['series', 'high_cut', 'low_cut', 'continuous', 'peak'].includes(p.point) && (
                                <>
                                    <Button aria-pressed={answers[p.point] === true} onClick={() => answer(p.point, true)}>
                                        Yes
                                    </Button>
                                    <Button aria-pressed={answers[p.point] === false} onClick={() => answer(p.point, false)}>
                                        No
                                    </Button>
                                </>
                            )}
                        </li>
                    ))}
                </ul>
            )}
        </form>
    );
}

function Joints({ job }: { job: Job }) {
    const queries = useQueryClient();
    const list = useQuery({
        queryKey: slots.joints(job.id),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/joints', { params: { path: { job: job.id } } })),
    });
    const [entry, setEntry] = useState({ tap: '', min: '', max: '', tolerance: '4', set: '', contact: '' });
    const record = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/joints', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        tap: number(entry.tap),
                        min_nm: number(entry.min),
                        max_nm: number(entry.max),
                        tolerance: number(entry.tolerance) / 100,
                        contact: entry.contact,
                        ...(entry.set ? { set_nm: number(entry.set) } : {}),
                    },
                }),
            ),
        onSuccess: (data) => {
            queries.setQueryData(slots.joints(job.id), data);
            toast.success('Recorded.');
        },
    });
    const errors = fieldErrors(record.error);
    return (
        <form
            className="grid gap-3 lg:col-span-2"
            onSubmit={(e) => {
                e.preventDefault();
                record.mutate();
            }}
        >
            <h2>
                Bolted <Word of="joint">joints</Word>
            </h2>
            <div className="grid grid-cols-2 sm:grid-cols-6 gap-2">
                {(
                    [
                        ['tap', 'Joint at tap', errors['tap']],
                        ['min', 'Maker, Nm at least', errors['min_nm']],
                        ['max', 'Nm at most', errors['max_nm']],
                        ['tolerance', 'Tool, %', errors['tolerance']],
                        ['set', 'Set, Nm', errors['set_nm']],
                        ['contact', 'Contact: metals, compound', undefined],
                    ] as const
                ).map(([k, label, error]) => (
                    <Field key={k} label={label} error={error}>
                        {(p) => (
                            <input
                                {...p}
                                required={!['set', 'contact'].includes(k)}
                                value={entry[k]}
                                placeholder={k === 'set' ? 'worked out' : ''}
                                onChange={(e) => setEntry({ ...entry, [k]: e.target.value })}
                            />
                        )}
                    </Field>
                ))}
            </div>
            <div>
                <Button type="submit" look="main" disabled={record.isPending || job.status !== 'open'}>
                    Set and recorded
                </Button>
            </div>
            {record.data?.target && <p role="status">{record.data.target}</p>}
            <ul>
                {(list.data?.joints ?? []).map((j) => (
                    <li key={j.at + j.tap} className="border-t border-line py-1">
                        Joint at T{j.tap}: <b className="digits">{j.set_nm.toFixed(1)} Nm</b> ({j.min_nm} to {j.max_nm})
                        {j.contact && `, ${j.contact}`}. {j.by}, {when(j.at)}; look again {when(j.check_again)}.
                    </li>
                ))}
            </ul>
        </form>
    );
}
