import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, memo, Suspense, useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { day, percent, when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { Word } from '@/parts/Word';
import { told } from '@/lib/logs';

const LogImport = lazy(() => import('../cells/LogImport').then((m) => ({ default: m.LogImport })));
const LogChart = lazy(() => import('../cells/LogChart'));

type History = components['schemas']['PackCapacity']['history'];

/** What a tester logged of this pack, beside its label and every earlier test of it; one that counts is evidence of the job. */
export const PackLogs = memo(function PackLogs({ job, ask }: { job: Job; ask: boolean }) {
    const [open, setOpen] = useState<'import' | number | null>(ask ? 'import' : null);
    const may = useMay('cells');
    const queries = useQueryClient();
    const slot = slots.capacity(job.id);
    const found = useQuery({
        queryKey: slot,
        queryFn: () => unwrap(api.GET('/api/jobs/{job}/capacity', { params: { path: { job: job.id } } })),
    });
    const full = useMutation({
        mutationFn: (log: number) => unwrap(api.POST('/api/logs/{log}/full', { params: { path: { log }, header: key() } })),
        onSuccess: () => {
            void queries.invalidateQueries({ queryKey: slot });
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
        },
        onError: (e) => toast.error(e.message),
    });
    const logs = found.data?.logs ?? [];
    return (
        <section aria-label="Test logs of this pack" className="grid grid-cols-[minmax(0,1fr)] gap-2">
            {may && job.status === 'open' && <Button onClick={() => setOpen('import')}>Attach a test log</Button>}
            {found.data && <Given history={found.data.history} />}
            <ul className="grid grid-cols-[minmax(0,1fr)] gap-2">
                {logs.map((l) => (
                    <li key={l.id} className="border-t border-line pt-1.5 grid gap-1 text-[0.95rem]">
                        <span>
                            <button type="button" className="font-bold underline underline-offset-4 min-h-6" onClick={() => setOpen(l.id)}>
                                {l.name}
                            </button>
                            {l.group_no !== null && `, group ${l.group_no}`}: {told(l)}
                        </span>
                        {l.capacity?.said_full && (
                            <span className="text-muted">
                                Full, says {l.capacity.said_full.by}, {when(l.capacity.said_full.at)}.
                            </span>
                        )}
                        {l.capacity?.asks_full && may && (
                            <div>
                                <Button disabled={full.isPending} onClick={() => full.mutate(l.id)}>
                                    It was full: I say so
                                </Button>
                            </div>
                        )}
                    </li>
                ))}
            </ul>
            <Suspense>
                {open === 'import' && <LogImport cells={[]} job={job} onClose={() => setOpen(null)} />}
                {typeof open === 'number' && (
                    <Sheet title={logs.find((l) => l.id === open)?.name ?? 'Log'} onClose={() => setOpen(null)} wide>
                        <LogChart id={open} />
                    </Sheet>
                )}
            </Suspense>
        </section>
    );
});

/** What it gave, test after test, as bars of its label. */
export function Given({ history }: { history: History }) {
    if (history.tests.length === 0) return null;
    const most = Math.max(history.label_ah ?? 0, ...history.tests.map((t) => t.ah));
    return (
        <div className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
            <p className="eyebrow">
                What it gave, in <Word of="stretch">capacity tests</Word>
            </p>
            <ol className="grid grid-cols-[minmax(0,1fr)] gap-1">
                {history.label_ah !== null && <Bar name="label" ah={history.label_ah} most={most} look="border-dashed border-ink" />}
                {history.tests.map((t) => (
                    <Bar
                        key={t.at + t.from}
                        name={`${day(t.at)}, ${t.from}`}
                        ah={t.ah}
                        most={most}
                        look={t.counts ? 'bg-knot border-bark' : 'border-line'}
                        more={
                            t.counts
                                ? t.soh === null
                                    ? ''
                                    : `${percent(t.soh)} +- ${(200 * (t.soh_sigma ?? 0)).toFixed(1)}`
                                : 'does not count'
                        }
                    />
                ))}
            </ol>
            {history.said.map((line) => (
                <p key={line}>{line}</p>
            ))}
        </div>
    );
}

function Bar({ name, ah, most, look, more = '' }: { name: string; ah: number; most: number; look: string; more?: string }) {
    return (
        <li className="grid grid-cols-[minmax(0,1fr)] gap-0.5 text-sm">
            <span className="flex justify-between gap-2">
                <span className="text-muted truncate">{name}</span>
                <span className="digits whitespace-nowrap">
                    {ah.toFixed(2)} Ah{more && <span className="text-muted"> {more}</span>}
                </span>
            </span>
            <span
                aria-hidden="true"
                className={`block h-2.5 border-[1.5px] ${look}`}
                style={{ width: `${(100 * ah) / Math.max(most, 1e-9)}%` }}
            />
        </li>
    );
}
