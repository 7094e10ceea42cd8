import { number as parse } from '@/lib/number';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type Job, unwrap } from '@/api/client';
import { useKeep, usePerson } from '@/lib/bench';
import { useDraft } from '@/lib/useDraft';
import { Button, Go } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';
import type { BuildData } from './Build';

const EMPTY: string[] = [];

/** Pin by pin before anything is plugged: black probe on B-, red on pin after pin. */
export function Pins({ job, data }: { job: Job; data: BuildData }) {
    const write = useKeep();
    const [typed, setTyped, clear] = useDraft<string[]>(`pins.${job.id}.${usePerson().id}`, EMPTY);
    const [positive, setPositive] = useState(false);
    const n = job.series + 1;
    const number = (t: string | undefined) => (t === undefined || t.trim() === '' || Number.isNaN(parse(t)) ? null : parse(t));
    const pins = Array.from({ length: n }, (_, k) => number(typed[k]));
    const check = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/jobs/{job}/pin-check', {
                    params: { path: { job: job.id } },
                    body: { pins_v: pins, from_positive: positive },
                }),
            ),
        onError: (e) => toast.error(e.message),
    });
    const keep = async () => {
        const data = { kind: 'pin-check', pins_v: positive ? [...pins].reverse() : pins };
        if (!(await write({ kind: 'test', job: job.id, data }))) return;
        toast.success('Kept with the job.');
        clear();
    };
    if (data.groups_v === null)
        return (
            <div className="grid gap-3">
                <p>Read every group first: what a pin must show comes from today&apos;s voltages.</p>
                <div>
                    <Go to={`/jobs/${job.id}/probe`} look="main">
                        Read the groups
                    </Go>
                </div>
            </div>
        );
    const r = check.data;
    return (
        <div className="grid gap-5 lg:grid-cols-[420px_minmax(0,1fr)] items-start">
            <form
                className="grid gap-2"
                onSubmit={(e) => {
                    e.preventDefault();
                    check.mutate();
                }}
            >
                <p>
                    Black probe on B-, red on the pins of the <Word of="sense">sense leads</Word> in the plug&apos;s order. Leave empty what
                    shows nothing.
                </p>
                <label className="flex items-center gap-2 min-h-[44px]">
                    <input type="checkbox" checked={positive} onChange={(e) => setPositive(e.target.checked)} /> pin 1 of this board is B+
                </label>
                <div className="grid grid-cols-2 gap-2">
                    {pins.map((_, k) => (
                        <NumberField
                            label={`Pin ${k + 1}`}
                            key={k}
                            value={typed[k] ?? ''}
                            onChange={(volts) => {
                                const next = Array.from({ length: n }, (_, i) => typed[i] ?? '');
                                next[k] = volts;
                                setTyped(next);
                            }}
                        />
                    ))}
                </div>
                <div>
                    <Button type="submit" look="main" disabled={pins.filter((v) => v !== null).length < 2 || check.isPending}>
                        Check the plug
                    </Button>
                </div>
            </form>
            {r && (
                <section className={`sheet p-4 grid gap-3 !border-[3px] ${r.go ? '!border-moss' : '!border-ember'}`} role="status">
                    <p className={`text-4xl font-bold ${r.go ? 'text-moss' : 'text-ember'}`}>{r.go ? '✓ Right' : '⬣ Stop'}</p>
                    <p className="text-xl">{r.text}</p>
                    <table>
                        <tbody>
                            {r.pins.map((p) => (
                                <tr key={p.pin} className="border-t border-line">
                                    <td className="py-1">
                                        {p.right ? '✓' : '✕'} pin {p.pin}
                                    </td>
                                    <td className="digits text-right">{p.expected_v.toFixed(2)} V wanted</td>
                                    <td className={`digits text-right ${p.right ? '' : 'text-ember font-bold'}`}>
                                        {p.v === null ? 'nothing' : `${p.v.toFixed(2)} V`}
                                    </td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                    <div>
                        <Button onClick={() => void keep()}>Keep this check</Button>
                    </div>
                </section>
            )}
        </div>
    );
}
