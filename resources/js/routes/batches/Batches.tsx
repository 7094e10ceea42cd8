import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, unwrap } from '@/api/client';
import { day } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';

/** Batches of packs, the latest first. */
export function Component() {
    const all = useQuery({ queryKey: slots.batches(), queryFn: () => unwrap(api.GET('/api/batches')) });
    if (!all.data) return <QueryState of={all} what="Looking which batches are here ..." />;
    return (
        <div className="p-5 grid gap-4 max-w-4xl">
            <div className="flex flex-wrap gap-3 items-center">
                <h1 className="grow">Batches</h1>
                <Go to="/batches/new" look="main">
                    Take a batch in
                </Go>
            </div>
            {all.data.batches.length === 0 ? (
                <p className="text-muted">
                    None yet. Many packs of one kind come in by one form and one list, and are read against one another.
                </p>
            ) : (
                <table>
                    <thead>
                        <tr className="text-left">
                            <th scope="col">Batch</th>
                            <th scope="col">Customer</th>
                            <th scope="col" className="text-right">
                                Open
                            </th>
                            <th scope="col" className="text-right">
                                Packs
                            </th>
                            <th scope="col">Came</th>
                        </tr>
                    </thead>
                    <tbody>
                        {all.data.batches.map((b) => (
                            <tr key={b.id} className="border-t border-line">
                                <td>
                                    <Link
                                        to={`/batches/${b.id}`}
                                        className="inline-flex items-center min-h-[44px] font-bold underline underline-offset-4"
                                    >
                                        {b.name}
                                    </Link>
                                </td>
                                <td>{b.customer}</td>
                                <td className="text-right digits">{b.open}</td>
                                <td className="text-right digits">{b.packs}</td>
                                <td>{day(b.opened_at)}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            )}
        </div>
    );
}
