import { Fragment } from 'react';
import type { Job } from '@/api/client';
import { count, when } from '@/lib/format';
import { Aside } from './basics';

type Line = Job['line'];
type Kind = Line['sittings'][number]['marks'][number]['kind'];

const SIGN: Record<Kind, string> = {
    in: '┣',
    set: '●',
    test: '◇',
    verdict: '◎',
    decision: '◆',
    run: '▬',
    step: '▲',
    proof: '✓',
    out: '┫',
};

/** A length of time in the unit that says something. */
export function lasting(hours: number): string {
    const minutes = Math.round(hours * 60);
    if (minutes < 90) return `${minutes} min`;
    if (hours < 48) return `${hours < 10 ? hours.toFixed(1).replace(/\.0$/, '') : Math.round(hours)} h`;
    return `${Math.round(hours / 24)} days`;
}

/** Longer waits and runs are longer, but not in proportion: a week would leave no room for the hour that mattered. */
const long = (hours: number) => `${Math.round(28 + 22 * Math.log2(1 + Math.max(0, hours)))}px`;

/** The job as a line of time: what was done in each sitting, and how long it lay between them. */
export function JobLine({ line, zone }: { line: Line; zone?: string }) {
    if (line.sittings.length === 0) return null;
    return (
        <ol aria-label="The job as a line of time" className="flex flex-wrap items-stretch gap-y-4">
            {line.earlier > 0 && <li className="self-center pr-2 text-muted">{count(line.earlier, 'sitting')} before</li>}
            {line.sittings.map((s) => (
                <Fragment key={s.from}>
                    {s.wait_h > 0 && <Wait hours={s.wait_h} />}
                    <li className="border-t-4 border-bark pt-1 pr-3 grid content-start">
                        <span className="text-muted text-sm whitespace-nowrap">{when(s.from, zone)}</span>
                        <ul>
                            {s.marks.map((m, i) => (
                                <li key={i} className="leading-snug">
                                    <span aria-hidden="true" className="inline-block w-5 text-bark">
                                        {SIGN[m.kind]}
                                    </span>
                                    {m.more === '' ? m.text : <Aside sign={m.text}>{m.more}</Aside>}
                                    {m.kind === 'run' && m.hours > 0 && (
                                        <>
                                            {' '}
                                            <span
                                                aria-hidden="true"
                                                className="inline-block h-1.5 bg-bark align-middle max-w-32"
                                                style={{ width: long(m.hours) }}
                                            />{' '}
                                            <span className="text-muted">{lasting(m.hours)}</span>
                                        </>
                                    )}
                                </li>
                            ))}
                        </ul>
                    </li>
                </Fragment>
            ))}
            {line.open_h >= 0.5 && <Wait hours={line.open_h} open />}
        </ol>
    );
}

function Wait({ hours, open = false }: { hours: number; open?: boolean }) {
    return (
        <li
            className="border-t-4 border-dotted border-muted pt-1 pr-2 text-muted text-sm whitespace-nowrap"
            style={{ minWidth: long(hours) }}
        >
            {open ? `since then ${lasting(hours)}` : `waits ${lasting(hours)}`}
        </li>
    );
}
