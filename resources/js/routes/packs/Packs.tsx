import { useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, unwrap } from '@/api/client';
import { day } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Field } from '@/parts/basics';

const SIGN: Record<string, string> = { holds: '✓', grows: '▲', 'cannot-tell': '○' };

/** Packs over all their jobs: found by the code on their label, by serial or by name; those that are due to be read first on request. */
export function Component() {
    const [params, setParams] = useSearchParams();
    const q = params.get('q') ?? '';
    const due = params.get('due') === '1';
    const term = useDeferredValue(q);
    const found = useQuery({
        queryKey: slots.packs(term, String(due)),
        queryFn: () => unwrap(api.GET('/api/packs', { params: { query: { q: term, ...(due ? { due: '1' } : {}) } } })),
        placeholderData: (before) => before,
    });
    const set = (next: { q?: string; due?: boolean }) => {
        const now = { q, due, ...next };
        setParams({ ...(now.q ? { q: now.q } : {}), ...(now.due ? { due: '1' } : {}) }, { replace: true });
    };
    const rows = found.data?.packs ?? [];
    return (
        <div className="p-5 grid gap-4">
            <h1>Packs</h1>
            <div className="flex flex-wrap gap-5 items-end">
                <div className="grow max-w-xl">
                    <Field label="Find" hint="The code on its label, its serial or its name">
                        {(p) => <input {...p} autoFocus value={q} onChange={(e) => set({ q: e.target.value })} />}
                    </Field>
                </div>
                <label className="flex items-center gap-2 min-h-[44px] pb-6">
                    <input type="checkbox" checked={due} onChange={(e) => set({ due: e.target.checked })} />
                    in service, the next reading first
                </label>
            </div>
            {found.isError && <p role="alert">{found.error.message}</p>}
            {found.data && rows.length === 0 && (
                <p className="text-muted">{q || due ? 'No pack is found by that.' : 'None yet: a pack is known from its first job on.'}</p>
            )}
            {rows.length > 0 && (
                <div className="overflow-x-auto">
                    <table className="[&_td]:pr-6 [&_th]:pr-6 [&_th]:whitespace-nowrap">
                        <thead>
                            <tr className="text-left">
                                <th scope="col">Pack</th>
                                <th scope="col">Code</th>
                                <th scope="col">Serial</th>
                                <th scope="col">Whose</th>
                                <th scope="col">Since it went back</th>
                                <th scope="col">Next reading</th>
                            </tr>
                        </thead>
                        <tbody>
                            {rows.map((p) => (
                                <tr key={p.id} className="border-t border-line">
                                    <td>
                                        <Link
                                            to={`/packs/${p.id}`}
                                            className="inline-flex items-center min-h-[44px] font-bold underline underline-offset-4"
                                        >
                                            {p.name}
                                        </Link>
                                    </td>
                                    <td className="digits whitespace-nowrap">{p.code}</td>
                                    <td>{p.serial}</td>
                                    <td>{p.customer}</td>
                                    <td className="whitespace-nowrap">{p.words && `${SIGN[p.state]} ${p.words}`}</td>
                                    <td className={`whitespace-nowrap ${p.due ? 'text-amber font-bold' : ''}`}>
                                        {p.next_at && `${p.due ? 'due since ' : ''}${day(p.next_at)}`}
                                    </td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                </div>
            )}
            {found.data?.more && <p className="text-muted">There are more: say more of its code, serial or name.</p>}
        </div>
    );
}
