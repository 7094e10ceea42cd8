import { bandVolts } from './volts';
import { type Act, cameTo, type Round, said } from './training';

const SHOWN = 6;

/** Everything that was measured so far: sets side by side, group by group, and what tests came to. */
export function Evidence({ round }: { round: Round }) {
    const sets = round.record.measurements.filter((m) => m.readings.length > 0).slice(-SHOWN);
    const groups = Array.from({ length: round.brief.pack.series }, (_, i) => round.brief.pack.series - i);
    const volts = sets.map((m) => bandVolts(m.readings, round.brief.pack.series));
    const other = round.acts.filter((a) => !['read', 'look', 'wait', 'plug', 'unplug'].includes((a.act as Act).do));
    return (
        <section aria-label="What was measured" className="sheet p-5 grid gap-3 min-w-0">
            <h2>What was measured</h2>
            {sets.length === 0 ? (
                <p className="text-muted">Nothing yet.</p>
            ) : (
                <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="The volts of every set">
                    <table className="digits text-[0.95rem]">
                        <thead>
                            <tr className="align-bottom">
                                <th scope="col" className="text-left pr-4 font-sans">
                                    Group
                                </th>
                                {sets.map((m) => (
                                    <th key={m.id} scope="col" className="text-right px-3 font-sans font-normal">
                                        <b>{m.condition}</b>
                                        <br />
                                        {m.current_a
                                            ? `${m.current_a} A`
                                            : m['sense_connected'] === false
                                              ? 'plug out'
                                              : m.at.slice(5, 16).replace('T', ' ')}
                                    </th>
                                ))}
                            </tr>
                        </thead>
                        <tbody>
                            {groups.map((k) => (
                                <tr key={k} className="border-t border-line">
                                    <th scope="row" className="text-left pr-4">
                                        {k}
                                    </th>
                                    {sets.map((m, i) => (
                                        <td key={m.id} className="text-right px-3 py-0.5">
                                            {volts[i]![k - 1]?.toFixed(3) ?? '--'}
                                        </td>
                                    ))}
                                </tr>
                            ))}
                            <tr className="border-t-2 border-line">
                                <th scope="row" className="text-left pr-4 font-sans font-normal">
                                    P- to P+
                                </th>
                                {sets.map((m) => (
                                    <td key={m.id} className="text-right px-3 py-0.5">
                                        {m.readings.find((r) => r.to === 'P+')?.v.toFixed(2) ?? '--'}
                                    </td>
                                ))}
                            </tr>
                        </tbody>
                    </table>
                </div>
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
