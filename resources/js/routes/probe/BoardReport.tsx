import { useMutation } from '@tanstack/react-query';
import { useState, memo } from 'react';
import { toast } from 'sonner';
import { api, type Job, unwrap } from '@/api/client';
import { useKeep, usePerson } from '@/lib/bench';
import { useInstruments } from '@/lib/instruments';
import { fieldErrors } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { Registers } from './Registers';
import { boardSet } from './set';

/**
 * What the board says of its groups: read over its line, or pasted as its reader gives it. How it was understood is shown
 * before it is kept, and it is kept beside the meter's readings, never in their place.
 */
export const BoardReport = memo(function BoardReport({ job, ask = false }: { job: Job; ask?: boolean }) {
    const [open, setOpen] = useState<'report' | 'registers' | null>(ask ? 'report' : null);
    return (
        <>
            <Button look="quiet" onClick={() => setOpen('report')}>
                Enter the board&apos;s report
            </Button>
            {job.kind === 'laptop' && (
                <Button look="quiet" onClick={() => setOpen('registers')}>
                    Enter a register dump
                </Button>
            )}
            {open === 'registers' && <Registers job={job} onClose={() => setOpen(null)} />}
            {open === 'report' && <Report job={job} onClose={() => setOpen(null)} />}
        </>
    );
});

function Report({ job, onClose }: { job: Job; onClose: () => void }) {
    const write = useKeep();
    // What was pasted stays here until it is kept: the server that reads it may be away.
    const [text, setText, clear] = useDraft(`board.${job.id}.${usePerson().id}`, '');
    const boards = (useInstruments().data?.instruments ?? []).filter((i) => i.kind === 'board' && i.checked_at);
    const read = useMutation({
        mutationFn: (from: { text?: string; instrument_id?: number }) =>
            unwrap(api.POST('/api/jobs/{job}/board-report', { params: { path: { job: job.id } }, body: from })),
    });
    const report = read.data;
    const whole = report?.groups.every((v) => v !== null);
    const keep = async () => {
        if (!report) return;
        const kept = await write(
            ...boardSet(job.id, report.groups, {
                condition: Math.abs(report.current_a ?? 0) < 0.05 ? 'rest' : report.current_a! > 0 ? 'charge' : 'discharge',
                ...(report.current_a !== null ? { current_a: report.current_a } : {}),
                flags: report.flags,
                instrument: { id: 'board', percent: 0.5, counts: 1, resolution_v: 0.001 },
            }),
        );
        if (!kept) return;
        toast.success('Kept.');
        clear();
        onClose();
    };
    return (
        <Sheet title="The board's report" onClose={onClose}>
            {boards.length > 0 && (
                <div className="flex flex-wrap gap-2">
                    {boards.map((b) => (
                        <Button key={b.id} disabled={read.isPending} onClick={() => read.mutate({ instrument_id: b.id })}>
                            Ask {b.name}
                        </Button>
                    ))}
                </div>
            )}
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    read.mutate({ text });
                }}
            >
                <Field
                    label={`Or as its reader gives it: ${job.series} groups from B-`}
                    hint="A column, a table, or lines such as: group 3 3.712 V"
                    error={read.error ? (fieldErrors(read.error)['text'] ?? read.error.message) : undefined}
                >
                    {(p) => <textarea {...p} rows={7} className="digits" value={text} onChange={(e) => setText(e.target.value)} />}
                </Field>
                <div>
                    <Button type="submit" look={report ? 'plain' : 'main'} disabled={text.trim() === '' || read.isPending}>
                        Read it
                    </Button>
                </div>
            </form>
            {report && (
                <div className="grid gap-3" role="status">
                    <p className="digits">
                        {report.groups.map((v, i) => (
                            <span key={i} className="inline-block mr-4">
                                <span className="text-muted">{i + 1}</span> {v === null ? 'missing' : v.toFixed(3)}
                            </span>
                        ))}
                    </p>
                    {[
                        ...report.notes,
                        ...(report.flags.length > 0 ? [`flags: ${report.flags.join(', ')}`] : []),
                        ...(report.temperatures.length > 0 ? [`${report.temperatures.join(', ')} degC`] : []),
                    ].map((n) => (
                        <p key={n} className="text-muted">
                            {n}
                        </p>
                    ))}
                    <div>
                        <Button look="main" disabled={!whole} onClick={() => void keep()}>
                            Keep it
                        </Button>
                        {!whole && <span className="ml-3">Every group must be there.</span>}
                    </div>
                </div>
            )}
        </Sheet>
    );
}
