import type { ReactNode } from 'react';
import type { Job, Stage } from '@/api/client';
import { bandsAtWork, bandsOf } from '@/lib/bands';
import { Cautions } from './basics';
import { CoreSample } from './CoreSample';

/** What is done to a pack, with the pack and the cautions of the stage beside it; on a small screen what is done comes first. */
export function Beside({ job, stage, narrow = false, children }: { job: Job; stage: Stage; narrow?: boolean; children: ReactNode }) {
    const width = narrow ? 212 : 236;
    return (
        <div className={`p-4 grid gap-5 items-start ${narrow ? 'lg:grid-cols-[212px_1fr]' : 'lg:grid-cols-[236px_1fr]'}`}>
            <aside aria-label="The pack" className="grid gap-3 max-lg:order-2 max-lg:grid-cols-[auto_1fr] lg:sticky lg:top-3">
                <CoreSample bands={stage === 'work' ? bandsAtWork(job) : bandsOf(job)} height={430} width={width} />
                <Cautions lines={job.cautions[stage] ?? []} />
            </aside>
            <div className="grid gap-4 min-w-0">{children}</div>
        </div>
    );
}
