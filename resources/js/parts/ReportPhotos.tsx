import { ABOUT, MARK, photoUrl } from '@/lib/photos';
import { usePhotos } from './Photos';

/** The photos that were chosen for the report, with their marks drawn over them and told below. */
export function ReportPhotos({ job }: { job: number }) {
    const chosen = (usePhotos(job).data?.photos ?? []).filter((p) => p.on_report);
    if (chosen.length === 0) return null;
    return (
        <section aria-label="Photos" className="grid gap-3 sm:grid-cols-2">
            {chosen.map((p) => (
                <figure key={p.id} className="grid gap-1 content-start break-inside-avoid">
                    <div className="relative w-fit max-w-full">
                        <img
                            src={photoUrl(p, 'whole')}
                            alt={`What was taken: ${ABOUT[p.about]}`}
                            width={p.width}
                            height={p.height}
                            loading="lazy"
                            className="max-h-64 w-auto max-w-full border border-line"
                        />
                        {p.marks.map((m, i) => (
                            <span
                                key={i}
                                aria-hidden="true"
                                className={`${MARK} w-6 h-6 text-sm`}
                                style={{ left: `${100 * m.x}%`, top: `${100 * m.y}%` }}
                            >
                                {i + 1}
                            </span>
                        ))}
                    </div>
                    <figcaption className="text-[0.95rem]">
                        {[p.about === '' ? '' : ABOUT[p.about], p.note].filter(Boolean).join(': ')}
                        {p.marks.map((m, i) => (
                            <span key={i} className="block">
                                <b>{i + 1}</b> {m.text || 'marked'}
                            </span>
                        ))}
                    </figcaption>
                </figure>
            ))}
        </section>
    );
}
