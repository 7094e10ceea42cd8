import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { Basis, Button, Field, Go } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { QueryState } from '@/parts/QueryState';

type Deal = components['schemas']['Deal'];
const share = (x: number, digits = 3) => `${(100 * x).toFixed(digits)} %`;

/** Accepted cells dealt into groups; cells may be exchanged by hand, and what that does is shown at once. */
export function Match({ job }: { job: Job }) {
    const settings = useQuery({ queryKey: slots.settings(), queryFn: () => unwrap(api.GET('/api/settings')), staleTime: 60_000 });
    const [chosen, setSchool] = useState<'equal' | 'like' | null>(null);
    // The shop's own school, until somebody chooses here.
    const school = chosen ?? (settings.data?.settings.find((s) => s.key === 'matching_school')?.value === 'like' ? 'like' : 'equal');
    const [ratio, setRatio] = useState('');
    const [byHand, setByHand] = useState<string[][] | null>(null);
    const [typed, setOnly] = useState<string | null>(null);
    // Nothing chosen: of the model that the pack is said to have, which the answer names; empty: of any.
    const [model, setModel] = useState<string | undefined>();
    const refill = (typed ?? '')
        .split(/[^0-9]+/)
        .map(Number)
        .filter((n) => n >= 1 && n <= job.series);
    const queries = useQueryClient();
    const [held, setHeld] = useState<string | null>(null);
    // Nothing said: the rule's own, which the answer names.
    const limit = ratio.trim() === '' ? undefined : Math.max(1, number(ratio) || 1);
    const dealt = useQuery({
        queryKey: slots.deal(job.id, school, limit, byHand, typed === null ? null : refill.join(), model),
        queryFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/deal', {
                    params: { path: { job: job.id } },
                    body: {
                        school,
                        ...(limit === undefined ? {} : { ratio: limit }),
                        ...(model === undefined ? {} : { model }),
                        ...(byHand ? { groups: byHand } : typed === null ? {} : { refill }),
                    },
                }),
            ),
        retry: false,
        placeholderData: (before) => before,
    });
    const take = useMutation({
        mutationFn: (groups: string[][]) =>
            unwrap(
                api.POST('/api/jobs/{job}/cells', {
                    params: { path: { job: job.id }, header: key() },
                    body: { groups, ...(limit === undefined ? {} : { ratio: limit }) },
                }),
            ),
        onSuccess: (_, groups) => {
            // What was taken stays in view; a deal anew is one touch away.
            setByHand(groups);
            void queries.invalidateQueries({ queryKey: slots.deal(job.id) });
            // What the pack is made of may have been said by it.
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            toast.success('The cells belong to this build now.');
        },
        onError: (e) => toast.error(e.message),
    });
    const of = model ?? dealt.data?.model ?? '';
    // What is asked for may be too little for a deal: it stays to be chosen anew.
    const kinds = dealt.data?.models ?? (of === '' ? [] : [{ model: of, cells: 0 }]);
    /** Every group of the pack in its place; one that was not dealt keeps its own cells. */
    const all = (deal: Deal) => Array.from({ length: job.series }, (_, k) => deal.groups.find((g) => g.group === k + 1)?.cells ?? []);
    const exchange = (deal: Deal, code: string) => {
        if (held === null) return setHeld(code);
        setHeld(null);
        if (held === code) return;
        setByHand(all(deal).map((g) => g.map((c) => (c === held ? code : c === code ? held : c))));
    };
    const form = (
        <div className="flex flex-wrap gap-4 items-start">
            <Field label="Deal for">
                {(p) => (
                    <select
                        {...p}
                        value={school}
                        onChange={(e) => {
                            setSchool(e.target.value as 'equal' | 'like');
                            setByHand(null);
                        }}
                    >
                        <option value="equal">equal group totals</option>
                        <option value="like">like with like, best together</option>
                    </select>
                )}
            </Field>
            {(kinds.length > 1 || of !== '') && (
                <Field label="Cells of">
                    {(p) => (
                        <select
                            {...p}
                            value={of}
                            onChange={(e) => {
                                setModel(e.target.value);
                                setByHand(null);
                            }}
                        >
                            <option value="">any model</option>
                            {kinds.map((m) => (
                                <option key={m.model} value={m.model}>
                                    {m.model}
                                    {m.cells > 0 && ` (${m.cells})`}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            <NumberField
                label="Resistance ratio inside a group, at most"
                value={ratio}
                onChange={setRatio}
                placeholder={dealt.data ? String(dealt.data.ratio) : ''}
            />
            <Field label="Only these groups anew, the others stay" hint="such as 3, 7; empty for all">
                {(p) => (
                    <input
                        {...p}
                        inputMode="numeric"
                        value={typed ?? dealt.data?.refill.join(', ') ?? ''}
                        onChange={(e) => {
                            setOnly(e.target.value);
                            setByHand(null);
                        }}
                    />
                )}
            </Field>
            {byHand && <Button onClick={() => setByHand(null)}>Back to the dealt order</Button>}
        </div>
    );
    if (dealt.isError)
        return (
            <div className="grid gap-4">
                {form}
                <p className="sheet p-4 border-l-8 !border-l-ember text-lg" role="status">
                    <b className="text-ember">⬣ No deal.</b> {dealt.error.message}
                </p>
                <div>
                    <Go to="/cells">To the drawer</Go>
                </div>
            </div>
        );
    if (!dealt.data) return <QueryState of={dealt} what="Dealing ..." />;
    const d = dealt.data;
    const least = Math.min(...d.groups.map((g) => g.capacity_ah));
    const most = Math.max(...d.groups.map((g) => g.capacity_ah));
    const info = new Map(d.cells.map((c) => [c.id, c]));
    const over = d.worst_ratio > d.ratio + 1e-6;
    const inBuild = d.kept.some((g) => g.length > 0);
    const asKept = inBuild && d.groups.every((g) => [...g.cells].sort().join() === [...(d.kept[g.group - 1] ?? [])].sort().join());
    return (
        <div className="grid gap-4">
            {form}
            <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
                {(
                    [
                        [
                            'Smallest group',
                            `${d.smallest_ah.toFixed(3)} Ah`,
                            `bound ${d.bound_ah.toFixed(3)} Ah, by hand ${d.by_hand.smallest_ah.toFixed(3)}`,
                        ],
                        [
                            'Under the bound',
                            share(d.gap),
                            `by hand ${share(d.by_hand.gap)}; totals are alike within ${d.alike_ah.toFixed(3)} Ah, a tenth of sigma`,
                        ],
                        ['Conductance spread', share(d.conductance_spread, 2), `by hand ${share(d.by_hand.conductance_spread, 2)}`],
                        [
                            'Resistance in a group',
                            `${d.worst_ratio.toFixed(2)} to 1`,
                            over ? `over the limit of ${d.ratio}` : `limit ${d.ratio}, by hand ${d.by_hand.worst_ratio.toFixed(2)}`,
                        ],
                    ] as const
                ).map(([name, value, note]) => (
                    <div key={name} className={`sheet p-3 ${over && name.startsWith('Resistance') ? '!border-ember !border-[3px]' : ''}`}>
                        <p className="eyebrow">{name}</p>
                        <p className="digits text-2xl">{value}</p>
                        <p className="text-muted text-[0.9rem]">{note}</p>
                    </div>
                ))}
            </div>
            {asKept ? (
                <p className="sheet p-3 border-l-8 !border-l-moss" role="status">
                    <b>✓ These cells are in this build.</b> Exchange some, or deal some groups anew.
                </p>
            ) : (
                inBuild &&
                d.kept.every((g) => g.length > 0) && (
                    <p className="sheet p-3">
                        Other cells are in this build now. <Button onClick={() => setByHand(d.kept)}>Show what is in it</Button>
                    </p>
                )
            )}
            <p>
                {d.proven && 'Every deal of these cells was tried, none is better. '}
                {d.lots === d.groups.length ? 'No group mixes lots. ' : 'Some groups mix lots. '}
                {d.accepted} accepted cells, {d.spares.length} left over. Ten more like these would bring {d.ten_more_ah.toFixed(3)} Ah a
                group <Basis of="predicted" />.{' '}
                {held ? <b>Now choose the cell that changes places with {held}.</b> : 'Choose two cells to exchange them.'}
            </p>
            <ol className="grid gap-1">
                {[...d.groups].reverse().map((g) => (
                    <li key={g.group} className="grid grid-cols-[2.5rem_7rem_1fr] gap-3 items-center border border-line bg-panel p-1.5">
                        <b className="text-right text-lg">{g.group}</b>
                        <span>
                            <span className="digits block">{g.capacity_ah.toFixed(3)} Ah</span>
                            <span className="block h-2 bg-knot">
                                <span
                                    className="block h-full bg-bark"
                                    style={{ width: `${most > least ? 30 + (70 * (g.capacity_ah - least)) / (most - least) : 100}%` }}
                                />
                            </span>
                            <span className="text-muted text-[0.85rem]">
                                {g.mohm.toFixed(2)} mohm, {g.ratio.toFixed(2)} to 1
                            </span>
                        </span>
                        <span className="flex flex-wrap gap-1">
                            {g.cells.map((c) => (
                                <button
                                    key={c}
                                    type="button"
                                    aria-pressed={held === c}
                                    className={clsx(
                                        'min-h-[44px] px-2 border text-[0.85rem] leading-tight',
                                        held === c ? 'border-[3px] border-water' : 'border-line',
                                    )}
                                    onClick={() => exchange(d, c)}
                                >
                                    {c}
                                    <span className="block text-muted">
                                        {info.get(c)?.capacity_ah.toFixed(2)} Ah, {info.get(c)?.mohm.toFixed(0)}
                                    </span>
                                </button>
                            ))}
                        </span>
                    </li>
                ))}
            </ol>
            {d.spares.length > 0 && (
                <p className="text-muted">
                    Left over:{' '}
                    {d.spares.slice(0, 40).map((c) => (
                        <button
                            key={c}
                            type="button"
                            className={`min-h-[44px] px-2 underline ${held === c ? 'font-bold' : ''}`}
                            onClick={() => exchange(d, c)}
                        >
                            {c}
                        </button>
                    ))}
                </p>
            )}
            <div>
                <Button look="main" disabled={over || take.isPending || job.status !== 'open'} onClick={() => take.mutate(all(d))}>
                    Take these cells for the build
                </Button>
                {over && <span className="text-ember font-bold ml-3">Not over the limit.</span>}
            </div>
        </div>
    );
}
