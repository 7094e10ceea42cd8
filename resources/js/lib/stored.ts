import type { Job, Measurement } from '@/api/client';
import type { Entry } from './outbox';

/** The job as it is once the server has stored these entries, so that nothing blinks until it is fetched again. */
export function withStored(job: Job, entries: Entry[], by: string): Job {
    let measurements = job.measurements;
    for (const e of entries) {
        if (e.job_id !== job.id) continue;
        if (e.kind === 'measurement' && !measurements.some((m) => m.id === e.id)) {
            const { condition, ...data } = e.data;
            measurements = [
                ...measurements,
                {
                    id: e.id,
                    condition: condition as Measurement['condition'],
                    revision: job.revision,
                    at: e.at,
                    by,
                    data,
                    groups_v: [],
                    groups_sigma_v: [],
                    readings: [],
                },
            ];
        }
        if (e.kind === 'reading') {
            const { from, to, typed, corrects_id } = e.data as { from: string; to: string; typed: string; corrects_id?: string };
            measurements = measurements.map((m) => {
                if (m.id !== e.data['measurement_id']) return m;
                const kept = m.readings.filter((r) => r.id !== corrects_id && r.id !== e.id);
                return {
                    ...m,
                    readings:
                        typed === ''
                            ? kept
                            : [...kept, { id: e.id, from, to, typed, v: null, corrects_id: corrects_id ?? null, by, at: e.at }],
                };
            });
        }
    }
    return measurements === job.measurements ? job : { ...job, measurements };
}
