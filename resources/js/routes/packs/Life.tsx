import { Link } from 'react-router';
import { count, day } from '@/lib/format';
import { Basis } from '@/parts/basics';
import type { Passport } from './write';

const LINK = 'underline underline-offset-4';

/** What was done to it, job by job: found, done, proved, promised, and why it came back. */
export function Jobs({ pack }: { pack: Passport }) {
    return (
        <section aria-label="Jobs" className="grid gap-2">
            <div className="flex flex-wrap gap-x-5 items-center">
                <h2 className="grow">Jobs</h2>
                {pack.jobs.every((j) => j.status === 'returned') && (
                    <Link
                        to={`/intake?serial=${encodeURIComponent(pack.serial || pack.code)}`}
                        className={`${LINK} min-h-[44px] flex items-center`}
                    >
                        It came back: take it in
                    </Link>
                )}
            </div>
            {pack.jobs.length === 0 && <p className="text-muted">None here yet.</p>}
            <ul>
                {pack.jobs.map((j) => (
                    <li key={j.id} className="border-t border-line py-2 grid gap-0.5">
                        <div className="flex flex-wrap gap-x-4">
                            <Link to={`/jobs/${j.id}/${j.status === 'open' ? j.stage : 'report'}`} className={`font-bold ${LINK}`}>
                                Job {j.number}
                            </Link>
                            <span className="text-muted">
                                {day(j.opened_at)}
                                {j.closed_at && ` to ${day(j.closed_at)}`}
                            </span>
                            <span>{j.status}</span>
                            <span className="grow">
                                {j.found ?? 'Nothing was found.'}
                                {j.truth !== null && <span className="text-muted"> In the end: {j.truth}.</span>}
                            </span>
                        </div>
                        {(j.did || j.proof) && (
                            <p className="text-muted">
                                {j.did && `${j.did}. `}
                                {j.revision > 1 && `Pack revision ${j.revision}. `}
                                {j.proof &&
                                    `Proof signed ${day(j.proof.at)}: ${j.proof.passed} passed` +
                                        `${j.proof.missing ? `, ${j.proof.missing} not tried` : ''}.`}
                            </p>
                        )}
                        {j.comeback && (
                            <p>
                                <b>It had come back: {j.comeback.words}.</b>{' '}
                                {j.comeback.under_promise !== null &&
                                    (j.comeback.under_promise ? 'That fell under the promise.' : 'That did not fall under the promise.')}
                            </p>
                        )}
                        {j.promise && (
                            <p className={j.promise.runs ? '' : 'text-muted'}>
                                Promised for {count(j.promise.months, 'month')}, {j.promise.runs ? 'until' : 'ended'} {day(j.promise.until)}
                                .
                            </p>
                        )}
                    </li>
                ))}
            </ul>
        </section>
    );
}

/** What it is made of: cells by their codes, boards, photos; and what its groups resist, year by year. */
export function Made({ pack }: { pack: Passport }) {
    const of = pack.board as { discharge_limit_a?: number; charge_limit_a?: number; balance_ma?: number };
    const limits = [
        of.discharge_limit_a && `${of.discharge_limit_a} A out`,
        of.charge_limit_a && `${of.charge_limit_a} A in`,
        of.balance_ma && `balances ${of.balance_ma} mA`,
    ].filter(Boolean);
    if (
        pack.cells.length + pack.boards.length + pack.resistance.length + pack.photos.length + pack.display_photos.length === 0 &&
        limits.length === 0
    )
        return null;
    return (
        <section aria-label="What it is made of" className="grid gap-3">
            <h2>What it is made of</h2>
            {pack.cells.length > 0 && (
                <details open={pack.cells.length <= 4}>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                        Cells out of the drawer: {pack.cells.reduce((n, g) => n + g.codes.length, 0)}
                    </summary>
                    <ul>
                        {pack.cells.map((g) => (
                            <li key={String(g.group)} className="flex flex-wrap gap-x-3">
                                <b className="w-24">{g.group === null ? 'no group' : `Group ${g.group}`}</b>
                                <span className="digits">{g.codes.join(' ')}</span>
                                <span className="text-muted">{g.models.join(', ')}</span>
                            </li>
                        ))}
                    </ul>
                </details>
            )}
            {(limits.length > 0 || pack.boards.length > 0) && (
                <p>
                    <b>Board</b> {limits.join(', ')}
                    {pack.boards.map((b) => (
                        <span key={b.number}>
                            {limits.length > 0 ? '; ' : ''}replaced {day(b.at)} (job {b.number})
                        </span>
                    ))}
                    .
                </p>
            )}
            {pack.resistance.length > 0 && <Resistance rows={pack.resistance} />}
            {pack.photos.length > 0 && (
                <ul aria-label="Photos" className="flex flex-wrap gap-2">
                    {pack.photos.slice(0, 24).map((p) => (
                        <li key={p.id}>
                            <a href={`/api/photos/${p.id}/whole`} target="_blank" rel="noreferrer">
                                <img
                                    src={`/api/photos/${p.id}/small`}
                                    loading="lazy"
                                    alt={`${p.about || 'photo'}, ${day(p.at)}${p.note ? `: ${p.note}` : ''}`}
                                    className="h-24 w-auto rounded border border-line"
                                />
                            </a>
                        </li>
                    ))}
                </ul>
            )}
            {pack.display_photos.length > 0 && (
                <div className="grid gap-1">
                    <p className="text-muted">Its display, by its owner</p>
                    <ul aria-label="Photos of its display" className="flex flex-wrap gap-2">
                        {pack.display_photos.slice(0, 24).map((p) => (
                            <li key={p.id}>
                                <a href={`/api/packs/${pack.id}/displays/${p.id}/whole`} target="_blank" rel="noreferrer">
                                    <img
                                        src={`/api/packs/${pack.id}/displays/${p.id}/small`}
                                        loading="lazy"
                                        alt={`display, ${day(p.at)}`}
                                        className="h-24 w-auto rounded border border-line"
                                    />
                                </a>
                            </li>
                        ))}
                    </ul>
                </div>
            )}
        </section>
    );
}

