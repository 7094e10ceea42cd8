import { number as parse, optional } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useMutation, useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { toast } from 'sonner';
import { api, ApiError, key, unwrap } from '@/api/client';
import { when, percent } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { Button, Field, Waiting } from '@/parts/basics';
import { Clash } from '@/parts/Clash';
import { Sheet } from '@/parts/Sheet';
import type { Cell } from './Drawer';

const LogChart = lazy(() => import('./LogChart'));

/** One cell: what is known of it, its logs, everything that happened to it. */
export function CellSheet({ cell, onClose }: { cell: Cell; onClose: () => void }) {
    const detail = useQuery({
        queryKey: slots.cell(cell.id),
        queryFn: () => unwrap(api.GET('/api/cells/{cell}', { params: { path: { cell: cell.id } } })),
    });
    const [entry, setEntry] = useState({
        state: (cell.state === 'used' ? 'spare' : cell.state) as Cell['state'],
        reason: cell.reason,
        capacity: cell.capacity_ah?.toString() ?? '',
        mohm: cell.mohm?.toString() ?? '',
        leak: cell.leak_percent_month?.toString() ?? '',
        damaged: cell.damaged,
    });
    const number = (t: string) => optional(t) ?? null;
    const save = useMutation({
        mutationFn: (version: string) =>
            unwrap(
                api.PATCH('/api/cells/{cell}', {
                    params: { path: { cell: cell.id }, header: { ...key(), 'If-Match': version } },
                    body: {
                        ...(cell.state === 'used' ? {} : { state: entry.state }),
                        reason: entry.reason,
                        capacity_ah: number(entry.capacity),
                        mohm: number(entry.mohm),
                        leak_percent_month: number(entry.leak),
                        damaged: entry.damaged,
                    },
                }),
            ),
        onSuccess: () => {
            toast.success('Kept.');
            onClose();
        },
        onError: (e) => {
            if (!(e instanceof ApiError && e.code === 'clash')) toast.error(e.message);
        },
    });
    const errors = fieldErrors(save.error);
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
                mine={{
                    state: entry.state,
                    reason: entry.reason,
                    capacity_ah: number(entry.capacity),
                    mohm: number(entry.mohm),
                    leak_percent_month: number(entry.leak),
                    damaged: entry.damaged,
                }}
                onMine={() =>
                    void unwrap(api.GET('/api/cells/{cell}', { params: { path: { cell: cell.id } } })).then((now) =>
                        save.mutate(now.cell.version),
                    )
                }
                onTheirs={onClose}
            />
            <form
                className="grid gap-3 sm:grid-cols-3"
                onSubmit={(e) => {
                    e.preventDefault();
                    save.mutate(cell.version);
                }}
            >
                {cell.state !== 'used' && (
                    <Field label="State" error={errors['state']}>
                        {(p) => (
                            <select
                                {...p}
                                value={entry.state}
                                onChange={(e) => setEntry({ ...entry, state: e.target.value as Cell['state'] })}
                            >
                                {['untested', 'testing', 'accepted', 'rejected', 'spare'].map((s) => (
                                    <option key={s}>{s}</option>
                                ))}
                            </select>
                        )}
                    </Field>
                )}
                <Field label="Reason" error={errors['reason']}>
                    {(p) => <input {...p} value={entry.reason} onChange={(e) => setEntry({ ...entry, reason: e.target.value })} />}
                </Field>
                <Field label="Ah" error={errors['capacity_ah']}>
                    {(p) => (
                        <input
                            {...p}
                            inputMode="decimal"
                            value={entry.capacity}
                            onChange={(e) => setEntry({ ...entry, capacity: e.target.value })}
                        />
                    )}
                </Field>
                <Field label="mohm at 1 s" error={errors['mohm']}>
                    {(p) => (
                        <input
                            {...p}
                            inputMode="decimal"
                            value={entry.mohm}
                            onChange={(e) => setEntry({ ...entry, mohm: e.target.value })}
                        />
                    )}
                </Field>
                <Field label="Loses, % a month" error={errors['leak_percent_month']}>
                    {(p) => (
                        <input
                            {...p}
                            inputMode="decimal"
                            value={entry.leak}
                            onChange={(e) => setEntry({ ...entry, leak: e.target.value })}
                        />
                    )}
                </Field>
                <label className="flex items-center gap-2 min-h-[44px] self-end">
                    <input type="checkbox" checked={entry.damaged} onChange={(e) => setEntry({ ...entry, damaged: e.target.checked })} />
                    damaged
                </label>
                <div className="sm:col-span-3">
                    <Button type="submit" look="main" disabled={save.isPending}>
                        Keep it
                    </Button>
                </div>
            </form>
            <Hold id={cell.id} rest={cell.rest_v} />
            {!detail.data ? (
                <Waiting what="Fetching its history ..." />
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
    const [entry, setEntry] = useState({ before: rest?.toString() ?? '', after: '', days: '' });
    const n = parse;
    const judge = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/cells/{cell}/hold', {
                    params: { path: { cell: id }, header: key() },
                    body: { before_v: n(entry.before), after_v: n(entry.after), days: n(entry.days) },
                }),
            ),
        onError: (e) => toast.error(e.message),
    });
    return (
        <form
            className="flex flex-wrap gap-3 items-end"
            onSubmit={(e) => {
                e.preventDefault();
                judge.mutate();
            }}
        >
            {(
                [
                    ['before', 'Rest V then'],
                    ['after', 'Rest V now'],
                    ['days', 'Days between'],
                ] as const
            ).map(([k, label]) => (
                <div key={k} className="w-32">
                    <Field label={label}>
                        {(p) => (
                            <input
                                {...p}
                                required
                                inputMode="decimal"
                                value={entry[k]}
                                onChange={(e) => setEntry({ ...entry, [k]: e.target.value })}
                            />
                        )}
                    </Field>
                </div>
            ))}
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
