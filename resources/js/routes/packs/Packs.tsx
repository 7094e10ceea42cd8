import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { ApiError, api, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { day } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';
import { Places } from '@/parts/Places';
import { Sheet } from '@/parts/Sheet';
import { Wall } from './Wall';

const SIGN: Record<string, string> = { holds: '✓', grows: '▲', 'cannot-tell': '○' };

/** Packs over all their jobs: found by code, serial or name; those in service by their next reading, or as marks. */
export function Component() {
    const [params, setParams] = useSearchParams();
    const [importing, setImporting] = useState(false);
    const mayImport = useMay('import');
    const mayWrite = useMay('customers');
    const q = params.get('q') ?? '';
    const customer = params.get('customer') ?? '';
    const glance = params.get('glance') === '1';
    const due = glance || params.get('due') === '1';
    const term = useDeferredValue(q);
    const found = useQuery({
        queryKey: slots.packs(term, String(due), customer),
        queryFn: () =>
            unwrap(
                api.GET('/api/packs', {
                    params: { query: { q: term, ...(due ? { due: '1' } : {}), ...(customer ? { customer } : {}) } },
                }),
            ),
        placeholderData: (before) => before,
    });
    const set = (next: Record<string, string>) => {
        const now = { ...Object.fromEntries(params), ...next };
        setParams(Object.fromEntries(Object.entries(now).filter(([, v]) => v !== '')), { replace: true });
    };
    const rows = found.data?.packs ?? [];
    return (
        <div className="p-5 grid gap-4">
            <div className="flex flex-wrap gap-x-5 gap-y-2 items-center">
                <h1>{customer && rows[0] ? `Packs of ${rows[0].customer}` : 'Packs'}</h1>
                <span className="grow" />
                {customer && (
                    <Button look="quiet" onClick={() => set({ customer: '' })}>
                        Of everybody
                    </Button>
                )}
                {mayWrite && (
                    <Link to="/messages" className="inline-flex items-center min-h-[44px] underline underline-offset-4">
                        Messages to owners
                    </Link>
                )}
                {mayImport && <Button onClick={() => setImporting(true)}>Import a passport</Button>}
            </div>
            {importing && <ImportSheet onClose={() => setImporting(false)} />}
            <div className="flex flex-wrap gap-5 items-end">
                <div className="grow max-w-xl">
                    <Field label="Find" hint="The code on its label, its serial or its name">
                        {(p) => <input {...p} autoFocus value={q} onChange={(e) => set({ q: e.target.value })} />}
                    </Field>
                </div>
                <label className="flex items-center gap-2 min-h-[44px] pb-6">
                    <input type="checkbox" checked={due} disabled={glance} onChange={(e) => set({ due: e.target.checked ? '1' : '' })} />
                    in service, the next reading first
                </label>
                <label className="flex items-center gap-2 min-h-[44px] pb-6">
                    <input type="checkbox" checked={glance} onChange={(e) => set({ glance: e.target.checked ? '1' : '' })} />
                    at a glance
                </label>
            </div>
            {found.isError && <p role="alert">{found.error.message}</p>}
            {found.data && rows.length === 0 && (
                <p className="text-muted">{q || due ? 'No pack is found by that.' : 'None yet: a pack is known from its first job on.'}</p>
            )}
            {glance && rows.length > 0 && <Wall rows={rows} />}
            {!glance && rows.length > 0 && (
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
                                    <td className={`whitespace-nowrap ${p.stopped ? 'text-ember font-bold' : ''}`}>
                                        {p.stopped ? '⬣ Told to stop' : p.words && `${SIGN[p.state]} ${p.words}`}
                                    </td>
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

/** A passport that another workshop wrote: kept whole, with what of it nobody here vouches for. */
function ImportSheet({ onClose }: { onClose: () => void }) {
    const navigate = useNavigate();
    const [customer, setCustomer] = useState('');
    const [passport, setPassport] = useState('');
    const write = useMutation({
        mutationFn: (body: { customer: string; passport: string }) => unwrap(api.POST('/api/packs', { params: { header: key() }, body })),
        onSuccess: (p) => void navigate(`/packs/${p.id}`),
        onError: (e) => {
            if (!(e instanceof ApiError && Object.keys(e.fields).length > 0)) toast.error(e.message);
        },
    });
    const fields = write.error instanceof ApiError ? write.error.fields : {};
    const places = Object.entries(fields).filter(([f]) => f !== 'customer');
    return (
        <Sheet title="Import a passport" onClose={onClose}>
            <form
                className="grid gap-3"
                onSubmit={(e) => {
                    e.preventDefault();
                    // What the form holds now is what is sent.
                    write.mutate({ customer: customer.trim(), passport });
                }}
            >
                <p>
                    What another workshop wrote of a pack. It is kept as it came; what of it nobody here can vouch for is said beside it,
                    and the watch goes on where it stood.
                </p>
                <Field label="Whose it is now" hint="A passport names nobody" error={fields['customer']}>
                    {(p) => <input {...p} required value={customer} onChange={(e) => setCustomer(e.target.value)} />}
                </Field>
                <Field label="File" hint="heartwood.passport, JSON">
                    {(p) => (
                        <input
                            {...p}
                            type="file"
                            accept=".json,application/json"
                            onChange={(e) => void e.target.files?.[0]?.text().then(setPassport)}
                        />
                    )}
                </Field>
                <Places of={places} />
                <div>
                    <Button type="submit" look="main" disabled={write.isPending || passport === '' || customer.trim() === ''}>
                        Import it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
