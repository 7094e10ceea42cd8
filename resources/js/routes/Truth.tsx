import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, type Job, unwrap } from '@/api/client';
import { percent } from '@/lib/format';
import { Field } from '@/parts/basics';

export type Seen = 'replaced' | 'measured' | 'opened' | 'tried';
export interface Was {
    code: string;
    where?: Record<string, number> | null;
    seen_by?: Seen;
}

const SEEN: [Seen, string][] = [
    ['replaced', 'it was so: replaced, and that mended it'],
    ['measured', 'it was so: measured'],
    ['opened', 'it was so: seen when opened'],
    ['tried', 'it was so: tried out'],
];

/** What is sent for the answers given: nothing while none is, an empty list for "nothing was wrong". */
export function truthOf(
    answers: Record<string, string>,
    found: { key: string; was: Was }[],
    other: { code: string; seen: string },
): Was[] | undefined {
    const was: Was[] = found.flatMap(({ key, was }) => {
        const a = answers[key] ?? '';
        return a === '' || a === 'not' ? [] : [{ ...was, seen_by: a as Seen }];
    });
    if (other.code !== '') was.push({ code: other.code, ...(other.seen === '' ? {} : { seen_by: other.seen as Seen }) });
    return was.length > 0 || Object.values(answers).includes('not') ? was : undefined;
}

/** Answers that the work has given already, by the key of what was found. */
export const provedOf = (
    found: { key: string; was: Was }[],
    proved: { code: string; where: Record<string, unknown> | null; seen_by: Seen }[],
): Record<string, string> =>
    Object.fromEntries(
        found.flatMap((f) => {
            const p = proved.find((x) => x.code === f.was.code && JSON.stringify(x.where) === JSON.stringify(f.was.where ?? null));
            return p ? [[f.key, p.seen_by]] : [];
        }),
    );

/** What it was in the end, asked once the pack leaves: what the shop learns from, and not from the verdict's own opinion. */
export function Truth({ job, onChange }: { job: Job; onChange: (truth: Was[] | undefined) => void }) {
    const faults = useQuery({ queryKey: slots.faults(), queryFn: () => unwrap(api.GET('/api/faults')), staleTime: Infinity }).data ?? [];
    const findings = (job.decision?.found.findings ?? job.verdict?.document.findings ?? [])
        .filter((f) => f.probability >= 0.2 && f.severity !== 'note' && f.code !== 'pack.spread')
        .slice(0, 6);
    const found = findings.map((f) => ({
        key: f.code + JSON.stringify(f.where),
        title: f.title,
        probability: f.probability,
        was: { code: f.code, where: f.where as Was['where'] },
    }));
    // What the work has proved is put before whoever closes it: they look at it, and say otherwise where it was not so.
    const [answers, setAnswers] = useState<Record<string, string>>(() => provedOf(found, job.decision?.proved ?? []));
    const proved = useRef(answers).current;
    const told = useRef(onChange);
    const known = useRef(found);
    useEffect(() => {
        if (Object.keys(proved).length > 0) told.current(truthOf(proved, known.current, { code: '', seen: '' }));
    }, [proved]);
    const [other, setOther] = useState({ code: '', seen: '' });
    const tell = (a: Record<string, string>, o: typeof other) => {
        setAnswers(a);
        setOther(o);
        onChange(truthOf(a, found, o));
    };
    return (
        <section aria-label="What it was" className="no-print sheet p-4 max-w-5xl grid gap-3">
            <h2>What was it in the end?</h2>
            <p className="text-muted">
                Only what somebody saw. The next verdicts here lean on it; left open, nothing is learnt.
                {Object.keys(proved).length > 0 && ' What the work has proved is filled in: look at it.'}
            </p>
            <div className="grid gap-3 md:grid-cols-2">
                {found.map((f) => (
                    <Field key={f.key} label={`${f.title} (${percent(f.probability)} said)`}>
                        {(p) => (
                            <select
                                {...p}
                                value={answers[f.key] ?? ''}
                                onChange={(e) => tell({ ...answers, [f.key]: e.target.value }, other)}
                            >
                                <option value="">not known</option>
                                {SEEN.map(([value, text]) => (
                                    <option key={value} value={value}>
                                        {text}
                                    </option>
                                ))}
                                <option value="not">it was not so</option>
                            </select>
                        )}
                    </Field>
                ))}
                <Field label="Something else">
                    {(p) => (
                        <select {...p} value={other.code} onChange={(e) => tell(answers, { ...other, code: e.target.value })}>
                            <option value="">nothing else</option>
                            {faults.map((f) => (
                                <option key={f.code} value={f.code}>
                                    {f.title}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                {other.code !== '' && (
                    <Field label="How it was seen">
                        {(p) => (
                            <select {...p} value={other.seen} onChange={(e) => tell(answers, { ...other, seen: e.target.value })}>
                                <option value="">not said</option>
                                {SEEN.map(([value]) => (
                                    <option key={value}>{value}</option>
                                ))}
                            </select>
                        )}
                    </Field>
                )}
            </div>
        </section>
    );
}
