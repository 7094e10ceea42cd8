import type { Job } from '@/api/client';

type Document = NonNullable<Job['verdict']>['document'];

/**
 * The two windows: how much goes in before the first group is full, how much comes out before the first is empty.
 * Each group is a bar as tall as its charge; the windows are what is left above the fullest and below the emptiest.
 */
export function Windows({ document: d, width: w = 620 }: { document: Document; width?: number }) {
    const socs = d.groups.map((g) => g.soc?.mid ?? null);
    if (!d.window || socs.some((s) => s === null)) return null;
    const h = 150;
    const left = 46;
    const step = (w - left - 8) / socs.length;
    // Numbers under the bars where there is room for them; those of the two that matter always.
    const every = Math.ceil(22 / step);
    const y = (soc: number) => 8 + (1 - soc) * (h - 30);
    const full = d.window.first_full - 1;
    const empty = d.window.first_empty - 1;
    return (
        <svg
            viewBox={`0 0 ${w} ${h}`}
            className="w-full max-w-2xl h-auto"
            role="img"
            aria-label={
                `Charge of each group. Group ${full + 1} is full after ${d.window.charge_ah} Ah more, ` +
                `group ${empty + 1} is empty after ${d.window.discharge_ah} Ah.`
            }
        >
            <g stroke="var(--line)" strokeWidth={1}>
                <line x1={left} x2={w - 4} y1={y(1)} y2={y(1)} />
                <line x1={left} x2={w - 4} y1={y(0)} y2={y(0)} />
            </g>
            <g fill="var(--muted)" fontSize={13}>
                <text x={0} y={y(1) + 5}>
                    full
                </text>
                <text x={0} y={y(0) + 4}>
                    empty
                </text>
            </g>
            {socs.map((soc, i) => {
                const x = left + i * step + step * 0.15;
                const bw = step * 0.7;
                const mark = i === full || i === empty;
                return (
                    <g key={i}>
                        <rect
                            x={x}
                            y={y(soc!)}
                            width={bw}
                            height={y(0) - y(soc!)}
                            fill={mark ? 'var(--ember)' : 'var(--bark)'}
                            opacity={mark ? 1 : 0.45}
                        />
                        {(mark || i % every === 0) && (
                            <text
                                x={x + bw / 2}
                                y={h - 6}
                                fontSize={13}
                                textAnchor="middle"
                                fill="var(--ink)"
                                fontWeight={mark ? 700 : 400}
                            >
                                {i + 1}
                            </text>
                        )}
                    </g>
                );
            })}
            <g stroke="var(--ember)" strokeWidth={2} strokeDasharray="5 4">
                <line x1={left} x2={w - 4} y1={y(socs[full]!)} y2={y(socs[full]!)} />
                <line x1={left} x2={w - 4} y1={y(socs[empty]!)} y2={y(socs[empty]!)} />
            </g>
        </svg>
    );
}
