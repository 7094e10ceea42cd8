import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { when } from '@/lib/format';
import { useInstruments } from '@/lib/instruments';
import { maybeNumeric, numeric, useBenchForm, words } from '@/lib/form';
import { Button } from '@/parts/basics';
import { FormChoice, FormNumber, FormText } from '@/parts/form';
import { NumberField } from '@/parts/NumberField';
import { QueryState } from '@/parts/QueryState';
import { Word } from '@/parts/Word';

const KINDS = { meter: 'Meter', supply: 'Supply', load: 'Load', board: 'Board reader' } as const;

export function Component() {
    const list = useInstruments();
    const may = useMay('instruments');
    const queries = useQueryClient();
    const done = (data: unknown) => queries.setQueryData(slots.instruments(), data);
    const act = useMutation({
        mutationFn: ({ id, what }: { id: number; what: 'identify' | 'retire' }) =>
            unwrap(
                what === 'identify'
                    ? api.POST('/api/instruments/{instrument}/identify', { params: { path: { instrument: id }, header: key() }, body: {} })
                    : api.POST('/api/instruments/{instrument}/retire', { params: { path: { instrument: id }, header: key() }, body: {} }),
            ),
        onSuccess: (data, { what }) => {
            done(data);
            toast.success(what === 'identify' ? 'It answers.' : 'Out of use.');
        },
        onError: (e) => toast.error(e.message),
    });
    if (!list.data) return <QueryState of={list} what="Asking for the instruments ..." />;
    return (
        <div className="p-5 grid gap-5 max-w-5xl">
            <h1>Instruments</h1>
            <p className="max-w-[70ch]">
                Meters, supplies and loads that speak text commands over the network (IEEE 488.2, SCPI). Each wants to be{' '}
                <Word of="isolation">isolated from earth</Word>. A supply is driven only when it has shown that it switches itself off once
                nobody renews it; any other is set by hand, and the tool watches and sounds the alarm.
            </p>
            <ul className="grid gap-3">
                {list.data.instruments.map((i) => (
                    <li key={i.id} className="sheet p-4 flex flex-wrap gap-x-6 gap-y-2 items-center">
                        <div className="grow basis-[20rem]">
                            <h2 className="text-lg">
                                {i.name} <span className="text-muted font-normal">{KINDS[i.kind]}</span>
                            </h2>
                            <p className="text-muted">
                                {i.host}:{i.port}
                                {i.place && `, ${i.place}`}
                                {i.identity ? `, ${String(i.identity['maker'])} ${String(i.identity['model'])}` : ''}
                            </p>
                            <p>
                                {i.checked_at ? `✓ answered ${when(i.checked_at)}` : '○ not asked yet'}
                                {i.kind === 'supply' &&
                                    i.checked_at &&
                                    (i.driven ? '. ✓ Switches itself off: may be driven.' : '. ▲ Stays on by itself: set it by hand.')}
                                {i.channel !== null && ` Channel ${i.channel}.`}
                                {i.simulated && <span className="text-water"> ◇ Simulated.</span>}
                            </p>
                            {!i.simulated && i.kind !== 'board' && (
                                <Isolation id={i.id} mohm={i.isolation_mohm} at={i.isolation_at} may={may} done={done} />
                            )}
                        </div>
                        <Reading id={i.id} asked={i.checked_at !== null} />
                        {may && (
                            <div className="flex gap-2">
                                <Button disabled={act.isPending} onClick={() => act.mutate({ id: i.id, what: 'identify' })}>
                                    {act.isPending && act.variables.id === i.id ? 'Asking ...' : 'Identify and test'}
                                </Button>
                                <Button look="quiet" disabled={act.isPending} onClick={() => act.mutate({ id: i.id, what: 'retire' })}>
                                    Take out of use
                                </Button>
                            </div>
                        )}
                    </li>
                ))}
                {list.data.instruments.length === 0 && <li>None yet. Add the first below; without any, everything can be typed.</li>}
            </ul>
            {may && <Add done={done} />}
            <p className="text-muted">
                Instruments are spoken to at the addresses that the owner has named, and at the simulated bench.{' '}
                <Link to="/settings#instrument_networks">Settings: addresses of instruments</Link>
            </p>
        </div>
    );
}

