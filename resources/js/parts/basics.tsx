import { type ButtonHTMLAttributes, type ReactNode, useId } from 'react';
import { Link } from 'react-router';
import type { Basis as BasisName } from '@/api/client';

const LOOK = {
    main: 'bg-bark text-on-bark border-bark font-bold hover:brightness-110',
    plain: 'bg-panel text-ink border-muted hover:bg-knot',
    quiet: 'bg-transparent text-ink border-transparent underline underline-offset-4 hover:bg-knot',
    stop: 'bg-panel text-ember border-ember font-bold hover:bg-knot',
};
const SHAPE =
    'inline-flex items-center justify-center gap-2 min-h-[44px] px-4 py-2 rounded border-[1.5px] text-left ' +
    'leading-tight disabled:opacity-60 aria-disabled:opacity-60';

export type Look = keyof typeof LOOK;

export function Button({ look = 'plain', className = '', ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
    return <button type="button" className={`${SHAPE} ${LOOK[look]} ${className}`} {...rest} />;
}

export function Go({ to, look = 'plain', children, className = '' }: { to: string; look?: Look; children: ReactNode; className?: string }) {
    return (
        <Link to={to} className={`${SHAPE} ${LOOK[look]} no-underline ${className}`}>
            {children}
        </Link>
    );
}

export function Field({
    label,
    error,
    hint,
    children,
}: {
    label: string;
    error?: string;
    hint?: string;
    children: (props: { id: string; 'aria-invalid'?: true; 'aria-describedby'?: string }) => ReactNode;
}) {
    const id = useId();
    const note = error ?? hint;
    return (
        <div className="grid gap-1">
            <label htmlFor={id} className="eyebrow">
                {label}
            </label>
            {children({ id, ...(error ? { 'aria-invalid': true as const } : {}), ...(note ? { 'aria-describedby': `${id}-note` } : {}) })}
            {note && (
                <p id={`${id}-note`} className={error ? 'text-ember font-bold text-sm' : 'text-muted text-sm'}>
                    {error ? `Mend this: ${error}` : note}
                </p>
            )}
        </div>
    );
}

const BASIS: Record<BasisName, { sign: string; text: string }> = {
    measured: { sign: '●', text: 'measured' },
    derived: { sign: '◐', text: 'derived from readings' },
    assumed: { sign: '○', text: 'assumed' },
    predicted: { sign: '◇', text: 'predicted' },
    reported: { sign: '◌', text: 'reported by the customer or the board' },
};

/** Says of a number whether it was measured, derived, assumed, predicted or only reported: a shape and, where there is room, the word. */
export function Basis({ of, word = true }: { of: BasisName; word?: boolean }) {
    return (
        <span className="text-muted text-[0.82rem] whitespace-nowrap" title={BASIS[of].text}>
            <span aria-hidden="true">{BASIS[of].sign}</span> <span className={word ? '' : 'sr-only'}>{of}</span>
        </span>
    );
}

export function Cautions({ lines }: { lines: string[] }) {
    if (lines.length === 0) return null;
    return (
        <div role="note" aria-label="Cautions" className="border-l-4 border-amber bg-knot rounded-r px-4 py-2 text-[0.95rem]">
            {lines.map((l) => (
                <p key={l}>{l}</p>
            ))}
        </div>
    );
}

export function Waiting({ what }: { what: string }) {
    return (
        <p role="status" className="p-6 text-muted">
            {what}
        </p>
    );
}
