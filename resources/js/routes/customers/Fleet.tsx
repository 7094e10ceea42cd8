import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useParams } from 'react-router';
import { api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { count, day } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Basis, Field } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';

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
    const [supply, setSupply] = useState('');
    const [lead, setLead] = useState('');
    const asked = useDeferredValue({ supply_a: supply, lead_weeks: lead });
    const query = Object.fromEntries(
        Object.entries(asked)
            .map(([k, v]) => [k, v.replace(',', '.')])
            .filter(([, v]) => Number(v) > 0),
    );
    const all = useQuery({
        queryKey: slots.fleet(id, JSON.stringify(query)),
        queryFn: () => unwrap(api.GET('/api/customers/{customer}/fleet', { params: { path: { customer: id }, query } })),
        placeholderData: (before) => before,
    });
    if (!all.data) return <QueryState of={all} what="Laying them side by side ..." />;
    const f = all.data;
    return (
        <div className="p-5 grid gap-5 max-w-6xl">
            <div className="flex flex-wrap gap-x-5 items-center">
                <h1 className="grow">Packs of {f.customer}, side by side</h1>
                <Link to={`/customers/${id}`} className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    {f.customer}
                </Link>
                <Link to={`/packs?customer=${id}`} className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    Their passports
                </Link>
            </div>
            <Side fleet={f} />
            {f.others > 0 && <p className="text-muted">{count(f.others, 'pack')} of another kind left out.</p>}
            {f.result && f.result.topping.length > 0 && (
                <section aria-label="Topped up in place" className="sheet p-4 grid gap-3">
                    <h2>Topped up in place</h2>
                    <div className="max-w-xs">
                        <Field label="Supply, A" hint="a twentieth of what the group holds where nothing is said">
                            {(p) => <input {...p} inputMode="decimal" value={supply} onChange={(e) => setSupply(e.target.value)} />}
                        </Field>
                    </div>
                    <ol className="grid gap-1">
                        {f.result.topping.map((t) => (
                            <li key={`${t.pack} ${t.group}`} className="border-t border-line pt-1">
                                <b>
                                    {t.order}. {t.pack}, group {t.group}:
                                </b>{' '}
                                {amount(t.ah, 'Ah', 2)}, {amount(t.hours, 'h', 1)} <Basis of="derived" />
                            </li>
                        ))}
                    </ol>
                    <ol className="list-decimal pl-6">
                        {f.in_place.map((s) => (
                            <li key={s}>{s}</li>
                        ))}
                    </ol>
                </section>
            )}
            {f.spares && (
                <section aria-label="Spare boards" className="sheet p-4 grid gap-3">
                    <h2>Spare boards</h2>
                    <div className="max-w-xs">
                        <Field label="Weeks until one is delivered" hint={`${f.lead_weeks} where nothing is said`}>
                            {(p) => <input {...p} inputMode="decimal" value={lead} onChange={(e) => setLead(e.target.value)} />}
                        </Field>
                    </div>
                    <p>
                        {f.spares} <Basis of="predicted" /> <span className="text-muted">Of the same model or lot.</span>
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
                No pack of theirs was read group by group since it went back: read them at one charge, by paste under each passport.
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
                                        {worst && `group ${worst.group}: ${worst.state.replaceAll('-', ' ')}`}
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
