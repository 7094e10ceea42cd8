import { number } from '@/lib/number';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, type Job, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { hand, useInstruments } from '@/lib/instruments';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { LearnIt } from '@/parts/LearnIt';

type Entries = components['schemas']['RunEntries'];

/** What must be confirmed before any current flows, which instruments do it, and the start. The server asks the same again. */
export function StartRun({
    job,
    entries,
    checks,
    label,
    clip,
}: {
    job: Job;
    entries: Entries;
    checks: Record<string, string>;
    label: string;
    clip: number;
}) {
    const navigate = useNavigate();
    const may = useMay('recover');
    const list = useInstruments().data?.instruments ?? [];
    const meters = list.filter((i) => i.kind === 'meter' && i.checked_at);
    const supplies = list.filter((i) => i.kind === 'supply' && i.checked_at);
    const [meterId, setMeter] = useState<string | null>(null);
    const [supplyId, setSupply] = useState<string | null>(null);
    const [thermometerId, setThermometer] = useState('');
    const [ammeterId, setAmmeter] = useState('');
    const [steps, setSteps] = useState({ v: '', a: '' });
    const [scale, setScale] = useState('1');
    const [ticked, setTicked] = useState<Record<string, boolean>>({});
    const meter = meterId === '' ? null : (meters.find((m) => String(m.id) === meterId) ?? meters[0] ?? null);
    const supply = supplyId === '' ? null : (supplies.find((m) => String(m.id) === supplyId) ?? supplies[0] ?? null);
    const simulated = !!meter?.simulated && (supply === null || supply.simulated);
    const start = useMutation({
        mutationFn: async () => {
            if (simulated && clip !== 0) await hand({ do: 'clip', group: clip });
            if (simulated) await hand({ do: 'scale', x: Number(scale) });
            return unwrap(
                api.POST('/api/jobs/{job}/runs', {
                    params: { path: { job: job.id }, header: key() },
                    body: {
                        ...entries,
                        meter_id: meter?.id ?? null,
                        supply_id: supply?.id ?? null,
                        thermometer_id: thermometerId === '' ? null : Number(thermometerId),
                        ammeter_id: ammeterId === '' ? null : Number(ammeterId),
                        ...(number(steps.v) > 0 ? { resolution_v: number(steps.v) } : {}),
                        ...(number(steps.a) > 0 ? { resolution_a: number(steps.a) } : {}),
                        ...(entries.kind === 'bypass' || entries.kind === 'charge'
                            ? { board_id: list.find((i) => i.kind === 'board' && i.checked_at)?.id ?? null }
                            : {}),
                        time_scale: simulated ? Number(scale) : 1,
                        checks: ticked,
                    },
                }),
            );
        },
        onSuccess: (run) => void navigate(`/jobs/${job.id}/runs/${run.id}`),
    });
    const errors = fieldErrors(start.error);
    const gate = job.gates['recover-or-balance'];
    if (!may)
        return (
            <p className="text-muted">
                Your role may not start this. Ask a technician or a senior. <LearnIt />
            </p>
        );
    if (gate) return <p className="text-ember font-bold">{gate}</p>;
    const all = Object.keys(checks).every((c) => ticked[c]);
    return (
        <form
            className="grid gap-3"
            onSubmit={(e) => {
                e.preventDefault();
                start.mutate();
            }}
        >
            <fieldset className="grid">
                <legend className="eyebrow">Before any current flows</legend>
                {Object.entries(checks).map(([name, text]) => (
                    <label key={name} className="flex items-center gap-3 min-h-[44px]">
                        <input
                            type="checkbox"
                            checked={ticked[name] ?? false}
                            onChange={(e) => setTicked({ ...ticked, [name]: e.target.checked })}
                        />{' '}
                        {text}
                    </label>
                ))}
            </fieldset>
            <div className="grid gap-3 sm:grid-cols-3">
                <Field label="Meter on the group" error={errors['meter_id']}>
                    {(p) => (
                        <select {...p} value={meter ? String(meter.id) : ''} onChange={(e) => setMeter(e.target.value)}>
                            {meters.map((m) => (
                                <option key={m.id} value={m.id}>
                                    {m.name}
                                </option>
                            ))}
                            <option value="">none: I type the readings</option>
                        </select>
                    )}
                </Field>
                <Field label="Supply" error={errors['supply_id']}>
                    {(p) => (
                        <select {...p} value={supply ? String(supply.id) : ''} onChange={(e) => setSupply(e.target.value)}>
                            {supplies.map((m) => (
                                <option key={m.id} value={m.id} disabled={!m.driven}>
                                    {m.name}
                                    {m.driven ? '' : ': stays on, set by hand'}
                                </option>
                            ))}
                            <option value="">set by hand</option>
                        </select>
                    )}
                </Field>
                {simulated && (
                    <Field label="Time runs (simulation)" error={errors['time_scale']}>
                        {(p) => (
                            <select {...p} value={scale} onChange={(e) => setScale(e.target.value)}>
                                {['1', '10', '30', '60'].map((x) => (
                                    <option key={x} value={x}>
                                        {x} times
                                    </option>
                                ))}
                            </select>
                        )}
                    </Field>
                )}
            </div>
            <details>
                <summary className="min-h-[44px] cursor-pointer text-muted">Other instruments, coarse meters</summary>
                <div className="grid gap-3 sm:grid-cols-2 pt-1">
                    {(
                        [
                            ['Temperature by', thermometerId, setThermometer, 'the meter on the group', errors['thermometer_id']],
                            ['Current by', ammeterId, setAmmeter, 'the supply itself', errors['ammeter_id']],
                        ] as const
                    ).map(([label, value, set, none, error]) => (
                        <Field key={label} label={label} error={error}>
                            {(p) => (
                                <select {...p} value={value} onChange={(e) => set(e.target.value)}>
                                    <option value="">{none}</option>
                                    {meters
                                        .filter((m) => m.id !== meter?.id)
                                        .map((m) => (
                                            <option key={m.id} value={m.id}>
                                                {m.name}
                                            </option>
                                        ))}
                                </select>
                            )}
                        </Field>
                    ))}
                    <NumberField
                        label="Volts are shown in steps of"
                        unit="V"
                        hint="0.001 where nothing is said; over 0.02 nothing starts"
                        error={errors['resolution_v']}
                        value={steps.v}
                        onChange={(typed) => setSteps({ ...steps, v: typed })}
                    />
                    <NumberField
                        label="Amps are shown in steps of"
                        unit="A"
                        hint="0.01 where nothing is said"
                        error={errors['resolution_a']}
                        value={steps.a}
                        onChange={(typed) => setSteps({ ...steps, a: typed })}
                    />
                </div>
            </details>
            {start.error && Object.keys(errors).every((k) => k.startsWith('checks')) && (
                <p role="alert" className="text-ember font-bold text-lg">
                    ⬣ {start.error.message}
                </p>
            )}
            <div>
                <Button type="submit" look="main" disabled={!all || start.isPending}>
                    {label}
                </Button>
                {!all && <span className="text-muted ml-3">Confirm every line first.</span>}
            </div>
        </form>
    );
}
