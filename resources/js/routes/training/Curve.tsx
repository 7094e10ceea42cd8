import { percent } from '@/lib/format';
import type { Progress } from './training';

const S = 240;
const LEFT = 40;
const FOOT = 30;

/** How sure somebody said they were against how often it was so: on the slant both are the same. */
export function Curve({ of, width = 280 }: { of: Progress['calibration']; width?: number }) {
    const x = (p: number) => LEFT + p * (S - LEFT - 8);
    const y = (p: number) => S - FOOT - p * (S - FOOT - 8);
    const told =
        of.length === 0 ? 'nothing stated yet' : of.map((c) => `said ${percent(c.stated)}, so in ${percent(c.so)} of ${c.n}`).join('; ');
    return (
        <svg
            viewBox={`0 0 ${S} ${S}`}
            width={width}
            role="img"
            aria-label={`Stated sureness against what was so: ${told}`}
            className="max-w-full h-auto"
        >
            <g stroke="var(--line)" fill="var(--muted)" fontSize={12}>
                {[0, 0.5, 1].map((p) => (
                    <g key={p}>
                        <line x1={x(0)} x2={x(1)} y1={y(p)} y2={y(p)} />
                        <line x1={x(p)} x2={x(p)} y1={y(0)} y2={y(1)} />
                        <text x={LEFT - 5} y={y(p) + 4} textAnchor="end" stroke="none">
                            {Math.round(100 * p)}
                        </text>
                        <text x={x(p)} y={S - 14} textAnchor={p === 1 ? 'end' : 'middle'} stroke="none">
                            {Math.round(100 * p)}
                        </text>
                    </g>
                ))}
                <text x={x(0.5)} y={S - 1} textAnchor="middle" stroke="none">
                    said, % sure
                </text>
                <text x={11} y={y(0.5)} textAnchor="middle" stroke="none" transform={`rotate(-90 11 ${y(0.5)})`}>
                    was so, %
                </text>
            </g>
            <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--muted)" strokeDasharray="5 4" />
            <polyline points={of.map((c) => `${x(c.stated)},${y(c.so)}`).join(' ')} fill="none" stroke="var(--drill)" strokeWidth={2} />
            {of.map((c) => (
                <g key={c.from} stroke="var(--drill)">
                    <line x1={x(c.stated)} x2={x(c.stated)} y1={y(c.low)} y2={y(c.high)} strokeWidth={2} strokeOpacity={0.45} />
                    <circle cx={x(c.stated)} cy={y(c.so)} r={Math.min(10, 3 + Math.sqrt(c.n))} fill="var(--drill)" />
                </g>
            ))}
        </svg>
    );
}
