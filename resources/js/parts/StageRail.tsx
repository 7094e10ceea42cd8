import words from '@contract/words.json';
import { type ReactNode, useEffect, useRef } from 'react';
import { NavLink, useLocation } from 'react-router';
import type { Stage } from '@/api/client';

export const STAGES = Object.entries(words.stages).map(([stage, name]) => ({ stage: stage as Stage, name }));

/** Where the pack is on its way; every stage can be looked at again. */
export function StageRail({ job, at, children }: { job: number; at: Stage; children?: ReactNode }) {
    const { pathname } = useLocation();
    const working = /\/(supply|build|runs)(\/|$)/.test(pathname);
    // On a narrow screen the rail is longer than it: where one stands comes into sight.
    const rail = useRef<HTMLDivElement>(null);
    useEffect(() => {
        const here = rail.current?.querySelector<HTMLElement>('[aria-current]');
        if (rail.current && here) rail.current.scrollLeft = here.offsetLeft - rail.current.clientWidth / 3;
    }, [pathname]);
    const reached = STAGES.findIndex((s) => s.stage === at);
    return (
        <div className="no-print flex md:flex-wrap items-center border-b border-line max-md:overflow-x-auto relative" ref={rail}>
            <nav aria-label="Stages" className="grow">
                <ol className="flex md:flex-wrap">
                    {STAGES.map((s, i) => (
                        <li key={s.stage} className="grow">
                            <NavLink
                                to={`/jobs/${job}/${s.stage}`}
                                className={({ isActive }) =>
                                    [
                                        'flex items-center justify-center gap-2 min-h-[44px] px-2 no-underline',
                                        'border-b-4 whitespace-nowrap',
                                        isActive || (working && s.stage === 'work')
                                            ? 'border-bark font-bold bg-knot'
                                            : 'border-transparent hover:bg-knot',
                                        i > reached ? 'text-muted' : '',
                                    ].join(' ')
                                }
                            >
                                <span aria-hidden="true" className="text-sm">
                                    {i < reached ? '◉' : i === reached ? '◎' : '○'}
                                </span>
                                {s.name}
                                {i === reached && <span className="sr-only">(the pack is here)</span>}
                            </NavLink>
                        </li>
                    ))}
                </ol>
            </nav>
            {children}
        </div>
    );
}
