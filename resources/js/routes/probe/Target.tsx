import type { Pair } from '@/lib/order';

/** Where the probes go next, in digits for two metres. */
export function Target({ target, at, of }: { target: Pair | null; at: number; of: number }) {
    if (!target)
        return (
            <p className="text-3xl font-bold py-4" data-testid="target">
                Every tap of this order is read
            </p>
        );
    return (
        <>
            <p className="eyebrow">{at === 0 ? 'First reading' : `Reading ${at + 1} of ${Math.max(of, at + 1)}`}. Black probe first.</p>
            <p className="digits text-[clamp(2.6rem,5.6vw,5.4rem)] leading-none font-medium" data-testid="target">
                {target.from}
                <span className="text-muted px-2">to</span>
                {target.to}
            </p>
        </>
    );
}
