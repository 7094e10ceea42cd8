import { useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { useOutbox } from '@/lib/bench';
import { pastedNumbers } from '@/lib/order';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { newId } from './set';

/** What the board says of its groups, pasted from its reader: kept beside the meter's readings, never in their place. */
export function BoardReport({ job }: { job: Job }) {
    const outbox = useOutbox();
    const [open, setOpen] = useState(false);
    const [text, setText] = useState('');
    const numbers = pastedNumbers(text.replace(/[ ,]+(?=\d+[.,])/g, '\n'));
    const keep = async () => {
        if (!outbox) return;
        const set = newId();
        await outbox.add(
            'measurement',
            job.id,
            { condition: 'rest', source: 'bms-report', instrument: { id: 'board', percent: 0.5, counts: 1, resolution_v: 0.001 } },
            set,
        );
        for (const [i, typed] of numbers.slice(0, job.series).entries())
            await outbox.add('reading', job.id, { measurement_id: set, from: `T${i}`, to: `T${i + 1}`, typed });
        toast.success('Kept.');
        setOpen(false);
        setText('');
    };
    return (
        <>
            <Button look="quiet" onClick={() => setOpen(true)}>
                Enter the board&apos;s report
            </Button>
            {open && (
                <Sheet title="The board's report" onClose={() => setOpen(false)}>
                    <form
                        className="grid gap-4"
                        onSubmit={(e) => {
                            e.preventDefault();
                            void keep();
                        }}
                    >
                        <Field
                            label={`Group volts as the board says, from B-, one a line: ${job.series} of them`}
                            hint={`${numbers.length} of ${job.series} so far`}
                        >
                            {(p) => <textarea {...p} rows={8} className="digits" value={text} onChange={(e) => setText(e.target.value)} />}
                        </Field>
                        <div>
                            <Button type="submit" look="main" disabled={numbers.length !== job.series}>
                                Keep it
                            </Button>
                        </div>
                    </form>
                </Sheet>
            )}
        </>
    );
}
