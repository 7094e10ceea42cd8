import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { hand } from '@/lib/instruments';
import { Button } from './basics';

const FAULTS = ['nothing wrong', 'one group low', 'one group dead', 'one group leaks', 'one group deep-discharged'] as const;
type Fault = (typeof FAULTS)[number];

/** Groups for the simulated bench: as read on this job where there are readings, else level, with one fault. */
function groups(job: Job, fault: Fault, at: number) {
    const read = [...job.measurements]
        .reverse()
        .find((m) => m.condition === 'rest' && m.groups_v.length === job.series && m.groups_v.every((v) => v !== null));
    return Array.from({ length: job.series }, (_, k) => {
        const base: Record<string, number> =
            read && fault === 'nothing wrong' ? { v: read.groups_v[k]! } : { soc: 0.6 + 0.006 * Math.sin(3 * k) };
        if (k !== at - 1) return base;
        if (fault === 'one group low') return { soc: 0.35 };
        if (fault === 'one group dead') return { v: 0.0 };
        if (fault === 'one group leaks') return { ...base, leak_a: 0.05 };
        if (fault === 'one group deep-discharged') return { v: 2.3 };
        return base;
    });
}

/** A hand that does not exist: it holds the probes of the simulated bench. Clearly simulation, apart from everything real. */
export function SimulatedHand({
    job,
    follow,
    setFollow,
    again,
}: {
    job: Job;
    follow?: boolean;
    setFollow?: (on: boolean) => void;
    again?: () => void;
}) {
    const [fault, setFault] = useState<Fault>('nothing wrong');
    const [at, setAt] = useState(Math.ceil(job.series / 2));
    const [said, setSaid] = useState('');
    const tell = useMutation({
        mutationFn: hand,
        onError: (e) => toast.error(e.message),
    });
    const load = () =>
        tell.mutate(
            {
                do: 'pack',
                groups: groups(job, fault, at),
                chemistry: job.chemistry,
                capacity_ah: Number((job.pack as { cell?: { capacity_ah?: number } }).cell?.capacity_ah ?? 2.5) * (job.parallel ?? 1),
                scale: 1,
            },
            {
                onSuccess: () =>
                    setSaid(`This pack lies on the simulated bench: ${fault}${fault === 'nothing wrong' ? '' : `, group ${at}`}.`),
            },
        );
    return (
        <aside aria-label="Simulated hand" className="border-2 border-dashed border-water rounded p-3 grid gap-2 text-[0.95rem]">
            <p>
                <b className="text-water">◇ Simulation.</b> No pack, no probes: a model and a hand that does as told.
            </p>
            <div className="flex flex-wrap gap-2 items-center">
                <label className="flex gap-2 items-center">
                    Fault
                    <select value={fault} onChange={(e) => setFault(e.target.value as Fault)} aria-label="Fault">
                        {FAULTS.map((f) => (
                            <option key={f}>{f}</option>
                        ))}
                    </select>
                </label>
                <label className="flex gap-2 items-center">
                    group
                    <input
                        className="!w-20"
                        type="number"
                        min={1}
                        max={job.series}
                        value={at}
                        onChange={(e) => setAt(Number(e.target.value))}
                        aria-label="Group with the fault"
                    />
                </label>
                <Button onClick={load}>Lay it on the bench</Button>
                {setFollow && (
                    <label className="flex gap-2 items-center min-h-[44px]">
                        <input
                            type="checkbox"
                            checked={follow ?? false}
                            onChange={(e) => {
                                void hand({ do: 'follow', on: e.target.checked }).catch(() => {});
                                setFollow(e.target.checked);
                            }}
                        />
                        follow the prompts
                    </label>
                )}
                {again && <Button onClick={again}>Place the probe again</Button>}
                <Button onClick={() => tell.mutate({ do: 'lift' })}>Lift</Button>
                <Button onClick={() => tell.mutate({ do: 'lead', which: 'temperature', off: true })}>Temperature lead falls off</Button>
                <Button onClick={() => tell.mutate({ do: 'lead', off: true })}>Meter lead falls off</Button>
                <Button
                    onClick={() => {
                        tell.mutate({ do: 'lead', off: false });
                        tell.mutate({ do: 'lead', which: 'temperature', off: false });
                    }}
                >
                    Put the leads back
                </Button>
            </div>
            {said && <p role="status">{said}</p>}
        </aside>
    );
}
