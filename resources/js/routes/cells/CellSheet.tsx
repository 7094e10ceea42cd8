import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, ApiError, key, unwrap } from '@/api/client';
import { when, percent } from '@/lib/format';
import { maybeNumeric, numeric, useBenchForm } from '@/lib/form';
import { Button, Waiting } from '@/parts/basics';
import { FormChoice, FormNumber, FormText } from '@/parts/form';
import { QueryState } from '@/parts/QueryState';
import { Clash } from '@/parts/Clash';
import { Sheet } from '@/parts/Sheet';
import type { Cell } from './Drawer';

const LogChart = lazy(() => import('./LogChart'));

const STATES = ['untested', 'testing', 'accepted', 'rejected', 'spare'] as const satisfies Cell['state'][];

const orNull = maybeNumeric().transform((n) => n ?? null);

const CELL = z.object({
    state: z.enum(STATES),
    reason: z.string(),
    capacity_ah: orNull,
    mohm: orNull,
    leak_percent_month: orNull,
    damaged: z.boolean(),
});

const HOLD = z.object({ before_v: numeric(), after_v: numeric(), days: numeric({ least: 0 }) });

/** One cell: what is known of it, its logs, everything that happened to it. */
export function CellSheet({ cell, onClose }: { cell: Cell; onClose: () => void }) {
    const detail = useQuery({
        queryKey: slots.cell(cell.id),
        queryFn: () => unwrap(api.GET('/api/cells/{cell}', { params: { path: { cell: cell.id } } })),
    });
    const form = useBenchForm(CELL, {
        state: cell.state === 'used' ? 'spare' : cell.state,
        reason: cell.reason,
        capacity_ah: cell.capacity_ah?.toString() ?? '',
        mohm: cell.mohm?.toString() ?? '',
        leak_percent_month: cell.leak_percent_month?.toString() ?? '',
        damaged: cell.damaged,
    });
    const at = { control: form.control };
    const save = useMutation({
        mutationFn: ({ version, entry: { state, ...entry } }: { version: string; entry: z.output<typeof CELL> }) =>
            unwrap(
                api.PATCH('/api/cells/{cell}', {
                    params: { path: { cell: cell.id }, header: { ...key(), 'If-Match': version } },
                    body: { ...(cell.state === 'used' ? {} : { state }), ...entry },
                }),
            ),
        onSuccess: () => {
            toast.success('Kept.');
            onClose();
        },
        onError: (e) => {
            if (!(e instanceof ApiError && e.code === 'clash') && !form.refused(e)) toast.error(e.message);
        },
    });
    const queries = useQueryClient();
    const full = useMutation({
        mutationFn: (id: number) => unwrap(api.POST('/api/logs/{log}/full', { params: { path: { log: id }, header: key() } })),
        onSuccess: (row) => {
            toast.success(row.capacity?.counts ? 'Kept with your name: it counts.' : 'Kept with your name.');
            void queries.invalidateQueries({ queryKey: slots.cell(cell.id) });
        },
        onError: (e) => toast.error(e.message),
    });
    const [log, setLog] = useState<number | null>(null);
    return (
        <Sheet title={`Cell ${cell.code}`} onClose={onClose} wide>
            <Clash
                error={save.error}
                labels={{
                    state: 'State',
                    reason: 'Reason',
                    capacity_ah: 'Capacity, Ah',
                    mohm: 'Resistance, mohm',
                    leak_percent_month: 'Loss, % a month',
                    damaged: 'Damaged',
                }}
                mine={save.variables?.entry ?? {}}
                onMine={() =>
                    void unwrap(api.GET('/api/cells/{cell}', { params: { path: { cell: cell.id } } })).then(
                        (now) => save.variables && save.mutate({ ...save.variables, version: now.cell.version }),
                    )
                }
                onTheirs={onClose}
            />
            <form
                className="grid gap-3 sm:grid-cols-3"
                noValidate
                onSubmit={form.handleSubmit((entry) => save.mutate({ version: cell.version, entry }))}
            >
                {cell.state !== 'used' && (
                    <FormChoice {...at} name="state" label="State">
                        {STATES.map((s) => (
                            <option key={s}>{s}</option>
                        ))}
                    </FormChoice>
                )}
                <FormText {...at} name="reason" label="Reason" />
                <FormNumber {...at} name="capacity_ah" label="Ah" />
                <FormNumber
                    {...at}
                    name="mohm"
                    label="mohm at 1 s"
                    why="A step of current read after one second: sooner it is smaller, later it grows. Only like is compared with like."
                />
                <FormNumber {...at} name="leak_percent_month" label="Loses, % a month" />
                <label className="flex items-center gap-2 min-h-[44px] self-end">
                    <input type="checkbox" {...form.register('damaged')} />
                    damaged
                </label>
                <div className="sm:col-span-3">
                    <Button type="submit" look="main" disabled={save.isPending}>
                        Keep it
                    </Button>
                </div>
            </form>
            {cell.capacity_ah !== null && (
                <p className="text-muted">
                    {cell.capacity_from === 'log' ? 'Its capacity is that of a log.' : 'Its capacity was typed: less sure than a log.'}
                </p>
            )}
            <Hold id={cell.id} rest={cell.rest_v} />
            {!detail.data ? (
                <QueryState of={detail} what="Fetching its history ..." />
            ) : (
                <>
                    <ul>
                        {detail.data.logs.map((l) => (
                            <li key={l.id} className="border-t border-line py-1.5 flex flex-wrap gap-3 items-center">
                                <Button look="quiet" onClick={() => setLog(log === l.id ? null : l.id)}>
                                    {l.name}
                                </Button>
                                <span>
                                    {l.capacity
                                        ? `${l.capacity.ah.toFixed(3)} Ah, ${percent(l.capacity.ah / cell.rated_ah)} of rated` +
                                          `${earlier(detail.data.logs, l.id)} ` +
                                          (l.capacity.counts ? '(counts)' : `(does not count: ${l.capacity.missing.join('; ')})`)
                                        : 'no discharge'}
                                </span>
                                {l.capacity?.said_full && (
                                    <span className="text-muted">
                                        Full, says {l.capacity.said_full.by}, {when(l.capacity.said_full.at)}.
                                    </span>
                                )}
                                {l.capacity?.asks_full && (
                                    <Button disabled={full.isPending} onClick={() => full.mutate(l.id)}>
                                        It was full: I say so
                                    </Button>
                                )}
                                <a href={`/api/logs/${l.id}/export.csv`}>CSV</a>
                            </li>
                        ))}
                    </ul>
                    {log !== null && (
                        <Suspense fallback={<Waiting what="Drawing ..." />}>
                            <LogChart id={log} />
                        </Suspense>
                    )}
                    {cell.state === 'used' && <Substitutes id={cell.id} />}
                    <h3>History</h3>
                    <ul className="text-[0.95rem]">
                        {detail.data.history.map((h) => (
                            <li key={h.at + h.kind}>
                                {when(h.at.replace(' ', 'T') + 'Z')}: <b>{h.kind.replaceAll('-', ' ')}</b>{' '}
                                <span className="text-muted">
                                    {Object.entries(h.data)
                                        .map(([k, v]) => `${k.replaceAll('_', ' ')} ${String(v)}`)
                                        .join(', ')}{' '}
                                    ({h.by})
                                </span>
                            </li>
                        ))}
                    </ul>
                </>
            )}
        </Sheet>
    );
}

