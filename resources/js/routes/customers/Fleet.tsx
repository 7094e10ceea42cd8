import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { count, day, money } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Basis, Button, Field, Go } from '@/parts/basics';
import { useMay } from '@/lib/bench';
import { QueryState } from '@/parts/QueryState';
import { BeginTopping, Toppings } from './Topping';

type Fleet = components['schemas']['Fleet'];
type Amount = number | number[] | null;
const signed = (mv: number) => {
    const n = Math.round(mv);
    return n > 0 ? `+${n}` : n === 0 ? '0' : String(n);
};
const amount = (a: Amount, unit: string, digits: number) =>
    a === null
        ? 'not known'
        : Array.isArray(a)
          ? `${a.map((x) => x.toFixed(digits)).join(' to ')} ${unit}`
          : `${a.toFixed(digits)} ${unit}`;

/** All packs of one owner at the same charge: who stands off, which group is topped up in place, the spares worth keeping. */
export function Component() {
    const id = Number(useParams()['customer']);
    const [params, setParams] = useSearchParams();
    const kind = params.get('kind') ?? '';
    const [supply, setSupply] = useState('');
    const [history, setHistory] = useState({ lead_weeks: '', months: '', boards: '', groups: '' });
    const [begins, setBegins] = useState<{ pack: string; packId: number; group: number } | null>(null);
    const may = useMay('recover');
    const asked = useDeferredValue({ supply_a: supply, ...history });
    const query = Object.fromEntries(
        Object.entries(asked)
            .map(([k, v]) => [k, v.replace(',', '.')])
            .filter(([k, v = '']) => v.trim() !== '' && (Number(v) > 0 || (Number(v) === 0 && (k === 'boards' || k === 'groups')))),
    );
    const all = useQuery({
        queryKey: slots.fleet(id, kind, JSON.stringify(query)),
        queryFn: () =>
            unwrap(
                api.GET('/api/customers/{customer}/fleet', {
                    params: { path: { customer: id }, query: { ...query, ...(kind === '' ? {} : { kind }) } },
                }),
            ),
        placeholderData: (before) => before,
    });
    if (!all.data) return <QueryState of={all} what="Laying them side by side ..." />;
    const f = all.data;
    return (
        <div className="p-5 grid gap-5 max-w-6xl">
            <div className="flex flex-wrap gap-x-5 items-center">
                <h1 className="grow">Packs of {f.customer}, side by side</h1>
                <Go to={`/customers/${id}/wall`} look={f.result ? 'plain' : 'main'}>
                    Read them
                </Go>
                <Link to={`/customers/${id}`} className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    {f.customer}
                </Link>
                <Link to={`/packs?customer=${id}`} className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    Their passports
                </Link>
            </div>
            <Side fleet={f} />
            {f.kinds.length > 1 && (
                <nav aria-label="Kinds" className="flex flex-wrap gap-2 items-center">
                    {f.kinds.map((k) => (
                        <button
                            key={k.kind}
                            type="button"
                            aria-pressed={k.kind === f.kind}
                            onClick={() => setParams({ kind: k.kind }, { replace: true })}
                            className={`min-h-[44px] px-3 rounded border ${
                                k.kind === f.kind ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel hover:bg-knot'
                            }`}
                        >
                            {k.kind.replace(/ (\d+)$/, ', $1 groups')}: {count(k.packs, 'pack')}
                        </button>
                    ))}
                </nav>
            )}
            {f.result && (f.result.topping.length > 0 || f.toppings.length > 0) && (
                <section aria-label="Topped up in place" className="sheet p-4 grid gap-3">
                    <h2>Topped up in place</h2>
                    {f.result.topping.length > 0 && (
                        <>
                            <div className="max-w-xs">
                                <Field label="Supply, A" hint="a twentieth of what the group holds where nothing is said">
                                    {(p) => <input {...p} inputMode="decimal" value={supply} onChange={(e) => setSupply(e.target.value)} />}
                                </Field>
                            </div>
                            <ol className="grid gap-1">
                                {f.result.topping.map((t) => {
                                    const packId = f.packs.find((p) => p.name === t.pack)?.id ?? 0;
                                    const on = f.toppings.find((x) => x.pack_id === packId && x.group === t.group && !x.helped);
                                    return (
                                        <li
                                            key={`${t.pack} ${t.group}`}
                                            className="border-t border-line pt-1 flex flex-wrap gap-x-4 items-center"
                                        >
                                            <span>
                                                <b>
                                                    {t.order}. {t.pack}, group {t.group}:
                                                </b>{' '}
                                                {amount(t.ah, 'Ah', 2)}, {amount(t.hours, 'h', 1)} <Basis of="derived" />
                                            </span>
                                            {may && !on && (
                                                <Button onClick={() => setBegins({ pack: t.pack, packId, group: t.group })}>
                                                    Top it up here
                                                </Button>
                                            )}
                                            {on && (
                                                <span className="text-muted">
                                                    {on.ended_at ? 'topped up, not read since' : 'the supply is on'}
                                                </span>
                                            )}
                                        </li>
                                    );
                                })}
                            </ol>
                            <ol className="list-decimal pl-6">
                                {f.in_place.map((s) => (
                                    <li key={s}>{s}</li>
                                ))}
                            </ol>
                        </>
                    )}
                    {f.toppings.length > 0 && <Toppings customer={id} rows={f.toppings} packs={f.packs.length} />}
                </section>
            )}
            {begins && <BeginTopping customer={id} of={{ ...begins, supply }} steps={f.in_place} onClose={() => setBegins(null)} />}
            {f.result && <Gains fleet={f} />}
            {f.spares && (
                <section aria-label="Spares" className="sheet p-4 grid gap-3">
                    <h2>Spares</h2>
                    <div className="grid gap-3 grid-cols-2 md:grid-cols-4">
                        {(
                            [
                                ['lead_weeks', 'Weeks until one is delivered', `${f.lead_weeks} where nothing is said`],
                                ['months', 'Months they have been in service', 'since they are known here, if left'],
                                ['boards', 'Boards that failed in them', 'as the closed jobs have it, if left'],
                                ['groups', 'Groups that failed in them', 'as the closed jobs have it, if left'],
                            ] as const
                        ).map(([k, label, hint]) => (
                            <Field key={k} label={label} hint={hint}>
                                {(p) => (
                                    <input
                                        {...p}
                                        inputMode="decimal"
                                        value={history[k]}
                                        onChange={(e) => setHistory((h) => ({ ...h, [k]: e.target.value }))}
                                    />
                                )}
                            </Field>
                        ))}
                    </div>
                    <p>
                        <b>Boards.</b> {f.spares.boards} <Basis of="predicted" />
                    </p>
                    <p>
                        <b>Cells of a whole group.</b> {f.spares.groups} <Basis of="predicted" />
                    </p>
                    <p className="text-muted">
                        Half a failure is assumed before any was seen; where their own history is short, one board in 40 years and one group
                        in 200. Keep the same model, and cells of one lot.
                    </p>
                </section>
            )}
        </div>
    );
}

