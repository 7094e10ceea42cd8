import states from '@contract/states.json';
import { type KeyboardEvent, memo } from 'react';

/**
 * The picture of a pack, the same everywhere: groups stacked from B- at the foot to B+ at the crown, each a band whose
 * fill, pattern and word tell its state.
 */
export interface Band {
    group: number;
    v: number | null;
    state: string | null;
    probability: number;
    note?: string;
    /** The voltage may be a slip: drawn open-edged until it is settled. */
    doubt?: boolean;
    /** The work is about it: still open, or all of it closed. */
    work?: 'open' | 'done';
}

type Look = { word: string; fill: string; ink: string; pattern: string };
const LOOKS = states as Record<string, Look>;

export const lookOf = (b: Band): Look =>
    (b.v === null ? LOOKS['unread'] : b.doubt ? LOOKS['doubtful'] : LOOKS[b.state ?? 'group.ok']) ?? LOOKS['group.ok']!;
const WORK = { open: { sign: '▸', said: ', work on it is open' }, done: { sign: '✓', said: ', work on it is done' } };
const saidOf = (b: Band) =>
    `group ${b.group} ${b.v === null ? 'not read' : `${b.v.toFixed(3)} volts ${wordOf(b)}`}${b.work ? WORK[b.work].said : ''}`;
export const wordOf = (b: Band) =>
    b.doubt && b.v !== null
        ? lookOf(b).word
        : b.state === null
          ? ''
          : b.v !== null && b.probability < 0.6
            ? `${lookOf(b).word}?`
            : lookOf(b).word;

const Strokes = memo(function Strokes({ pattern, w, h, ink }: { pattern: string; w: number; h: number; ink: string }) {
    const lines: [number, number, number, number][] = [];
    const slant = (up: boolean) => {
        for (let a = 0; a < w; a += 9) {
            const run = Math.min(h, w - a);
            lines.push(up ? [a, h, a + run, h - run] : [a, 0, a + run, run]);
        }
    };
    if (pattern === 'level') for (let d = 4; d < h; d += 5) lines.push([0, d, w, d]);
    if (pattern === 'upright') for (let d = 6; d < w; d += 8) lines.push([d, 0, d, h]);
    if (pattern === 'slant' || pattern === 'mesh') slant(true);
    if (pattern === 'mesh') slant(false);
    if (pattern === 'gaps') for (let d = 4; d < w - 8; d += 16) lines.push([d, h * 0.84, d + 8, h * 0.84]);
    if (pattern === 'dots') for (let d = 6; d < w; d += 9) lines.push([d, h * 0.75, d + 1.4, h * 0.75]);
    return (
        <g stroke={ink} strokeOpacity={0.4} strokeWidth={0.8}>
            {lines.map(([x1, y1, x2, y2], i) => (
                <line key={i} x1={x1} y1={y1} x2={x2} y2={y2} />
            ))}
        </g>
    );
});

export const CoreSample = memo(function CoreSample({
    bands,
    height = 560,
    width = 300,
    thumb = false,
    onPick,
    picked,
}: {
    bands: Band[];
    height?: number;
    width?: number;
    thumb?: boolean;
    onPick?: (group: number) => void;
    picked?: number | null;
}) {
    const n = Math.max(1, bands.length);
    const pad = thumb ? 2 : 22;
    const h = Math.min(thumb ? 12 : 52, (height - 2 * pad) / n);
    const total = n * h + 2 * pad;
    const label = `Core sample, ${n} groups from B- to B+: ` + bands.map(saidOf).join(', ');
    const size = Math.max(9, Math.min(19, h * 0.58));
    return (
        <svg
            role={onPick ? 'group' : 'img'}
            aria-label={onPick ? `Core sample, ${n} groups from B- to B+` : label}
            viewBox={`0 0 ${width} ${total}`}
            width={width}
            height={total}
            className="block max-w-full h-auto"
        >
            {!thumb && (
                <g fill="var(--muted)" fontSize={14}>
                    <text x={2} y={15}>
                        B+
                    </text>
                    <text x={2} y={total - 6}>
                        B-
                    </text>
                </g>
            )}
            {[...bands].reverse().map((b, i) => {
                const look = lookOf(b);
                const w = width - 6;
                return (
                    <g
                        key={b.group}
                        transform={`translate(3 ${pad + i * h})`}
                        {...(onPick && {
                            role: 'button',
                            tabIndex: 0,
                            'aria-pressed': picked === b.group,
                            'aria-label': saidOf(b),
                            onClick: () => onPick(b.group),
                            onKeyDown: (e: KeyboardEvent) => {
                                if (e.key !== 'Enter' && e.key !== ' ') return;
                                e.preventDefault();
                                onPick(b.group);
                            },
                        })}
                        className={onPick ? 'cursor-pointer' : ''}
                    >
                        <rect
                            width={w}
                            height={h}
                            rx={thumb ? 0 : 2}
                            fill={look.fill}
                            stroke={b.v === null ? 'var(--muted)' : b.doubt ? '#7a4d00' : '#4a3826'}
                            strokeDasharray={b.v === null ? '4 3' : b.doubt ? '9 5' : undefined}
                            strokeWidth={thumb ? 0.6 : 1}
                        />
                        <Strokes pattern={look.pattern} w={w} h={h} ink={look.ink} />
                        {picked === b.group && (
                            <rect x={2} y={2} width={w - 4} height={h - 4} fill="none" stroke="var(--water)" strokeWidth={3} />
                        )}
                        {!thumb && (
                            <g fill={look.ink} fontSize={size} dominantBaseline="central">
                                <text x={10} y={h / 2} fontWeight={700}>
                                    {b.work && WORK[b.work].sign}
                                    {b.group}
                                </text>
                                <text x={52} y={h / 2} fontFamily="var(--font-mono)">
                                    {b.v === null ? '' : `${b.v.toFixed(3)} V`}
                                </text>
                                <text x={w - 10} y={h / 2} textAnchor="end">
                                    {b.note ?? wordOf(b)}
                                </text>
                            </g>
                        )}
                    </g>
                );
            })}
        </svg>
    );
});
