import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { day } from '@/lib/format';
import { Button, Field } from '@/parts/basics';

/** Customers: found by name, by number, by anything that was written down of them. */
export function Component() {
    const [params, setParams] = useSearchParams();
    const q = params.get('q') ?? '';
    const term = useDeferredValue(q);
    const found = useQuery({
        queryKey: slots.customers(term),
        queryFn: () => unwrap(api.GET('/api/customers', { params: { query: { q: term } } })),
        placeholderData: (before) => before,
    });
    const rows = found.data?.customers ?? [];
    const may = useMay('customers');
    const queries = useQueryClient();
    const navigate = useNavigate();
    const add = useMutation({
        mutationFn: () => unwrap(api.POST('/api/customers', { params: { header: key() }, body: { name: q.trim() } })),
        onSuccess: (c) => {
            void queries.invalidateQueries({ queryKey: slots.customers() });
            void queries.invalidateQueries({ queryKey: slots.lookups() });
            void navigate(`/customers/${c.id}`);
        },
        onError: (e) => toast.error(e.message),
    });
    return (
        <div className="p-5 grid gap-4">
            <h1>Customers</h1>
            <div className="max-w-xl">
                <Field label="Find" hint="Name, telephone, e-mail or street; digits of a number in any order of blanks">
                    {(p) => (
                        <input
                            {...p}
                            autoFocus
                            value={q}
                            onChange={(e) => setParams(e.target.value ? { q: e.target.value } : {}, { replace: true })}
                        />
                    )}
                </Field>
            </div>
            {found.isError && <p role="alert">{found.error.message}</p>}
            {found.data && rows.length === 0 && (
                <p className="text-muted">
                    {q ? 'Nobody is found by that.' : 'None yet: a customer comes in with the first pack, or is written down by name.'}
                </p>
            )}
            {may && q.trim() !== '' && found.data && !rows.some((c) => c.name.toLowerCase() === q.trim().toLowerCase()) && (
                <div>
                    <Button disabled={add.isPending} onClick={() => add.mutate()}>
                        Write down {q.trim()} as somebody new
                    </Button>
                </div>
            )}
            {rows.length > 0 && (
                <div className="overflow-x-auto">
                    <table>
                        <thead>
                            <tr className="text-left">
                                <th scope="col">Name</th>
                                <th scope="col">Telephone</th>
                                <th scope="col">E-mail, or how else</th>
                                <th scope="col" className="text-right">
                                    Packs here
                                </th>
                                <th scope="col" className="text-right">
                                    In all
                                </th>
                                <th scope="col">Last came</th>
                            </tr>
                        </thead>
                        <tbody>
                            {rows.map((c) => (
                                <tr key={c.id} className="border-t border-line">
                                    <td>
                                        <Link
                                            to={`/customers/${c.id}`}
                                            className="inline-flex items-center min-h-[44px] font-bold underline underline-offset-4"
                                        >
                                            {c.name}
                                        </Link>
                                    </td>
                                    <td className="digits">{c.phone}</td>
                                    <td>{c.email || c.contact}</td>
                                    <td className="text-right digits">{c.open}</td>
                                    <td className="text-right digits">{c.jobs}</td>
                                    <td>{c.last_at ? day(c.last_at) : ''}</td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                </div>
            )}
            {found.data?.more && <p className="text-muted">There are more: type a little more of the name.</p>}
        </div>
    );
}
