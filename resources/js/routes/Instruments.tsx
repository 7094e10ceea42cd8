import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import { useMay } from '@/lib/bench';
import { when } from '@/lib/format';
import { useInstruments } from '@/lib/instruments';
import { fieldErrors } from '@/lib/job';
import { Button, Field, Waiting } from '@/parts/basics';

const KINDS = { meter: 'Meter', supply: 'Supply', load: 'Load', board: 'Board reader' } as const;
type Kind = keyof typeof KINDS;

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
    if (!list.data) return <Waiting what="Asking for the instruments ..." />;
    return (
        <div className="p-5 grid gap-5 max-w-5xl">
            <h1>Instruments</h1>
            <p className="max-w-[70ch]">
                Meters, supplies and loads that speak text commands over the network (IEEE 488.2, SCPI). A supply is driven only when it has
                shown that it switches itself off once nobody renews it; any other is set by hand, and the tool watches and sounds the
                alarm.
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
                    <label className="flex gap-2 items-center">
                        Mohm{' '}
                        <input className="!w-24" inputMode="decimal" required value={entry} onChange={(e) => setEntry(e.target.value)} />
                    </label>
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

function Add({ done }: { done: (data: unknown) => void }) {
    const [entry, setEntry] = useState({ name: '', kind: 'meter' as Kind, host: '', port: '5025', place: '', channel: '', timeout: '' });
    const add = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/instruments', {
                    params: { header: key() },
                    body: {
                        name: entry.name,
                        kind: entry.kind,
                        host: entry.host,
                        place: entry.place,
                        port: Number(entry.port),
                        ...(entry.channel === '' ? {} : { channel: Number(entry.channel) }),
                        ...(entry.timeout === '' ? {} : { timeout_s: number(entry.timeout) }),
                    },
                }),
            ),
        onSuccess: (data) => {
            done(data);
            setEntry({ ...entry, name: '', host: '' });
            toast.success('Added. Identify it next.');
        },
    });
    const errors = fieldErrors(add.error);
    const set = (name: keyof typeof entry) => (e: { target: { value: string } }) => setEntry({ ...entry, [name]: e.target.value });
    return (
        <form
            className="sheet p-4 grid gap-3 sm:grid-cols-2 lg:grid-cols-3"
            onSubmit={(e: FormEvent) => {
                e.preventDefault();
                add.mutate();
            }}
        >
            <h2 className="sm:col-span-2 lg:col-span-3">Add an instrument</h2>
            <Field label="Name" error={errors['name']}>
                {(p) => <input {...p} required value={entry.name} onChange={set('name')} />}
            </Field>
            <Field label="What it is">
                {(p) => (
                    <select {...p} value={entry.kind} onChange={set('kind')}>
                        {Object.entries(KINDS).map(([k, word]) => (
                            <option key={k} value={k}>
                                {word}
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            <Field label="Bench place" error={errors['place']}>
                {(p) => <input {...p} value={entry.place} onChange={set('place')} />}
            </Field>
            <Field label="Host" error={errors['host']} hint="Name or address on this network">
                {(p) => <input {...p} required value={entry.host} onChange={set('host')} />}
            </Field>
            <Field label="Port" error={errors['port']} hint="5025 on many">
                {(p) => <input {...p} required inputMode="numeric" value={entry.port} onChange={set('port')} />}
            </Field>
            <Field label="Channel, if it has several" error={errors['channel']}>
                {(p) => <input {...p} inputMode="numeric" value={entry.channel} onChange={set('channel')} />}
            </Field>
            <Field label="Answers within, s" error={errors['timeout_s']} hint="0.8 where nothing is said">
                {(p) => <input {...p} inputMode="decimal" value={entry.timeout} onChange={set('timeout')} />}
            </Field>
            <div className="self-end">
                <Button type="submit" look="main" disabled={add.isPending}>
                    Add it
                </Button>
            </div>
        </form>
    );
}
