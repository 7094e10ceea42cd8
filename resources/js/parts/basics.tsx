import { type ComponentPropsWithRef, type ReactNode, useId, useRef, useState } from 'react';
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

export function Button({ look = 'plain', className = '', ...rest }: ComponentPropsWithRef<'button'> & { look?: Look }) {
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
    why,
    children,
}: {
    label: string;
    error?: string | undefined;
    hint?: string | undefined;
    /** Why this is asked: said on a touch, where the question is an odd one. */
    why?: string | undefined;
    children: (props: { id: string; 'aria-invalid'?: true; 'aria-describedby'?: string }) => ReactNode;
}) {
    const id = useId();
    const note = error ?? hint;
    return (
        <div className="grid gap-1 content-start">
            <div className="flex items-baseline justify-between gap-2 min-h-6">
                <label htmlFor={id} className="eyebrow">
                    {label}
                </label>
                {why && (
                    <Aside sign="why?" name="Why is this asked?" quiet>
                        {why}
                    </Aside>
                )}
            </div>
            {children({ id, ...(error ? { 'aria-invalid': true as const } : {}), ...(note ? { 'aria-describedby': `${id}-note` } : {}) })}
            {note && (
                <p id={`${id}-note`} className={error ? 'text-ember font-bold text-sm' : 'text-muted text-sm'}>
                    {error ? `Mend this: ${error}` : note}
                </p>
            )}
        </div>
    );
}

/** A few words that come up beside what they explain, and go at the next touch or Escape. */
export function Aside({ sign, name, quiet = false, children }: { sign: ReactNode; name?: string; quiet?: boolean; children: ReactNode }) {
    const id = useId();
    const [open, setOpen] = useState(false);
    const button = useRef<HTMLButtonElement>(null);
    const note = useRef<HTMLSpanElement>(null);
    return (
        <>
            <button
                type="button"
                ref={button}
                aria-label={name}
                aria-expanded={open}
                aria-controls={id}
                popoverTarget={id}
                className={
                    quiet
                        ? 'text-muted text-sm underline decoration-dotted underline-offset-4 min-h-6 px-1'
                        : 'underline decoration-dotted decoration-1 underline-offset-4 min-h-6 [font:inherit] text-inherit'
                }
            >
                {sign}
            </button>
            <span
                id={id}
                ref={note}
                popover="auto"
                role="note"
                className="aside"
                onToggle={(e) => {
                    setOpen(e.newState === 'open');
                    const [b, n] = [button.current?.getBoundingClientRect(), note.current];
                    if (e.newState !== 'open' || !b || !n) return;
                    n.style.left = `${Math.max(8, Math.min(b.left, window.innerWidth - n.offsetWidth - 8))}px`;
                    const below = b.bottom + 6;
                    n.style.top = `${below + n.offsetHeight > window.innerHeight ? Math.max(8, b.top - n.offsetHeight - 6) : below}px`;
                }}
            >
                {children}
            </span>
        </>
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

/** From a figure that is assumed to the field of the intake that would settle it. */
export function Settle({ job, field, children }: { job: number; field: string; children: ReactNode }) {
    return (
        <Link to={`/jobs/${job}/intake?field=${field}`} className="underline underline-offset-4 whitespace-nowrap">
            {children}
        </Link>
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
