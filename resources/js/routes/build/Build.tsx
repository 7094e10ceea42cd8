import { before, slots } from '@/lib/slots';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { QueryState } from '@/parts/QueryState';
import { Beside } from '@/parts/Beside';
import { Tabs, useTab } from '@/parts/Tabs';
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
    const queries = useQueryClient();
    const tab = useTab(TABS);
    const slot = slots.build(job.id, job.measurements.length);
    const build = useQuery({
        queryKey: slot,
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/build', { params: { path: { job: job.id } } })),
        placeholderData: before(job.id),
    });
    if (!build.data) return <QueryState of={build} what="Working it out ..." />;
    const keep = async (kind: 'budget' | 'layout', data: Record<string, unknown>) => {
        const answer = await unwrap(
            api.POST('/api/jobs/{job}/sheets/{kind}', { params: { path: { job: job.id, kind }, header: key() }, body: { data } }),
        );
        queries.setQueryData(slot, answer);
    };
    return (
        <Beside job={job} stage="work" narrow>
            <Tabs label="Build" tabs={TABS} at={tab} />
            {tab === 'match' && <Match job={job} />}
            {tab === 'budget' && <Budget job={job.id} data={build.data} keep={(d) => keep('budget', d)} />}
            {tab === 'sheet' && <SheetView job={job} data={build.data} keep={(d) => keep('layout', d)} />}
            {tab === 'checks' && <Checks job={job} gauge={build.data.gauge} />}
            {tab === 'pins' && <Pins job={job} data={build.data} />}
        </Beside>
    );
}
