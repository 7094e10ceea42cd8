import { useState } from 'react';
import { api, type Job, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { when } from '@/lib/format';
import { fieldErrors, useJobWrite } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { Word } from '@/parts/Word';

const WAYS = {
    quarantine: [
        ['scrapped', 'Scrapped: to the recycler by the local rules'],
        ['cell-removed', 'The cell was removed outdoors or in a fire-safe place, after 24 h observed cold'],
        ['mistake', 'It was entered by mistake'],
    ],
    hold: [
        ['released', 'Released after 24 h watched'],
        ['mistake', 'It was entered by mistake'],
        ['scrapped', 'Scrapped'],
    ],
} as const;

export function SafetyBanner({ job }: { job: Job }) {
    const [leaving, setLeaving] = useState(false);
    const may = useMay('release');
    // A job that this bench remembers from before may not say them.
    const rules = job.rules ?? [];
    if (job.safety_state === 'clear') {
        return rules.length > 0 ? (
            <p className="mx-5 mt-3 border-l-4 border-amber bg-knot px-4 py-2">
                {rules.map((r) => `${r[0]?.toUpperCase()}${r.slice(1)}.`).join(' ')}
            </p>
        ) : null;
    }
    const quarantine = job.safety_state === 'quarantine';
    return (
        <div role="alert" className="mx-5 mt-3 border-[3px] border-ember rounded bg-panel px-4 py-3 flex flex-wrap gap-3 items-center">
            <p className="grow">
                <b className="text-ember text-xl">
                    {quarantine ? (
                        <>
                            ⬣ <Word of="quarantine">Quarantine</Word>
                        </>
                    ) : (
                        '◼ On hold'
                    )}
                </b>{' '}
                {job.safety_reasons.join('; ')}.{' '}
                {quarantine
                    ? 'Outside or in the fire-safe box, away from people. No opening, no charge, no discharge.'
                    : 'Watch it for 24 hours, then a senior decides. No load, charge, recovery, balancing or sign-off.'}
                {job.held_since && <span className="text-muted"> Since {when(job.held_since)}.</span>} Readings and notes are always kept.
            </p>
            {job.status === 'open' &&
                (may ? (
                    <Button look="stop" onClick={() => setLeaving(true)}>
                        Ways out
                    </Button>
                ) : (
                    <span className="text-muted">A senior or the owner decides.</span>
                ))}
            {leaving && <Leave job={job} onClose={() => setLeaving(false)} />}
        </div>
    );
}

function Leave({ job, onClose }: { job: Job; onClose: () => void }) {
    const ways = WAYS[job.safety_state === 'quarantine' ? 'quarantine' : 'hold'];
    const [way, setWay] = useState<string>(ways[0][0]);
    const [reason, setReason] = useState('');
    const write = useJobWrite(
        () =>
            unwrap(
                api.POST('/api/jobs/{job}/safety', {
                    params: { path: { job: job.id }, header: key() },
                    body: { way: way as 'mistake', reason },
                }),
            ),
        onClose,
    );
    return (
        <Sheet title={job.safety_state === 'quarantine' ? 'How does it leave quarantine?' : 'How does the hold end?'} onClose={onClose}>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    write.mutate(undefined);
                }}
            >
                <div className="grid">
                    {ways.map(([value, text]) => (
                        <label key={value} className="flex items-center gap-3 min-h-[44px]">
                            <input type="radio" name="way" checked={way === value} onChange={() => setWay(value)} /> {text}
                        </label>
                    ))}
                </div>
                <Field label="Reason, in words; it stays on the report" error={fieldErrors(write.error)['reason']}>
                    {(p) => <textarea {...p} required value={reason} onChange={(e) => setReason(e.target.value)} />}
                </Field>
                <div>
                    <Button type="submit" look="stop" disabled={write.isPending}>
                        Record it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
