import { Link } from 'react-router';
import type { components } from '@/api/schema';
import { day, when } from '@/lib/format';

type Visit = components['schemas']['Visit'];
const NTH = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth'];

/** "third": how many times a pack is here, this one counted. */
export const visit = (others: number) => NTH[others] ?? `${others + 1}th`;

/** A pack that was here before: when, and what was found then. */
export function KnownPack({ visits, children }: { visits: Visit[]; children?: React.ReactNode }) {
    if (visits.length === 0) return null;
    return (
        <section aria-label="Known pack" className="border-l-4 border-water bg-panel px-4 py-2 grid gap-1">
            <p>
                <b>Known pack, {visit(visits.length)} visit.</b> {children}
            </p>
            <ul>
                {visits.map((v) => (
                    <li key={v.id}>
                        <Link to={`/jobs/${v.id}`} className="underline underline-offset-4">
                            Job {v.number}
                        </Link>{' '}
                        <span className="text-muted">
                            {v.name}, {when(v.opened_at)}, {v.status === 'open' ? 'still open' : v.status}
                            {v.found && `: ${v.found}`}
                            {v.cause && `; had come back: ${v.cause}`}
                            {v.promise_until && <b>; promised until {day(v.promise_until)}</b>}
                        </span>
                    </li>
                ))}
            </ul>
        </section>
    );
}
