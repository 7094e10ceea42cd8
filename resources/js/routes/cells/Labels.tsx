import { useEffect, useState } from 'react';
import QRCode from 'qrcode';
import { Button } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import type { Cell } from './Drawer';

/** Small labels with a code to scan, forty to a sheet of paper. */
export function Labels({ cells, onClose }: { cells: Cell[]; onClose: () => void }) {
    const [codes, setCodes] = useState<Record<string, string>>({});
    useEffect(() => {
        void Promise.all(
            cells.slice(0, 200).map(async (c) => [c.code, await QRCode.toString(c.code, { type: 'svg', margin: 0 })] as const),
        ).then((all) => setCodes(Object.fromEntries(all)));
    }, [cells]);
    return (
        <Sheet title="Labels" onClose={onClose} wide>
            <div className="no-print">
                <Button look="main" onClick={() => window.print()}>
                    Print
                </Button>
            </div>
            <div className="print-only-this grid grid-cols-4 gap-2">
                {cells.slice(0, 200).map((c) => (
                    <div key={c.id} className="border border-line p-1.5 flex gap-2 items-center bg-white text-black">
                        <span className="w-12 h-12 shrink-0" aria-hidden="true" dangerouslySetInnerHTML={{ __html: codes[c.code] ?? '' }} />
                        <span className="text-[0.8rem] leading-tight">
                            <b>{c.code}</b>
                            <br />
                            {c.model}
                            <br />
                            {c.capacity_ah?.toFixed(2) ?? '-.--'} Ah
                        </span>
                    </div>
                ))}
            </div>
        </Sheet>
    );
}