const W = 560;
const H = 170;
const LEFT = 46;

/** What its groups resist from job to job: the middle one as a line, each group a dot. */
export function Resistance({ rows }: { rows: Passport['resistance'] }) {
    const all = rows.flatMap((r) => r.groups_mohm.filter((m): m is number => m !== null));
    const top = Math.max(...all) * 1.15;
    const times = rows.map((r) => new Date(r.at).getTime());
    const [from, to] = [times[0]!, times.at(-1)!];
    const x = (t: number) => (to === from ? W / 2 : LEFT + 20 + ((t - from) / (to - from)) * (W - LEFT - 60));
    const y = (m: number) => H - 28 - (m / top) * (H - 44);
    const told = rows.map((r) => `${day(r.at)} ${r.middle_mohm.toFixed(1)} mΩ`).join('; ');
    return (
        <figure className="grid gap-1 max-w-2xl">
            <figcaption>
                <b>Resistance of its groups</b> {told}. <Basis of="measured" />
            </figcaption>
            {rows.length > 1 && (
                <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={`Resistance of the middle group: ${told}`} className="w-full h-auto">
                    <g fill="var(--muted)" fontSize={13}>
                        {[0, top / 2, top].map((m) => (
                            <g key={m}>
                                <line x1={LEFT} x2={W - 10} y1={y(m)} y2={y(m)} stroke="var(--line)" />
                                <text x={LEFT - 6} y={y(m) + 4} textAnchor="end">
                                    {m.toFixed(0)}
                                </text>
                            </g>
                        ))}
                        <text x={4} y={12}>
                            mΩ
                        </text>
                        {rows.map((r, i) => (
                            <text key={r.at} x={x(times[i]!)} y={H - 8} textAnchor="middle">
                                {day(r.at)}
                            </text>
                        ))}
                    </g>
                    <polyline
                        points={rows.map((r, i) => `${x(times[i]!)},${y(r.middle_mohm)}`).join(' ')}
                        fill="none"
                        stroke="var(--bark)"
                        strokeWidth={2.5}
                    />
                    {rows.flatMap((r, i) =>
                        r.groups_mohm.map((m, g) =>
                            m === null ? null : <circle key={`${i}-${g}`} cx={x(times[i]!)} cy={y(m)} r={3.5} fill="var(--ink)" />,
                        ),
                    )}
                </svg>
            )}
        </figure>
    );
}

/** What came with it from elsewhere: as it was told there, and what of it nobody here vouches for. */
export function Elsewhere({ pack }: { pack: Passport }) {
    if (pack.imports.length === 0) return null;
    return (
        <section aria-label="From elsewhere" className="grid gap-3">
            <h2>From elsewhere</h2>
            {pack.imports.map((i) => (
                <div key={i.id} className="border-l-4 border-amber pl-4 grid gap-1">
                    <p>
                        <b>{i.from}</b>{' '}
                        <span className="text-muted">
                            written {day(i.written_at)}, imported {day(i.at)}, {count(i.readings, 'reading')}
                        </span>
                    </p>
                    <ul aria-label="Not vouched for here" className="list-disc pl-5">
                        {i.doubts.map((d) => (
                            <li key={d}>{d}</li>
                        ))}
                    </ul>
                    <ul>
                        {i.jobs.map((j) => (
                            <li key={j.number} className="text-muted">
                                Their job {j.number}, {day(j.opened_at)}, {j.status}: {j.found.join('; ') || 'nothing was found'}
                                {j.did && `. ${j.did}`}
                                {j.cells > 0 && `. ${count(j.cells, 'cell')} by code`}.
                            </li>
                        ))}
                    </ul>
                    {i.capacity.length > 0 && (
                        <p className="text-muted">
                            It gave {i.capacity.map((c) => `${c.ah.toFixed(1)} Ah (${day(c.at)})`).join(', ')} there.
                        </p>
                    )}
                </div>
            ))}
        </section>
    );
}
