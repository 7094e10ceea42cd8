import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, unwrap } from '@/api/client';
import { slots } from '@/lib/slots';
import { symptoms } from '@/lib/format';
import { Button, Go } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { cameTo, factsOf } from './training';

const LINES = [
    'Which test next, and why?',
    'What is it, and where? How sure, in per cent?',
    'What is to be done? What does the customer get?',
];

/** A round on one sheet: what is known in front; what was done next and what it was folded away below, upside down. */
export function Component() {
    const level = Number(useSearchParams()[0].get('level')) || null;
    const query = useQuery({
        queryKey: slots.training('paper', level),
        queryFn: () => unwrap(api.POST('/api/training/paper', { body: { level } })),
        staleTime: Infinity,
    });
    const [open, setOpen] = useState(false);
    const d = query.data;
    if (!d) return <QueryState of={query} what="Drawing a round ..." />;
    const pack = d.brief.pack;
    const middle = d.groups_v.filter((v): v is number => v !== null);
    return (
        <div className="p-5 grid gap-4">
            <div className="no-print flex flex-wrap gap-3 items-center">
                <Button look="main" onClick={() => window.print()}>
                    Print
                </Button>
                <Button onClick={() => void query.refetch()} disabled={query.isFetching}>
                    Another one
                </Button>
                <Go to="/training" look="quiet">
                    Back
                </Go>
                <p className="text-muted">Fold along the line, so that the answers lie behind.</p>
            </div>
            <article className="sheet p-6 max-w-[48rem] grid gap-3 bg-panel" aria-label="The round">
                <h1>
                    {pack.name} <span className="font-normal text-base text-muted">training on paper, level {d.level}</span>
                </h1>
                <p className="text-lg">&ldquo;{d.brief.says}&rdquo;</p>
                <p>
                    {pack.series} groups of {pack.parallel}, {pack.chemistry}.{' '}
                    {factsOf(pack)
                        .map(([name, v, unit]) => `${name} ${v} ${unit}`)
                        .join('; ')}
                    .{d.brief.symptoms.length > 0 && ` Written down as: ${d.brief.symptoms.map((s) => symptoms[s] ?? s).join(', ')}.`}
                </p>
                <p>
                    <b>The look at it:</b>{' '}
                    {d.seen.length === 0 ? 'nothing that should not be there.' : d.seen.map((s) => s.replaceAll('_', ' ')).join(', ') + '.'}
                </p>
                <div>
                    <h2 className="!text-base">Read at rest, by a careful hand</h2>
                    <ul className="digits columns-3 sm:columns-4 text-[0.95rem]">
                        {d.readings.map((r, i) => (
                            <li key={i}>
                                {r.from} {r.to} <b>{r.v}</b>
                            </li>
                        ))}
                    </ul>
                    {middle.length === 0 && <p>No group could be read.</p>}
                </div>
                {LINES.map((l) => (
                    <div key={l} className="border-b border-muted min-h-[3.4rem]">
                        {l}
                    </div>
                ))}
                <p className="border-t-2 border-dashed border-muted text-center text-muted text-sm pt-1">fold here</p>
                <Button look="quiet" className="no-print justify-self-start" aria-expanded={open} onClick={() => setOpen(!open)}>
                    {open ? 'Fold the answers away' : 'Unfold the answers'}
                </Button>
                <div className={open ? '' : 'hidden print:block'}>
                    <div className="print:rotate-180 grid gap-2 text-[0.95rem]" data-testid="answers">
                        <p>
                            <b>{d.answers[0]}</b>
                        </p>
                        {d.next.length > 0 && (
                            <ul>
                                {d.next.map((n, i) => (
                                    <li key={i}>
                                        {n.test}: <span className="digits">{cameTo(n.result) || 'done'}</span>
                                    </li>
                                ))}
                            </ul>
                        )}
                        <ul>
                            {d.answers.slice(1).map((a, i) => (
                                <li key={i}>{a}</li>
                            ))}
                        </ul>
                    </div>
                </div>
            </article>
        </div>
    );
}
