import { number, numberOr } from '@/lib/number';
import { useState } from 'react';
import type { Job } from '@/api/client';

import { NumberField } from '@/parts/NumberField';
import { Word } from '@/parts/Word';
import { StartRun } from './start';
import type { Overview } from './Supply';

/** A whole pack through its own board, every group watched: ended by its tail, or by the first group that the board should have stopped. */
export function Charge({ job, overview }: { job: Job; overview: Overview }) {
    const [amps, setAmps] = useState('');
    const [ambient, setAmbient] = useState('20');
    return (
        <section className="grid gap-4 max-w-3xl" aria-label="Charge the pack, watched">
            <p className="text-lg">
                The supply charges the pack through its board, at a <Word of="c-rate">tenth of its capacity</Word> unless you say otherwise.
                Every group is read all the while. It ends when the pack is full by its tail, and at once when a group stands past the
                board&apos;s own cut and the board has not stopped it.
            </p>
            <div className="grid gap-3 sm:grid-cols-3">
                <NumberField label="Supply" unit="A" placeholder="C/10" value={amps} onChange={setAmps} />
                <NumberField label="Air around it" unit="degC" value={ambient} onChange={setAmbient} />
            </div>
            <StartRun
                job={job}
                entries={{
                    kind: 'charge',
                    ambient_c: numberOr(ambient, 20),
                    ...(number(amps) > 0 ? { supply_a: number(amps) } : {}),
                }}
                checks={overview.checks}
                label="Start, I stay with it"
                clip={-1}
            />
        </section>
    );
}
