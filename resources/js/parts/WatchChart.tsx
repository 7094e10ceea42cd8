import type { components } from '@/api/schema';

type Watch = components['schemas']['PackWatch'];
const W = 640;
const H = 230;
const LEFT = 52;
const FOOT = 30;
const DAY_MS = 86_400_000;
/** Days that are drawn at the most, from the work on. */
const LONGEST = 400;

/** The spread of a pack in service against time, its limit, and where it goes: a fan between the flattest and the steepest slope. */
export function WatchChart({ watch }: { watch: Watch }) {
    const start = new Date(watch.work_ended_at).getTime();
    const dayOf = (iso: string) => (new Date(iso).getTime() - start) / DAY_MS;
    const last = watch.used.at(-1)?.day ?? 0;
    const passes = watch.reaches?.late ?? watch.reaches?.likely;
    const end = Math.max(30, last * 1.5, ...[watch.next_at, passes].map((d) => (d ? Math.min(dayOf(d), LONGEST) : 0))) + 5;
    const s = watch.slope;
    const now = watch.now_mv ?? watch.last_mv ?? 0;
    const ahead = (slope: number) => Math.max(0, now + slope * (end - last));
    const top = Math.max(watch.limit_mv * 1.2, ...watch.used.map((u) => u.mv * 1.15));
    const x = (day: number) => LEFT + (day / end) * (W - LEFT - 12);
    const y = (mv: number) => H - FOOT - (mv / top) * (H - FOOT - 12);
    const told = watch.used.map((u) => `day ${u.day.toFixed(0)}, ${u.mv.toFixed(0)} mV`).join('; ') || 'no comparable reading yet';
    const said = `Spread against days after the work: ${told}. Limit ${watch.limit_mv.toFixed(0)} mV.`;
    const ticks = [0, 0.25, 0.5, 0.75, 1].map((f) => Math.round(end * f));
    return (
        <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={said} className="w-full max-w-3xl h-auto">
            <g fill="var(--muted)" fontSize={13}>
                {[0, watch.limit_mv / 2, watch.limit_mv].map((mv) => (
                    <g key={mv}>
                        <line x1={LEFT} x2={W - 12} y1={y(mv)} y2={y(mv)} stroke="var(--line)" />
                        <text x={LEFT - 6} y={y(mv) + 4} textAnchor="end">
                            {mv.toFixed(0)}
                        </text>
                    </g>
                ))}
                <text x={4} y={14}>
                    mV
                </text>
                {ticks.map((d) => (
                    <text key={d} x={x(d)} y={H - 8} textAnchor={d === ticks.at(-1) ? 'end' : 'middle'}>
                        {d === 0 ? 'work' : `${d} d`}
                    </text>
                ))}
            </g>
            <line
                x1={LEFT}
                x2={W - 12}
                y1={y(watch.limit_mv)}
                y2={y(watch.limit_mv)}
                stroke="var(--ember)"
                strokeWidth={2}
                strokeDasharray="8 5"
            />
            <clipPath id="watch-room">
                <rect x={LEFT} y={0} width={W - LEFT - 12} height={H - FOOT} />
            </clipPath>
            {s && watch.used.length > 1 && (
                <g clipPath="url(#watch-room)">
                    <path
                        d={`M${x(last)} ${y(now)} L${x(end)} ${y(ahead(s.high))} L${x(end)} ${y(ahead(s.low))} Z`}
                        fill="var(--water)"
                        opacity={0.18}
                    />
                    <line x1={x(last)} y1={y(now)} x2={x(end)} y2={y(ahead(s.mid))} stroke="var(--water)" strokeWidth={2} />
                </g>
            )}
            <line
                x1={x(Math.min(dayOf(watch.next_at), end))}
                x2={x(Math.min(dayOf(watch.next_at), end))}
                y1={12}
                y2={H - FOOT}
                stroke="var(--amber)"
                strokeWidth={1.5}
                strokeDasharray="3 4"
            />
            {watch.used.map((u) => (
                <circle key={u.at} cx={x(u.day)} cy={y(u.mv)} r={5} fill="var(--bark)" />
            ))}
        </svg>
    );
}
