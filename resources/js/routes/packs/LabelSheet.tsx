import { useMutation, useQueryClient } from '@tanstack/react-query';
import QRCode from 'qrcode';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

/** The label of a pack: its code, and a code to scan that opens the page of its owner. The link is said once; a new one ends the old. */
export function LabelSheet({ pack, onClose }: { pack: components['schemas']['Passport']; onClose: () => void }) {
    const queries = useQueryClient();
    const [drawn, setDrawn] = useState<{ svg: string; link: string } | null>(null);
    const params = { path: { pack: pack.id }, header: key() };
    const open = useMutation({
        mutationFn: () => unwrap(api.POST('/api/packs/{pack}/link', { params })),
        onSuccess: async ({ secret, ...now }) => {
            queries.setQueryData(slots.pack(pack.id), now);
            const link = `${location.origin}/pack#${secret}`;
            setDrawn({ svg: await QRCode.toString(link, { type: 'svg', margin: 0 }), link });
        },
        onError: (e) => toast.error(e.message),
    });
    const end = useMutation({
        mutationFn: () => unwrap(api.DELETE('/api/packs/{pack}/link', { params: { ...params, header: key() } })),
        onSuccess: (now) => {
            queries.setQueryData(slots.pack(pack.id), now);
            setDrawn(null);
            toast.success('The page of its owner is withdrawn.');
        },
        onError: (e) => toast.error(e.message),
    });
    return (
        <Sheet title="Label" onClose={onClose}>
            <div className="no-print grid gap-2">
                {pack.link ? (
                    <p>
                        Its owner has had a page since {when(pack.link.opened_at)}
                        {pack.link.used_at ? `, last used ${when(pack.link.used_at)}, ${pack.link.entries} readings` : ', not used yet'}. A
                        new label ends that page.
                    </p>
                ) : (
                    <p>
                        The code to scan opens one page, for this pack alone, without an account: its state in plain words, and a place for
                        the volts of its display.
                    </p>
                )}
                <div className="flex flex-wrap gap-3">
                    {drawn ? (
                        <Button look="main" onClick={() => window.print()}>
                            Print
                        </Button>
                    ) : (
                        <Button look="main" disabled={open.isPending} onClick={() => open.mutate()}>
                            {pack.link ? 'Make a new label' : 'Make the label'}
                        </Button>
                    )}
                    {drawn && (
                        <Button
                            onClick={() => void navigator.clipboard.writeText(drawn.link).then(() => toast.success('The link is copied.'))}
                        >
                            Copy the link
                        </Button>
                    )}
                    {pack.link && (
                        <Button look="quiet" disabled={end.isPending} onClick={() => end.mutate()}>
                            Withdraw the page
                        </Button>
                    )}
                </div>
            </div>
            {drawn && (
                <div className="print-only-this">
                    <div className="border border-line bg-white text-black p-3 flex gap-4 items-center w-[90mm]">
                        <span className="w-[28mm] h-[28mm] shrink-0" aria-hidden="true" dangerouslySetInnerHTML={{ __html: drawn.svg }} />
                        <span className="leading-tight">
                            <b className="digits text-xl block">{pack.code}</b>
                            {pack.name}
                            <br />
                            <small>Scan it: how is this pack, and when is it read again?</small>
                        </span>
                    </div>
                    <a className="no-print underline break-all text-sm" href={drawn.link} target="_blank" rel="noreferrer">
                        Its page, as its owner sees it
                    </a>
                </div>
            )}
        </Sheet>
    );
}
