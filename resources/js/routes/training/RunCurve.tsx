interface Point {
    min: number;
    v: number;
    a: number;
}

const W = 560;
const H = 170;
const LEFT = 52;
const RIGHT = 12;
const FOOT = 26;

const isCurve = (x: unknown): x is Point[] => Array.isArray(x) && x.length > 1;

/** Volts of a run at the supply against time, with the stretches in which current flowed marked under it. */
export function RunCurve({ of }: { of: Record<string, unknown> }) {
    const points = of['curve'];
    if (!isCurve(points)) return null;
    const last = points.at(-1)!.min || 1;
    const volts = points.map((p) => p.v);
    const [low, high] = [Math.min(...volts), Math.max(...volts)];
    const room = Math.max(0.02, (high - low) * 0.1);
    const x = (min: number) => LEFT + (min / last) * (W - LEFT - RIGHT);
    const y = (v: number) => H - FOOT - 10 - ((v - low + room) / (high - low + 2 * room)) * (H - FOOT - 20);
    const flows = points.flatMap((p, i) => (i > 0 && p.a > 0 ? [[x(points[i - 1]!.min), x(p.min)] as const] : []));
    const hours = last >= 180;
    const told = (min: number) => (hours ? `${(min / 60).toFixed(1)} h` : `${Math.round(min)} min`);
    const [from, to] = [points[0]!.v.toFixed(2), points.at(-1)!.v.toFixed(2)];
    const said = `Volts against time: ${from} V at first, ${high.toFixed(2)} V at most, ${to} V after ${told(last)}`;
    return (
        <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={said} className="w-full max-w-2xl h-auto">
            <g stroke="var(--line)" fill="var(--muted)" fontSize={13}>
                {[low, (low + high) / 2, high].map((v, i) => (
                    <g key={i}>
                        <line x1={LEFT} x2={W - RIGHT} y1={y(v)} y2={y(v)} />
                        <text x={LEFT - 6} y={y(v) + 4} textAnchor="end" stroke="none">
                            {v.toFixed(2)}
                        </text>
                    </g>
                ))}
                {[0, 0.5, 1].map((f) => (
                    <text key={f} x={x(f * last)} y={H - 6} textAnchor={f === 0 ? 'start' : f === 1 ? 'end' : 'middle'} stroke="none">
                        {told(f * last)}
                    </text>
                ))}
                <text x={4} y={14} stroke="none">
                    V
                </text>
            </g>
            {flows.map(([a, b], i) => (
                <line key={i} x1={a} x2={b} y1={H - FOOT - 2} y2={H - FOOT - 2} stroke="var(--amber)" strokeWidth={4} />
            ))}
            <polyline points={points.map((p) => `${x(p.min)},${y(p.v)}`).join(' ')} fill="none" stroke="var(--drill)" strokeWidth={2.5} />
        </svg>
    );
}