function Side({ fleet: { packs, result, middle_v } }: { fleet: Fleet }) {
    const read = packs.filter((p) => p.off_mv);
    if (!result || middle_v === null)
        return (
            <p className="text-muted">
                No pack of theirs was read group by group since it went back: read them at one charge, the whole wall at once.
            </p>
        );
    const order = result.ranked.map((r) => r.pack);
    const rows = [...read].sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name));
    const state = new Map(result.ranked.map((r) => [r.pack, r]));
    const n = Math.max(...read.map((p) => p.off_mv!.length));
    return (
        <section aria-label="Side by side" className="grid gap-2">
            <p>
                {result.over_all_mv.toFixed(0)} mV from the lowest ({result.lowest.pack}, group {result.lowest.group}) to the highest (
                {result.highest.pack}, group {result.highest.group}).{' '}
                {!result.comparable && <b>They were not read at the same charge: read them again alike before anything is topped up.</b>}
            </p>
            <div className="overflow-x-auto">
                <table className="digits [&_td]:px-2 [&_th]:px-2 [&_td]:text-right">
                    <thead>
                        <tr>
                            <th scope="col" className="text-left font-sans">
                                Pack
                            </th>
                            {Array.from({ length: n }, (_, k) => (
                                <th key={k} scope="col">
                                    {k + 1}
                                </th>
                            ))}
                            <th scope="col" className="font-sans">
                                Worst
                            </th>
                        </tr>
                    </thead>
                    <tbody>
                        {rows.map((p) => {
                            const worst = state.get(p.name);
                            return (
                                <tr key={p.id} className="border-t border-line">
                                    <th scope="row" className="text-left font-sans">
                                        <Link to={`/packs/${p.id}`} className="underline underline-offset-4 whitespace-nowrap">
                                            {p.name}
                                        </Link>{' '}
                                        <span className="text-muted font-normal text-sm">{p.at && day(p.at)}</span>
                                    </th>
                                    {p.off_mv!.map((mv, k) => (
                                        <td key={k} className={worst?.group === k + 1 ? 'border-2 border-bark' : ''}>
                                            {mv === null ? '-' : signed(mv)}
                                        </td>
                                    ))}
                                    <td className="font-sans whitespace-nowrap">
                                        {p.excellent ? 'excellent' : worst && `group ${worst.group}: ${worst.state.replaceAll('-', ' ')}`}
                                        {p.shift_mv !== null && (
                                            <span className="block text-muted">
                                                as a whole {signed(p.shift_mv)}: another charge, or another meter
                                            </span>
                                        )}
                                    </td>
                                </tr>
                            );
                        })}
                    </tbody>
                </table>
            </div>
            <p className="text-muted">Millivolts from the middle group of all, {middle_v.toFixed(3)} V.</p>
        </section>
    );
}

