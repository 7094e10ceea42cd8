/** Decibans that fill an arm of the balance: odds of a thousand to one, and nothing is shown as surer. */
const FULL = 30;
const ARM = 48;

/** One line of evidence on a balance: to the right what speaks for it, to the left, hollow, what speaks against. */
export function Balance({ decibans }: { decibans: number }) {
    const reach = (Math.min(Math.abs(decibans), FULL) / FULL) * ARM;
    const against = decibans < 0;
    return (
        <svg width={2 * ARM + 4} height={16} viewBox={`0 0 ${2 * ARM + 4} 16`} aria-hidden="true" className="block mx-auto">
            <rect
                x={against ? ARM + 2 - reach : ARM + 2}
                y={3}
                width={Math.max(1, reach)}
                height={10}
                fill={against ? 'none' : 'var(--bark)'}
                stroke={against ? 'var(--ember)' : 'var(--bark)'}
                strokeWidth={1.5}
            />
            <path d={`M${ARM + 2} 0v16`} stroke="var(--ink)" strokeWidth={1.5} />
        </svg>
    );
}
