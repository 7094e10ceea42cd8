import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { percent } from '@/lib/format';
import { Basis, Button } from './basics';
import { Sheet } from './Sheet';
import { Word } from '@/parts/Word';

/** What is assumed before anything is measured, and how the workshop's own closed jobs have moved it. */
export default function PriorsSheet({ onClose }: { onClose: () => void }) {
    const queries = useQueryClient();
    const owner = useMay('settings');
    const priors = useQuery({ queryKey: slots.priors(), queryFn: () => unwrap(api.GET('/api/priors')) });
    const reset = useMutation({
        mutationFn: () => unwrap(api.POST('/api/priors/reset', { params: { header: key() }, body: {} })),
        onSuccess: (data) => queries.setQueryData(slots.priors(), data),
    });
    return (
        <Sheet title="Before anything is measured" onClose={onClose}>
            <p>
                How often a pack has which fault, <Word of="prior">before any reading</Word> of this one. The handbook&apos;s shares weigh
                as much as {priors.data?.worth ?? 40} closed jobs; every job closed here adds what somebody saw in the end.{' '}
                <Basis of="assumed" />
            </p>
            <table className="w-full">
                <thead>
                    <tr>
                        <th scope="col" className="text-left">
                            Fault
                        </th>
                        <th scope="col" className="text-right">
                            Handbook
                        </th>
                        <th scope="col" className="text-right">
                            Here
                        </th>
                        <th scope="col" className="text-right">
                            Jobs
                        </th>
                    </tr>
                </thead>
                <tbody>
                    {priors.data?.shares.map((s) => (
                        <tr key={s.code} className="border-t border-line">
                            <td className="py-1">{s.code.replace('.', ': ').replaceAll('-', ' ')}</td>
                            <td className="text-right digits">{percent(s.handbook)}</td>
                            <td className="text-right digits">{percent(s.here)}</td>
                            <td className="text-right digits">{s.jobs}</td>
                        </tr>
                    ))}
                </tbody>
            </table>
            {owner && (
                <div>
                    <Button look="stop" disabled={reset.isPending} onClick={() => reset.mutate()}>
                        Back to the handbook
                    </Button>
                </div>
            )}
        </Sheet>
    );
}
