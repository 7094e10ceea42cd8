import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { api, type Job, unwrap } from '@/api/client';
import { useKeep, usePerson } from '@/lib/bench';
import { useDraft } from '@/lib/useDraft';
import { Basis, Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';
import { boardSet } from './set';

/** A laptop pack's registers by the public smart-battery specification: decoded, shown, and kept as gauge and report. */
export function Registers({ job, onClose }: { job: Job; onClose: () => void }) {
    const write = useKeep();
    const [dump, setDump, clear] = useDraft(`registers.${job.id}.${usePerson().id}`, '');
    const read = useMutation({
        mutationFn: () => unwrap(api.POST('/api/registers', { body: { dump } })),
        onError: (e) => toast.error(e.message),
    });
    const d = read.data;
    const groups = d !== undefined && d.groups_v.length === job.series ? d.groups_v : null;
    const keep = async () => {
        if (!d) return;
        const instrument = { id: 'gauge', percent: 0.5, counts: 1, resolution_v: 0.001 };
        const kept = await write(
            ...(d.gauge ? [{ kind: 'test' as const, job: job.id, data: { kind: 'gauge', ...d.gauge } }] : []),
            ...(groups ? boardSet(job.id, groups, { condition: 'rest', instrument }) : []),
        );
        if (!kept) return;
        toast.success('Kept.');
        clear();
        onClose();
    };
    return (
        <Sheet title="Register dump" onClose={onClose} wide>
            <form
                className="grid gap-3"
                onSubmit={(e) => {
                    e.preventDefault();
                    read.mutate();
                }}
            >
                <Field label="Register and value, one a line, hex or decimal" hint="0x09 11350">
                    {(p) => <textarea {...p} rows={8} className="digits" value={dump} onChange={(e) => setDump(e.target.value)} />}
                </Field>
                <div>
                    <Button type="submit" look={d ? 'plain' : 'main'} disabled={dump.trim() === ''}>
                        Decode it
                    </Button>
                </div>
            </form>
            {d && (
                <>
                    <table>
                        <tbody>
                            {d.rows.map((r) => (
                                <tr key={r.register} className="border-t border-line">
                                    <td className="digits py-1">0x{r.register.toString(16).padStart(2, '0').toUpperCase()}</td>
                                    <td>{r.name}</td>
                                    <td className="digits text-right">{r.value}</td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                    {d.status.length > 0 && <p>Status: {d.status.join(', ')}.</p>}
                    {d.gauge && (
                        <p>
                            {`The gauge holds ${Number(d.gauge['full_charge_wh']).toFixed(1)} Wh of `}
                            {Number(d.gauge['design_wh']).toFixed(1)} Wh.
                        </p>
                    )}
                    {groups && (
                        <p>
                            Groups: {groups.map((v) => `${v.toFixed(3)} V`).join(', ')} <Basis of="assumed" /> order
                        </p>
                    )}
                    {d.errors.map((e) => (
                        <p key={e} className="text-ember">
                            {e}
                        </p>
                    ))}
                    <div>
                        <Button look="main" disabled={!d.gauge && !groups} onClick={() => void keep()}>
                            Keep it
                        </Button>
                    </div>
                </>
            )}
        </Sheet>
    );
}
