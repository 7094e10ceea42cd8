import { useMemo, useState, memo } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { useKeep, usePerson } from '@/lib/bench';
import { place, when } from '@/lib/format';
import { useDraft } from '@/lib/useDraft';
import { Button, Field, Go } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { Asks } from './Asks';
import { entryOf, problems, startValues, type TestForm, TESTS, type Values } from './tests';

const DONE = TESTS.filter((t) => t.entry === 'event');

/** What was found by other means than group voltages, and what was done to the pack in between. */
export const OtherTests = memo(function OtherTests({
    job,
    ask,
    group,
    joint,
}: {
    job: Job;
    ask?: string;
    group: number | null;
    joint: number | null;
}) {
    const [open, setOpen] = useState<string | null>(ask ?? null);
    const known = job.tests.filter((t) => t.revision === job.revision);
    const done = job.events.filter((e) => e.kind === 'pack-event' && e.data['revision'] === job.revision);
    const test = TESTS.find((t) => t.kind === open);
    return (
        <div className="grid gap-2">
            <Go to={`/jobs/${job.id}/guided`}>Guided runs: load step, capacity, watched charge, hold ...</Go>
            <Field label="Another test, or something done">
                {(p) => (
                    <select {...p} value="" onChange={(e) => setOpen(e.target.value)}>
                        <option value="">choose what was done</option>
                        <optgroup label="Found out">
                            {TESTS.filter((t) => t.entry !== 'event').map((t) => (
                                <option key={t.kind} value={t.kind}>
                                    {t.title}
                                </option>
                            ))}
                        </optgroup>
                        <optgroup label="Done to the pack">
                            {DONE.map((t) => (
                                <option key={t.kind} value={t.kind}>
                                    {t.title}
                                </option>
                            ))}
                        </optgroup>
                    </select>
                )}
            </Field>
            {known.length > 0 && (
                <ul className="text-[0.95rem]">
                    {known.map((t) => (
                        <li key={t.id} className="border-b border-line py-1">
                            {TESTS.find((x) => x.kind === t.kind)?.title ?? t.kind}:{' '}
                            <span className="text-muted">
                                {Object.entries(t.data)
                                    .map(([k, v]) => `${k.replaceAll('_', ' ')} ${typeof v === 'object' ? JSON.stringify(v) : String(v)}`)
                                    .join(', ')}
                            </span>
                        </li>
                    ))}
                </ul>
            )}
            {done.length > 0 && (
                <ul className="text-[0.95rem]" aria-label="Done to the pack">
                    {done.map((e) => (
                        <li key={e.at} className="border-b border-line py-1">
                            {TESTS.find((x) => x.kind === e.data['kind'])?.title ?? String(e.data['kind'])}:{' '}
                            <span className="text-muted">
                                {place(e.data['where'] as Record<string, unknown> | undefined)}, {when(e.at)}
                            </span>
                        </li>
                    ))}
                </ul>
            )}
            {test && <TestSheet key={test.kind} job={job} test={test} group={group} joint={joint} onClose={() => setOpen(null)} />}
        </div>
    );
});

function TestSheet({
    job,
    test,
    group,
    joint,
    onClose,
}: {
    job: Job;
    test: TestForm;
    group: number | null;
    joint: number | null;
    onClose: () => void;
}) {
    const keep = useKeep();
    const start = useMemo(() => startValues(test, group, joint), [test, group, joint]);
    // A long row of volts outlives a slip of the hand.
    const [values, setValues, clear] = useDraft<Values>(
        `test.${job.id}.${test.kind}.${group ?? ''}.${joint ?? ''}.${usePerson().id}`,
        start,
    );
    const [wrong, setWrong] = useState<Record<string, string>>({});
    const set = (name: string, text: string) => setValues({ ...values, [name]: text });
    const submit = async () => {
        const found = problems(test, values);
        setWrong(found);
        if (Object.keys(found).length > 0) return;
        const { kind, data } = entryOf(test, values);
        if (!(await keep({ kind, job: job.id, data }))) return;
        clear();
        toast.success('Kept.');
        onClose();
    };
    return (
        <Sheet title={test.title} onClose={onClose}>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    void submit();
                }}
            >
                <Asks test={test} values={values} set={set} wrong={wrong} />
                {test.entry === 'event' && (
                    <p className="text-muted">It is written down with the time as it is now; what is read later is judged by it.</p>
                )}
                <div>
                    <Button type="submit" look="main">
                        Keep it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
