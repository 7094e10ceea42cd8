import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { Button, Field } from '@/parts/basics';
import { Empty, QueryState } from '@/parts/QueryState';
import { CellSheet } from './CellSheet';
import { CodeLabels } from '@/parts/CodeLabels';
import { LogImport } from './LogImport';
import { Lots } from './Lots';
import { Tray } from './Tray';
import { Word } from '@/parts/Word';

export type Cell = components['schemas']['Cell'];
export const SIGN: Record<Cell['state'], string> = { untested: '○', testing: '◐', accepted: '◉', rejected: '✕', used: '▣', spare: '◇' };

export function Component() {
    const [params, setParams] = useSearchParams();
    const state = params.get('state') ?? '';
    const q = params.get('q') ?? '';
    const queries = useQueryClient();
    const [sheet, setSheet] = useState<'tray' | 'logs' | 'labels' | 'lots' | null>(null);
    const [open, setOpen] = useState<Cell | null>(null);
    const mayGrade = useMay('decide');
    const list = useQuery({
        queryKey: slots.cells(state, q),
        queryFn: () => unwrap(api.GET('/api/cells', { params: { query: { ...(state ? { state } : {}), ...(q ? { q } : {}) } } })),
    });
    const again = () => void queries.invalidateQueries({ queryKey: slots.cells() });
    const grade = useMutation({
        mutationFn: (cells: Cell[]) =>
            unwrap(
                api.POST('/api/cells/grade', {
                    params: { header: key() },
                    body: { ids: cells.map((c) => c.id), rated_ah: cells[0]!.rated_ah },
                }),
            ),
        onSuccess: (r) => {
            const no = r.no_resistance === 0 ? '' : ` ${r.no_resistance} have their capacity and no resistance: give it first.`;
            toast.success(`${r.accepted} accepted, ${r.rejected} rejected, ${r.untested - r.no_resistance} not tested yet.${no}`);
            again();
        },
        onError: (e) => toast.error(e.message),
    });
    if (!list.data) return <QueryState of={list} what="Opening the drawer ..." />;
    const cells = list.data.cells;
    const total = Object.values(list.data.states).reduce((a, b) => a + b, 0);
    const gradable = cells.filter((c) => c.state !== 'used');
    return (
        <div className="p-5 grid gap-4">
            <div className="flex flex-wrap gap-3 items-end">
                <h1 className="grow">Cells</h1>
                <Button look="main" onClick={() => setSheet('tray')}>
                    Take in a tray
                </Button>
                <Button onClick={() => setSheet('logs')}>Import test logs</Button>
                {mayGrade && (
                    <Button disabled={gradable.length === 0 || grade.isPending} onClick={() => grade.mutate(gradable)}>
                        Grade what is shown
                    </Button>
                )}
                <Button onClick={() => setSheet('lots')}>Lots</Button>
                <Button disabled={cells.length === 0} onClick={() => setSheet('labels')}>
                    Print labels
                </Button>
                <a className="min-h-[44px] px-3 py-2" href="/api/cells.csv">
                    Export CSV
                </a>
            </div>
            <div className="flex flex-wrap gap-2 items-end">
                {(['', 'untested', 'testing', 'accepted', 'rejected', 'used', 'spare'] as const).map((s) => (
                    <button
                        key={s}
                        type="button"
                        aria-pressed={state === s}
                        className={clsx(
                            'min-h-[44px] px-3 border',
                            state === s ? 'border-bark border-2 bg-knot font-bold' : 'border-line bg-panel',
                        )}
                        onClick={() => setParams(s ? { state: s } : {}, { replace: true })}
                    >
                        {s === '' ? `all ${total}` : `${SIGN[s]} ${s} ${list.data.states[s] ?? 0}`}
                    </button>
                ))}
                <div className="grow max-w-xs">
                    <Field label="Code, model or lot">
                        {(p) => (
                            <input
                                {...p}
                                value={q}
                                onChange={(e) =>
                                    setParams(
                                        { ...(state ? { state } : {}), ...(e.target.value ? { q: e.target.value } : {}) },
                                        { replace: true },
                                    )
                                }
                            />
                        )}
                    </Field>
                </div>
            </div>
            {total === 0 ? (
                <Empty
                    what={
                        'The drawer is empty. Take in a tray: the lot, the model, and one line a cell; or import the CSV of another ' +
                        'workshop under "Take in a tray".'
                    }
                >
                    <div>
                        <Button look="main" onClick={() => setSheet('tray')}>
                            Take in the first tray
                        </Button>
                    </div>
                </Empty>
            ) : (
                <div className="overflow-x-auto">
                    <table className="w-full">
                        <thead>
                            <tr>
                                {['Cell', 'State', 'Ah', 'of rated', 'mohm', 'Rest V', '% a month', 'Where'].map((h, i) => (
                                    <th key={h} className={`eyebrow pr-4 ${i > 1 && i < 7 ? 'text-right' : 'text-left'}`}>
                                        {h === 'of rated' ? <Word of="grade">{h}</Word> : h}
                                    </th>
                                ))}
                            </tr>
                        </thead>
                        <tbody>
                            {cells.map((c) => (
                                <tr key={c.id} className="border-t border-line">
                                    <td className="pr-4">
                                        <button
                                            type="button"
                                            className="min-h-[40px] underline underline-offset-4 font-bold"
                                            onClick={() => setOpen(c)}
                                        >
                                            {c.code}
                                        </button>{' '}
                                        <span className="text-muted">{c.model}</span>
                                    </td>
                                    <td className="pr-4">
                                        {SIGN[c.state]} {c.state} {c.reason && <span className="text-muted">{c.reason}</span>}
                                    </td>
                                    <td className="digits text-right pr-4">{c.capacity_ah?.toFixed(3) ?? ''}</td>
                                    <td className="digits text-right pr-4">
                                        {c.capacity_ah === null ? '' : `${((100 * c.capacity_ah) / c.rated_ah).toFixed(0)} %`}
                                    </td>
                                    <td className="digits text-right pr-4">{c.mohm?.toFixed(1) ?? ''}</td>
                                    <td className="digits text-right pr-4">{c.rest_v?.toFixed(3) ?? ''}</td>
                                    <td className="digits text-right pr-4">{c.leak_percent_month?.toFixed(1) ?? ''}</td>
                                    <td>
                                        {c.job_id !== null ? (
                                            <a href={`/jobs/${c.job_id}/build`}>{`group ${c.group_no}`}</a>
                                        ) : c.origin === 'new' ? (
                                            ''
                                        ) : (
                                            c.origin
                                        )}
                                    </td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                </div>
            )}
            {sheet === 'tray' && (
                <Tray
                    onClose={() => {
                        setSheet(null);
                        again();
                    }}
                />
            )}
            {sheet === 'logs' && (
                <LogImport
                    cells={cells}
                    onClose={() => {
                        setSheet(null);
                        again();
                    }}
                />
            )}
            {sheet === 'lots' && (
                <Lots
                    onClose={() => setSheet(null)}
                    onUntested={(lot) => {
                        setParams({ state: 'untested', q: lot }, { replace: true });
                        setSheet(null);
                    }}
                />
            )}
            {sheet === 'labels' && (
                <CodeLabels
                    labels={cells.map((c) => ({ code: c.code, lines: [c.model, `${c.capacity_ah?.toFixed(2) ?? '-.--'} Ah`] }))}
                    onClose={() => setSheet(null)}
                />
            )}
            {open && (
                <CellSheet
                    cell={open}
                    onClose={() => {
                        setOpen(null);
                        again();
                    }}
                />
            )}
        </div>
    );
}
