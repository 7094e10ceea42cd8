import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, type Job, key, unwrap } from '@/api/client';
import { when, chemistries } from '@/lib/format';
import { maybeNumeric, numeric, useBenchForm } from '@/lib/form';
import type { components } from '@/api/schema';
import { number } from '@/lib/number';
import { NumberField } from '@/parts/NumberField';
import type { BuildData } from './Build';
import { Button } from '@/parts/basics';
import { FormChoice, FormNumber, FormText, FormTick } from '@/parts/form';
import { Word } from '@/parts/Word';

const SIDE = [
    ['v', 'Volts now'],
    ['mohm', 'mohm'],
    ['ah', 'Ah'],
    ['max_charge_a', 'Charge A'],
] as const;
const SIDES = z.object({
    v: numeric({ least: 0 }),
    mohm: numeric({ least: 0 }),
    ah: numeric({ least: 0 }),
    max_charge_a: numeric({ least: 0 }),
    chemistry: z.enum(chemistries),
});
const JOIN = z.object({ a: SIDES, b: SIDES, whole_pack: z.boolean() });

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
    const none = { v: '', mohm: '', ah: '', max_charge_a: '', chemistry: job.chemistry };
    const form = useBenchForm(JOIN, { a: none, b: none, whole_pack: false });
    const at = { control: form.control };
    const check = useMutation({
        mutationFn: (body: z.output<typeof JOIN>) =>
            unwrap(api.POST('/api/jobs/{job}/join-check', { params: { path: { job: job.id } }, body })),
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    const r = check.data;
    return (
        <form className="grid gap-3" noValidate onSubmit={form.handleSubmit((body) => check.mutate(body))}>
            <h2>Side by side</h2>
            <p>
                Cells, groups, or a pack going back beside its siblings. Unequal ones are never left to equalise through the joint: the{' '}
                <Word of="join">join rule</Word>.
            </p>
            {(
                [
                    ['One', 'a'],
                    ['The other', 'b'],
                ] as const
            ).map(([name, side]) => (
                <fieldset key={name} className="grid grid-cols-5 gap-2">
                    <legend className="eyebrow">{name}</legend>
                    {SIDE.map(([k, label]) => (
                        <FormNumber {...at} key={k} name={`${side}.${k}`} label={label} />
                    ))}
                    <FormChoice {...at} name={`${side}.chemistry`} label="Chemistry">
                        {chemistries.map((c) => (
                            <option key={c}>{c}</option>
                        ))}
                    </FormChoice>
                </fieldset>
            ))}
            <FormTick {...at} name="whole_pack">
                whole packs of {job.series} groups
            </FormTick>
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

const BOARD = z.object({
    series: maybeNumeric({ whole: true }),
    discharge_limit_a: maybeNumeric(),
    peak_limit_a: maybeNumeric(),
    high_cut_v: maybeNumeric(),
    low_cut_v: maybeNumeric(),
});

function Board({ job }: { job: Job }) {
    const form = useBenchForm(BOARD, {
        series: String(job.series),
        discharge_limit_a: '',
        peak_limit_a: '',
        high_cut_v: '',
        low_cut_v: '',
    });
    const at = { control: form.control };
    const [answers, setAnswers] = useState<Record<string, boolean>>({});
    const check = useMutation({
        mutationFn: ({ said, ...numbers }: z.output<typeof BOARD> & { said: Record<string, boolean> }) =>
            unwrap(
                api.POST('/api/jobs/{job}/board-swap', {
                    params: { path: { job: job.id } },
                    body: { board: { ...Object.fromEntries(Object.entries(numbers).filter(([, v]) => v !== undefined)), ...said } },
                }),
            ),
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    // What is wanted is said before one is looked for.
    const wanted = useQuery({
        queryKey: slots.boardWanted(job.id),
        queryFn: () =>
            unwrap(api.POST('/api/jobs/{job}/board-swap', { params: { path: { job: job.id } }, body: { board: {} } })).then(
                (r) => r.wanted,
            ),
    });
    const ask = (said: Record<string, boolean>) => form.handleSubmit((numbers) => check.mutate({ ...numbers, said }));
    const answer = (point: string, right: boolean) => {
        const next = { ...answers, [point]: right };
        setAnswers(next);
        void ask(next)();
    };
    return (
        <form className="grid gap-3" noValidate onSubmit={ask(answers)}>
            <h2>Another board</h2>
            {wanted.data && (
                <section aria-label="What it must be">
                    <h3 className="font-bold">What it must be</h3>
                    <ul>
                        {wanted.data.map((line) => (
                            <li key={line}>{line}</li>
                        ))}
                    </ul>
                    <Link to={`/jobs/${job.id}/build?do=budget`} className="underline underline-offset-4">
                        Enter the path in the budget
                    </Link>
                </section>
            )}
            <div className="grid grid-cols-3 gap-2">
                {NUMBERS.map(([k, label]) => (
                    <FormNumber {...at} key={k} name={k} label={label} />
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
                            {!['series', 'high_cut', 'low_cut', 'continuous', 'cells', 'peak'].includes(p.point) && (
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

const JOINT = z.object({
    tap: numeric({ whole: true, least: 0 }),
    min_nm: numeric({ least: 0 }),
    max_nm: numeric({ least: 0 }),
    tolerance: numeric({ least: 0, most: 100 }),
    set_nm: maybeNumeric({ least: 0 }),
    tool: z.string(),
    contact: z.string(),
    before_mv: maybeNumeric({}),
    after_mv: maybeNumeric({}),
    amps: maybeNumeric({}),
    both_ends: z.boolean(),
});

function Joints({ job }: { job: Job }) {
    const queries = useQueryClient();
    const list = useQuery({
        queryKey: slots.joints(job.id),
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/joints', { params: { path: { job: job.id } } })),
    });
    const form = useBenchForm(JOINT, {
        tap: '',
        min_nm: '',
        max_nm: '',
        tolerance: '4',
        set_nm: '',
        tool: '',
        contact: '',
        before_mv: '',
        after_mv: '',
        amps: '',
        both_ends: false,
    });
    const at = { control: form.control };
    const record = useMutation({
        mutationFn: ({ set_nm, before_mv, after_mv, amps, tolerance, ...typed }: z.output<typeof JOINT>) =>
            unwrap(
                api.POST('/api/jobs/{job}/joints', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        ...typed,
                        tolerance: tolerance / 100,
                        ...said({ set_nm, before_mv, after_mv, amps }),
                    },
                }),
            ),
        onError: (e) => void form.refused(e),
        onSuccess: (data) => {
            queries.setQueryData(slots.joints(job.id), data);
            toast.success('Recorded.');
        },
    });
    return (
        <form className="grid gap-3 lg:col-span-2" noValidate onSubmit={form.handleSubmit((typed) => record.mutate(typed))}>
            <h2>
                Bolted <Word of="joint">joints</Word>
            </h2>
            <div className="grid grid-cols-2 sm:grid-cols-6 gap-2">
                <FormNumber {...at} name="tap" label="Joint at tap" whole />
                <FormNumber {...at} name="min_nm" label="Maker, Nm at least" />
                <FormNumber {...at} name="max_nm" label="Nm at most" />
                <FormNumber {...at} name="tolerance" label="Tool, %" />
                <FormNumber {...at} name="set_nm" label="Set, Nm" placeholder="worked out" />
                <FormText {...at} name="contact" label="Contact metals" />
                <FormNumber {...at} name="before_mv" label="Before, mV across it" />
                <FormNumber {...at} name="after_mv" label="After, mV" />
                <FormNumber {...at} name="amps" label="both at, A" />
                <FormText {...at} name="tool" label="Tool" />
                <FormTick {...at} name="both_ends">
                    both ends set
                </FormTick>
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
                        {j.contact && `, ${j.contact}`}
                        {j.tool && `, ${j.tool}`}
                        {j.both_ends && ', both ends'}. {j.brought}{' '}
                        <span className="text-muted">
                            {j.by}, {when(j.at)}
                        </span>
                    </li>
                ))}
            </ul>
            <ul aria-label="Looked at again">
                {(list.data?.checks ?? []).map((c) => (
                    <li key={c.id} className="border-t border-line py-1">
                        {c.done_at ? (
                            <>
                                <b className={c.holds === false ? 'text-ember' : 'text-moss'}>{c.holds === false ? '✕' : '✓'}</b> Joint at T
                                {c.tap}: {c.text}{' '}
                                <span className="text-muted">
                                    {c.by}, {when(c.done_at)}
                                </span>
                            </>
                        ) : (
                            <LookAgain job={job.id} check={c} />
                        )}
                    </li>
                ))}
            </ul>
        </form>
    );
}

/** The look at a joint a week later: due on its day, and not refused before. */
function LookAgain({ job, check }: { job: number; check: components['schemas']['JointCheck'] }) {
    const queries = useQueryClient();
    const [mv, setMv] = useState('');
    const [amps, setAmps] = useState('');
    const keep = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/joints/{jointCheck}/again', {
                    params: { path: { job, jointCheck: check.id }, header: key() },
                    body: { mv: number(mv), amps: number(amps) },
                }),
            ),
        onSuccess: (data) => {
            queries.setQueryData(slots.joints(job), data);
            void queries.invalidateQueries({ queryKey: slots.bench() });
        },
        onError: (e) => toast.error(e.message),
    });
    return (
        <div className="flex flex-wrap gap-3 items-end">
            <p className="grow">
                <b className={check.due ? 'text-amber' : ''}>
                    {check.due ? 'Due: look' : 'Look'} again at the joint at T{check.tap}
                </b>
                , {when(check.due_at)}.{' '}
                {check.mohm === null ? 'Not read when it was set.' : `${check.mohm.toFixed(2)} mohm when it was set.`}
            </p>
            <NumberField label="mV across it now" value={mv} onChange={setMv} />
            <NumberField label="at A" value={amps} onChange={setAmps} />
            <Button disabled={keep.isPending || mv.trim() === '' || amps.trim() === ''} onClick={() => keep.mutate()}>
                It reads so
            </Button>
        </div>
    );
}

/** What of it was typed. */
const said = <T extends Record<string, number | undefined>>(fields: T) =>
    Object.fromEntries(Object.entries(fields).filter(([, v]) => v !== undefined)) as { [K in keyof T]?: number };
