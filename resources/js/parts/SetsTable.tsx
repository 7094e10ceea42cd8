import type { Job } from '@/api/client';
import { when } from '@/lib/format';
import { Basis } from './basics';

const SHOWN = 5;

export interface SetOfVolts {
    id: string;
    condition: string;
    /** What else tells it from the others: its current, or when it was taken. */
    said: string;
    groups_v: (number | null)[];
    /** At the output; left out where no set has one. */
    output_v?: number | null;
}

/** The sets of this revision side by side. */
export function SetsTable({ job }: { job: Job }) {
    const sets = job.measurements.filter((m) => m.revision === job.revision && m.groups_v.some((v) => v !== null)).slice(-SHOWN);
    if (sets.length < 2) return null;
    return (
        <details>
            <summary className="min-h-[44px] flex items-center underline underline-offset-4">The volts of every set</summary>
            <VoltsOfSets
                series={job.series}
                sets={sets.map((m) => ({
                    id: m.id,
                    condition: m.condition,
                    said: typeof m.data['current_a'] === 'number' && m.data['current_a'] !== 0 ? `${m.data['current_a']} A` : when(m.at),
                    groups_v: m.groups_v,
                }))}
            />
        </details>
    );
}

/** Sets side by side, group by group; what stands out from its set's middle is set in bold. */
export function VoltsOfSets({ sets, series }: { sets: SetOfVolts[]; series: number }) {
    const middle = sets.map((m) => {
        const sorted = m.groups_v.filter((v): v is number => v !== null).sort((a, b) => a - b);
        return sorted[Math.floor(sorted.length / 2)] ?? 0;
    });
    const groups = Array.from({ length: series }, (_, i) => series - i);
    const output = sets.some((m) => m.output_v !== undefined && m.output_v !== null);
    return (
        <>
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
                                    {m.said}
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
                                {sets.map((m, i) => {
                                    const v = m.groups_v[k - 1] ?? null;
                                    const mv = v === null ? 0 : Math.round((v - middle[i]!) * 1000);
                                    return (
                                        <td
                                            key={m.id}
                                            className={`text-right px-3 py-0.5 whitespace-nowrap ${Math.abs(mv) > 20 ? 'font-bold' : ''}`}
                                        >
                                            {v === null ? '--' : v.toFixed(3)}{' '}
                                            <span className="text-muted font-normal">
                                                {v === null || mv === 0 ? '' : `${mv > 0 ? '+' : ''}${mv}`}
                                            </span>
                                        </td>
                                    );
                                })}
                            </tr>
                        ))}
                        {output && (
                            <tr className="border-t-2 border-line">
                                <th scope="row" className="text-left pr-4 font-sans font-normal">
                                    P- to P+
                                </th>
                                {sets.map((m) => (
                                    <td key={m.id} className="text-right px-3 py-0.5">
                                        {m.output_v?.toFixed(2) ?? '--'}
                                    </td>
                                ))}
                            </tr>
                        )}
                    </tbody>
                </table>
            </div>
            <p className="text-muted text-sm">
                Volts, and millivolts from the middle of the set. <Basis of="derived" />
            </p>
        </>
    );
}
