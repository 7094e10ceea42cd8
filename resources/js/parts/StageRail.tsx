import { NavLink, useLocation } from 'react-router';
import type { Stage } from '@/api/client';

export const STAGES: { stage: Stage; name: string }[] = [
    { stage: 'intake', name: 'Intake' },
    { stage: 'probe', name: 'Probe' },
    { stage: 'verdict', name: 'Verdict' },
    { stage: 'plan', name: 'Plan' },
    { stage: 'work', name: 'Work' },
    { stage: 'proof', name: 'Proof' },
    { stage: 'report', name: 'Report' },
];

/** Where the pack is on its way; every stage can be looked at again. */
export function StageRail({ job, at }: { job: number; at: Stage }) {
    const { pathname } = useLocation();
    const working = /\/(supply|build|runs)(\/|$)/.test(pathname);
    const reached = STAGES.findIndex((s) => s.stage === at);
    return (
        <nav aria-label="Stages" className="no-print">
            <ol className="flex flex-wrap border-b border-line">
                {STAGES.map((s, i) => (
                    <li key={s.stage} className="grow">
                        <NavLink
                            to={`/jobs/${job}/${s.stage}`}
                            className={({ isActive }) =>
                                `flex items-center justify-center gap-2 min-h-[46px] px-2 no-underline border-b-4 ${isActive || (working && s.stage === 'work') ? 'border-bark font-bold bg-knot' : 'border-transparent hover:bg-knot'} ${i > reached ? 'text-muted' : ''}`
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
    );
}
