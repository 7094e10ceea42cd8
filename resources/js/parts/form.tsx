import { type InputHTMLAttributes, type ReactNode } from 'react';
import { type Control, type FieldPath, type FieldValues, useController } from 'react-hook-form';
import { Field } from './basics';
import { NumberField, type NumberProps } from './NumberField';

interface At<T extends FieldValues> {
    // Whatever the schema makes of it, a field is of what is typed.
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
    control: Control<T, unknown, any>;
    name: FieldPath<T>;
    label: string;
    hint?: string | undefined;
    why?: string | undefined;
}

/** A number of a form. */
export function FormNumber<T extends FieldValues>({
    control,
    name,
    ...rest
}: At<T> & Omit<NumberProps, 'value' | 'onChange' | 'error' | 'inputRef' | 'name'>) {
    const { field, fieldState } = useController({ control, name });
    return (
        <NumberField
            {...rest}
            inputRef={field.ref}
            value={field.value as string}
            onChange={field.onChange}
            onBlur={field.onBlur}
            error={fieldState.error?.message}
        />
    );
}

/** A line of text of a form; several with `rows`. */
export function FormText<T extends FieldValues>({
    control,
    name,
    label,
    hint,
    why,
    rows,
    ...rest
}: At<T> & { rows?: number } & Omit<InputHTMLAttributes<HTMLInputElement>, 'name'>) {
    const { field, fieldState } = useController({ control, name });
    return (
        <Field label={label} hint={hint} why={why} error={fieldState.error?.message}>
            {(p) =>
                rows === undefined ? (
                    <input {...p} {...field} {...rest} />
                ) : (
                    <textarea
                        {...p}
                        rows={rows}
                        className={rest.className}
                        placeholder={rest.placeholder}
                        disabled={rest.disabled}
                        {...field}
                    />
                )
            }
        </Field>
    );
}

/** One of several, of a form. */
export function FormChoice<T extends FieldValues>({ control, name, label, hint, why, children }: At<T> & { children: ReactNode }) {
    const { field, fieldState } = useController({ control, name });
    return (
        <Field label={label} hint={hint} why={why} error={fieldState.error?.message}>
            {(p) => (
                <select {...p} {...field}>
                    {children}
                </select>
            )}
        </Field>
    );
}

/** Yes or no, of a form. */
export function FormTick<T extends FieldValues>({ control, name, children }: Pick<At<T>, 'control' | 'name'> & { children: ReactNode }) {
    const { field } = useController({ control, name });
    return (
        <label className="flex items-center gap-2.5 min-h-[44px]">
            <input type="checkbox" ref={field.ref} onBlur={field.onBlur} onChange={field.onChange} checked={field.value as boolean} />{' '}
            {children}
        </label>
    );
}
