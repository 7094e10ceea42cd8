import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '@/api/client';
import { Sheet } from '@/parts/Sheet';

/** Lots beside one another: what was tested of them, and which disappoint. */
export function Lots({ onClose }: { onClose: () => void }) {
    const lots = useQuery({ queryKey: slots.lots(), queryFn: () => unwrap(api.GET('/api/lots')) });
    return (
        <Sheet title="Lots" onClose={onClose} wide>
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
                    {(lots.data?.lots ?? []).map((l) => (
                        <tr key={l.name} className="border-t border-line align-top">
                            <td className="py-1.5 pr-3">
                                <b>{l.name}</b> <span className="text-muted">{[l.supplier, l.date_code].filter(Boolean).join(', ')}</span>
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
                    ))}
                </tbody>
            </table>
        </Sheet>
    );
}
