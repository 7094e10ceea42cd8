import { useEffect, useState } from 'react';
import QRCode from 'qrcode';
import { Button } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

/** Labels that one print has, at most. */
const MOST = 200;

export interface CodeLabel {
    /** What is scanned, and stands on it in bold. */
    code: string;
    lines: string[];
}

/** Small labels with a code to scan, forty to a sheet of paper. */
export function CodeLabels({ title = 'Labels', labels, onClose }: { title?: string; labels: CodeLabel[]; onClose: () => void }) {
    const [codes, setCodes] = useState<Record<string, string>>({});
    useEffect(() => {
        void Promise.all(
            labels.slice(0, MOST).map(async (l) => [l.code, await QRCode.toString(l.code, { type: 'svg', margin: 0 })] as const),
        ).then((all) => setCodes(Object.fromEntries(all)));
    }, [labels]);
    return (
        <Sheet title={title} onClose={onClose} wide>
            <div className="no-print">
                <Button look="main" onClick={() => window.print()}>
                    Print
                </Button>
            </div>
            <div className="print-only-this grid grid-cols-4 gap-2">
                {labels.slice(0, MOST).map((l) => (
                    <div key={l.code} className="border border-line p-1.5 flex gap-2 items-center bg-white text-black">
                        <span className="w-12 h-12 shrink-0" aria-hidden="true" dangerouslySetInnerHTML={{ __html: codes[l.code] ?? '' }} />
                        <span className="text-[0.8rem] leading-tight min-w-0">
                            <b>{l.code}</b>
                            {l.lines.map((line) => (
                                <span key={line} className="block">
                                    {line}
                                </span>
                            ))}
                        </span>
                    </div>
                ))}
            </div>
        </Sheet>
    );
}
