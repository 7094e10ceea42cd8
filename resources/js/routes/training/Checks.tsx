import { STATUS } from '@/lib/checks';
import type { Check } from './training';

/** What is proved of a pack, check by check: how it stands, what was found, what is asked for. */
export function Checks({ of }: { of: Check[] }) {
    return (
        <ul>
            {of.map((c) => (
                <li key={c.code} className="border-b border-line py-1.5">
                    <span className={`font-bold ${STATUS[c.status].ink}`}>
                        <span aria-hidden="true">{STATUS[c.status].sign}</span> {c.status}
                    </span>{' '}
                    {c.title}: {c.found}
                    <span className="block text-muted text-sm">asked: {c.limit}</span>
                </li>
            ))}
        </ul>
    );
}
