import { useMemo, useState } from 'react';
import { useKeep, useOutbox, useOutboxState, usePerson } from '@/lib/bench';
import { useDraft } from '@/lib/useDraft';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { MARKS, missing, type Run, startOf, type Step, type Typed, valuesOf } from './guided';

/** What a step asks for. It goes through this bench's own disk, so that a lost network loses nothing. */
export function StepForm({ run, step, name }: { run: Run; step: Step; name: string }) {
    const keep = useKeep();
    const box = useOutbox();
    const { waiting, refused } = useOutboxState();
    const start = useMemo(() => startOf(step), [step]);
    // A row after a row begins with an empty form of its own.
    const [typed, setTyped, clear] = useDraft<Typed>(`guided.${run.id}.${step.code}.${step.rows.length}.${usePerson().id}`, start);
    const [wrong, setWrong] = useState<Record<string, string>>({});
    const mine = (e: { kind: string; data: Record<string, unknown> }) =>
        e.kind === 'guided' && e.data['run'] === run.id && e.data['step'] === step.code;
    const onTheWay = waiting.some(mine);
    const back = refused.find(mine);
    const errors = { ...(back?.errors ?? {}), ...wrong };
    const send = async (data: Record<string, unknown>) => {
        if (back) await box.dismiss(back);
        if (!(await keep({ kind: 'guided', job: run.job_id, data: { run: run.id, step: step.code, ...data } }))) return;
        setWrong({});
        if (step.kind === 'log') setTyped(start);
    };
    const submit = async () => {
        const found = missing(step, typed);
        setWrong(found);
        if (Object.keys(found).length > 0) return;
        await send({ values: valuesOf(step, typed) });
        if (step.kind !== 'log') clear();
    };
    const set = (field: string, text: string) => setTyped({ ...typed, [field]: text });
    const named = new Set(step.fields.map((f) => f.name));
    return (
        <form
            aria-label={step.text}
            className="grid gap-3"
            onSubmit={(e) => {
                e.preventDefault();
                void submit();
            }}
        >
            <div className="flex flex-wrap items-end gap-3">
                {step.fields.map((f, i) =>
                    f.kind === 'number' ? (
                        <div key={f.name} className="w-44">
                            <NumberField
                                label={f.label}
                                why={f.why || undefined}
                                error={errors[f.name]}
                                autoFocus={i === 0 && step.state === 'next'}
                                value={typed[f.name] ?? ''}
                                onChange={(t) => set(f.name, t)}
                            />
                        </div>
                    ) : f.kind === 'marks' ? (
                        <Marks key={f.name} field={f} value={typed[f.name] ?? ''} error={errors[f.name]} set={(t) => set(f.name, t)} />
                    ) : (
                        <div
                            key={f.name}
                            className={f.kind === 'volts' || f.kind === 'numbers' || f.kind === 'text' ? 'grow basis-80' : ''}
                        >
                            <Field label={f.label} error={errors[f.name]} why={f.why || undefined}>
                                {(p) =>
                                    f.kind === 'yes-no' || f.kind === 'choice' ? (
                                        <select
                                            {...p}
                                            autoFocus={i === 0 && step.state === 'next'}
                                            value={typed[f.name] ?? ''}
                                            onChange={(e) => set(f.name, e.target.value)}
                                        >
                                            <option value="">choose</option>
                                            {(f.kind === 'yes-no' ? ['yes', 'no'] : f.options).map((o) => (
                                                <option key={o}>{o}</option>
                                            ))}
                                        </select>
                                    ) : (
                                        <input
                                            {...p}
                                            autoComplete="off"
                                            autoFocus={i === 0 && step.state === 'next'}
                                            className={f.kind === 'text' ? '' : 'digits'}
                                            value={typed[f.name] ?? ''}
                                            onChange={(e) => set(f.name, e.target.value)}
                                            onPaste={(e) => {
                                                // A column out of a table has a line for each group.
                                                if (f.kind === 'text') return;
                                                e.preventDefault();
                                                set(f.name, e.clipboardData.getData('text').trim().split(/\s+/).join(' '));
                                            }}
                                        />
                                    )
                                }
                            </Field>
                        </div>
                    ),
                )}
                <Button type="submit" look="main" disabled={onTheWay}>
                    {name}
                </Button>
                {step.may && (
                    <Button look="quiet" disabled={onTheWay} onClick={() => void send({ left: true })}>
                        Leave it out
                    </Button>
                )}
            </div>
            {Object.entries(errors)
                .filter(([f]) => !named.has(f))
                .map(([f, text]) => (
                    <p key={f} role="alert" className="text-ember font-bold">
                        {text}
                    </p>
                ))}
            {onTheWay && <p className="text-muted">Kept on this bench; the next step comes when the server has it.</p>}
        </form>
    );
}

function Marks({
    field,
    value,
    error,
    set,
}: {
    field: Step['fields'][number];
    value: string;
    error?: string | undefined;
    set: (text: string) => void;
}) {
    const on = value === '' ? [] : value.split(MARKS);
    return (
        <fieldset className="grid gap-1 basis-full">
            <legend className="eyebrow">{field.label}</legend>
            <div className="flex flex-wrap gap-x-5">
                {field.options.map((o) => (
                    <label key={o} className="flex items-center gap-2 min-h-[44px]">
                        <input
                            type="checkbox"
                            checked={on.includes(o)}
                            onChange={(e) => set(field.options.filter((x) => (x === o ? e.target.checked : on.includes(x))).join(MARKS))}
                        />
                        {o}
                    </label>
                ))}
            </div>
            {error && <p className="text-ember font-bold text-sm">Mend this: {error}</p>}
        </fieldset>
    );
}
