import { Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { type Ask, asked, type TestForm, type Values } from './tests';

/** The questions of a test, each in its own field. */
export function Asks({
    test,
    values,
    set,
    wrong,
}: {
    test: TestForm;
    values: Values;
    set: (name: string, typed: string) => void;
    /** What is wrong with what was typed, by question. */
    wrong: Record<string, string>;
}) {
    return asked(test, values).map((ask) =>
        ask.kind === 'marks' ? (
            <Marks key={ask.name} ask={ask} value={values[ask.name] ?? ''} set={(v) => set(ask.name, v)} />
        ) : ask.kind === 'number' ? (
            <NumberField
                key={ask.name}
                label={ask.label}
                why={ask.why}
                error={wrong[ask.name]}
                required={!ask.optional}
                value={values[ask.name] ?? ''}
                onChange={(typed) => set(ask.name, typed)}
            />
        ) : (
            <Field key={ask.name} label={ask.label} why={ask.why} error={wrong[ask.name]}>
                {(p) =>
                    ask.kind === 'choice' || ask.kind === 'yes-no' ? (
                        <select {...p} required value={values[ask.name] ?? ''} onChange={(e) => set(ask.name, e.target.value)}>
                            {ask.kind === 'yes-no' && <option value="">choose</option>}
                            {(ask.options ?? ['yes', 'no']).map((o) => (
                                <option key={o}>{o}</option>
                            ))}
                        </select>
                    ) : (
                        <input
                            {...p}
                            inputMode="text"
                            required={!ask.optional}
                            value={values[ask.name] ?? ''}
                            onChange={(e) => set(ask.name, e.target.value)}
                        />
                    )
                }
            </Field>
        ),
    );
}

function Marks({ ask, value, set }: { ask: Ask; value: string; set: (v: string) => void }) {
    const on = value === '' ? [] : value.split(' ');
    return (
        <fieldset className="grid gap-1">
            <legend className="eyebrow">{ask.label}</legend>
            <div className="flex flex-wrap gap-x-5 gap-y-1">
                {ask.options!.map((o) => (
                    <label key={o} className="flex items-center gap-2 min-h-[44px]">
                        <input
                            type="checkbox"
                            checked={on.includes(o)}
                            onChange={(e) => set(ask.options!.filter((x) => (x === o ? e.target.checked : on.includes(x))).join(' '))}
                        />
                        {o}
                    </label>
                ))}
            </div>
        </fieldset>
    );
}
