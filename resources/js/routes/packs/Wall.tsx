import '@/lib/ownerWords';
import { Link } from 'react-router';
import { useTranslation } from 'react-i18next';
import type { components } from '@/api/schema';
import { day } from '@/lib/format';
import { GlanceMark } from '@/parts/GlanceMark';
import { seen } from '@/lib/glance';

type Row = components['schemas']['PackRow'];
/** By rank: to be brought in, due, as it should be, nothing known. */
const EDGE = ['border-l-ember', 'border-l-amber', 'border-l-moss', 'border-l-line'];

/** Every pack in service as one mark on its band, those that are to be brought in first: read in a second, from two metres. */
export function Wall({ rows }: { rows: Row[] }) {
    const { t } = useTranslation();
    const rank = (r: Row) => (r.stopped || (r.glance && !r.glance.inside) ? 0 : r.due ? 1 : r.glance ? 2 : 3);
    const sorted = [...rows].sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
    return (
        <ul aria-label="Packs at a glance" className="grid gap-3 grid-cols-[repeat(auto-fill,minmax(17rem,1fr))]">
            {sorted.map((r) => {
                const bad = rank(r) === 0;
                return (
                    <li key={r.id} className={`sheet p-3 grid content-start border-l-[12px] ${EDGE[rank(r)]}`}>
                        <Link to={`/packs/${r.id}`} className="font-bold text-2xl leading-tight no-underline hover:underline truncate">
                            {r.name}
                        </Link>
                        <p className={`text-4xl leading-tight ${bad ? 'text-ember font-bold' : ''}`}>
                            {bad ? '⬣ Bring it in' : r.glance === null ? '○ Not read yet' : '✓ In its band'}
                        </p>
                        {r.glance ? (
                            <>
                                <GlanceMark glance={r.glance} label={seen(t, r.glance)} />
                                <p className="text-muted text-sm">
                                    {seen(t, r.glance)} {day(r.glance.at)}.
                                </p>
                            </>
                        ) : (
                            <p className="text-muted">{r.next_at && `To be read ${r.due ? 'since' : 'on'} ${day(r.next_at)}.`}</p>
                        )}
                        {r.due && !bad && r.glance && <p className="text-amber font-bold">A reading is due.</p>}
                    </li>
                );
            })}
        </ul>
    );
}
