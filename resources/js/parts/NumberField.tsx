import { type InputHTMLAttributes, useState } from 'react';
import { type Range, readAs, wrongWith } from '@/lib/number';
import { Field } from './basics';

type Input = Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'min' | 'max'>;

export interface NumberProps extends Input, Range {
    label: string;
    unit?: string;
    /** As typed: what stands in the field is never written over. */
    value: string;
    onChange: (typed: string) => void;
    error?: string | undefined;
    hint?: string | undefined;
    why?: string | undefined;
    inputRef?: React.Ref<HTMLInputElement>;
}

/**
 * A number with its unit: decimal comma or point, a range where there is one. What is wrong with it is said when the field is left,
 * and how it is read as soon as it could be read two ways.
 */
export function NumberField({
    label,
    unit,
    value,
    onChange,
    error,
    hint,
    why,
    whole,
    least,
    most,
    inputRef,
    className,
    ...rest
}: NumberProps) {
    const [left, setLeft] = useState(false);
    const wrong = error ?? (left ? wrongWith(value, { whole, least, most, unit }) : undefined);
    const read = readAs(value);
    return (
        <Field
            label={unit ? `${label}, ${unit}` : label}
            error={wrong}
            hint={read === null ? hint : `read as ${read}${unit ? ` ${unit}` : ''}`}
            why={why}
        >
            {(p) => (
                <input
                    {...p}
                    ref={inputRef}
                    autoComplete="off"
                    {...rest}
                    className={`digits ${className ?? ''}`}
                    inputMode={whole ? 'numeric' : 'decimal'}
                    value={value}
                    onChange={(e) => {
                        setLeft(false);
                        onChange(e.target.value);
                    }}
                    onBlur={(e) => {
                        setLeft(true);
                        rest.onBlur?.(e);
                    }}
                />
            )}
        </Field>
    );
}
