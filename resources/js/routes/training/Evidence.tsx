import { VoltsOfSets } from '@/parts/SetsTable';
import { type Act, cameTo, type Round, said } from './training';

const SHOWN = 6;

/** Everything that was measured so far: sets side by side, group by group, and what tests came to. */
export function Evidence({ round }: { round: Round }) {
    const sets = round.sets.slice(-SHOWN);
    const other = round.acts.filter((a) => !['read', 'look', 'wait', 'plug', 'unplug'].includes((a.act as Act).do));
    return (
        <section aria-label="What was measured" className="sheet p-5 grid gap-3 min-w-0">
            <h2>What was measured</h2>
            {sets.length === 0 ? (
                <p className="text-muted">Nothing yet.</p>
            ) : (
                <VoltsOfSets
                    series={round.brief.pack.series}
                    sets={sets.map((m) => ({
                        ...m,
                        said: m.current_a !== 0 ? `${m.current_a} A` : m.plugged ? m.at.slice(5, 16).replace('T', ' ') : 'plug out',
                    }))}
                />
            )}
            {other.length > 0 && (
                <ul className="text-[0.95rem]">
                    {other.map((a, i) => (
                        <li key={i} className="border-b border-line py-1 break-words">
                            {said(a.act as Act)}: <span className="digits">{cameTo(a.result) || 'done'}</span>
                        </li>
                    ))}
                </ul>
            )}
        </section>
    );
}