/** The weak group that limits each pack, and what another one in its place would bring and cost. */
function Gains({ fleet: f }: { fleet: Fleet }) {
    return (
        <section aria-label="What limits each" className="sheet p-4 grid gap-3">
            <h2>What limits each</h2>
            {f.gains.length === 0 ? (
                <p className="text-muted">
                    No pack of theirs has all its groups measured: test each from full, or read what they hold as a table.
                </p>
            ) : (
                <div className="overflow-x-auto">
                    <table className="[&_td]:px-2 [&_th]:px-2 [&_td]:text-right">
                        <thead>
                            <tr>
                                {['Pack', 'Weakest', 'Gives now', 'With that replaced', 'Gain', 'Costs', 'Each Wh gained', ''].map((h) => (
                                    <th key={h} scope="col" className={h === 'Pack' ? 'text-left' : 'text-right'}>
                                        {h || <span className="sr-only">Next</span>}
                                    </th>
                                ))}
                            </tr>
                        </thead>
                        <tbody>
                            {f.gains.map((g) => {
                                const pack = f.packs.find((p) => p.id === g.pack_id);
                                return (
                                    <tr key={g.pack_id} className="border-t border-line">
                                        <th scope="row" className="text-left">
                                            <Link to={`/packs/${g.pack_id}`} className="underline underline-offset-4">
                                                {g.pack}
                                            </Link>
                                        </th>
                                        <td>group {g.group}</td>
                                        <td className="digits">{g.usable_ah.toFixed(1)} Ah</td>
                                        <td className="digits">{g.after_ah.toFixed(1)} Ah</td>
                                        <td className="digits">{g.gain_wh.toFixed(0)} Wh</td>
                                        <td className="digits">{money(g.total_cents, g.currency)}</td>
                                        <td className="digits">{g.cents_per_wh === null ? '' : money(g.cents_per_wh, g.currency)}</td>
                                        <td>
                                            {g.worth && (
                                                <Go to={`/intake?serial=${encodeURIComponent(pack?.serial || pack?.code || '')}`}>
                                                    Take it in
                                                </Go>
                                            )}
                                        </td>
                                    </tr>
                                );
                            })}
                        </tbody>
                    </table>
                </div>
            )}
            {f.gains.length > 0 && (
                <p className="text-muted">
                    Cost of one group: cells, strip, {f.gains[0]!.minutes} min of hands and testing, with the tax, by the shop's prices.
                    Every group full.
                </p>
            )}
        </section>
    );
}
