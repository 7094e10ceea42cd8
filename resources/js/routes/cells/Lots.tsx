import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Fragment, useState } from 'react';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

type Lot = components['schemas']['Lot'];

const SIGN = { take: '✓', refuse: '⬣', 'test-more': '…' } as const;
const STATE = { incoming: 'a delivery, not taken yet', taken: 'taken', refused: 'refused' } as const;

/** Lots beside one another: what was tested of them, which disappoint, and what to do with a delivery. */
export function Lots({ onClose, onUntested }: { onClose: () => void; onUntested: (lot: string) => void }) {
    const lots = useQuery({ queryKey: slots.lots(), queryFn: () => unwrap(api.GET('/api/lots')) });
    const all = lots.data?.lots ?? [];
    const suppliers = lots.data?.suppliers ?? [];
    return (
        <Sheet title="Lots" onClose={onClose} wide>
            {all
                .filter((l) => l.state === 'incoming')
                .map((l) => (
                    <Delivery key={l.id} lot={l} onUntested={() => onUntested(l.name)} />
                ))}
            <table>
                <thead>
                    <tr>
                        {['Lot', 'Tested', 'Rejected', 'Mean Ah, 95 % interval', 'Each'].map((h, i) => (
                            <th key={h} className={`eyebrow pr-3 ${i === 0 ? 'text-left' : 'text-right'}`}>
                                {h}
                            </th>
                        ))}
                    </tr>
                </thead>
                <tbody>
                    {all.map((l) => (
                        <Fragment key={l.id}>
                            <tr className="border-t border-line align-top">
                                <td className="py-1.5 pr-3">
                                    <b>{l.name}</b>{' '}
                                    <span className="text-muted">{[l.supplier, l.date_code].filter(Boolean).join(', ')}</span>
                                    {l.state !== 'taken' && (
                                        <span
                                            className={clsx(
                                                'block text-[0.85rem]',
                                                l.state === 'refused' ? 'text-ember font-bold' : 'text-muted',
                                            )}
                                        >
                                            {STATE[l.state]}
                                            {l.reason && `: ${l.reason}`}
                                        </span>
                                    )}
                                </td>
                                <td className="digits text-right pr-3">
                                    {l.tested} of {l.cells}
                                </td>
                                <td className="digits text-right pr-3">{l.rejected}</td>
                                <td className="digits text-right pr-3">
                                    {l.mean_ah === null ? '' : l.mean_ah.toFixed(3)}
                                    {l.low_ah !== null && l.high_ah !== null && ` (${l.low_ah.toFixed(3)} to ${l.high_ah.toFixed(3)})`}
                                    {l.low_ah === null && <span className="block text-muted text-[0.85rem]">{l.text}</span>}
                                </td>
                                <td className="digits text-right">{l.price_cents > 0 ? (l.price_cents / 100).toFixed(2) : ''}</td>
                            </tr>
                            {l.state !== 'refused' && l.next.more > 0 && (
                                <tr>
                                    <td colSpan={5} className="pb-2 text-[0.9rem]">
                                        Test next{' '}
                                        <Button look="quiet" onClick={() => onUntested(l.name)}>
                                            {l.next.codes.join(', ')}
                                        </Button>{' '}
                                        <span className="text-muted">{l.next.text}</span>
                                    </td>
                                </tr>
                            )}
                        </Fragment>
                    ))}
                </tbody>
            </table>
            {suppliers.length > 0 && (
                <>
                    <h3>From whom</h3>
                    <table>
                        <thead>
                            <tr>
                                {['Supplier', 'Lots', 'Refused', 'Tested', 'Rejected', 'Of the rating'].map((h, i) => (
                                    <th key={h} className={`eyebrow pr-3 ${i === 0 ? 'text-left' : 'text-right'}`}>
                                        {h}
                                    </th>
                                ))}
                            </tr>
                        </thead>
                        <tbody>
                            {suppliers.map((s) => (
                                <tr key={s.name} className="border-t border-line">
                                    <td className="py-1.5 pr-3 font-bold">{s.name}</td>
                                    <td className="digits text-right pr-3">{s.lots}</td>
                                    <td className="digits text-right pr-3">{s.refused}</td>
                                    <td className="digits text-right pr-3">
                                        {s.tested} of {s.cells}
                                    </td>
                                    <td className="digits text-right pr-3">{s.rejected}</td>
                                    <td className="digits text-right">
                                        {s.mean_of_rated === null ? '' : `${(100 * s.mean_of_rated).toFixed(1)} %`}
                                    </td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                </>
            )}
        </Sheet>
    );
}

/** A delivery: what its sample says, and a person's word on it. */
function Delivery({ lot, onUntested }: { lot: Lot; onUntested: () => void }) {
    const queries = useQueryClient();
    const may = useMay('decide');
    const [reason, setReason] = useState('');
    const decide = useMutation({
        mutationFn: (state: 'taken' | 'refused') =>
            unwrap(
                api.PATCH('/api/lots/{lot}', {
                    params: { path: { lot: lot.id }, header: { ...key(), 'If-Match': lot.version } },
                    body: { state, ...(reason.trim() === '' ? {} : { reason }) },
                }),
            ),
        onSuccess: (data) => {
            queries.setQueryData(slots.lots(), data);
            void queries.invalidateQueries({ queryKey: slots.deal() });
            toast.success(`${lot.name}: kept.`);
        },
        onError: (e) => toast.error(e.message),
    });
    const { outcome, text } = lot.inspection;
    return (
        <section aria-label={`Delivery ${lot.name}`} className="sheet p-3 grid gap-2">
            <p>
                <b>
                    {SIGN[outcome]} {lot.name}
                </b>{' '}
                {lot.supplier && <span className="text-muted">from {lot.supplier}</span>} {text}
            </p>
            {lot.tested < lot.cells && (
                <p>
                    <Button look="quiet" onClick={onUntested}>
                        Its cells that are not tested yet
                    </Button>
                </p>
            )}
            {may && (
                <div className="flex flex-wrap gap-3 items-end">
                    <div className="grow">
                        <Field label="Why, where its sample says otherwise">
                            {(p) => <input {...p} value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />}
                        </Field>
                    </div>
                    <Button look={outcome === 'take' ? 'main' : 'plain'} disabled={decide.isPending} onClick={() => decide.mutate('taken')}>
                        Take it
                    </Button>
                    <Button
                        look={outcome === 'refuse' ? 'main' : 'plain'}
                        disabled={decide.isPending}
                        onClick={() => decide.mutate('refused')}
                    >
                        Send it back
                    </Button>
                </div>
            )}
        </section>
    );
}
