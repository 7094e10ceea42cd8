import type { components } from '@/api/schema';

export type Glance = NonNullable<components['schemas']['Glance']>;
const W = 300;
const H = 84;
const BAR = 34;

/** Where on the strip a value lies, 0 to 1: the band in its middle, as much room again on either side that can be reached. */
export function along(g: Glance): { low: number; high: number; should: number; at: number } {
    const room = g.high_v - g.low_v || 1;
    const from = g.kind === 'groups' ? 0 : g.low_v - room;
    const to = g.high_v + room;
    const of = (v: number) => Math.min(1, Math.max(0, (v - from) / (to - from)));
    return { low: of(g.low_v), high: of(g.high_v), should: of(g.should_v), at: of(g.value_v) };
}

/** One mark of a pack on its band: hatched where it should be, a pin where it is. Read by its place and its sign, not by colour alone. */
export function GlanceMark({ glance, label, className = '' }: { glance: Glance; label: string; className?: string }) {
    const p = along(glance);
    const x = (f: number) => 14 + f * (W - 28);
    const bad = !glance.inside;
    return (
        <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={label} className={`w-full h-auto ${className}`}>
            <defs>
                <pattern id="grain" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(60)">
                    <rect width="7" height="7" fill="var(--panel)" />
                    <line x1="0" y1="0" x2="0" y2="7" stroke="var(--moss)" strokeWidth="5" />
                </pattern>
            </defs>
            <rect x={14} y={BAR} width={W - 28} height={22} rx={3} fill="var(--knot)" stroke="var(--muted)" />
            <rect
                x={x(p.low)}
                y={BAR - 5}
                width={Math.max(6, x(p.high) - x(p.low))}
                height={32}
                rx={3}
                fill="url(#grain)"
                stroke="var(--moss)"
                strokeWidth={2}
            />
            <line x1={x(p.should)} x2={x(p.should)} y1={BAR - 5} y2={BAR + 27} stroke="var(--ink)" strokeWidth={2} strokeDasharray="4 3" />
            <path
                d={`M${x(p.at)} ${BAR + 38} l-13 -46 h26 z`}
                fill={bad ? 'var(--ember)' : 'var(--ink)'}
                stroke="var(--panel)"
                strokeWidth={3}
            />
        </svg>
    );
}
