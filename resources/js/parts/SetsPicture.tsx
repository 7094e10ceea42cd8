import type { Job } from '@/api/client';
import { when } from '@/lib/format';
import { Basis } from './basics';

const H = 210;
const LEFT = 52;
const RIGHT = 92;
const TOP = 14;
const FOOT = 40;

/** Each group's distance from the middle of its set, set by set, with what the meter cannot tell as a bar. */
export function SetsPicture({ job, width: W = 660 }: { job: Job; width?: number }) {
    const { columns: cols, groups, said: words } = job.sets;
    if (cols.length < 2) return null;
    const all = cols.flatMap((c) => c.mv.filter((v): v is number => v !== null));
    const reach = Math.max(10, ...all.map(Math.abs)) * 1.1;
    const x = (i: number) => LEFT + (i * (W - LEFT - RIGHT)) / Math.max(1, cols.length - 1);
    const y = (mv: number) => TOP + ((reach - mv) / (2 * reach)) * (H - TOP - FOOT);
    const tick = [100, 50, 20, 10, 5].find((t) => t <= reach / 1.5) ?? 5;
    const ticks = [-tick, 0, tick].map((t) => (reach > 3 * tick ? t * Math.floor(reach / tick / 1.4) : t));
    const lines = groups.map(({ group, shape }, k) => ({
        group,
        shape,
        points: cols.flatMap((c, i) => (c.mv[k] == null ? [] : [{ i, mv: c.mv[k], sigma: c.sigma_mv[k] ?? 0 }])),
    }));
    // Labels at the right end that would lie on one another are moved apart.
    const ends = lines
        .filter((l) => l.shape !== 'level' && l.points.length > 0)
        .map((l) => ({ group: l.group, y: y(l.points.at(-1)!.mv) }))
        .sort((a, b) => a.y - b.y);
    ends.forEach((e, i) => {
        if (i > 0) e.y = Math.max(e.y, ends[i - 1]!.y + 17);
    });
    const told = words.join(' ') || 'Every group lies level.';
    const room = (W - LEFT - RIGHT) / Math.max(1, cols.length - 1);
    const every = Math.ceil(72 / room);
    const dated = room >= 110;
    const label = `Millivolts of each group from the middle of its set, ${cols.length} sets. ${told}`;
    return (
        <figure className="grid gap-1" aria-label="Sets side by side">
            <svg viewBox={`0 0 ${W} ${H}`} className="w-full max-w-2xl h-auto" role="img" aria-label={label}>
                <g stroke="var(--line)" strokeWidth={1}>
                    {ticks.map((t) => (
                        <line key={t} x1={LEFT} x2={W - RIGHT} y1={y(t)} y2={y(t)} strokeDasharray={t === 0 ? undefined : '2 4'} />
                    ))}
                </g>
                <g fill="var(--muted)" fontSize={13}>
                    {ticks.map((t) => (
                        <text key={t} x={LEFT - 8} y={y(t) + 4} textAnchor="end">
                            {t > 0 ? `+${t}` : t}
                        </text>
                    ))}
                    <text x={0} y={TOP}>
                        mV
                    </text>
                    {cols.map(
                        (c, i) =>
                            (i % every === 0 || i === cols.length - 1) && (
                                <text
                                    key={c.id}
                                    x={x(i)}
                                    y={H - 22}
                                    textAnchor={i === 0 ? 'start' : i === cols.length - 1 ? 'end' : 'middle'}
                                >
                                    {c.amps === 0 ? c.condition : `${c.amps > 0 ? '+' : ''}${c.amps} A`}
                                    <tspan x={x(i)} dy={15} fontSize={11}>
                                        {dated ? when(c.at).replace(/,[^,]*$/, '') : ''}
                                    </tspan>
                                </text>
                            ),
                    )}
                </g>
                {lines.map((l) => (
                    <g
                        key={l.group}
                        stroke={l.shape === 'level' ? 'var(--bark)' : 'var(--ember)'}
                        strokeOpacity={l.shape === 'level' ? 0.35 : 1}
                        strokeDasharray={l.shape === 'turns' ? '7 4' : undefined}
                        fill="none"
                    >
                        <polyline
                            points={l.points.map((p) => `${x(p.i).toFixed(1)},${y(p.mv).toFixed(1)}`).join(' ')}
                            strokeWidth={l.shape === 'level' ? 1.2 : 2.6}
                        />
                        {l.shape !== 'level' &&
                            l.points.map((p) => (
                                <line
                                    key={p.i}
                                    x1={x(p.i)}
                                    x2={x(p.i)}
                                    y1={y(p.mv - p.sigma)}
                                    y2={y(p.mv + p.sigma)}
                                    strokeWidth={7}
                                    strokeOpacity={0.3}
                                    strokeDasharray="none"
                                />
                            ))}
                    </g>
                ))}
                {ends.map((e) => (
                    <text key={e.group} x={W - RIGHT + 8} y={e.y + 5} fontSize={14} fontWeight={700} fill="var(--ember)">
                        group {e.group}
                    </text>
                ))}
            </svg>
            <figcaption>
                {words.length > 0 ? words.join(' ') : 'Every group lies level in every set, as far as the meter can tell.'}{' '}
                <Basis of="derived" />
            </figcaption>
        </figure>
    );
}