/** What changed since the log before this one. */
export function earlier(logs: { id: number; capacity: { ah: number } | null }[], id: number): string {
    const now = logs.find((l) => l.id === id)?.capacity;
    const before = logs.filter((l) => l.id < id && l.capacity).sort((a, b) => b.id - a.id)[0]?.capacity;
    return now && before
        ? `, ${now.ah >= before.ah ? '+' : ''}${((100 * (now.ah - before.ah)) / before.ah).toFixed(1)} % since the test before`
        : '';
}

/** Who could take its place in its group, and what is against the others. */
function Substitutes({ id }: { id: number }) {
    const found = useQuery({
        queryKey: slots.substitutes(id),
        queryFn: () => unwrap(api.GET('/api/cells/{cell}/substitutes', { params: { path: { cell: id } } })),
        retry: false,
    });
    if (!found.data) return null;
    return (
        <section>
            <h3>Could take its place</h3>
            <ul className="text-[0.95rem]">
                {found.data.substitutes.slice(0, 8).map((s) => (
                    <li key={s.code}>
                        {s.fits ? '✓' : '✕'} <b>{s.code}</b> {s.capacity_ah.toFixed(2)} Ah, {s.mohm.toFixed(0)} mohm{' '}
                        <span className="text-muted">{s.why.join('; ')}</span>
                    </li>
                ))}
                {found.data.substitutes.length === 0 && <li>Nothing accepted or spare lies in the drawer.</li>}
            </ul>
        </section>
    );
}

/** Two rest voltages days apart: what it loses a month, or that it cannot be told yet. */
function Hold({ id, rest }: { id: number; rest: number | null }) {
    const form = useBenchForm(HOLD, { before_v: rest?.toString() ?? '', after_v: '', days: '' });
    const at = { control: form.control };
    const judge = useMutation({
        mutationFn: (body: z.output<typeof HOLD>) =>
            unwrap(api.POST('/api/cells/{cell}/hold', { params: { path: { cell: id }, header: key() }, body })),
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    return (
        <form className="flex flex-wrap gap-3 items-end" noValidate onSubmit={form.handleSubmit((body) => judge.mutate(body))}>
            <div className="w-32">
                <FormNumber {...at} name="before_v" label="Rest V then" />
            </div>
            <div className="w-32">
                <FormNumber {...at} name="after_v" label="Rest V now" />
            </div>
            <div className="w-32">
                <FormNumber {...at} name="days" label="Days between" />
            </div>
            <Button type="submit" disabled={judge.isPending}>
                Hold test
            </Button>
            {judge.data && (
                <p role="status">
                    <b>{{ holds: '✓', leaks: '✕', 'cannot-tell-yet': '○' }[judge.data.outcome]}</b> {judge.data.text}
                </p>
            )}
        </form>
    );
}
