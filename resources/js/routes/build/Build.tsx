import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useOutletContext, useSearchParams } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { Waiting } from '@/parts/basics';
import { Budget } from './Budget';
import { Checks } from './Checks';
import { Match } from './Match';
import { Pins } from './Pins';
import { SheetView } from './SheetView';

export type BuildData = components['schemas']['Build'];

const TABS = [
    ['match', 'Deal the cells'],
    ['budget', 'Current budget'],
    ['sheet', 'Build sheet'],
    ['pins', 'Pin check'],
    ['checks', 'Joining, another board'],
] as const;

export function Component() {
    const job = useOutletContext<Job>();
    const [params, setParams] = useSearchParams();
    const queries = useQueryClient();
    const tab = TABS.find(([t]) => t === params.get('do'))?.[0] ?? 'match';
    const slot = ['build', job.id, job.measurements.length];
    const build = useQuery({ queryKey: slot, queryFn: () => unwrap(api.GET('/api/jobs/{job}/build', { params: { path: { job: job.id } } })) });
    if (!build.data) return <Waiting what="Working it out ..." />;
    const keep = async (kind: 'budget' | 'layout', data: Record<string, unknown>) => {
        const answer = await unwrap(api.POST('/api/jobs/{job}/sheets/{kind}', { params: { path: { job: job.id, kind }, header: key() }, body: { data } }));
        queries.setQueryData(slot, answer);
    };
    return (
        <div className="p-5 grid gap-4">
            <nav aria-label="Build" className="no-print flex flex-wrap gap-2">
                {TABS.map(([t, name]) => (
                    <button
                        key={t}
                        type="button"
                        aria-current={t === tab ? 'page' : undefined}
                        className={`min-h-[44px] px-4 border-b-4 ${t === tab ? 'border-bark font-bold bg-knot' : 'border-transparent hover:bg-knot'}`}
                        onClick={() => setParams({ do: t }, { replace: true })}
                    >
                        {name}
                    </button>
                ))}
            </nav>
            {tab === 'match' && <Match job={job} />}
            {tab === 'budget' && <Budget data={build.data} keep={(d) => keep('budget', d)} />}
            {tab === 'sheet' && <SheetView job={job} data={build.data} keep={(d) => keep('layout', d)} />}
            {tab === 'checks' && <Checks job={job} />}
            {tab === 'pins' && <Pins job={job} data={build.data} />}
        </div>
    );
}