/** Two instruments on one pack that are not isolated from earth are a short through it. */
function Isolation({
    id,
    mohm,
    at,
    may,
    done,
}: {
    id: number;
    mohm: number | null;
    at: string | null;
    may: boolean;
    done: (data: unknown) => void;
}) {
    const [entry, setEntry] = useState('');
    const keep = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/instruments/{instrument}/isolation', {
                    params: { path: { instrument: id }, header: key() },
                    body: { mohm: number(entry) },
                }),
            ),
        onSuccess: (data) => {
            done(data);
            setEntry('');
        },
    });
    return (
        <form
            className="flex flex-wrap gap-x-3 gap-y-1 items-center"
            onSubmit={(e) => {
                e.preventDefault();
                keep.mutate();
            }}
        >
            <span>
                {mohm === null || at === null
                    ? '○ Output to earth never measured: alone on a pack only.'
                    : `${mohm > 1 ? '✓' : '▲'} ${mohm} Mohm from output to earth, ${when(at)}; measured again every year.`}
            </span>
            {may && (
                <>
                    <div className="w-44">
                        <NumberField
                            label="Output to earth"
                            unit="Mohm"
                            required
                            least={0}
                            value={entry}
                            onChange={setEntry}
                            why="Two instruments on one pack that both reach earth are a short through it. Measured with nothing connected."
                        />
                    </div>
                    <Button type="submit">Keep it</Button>
                </>
            )}
            {keep.error && <span className="text-ember">{keep.error.message}</span>}
        </form>
    );
}

/** One look at it, nothing switched. */
function Reading({ id, asked }: { id: number; asked: boolean }) {
    const look = useMutation({
        mutationFn: () => unwrap(api.GET('/api/instruments/{instrument}/reading', { params: { path: { instrument: id } } })),
        onError: (e) => toast.error(e.message),
    });
    if (!asked) return null;
    return (
        <span className="flex gap-3 items-center">
            {look.data && (
                <span role="status" className="digits">
                    {Object.entries(look.data.shows)
                        .map(([k, v]) => `${k} ${v === null ? 'overload' : typeof v === 'number' ? v.toFixed(3) : String(v)}`)
                        .join(', ')}
                </span>
            )}
            <Button onClick={() => look.mutate()}>Read it</Button>
        </span>
    );
}

const ADD = z.object({
    name: words(),
    kind: z.enum(['meter', 'supply', 'load', 'board']),
    host: words('a name or an address on this network.'),
    place: z.string(),
    port: numeric({ whole: true, least: 1, most: 65535 }),
    channel: maybeNumeric({ whole: true, least: 1 }),
    timeout_s: maybeNumeric({ least: 0 }),
});

function Add({ done }: { done: (data: unknown) => void }) {
    const form = useBenchForm(ADD, { name: '', kind: 'meter', host: '', place: '', port: '5025', channel: '', timeout_s: '' });
    const add = useMutation({
        mutationFn: (body: z.output<typeof ADD>) => unwrap(api.POST('/api/instruments', { params: { header: key() }, body })),
        onSuccess: (data) => {
            done(data);
            form.reset({ ...form.getValues(), name: '', host: '' });
            toast.success('Added. Identify it next.');
        },
        onError: (e) => form.refused(e) || toast.error(e.message),
    });
    const at = { control: form.control };
    return (
        <form
            className="sheet p-4 grid gap-3 sm:grid-cols-2 lg:grid-cols-3 items-start"
            noValidate
            onSubmit={form.handleSubmit((body) => add.mutate(body))}
        >
            <h2 className="sm:col-span-2 lg:col-span-3">Add an instrument</h2>
            <FormText {...at} name="name" label="Name" />
            <FormChoice {...at} name="kind" label="What it is">
                {Object.entries(KINDS).map(([k, word]) => (
                    <option key={k} value={k}>
                        {word}
                    </option>
                ))}
            </FormChoice>
            <FormText {...at} name="place" label="Bench place" />
            <FormText {...at} name="host" label="Host" hint="Name or address on this network" />
            <FormNumber {...at} name="port" label="Port" hint="5025 on many" whole />
            <FormNumber {...at} name="channel" label="Channel, if it has several" whole />
            <FormNumber
                {...at}
                name="timeout_s"
                label="Answers within"
                unit="s"
                hint="0.8 where nothing is said"
                why="A slow meter that is taken for a silent one ends a run. Longer than it needs, and a cut lead is noticed late."
            />
            <div className="self-end">
                <Button type="submit" look="main" disabled={add.isPending}>
                    Add it
                </Button>
            </div>
        </form>
    );
}
