import { useMutation, useQueryClient } from '@tanstack/react-query';
import QRCode from 'qrcode';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, key, unwrap } from '@/api/client';
import { when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button, Waiting } from './basics';
import { Sheet } from './Sheet';

const OWN = ['localhost', '127.0.0.1', '[::1]'];

/** A code that makes whatever phone scans it the camera of this job, for some hours. */
export function PhoneSheet({ job, until, onClose }: { job: Job; until: string | null; onClose: () => void }) {
    const queries = useQueryClient();
    const [code, setCode] = useState<string | null>(null);
    const path = { params: { path: { job: job.id } } };
    const open = useMutation({
        mutationFn: () => unwrap(api.POST('/api/jobs/{job}/phone-link', { params: { ...path.params, header: key() } })),
        onSuccess: async (link) => {
            void queries.invalidateQueries({ queryKey: slots.photos(job.id) });
            setCode(await QRCode.toString(`${location.origin}/phone#${link.secret}`, { type: 'svg', margin: 2 }));
        },
        onError: (e) => toast.error(e.message),
    });
    const end = useMutation({
        mutationFn: () => unwrap(api.DELETE('/api/jobs/{job}/phone-link', { params: { ...path.params, header: key() } })),
        onSuccess: (now) => {
            queries.setQueryData(slots.photos(job.id), now);
            toast.success('No phone adds photos to this job any more.');
            onClose();
        },
        onError: (e) => toast.error(e.message),
    });
    const { mutate } = open;
    useEffect(() => mutate(), [mutate]);
    const link = open.data ? `${location.origin}/phone#${open.data.secret}` : '';
    return (
        <Sheet title="A phone as camera" onClose={onClose}>
            {code === null ? (
                open.isError ? (
                    <p role="alert" className="text-ember font-bold">
                        {open.error.message}
                    </p>
                ) : (
                    <Waiting what="Drawing the code ..." />
                )
            ) : (
                <>
                    <div className="w-64 h-64 justify-self-center bg-white" aria-hidden="true" dangerouslySetInnerHTML={{ __html: code }} />
                    <p>
                        Scan it with the phone&apos;s camera. It adds photos to <b>{job.name}</b> and sees nothing else. Good until{' '}
                        {when(open.data?.until ?? '')}; no account is needed.
                    </p>
                    {OWN.includes(location.hostname) && (
                        <p className="text-muted">
                            This screen is opened under this machine&apos;s own name, which no phone can reach: open it under the name that
                            the shop&apos;s network knows.
                        </p>
                    )}
                    <p>
                        <a href={link} className="underline underline-offset-4 break-all" data-testid="phone-link">
                            Open it here
                        </a>
                    </p>
                </>
            )}
            {(until !== null || open.isSuccess) && (
                <div>
                    <Button onClick={() => end.mutate()} disabled={end.isPending}>
                        End all links of this job
                    </Button>
                </div>
            )}
        </Sheet>
    );
}
