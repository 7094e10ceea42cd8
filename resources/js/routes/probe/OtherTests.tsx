import { useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/api/client';
import { useOutbox } from '@/lib/bench';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

type Kind = 'number' | 'yes-no' | 'choice' | 'group';
interface Ask {
    name: string;
    label: string;
    kind: Kind;
    options?: string[];
    optional?: boolean;
}

const SCOPE: Ask = { name: 'scope', label: 'Group, or empty for the whole pack', kind: 'group', optional: true };

/** Tests other than group voltages: what to enter for each, in the record's own fields. */
const TESTS: { kind: string; title: string; asks: Ask[] }[] = [
    {
        kind: 'wake',
        title: 'Tried to wake the board',
        asks: [
            { name: 'action', label: 'How', kind: 'choice', options: ['charger-pulse', 'button', 'enable-wire', 'bridge', 'reconnect', 'device'] },
            { name: 'woke', label: 'Did it wake?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'continuity',
        title: 'Current path',
        asks: [
            { name: 'element', label: 'What', kind: 'choice', options: ['fuse', 'switch', 'connector', 'joint'] },
            { name: 'ohm', label: 'Ohms, circuit dead', kind: 'number', optional: true },
            { name: 'drop_v', label: 'or volts across it', kind: 'number', optional: true },
            { name: 'current_a', label: 'at amps (out is negative)', kind: 'number', optional: true },
        ],
    },
    {
        kind: 'capacity',
        title: 'Capacity',
        asks: [
            SCOPE,
            { name: 'measured_ah', label: 'Measured, Ah', kind: 'number' },
            { name: 'rate_a', label: 'At amps', kind: 'number', optional: true },
            { name: 'started_full', label: 'Started full?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'tug-weld',
        title: 'Tugged the welds',
        asks: [
            { name: 'where', label: 'Group', kind: 'group' },
            { name: 'loose', label: 'Came one loose?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'charger',
        title: 'Charger',
        asks: [
            { name: 'open_v', label: 'Open, V', kind: 'number' },
            { name: 'loaded_v', label: 'Loaded, V', kind: 'number', optional: true },
        ],
    },
    {
        kind: 'charge',
        title: 'Full charge watched',
        asks: [
            { name: 'stopped_by', label: 'Stopped by', kind: 'choice', options: ['charger', 'bms', 'person'] },
            { name: 'after_ah', label: 'After, Ah', kind: 'number', optional: true },
        ],
    },
    {
        kind: 'discharge',
        title: 'Full discharge watched',
        asks: [
            { name: 'stopped_by', label: 'Stopped by', kind: 'choice', options: ['bms', 'person'] },
            { name: 'after_ah', label: 'After, Ah', kind: 'number', optional: true },
            { name: 'current_a', label: 'At amps (negative)', kind: 'number', optional: true },
        ],
    },
    { kind: 'flex', title: 'Moved wires while reading', asks: [{ name: 'changed', label: 'Did the reading change?', kind: 'yes-no' }] },
    {
        kind: 'sensor',
        title: 'Temperature sensor',
        asks: [
            { name: 'ohm', label: 'Measured, ohm', kind: 'number' },
            { name: 'expected_ohm', label: 'Expected, ohm', kind: 'number' },
        ],
    },
    { kind: 'insulation', title: 'Insulation', asks: [{ name: 'mohm', label: 'Mohm, case to terminals', kind: 'number' }] },
    {
        kind: 'load-check',
        title: 'Device and harness',
        asks: [
            { name: 'harness_ohm', label: 'Harness, ohm', kind: 'number', optional: true },
            { name: 'device_ok', label: 'Device runs on a good supply?', kind: 'yes-no' },
        ],
    },
];

const place = (text: string) => (text.trim() === '' ? 'pack' : { group: Number(text) });

export function OtherTests({ job, ask, group }: { job: Job; ask?: string; group: number | null }) {
    const [open, setOpen] = useState<string | null>(ask ?? null);
    const known = job.tests.filter((t) => t.revision === job.revision);
    const test = TESTS.find((t) => t.kind === open);
    return (
        <div className="grid gap-2">
            <Field label="Another test">
                {(p) => (
                    <select {...p} value="" onChange={(e) => setOpen(e.target.value)}>
                        <option value="">choose what was done</option>
                        {TESTS.map((t) => (
                            <option key={t.kind} value={t.kind}>
                                {t.title}
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            {known.length > 0 && (
                <ul className="text-[0.95rem]">
                    {known.map((t) => (
                        <li key={t.id} className="border-b border-line py-1">
                            {TESTS.find((x) => x.kind === t.kind)?.title ?? t.kind}:{' '}
                            <span className="text-muted">
                                {Object.entries(t.data)
                                    .map(([k, v]) => `${k.replaceAll('_', ' ')} ${typeof v === 'object' ? JSON.stringify(v) : String(v)}`)
                                    .join(', ')}
                            </span>
                        </li>
                    ))}
                </ul>
            )}
            {test && <TestSheet job={job} test={test} group={group} onClose={() => setOpen(null)} />}
        </div>
    );
}

function TestSheet({ job, test, group, onClose }: { job: Job; test: (typeof TESTS)[number]; group: number | null; onClose: () => void }) {
    const outbox = useOutbox();
    const [values, setValues] = useState<Record<string, string>>(() =>
        group === null ? ({} as Record<string, string>) : { scope: String(group), where: String(group) },
    );
    const submit = async () => {
        const data: Record<string, unknown> = { kind: test.kind };
        for (const ask of test.asks) {
            const text = values[ask.name] ?? (ask.kind === 'choice' ? ask.options![0]! : '');
            if (ask.kind === 'group') data[ask.name] = ask.optional ? place(text) : { group: Number(text) };
            else if (text === '') continue;
            else data[ask.name] = ask.kind === 'number' ? Number(text.replace(',', '.')) : ask.kind === 'yes-no' ? text === 'yes' : text;
        }
        await outbox?.add('test', job.id, data);
        toast.success('Kept.');
        onClose();
    };
    return (
        <Sheet title={test.title} onClose={onClose}>
            <form
                className="grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    void submit();
                }}
            >
                {test.asks.map((ask) => (
                    <Field key={ask.name} label={ask.label}>
                        {(p) =>
                            ask.kind === 'choice' || ask.kind === 'yes-no' ? (
                                <select
                                    {...p}
                                    required
                                    value={values[ask.name] ?? (ask.kind === 'choice' ? ask.options![0] : '')}
                                    onChange={(e) => setValues({ ...values, [ask.name]: e.target.value })}
                                >
                                    {ask.kind === 'yes-no' && <option value="">choose</option>}
                                    {(ask.options ?? ['yes', 'no']).map((o) => (
                                        <option key={o}>{o}</option>
                                    ))}
                                </select>
                            ) : (
                                <input
                                    {...p}
                                    inputMode="decimal"
                                    required={!ask.optional}
                                    value={values[ask.name] ?? ''}
                                    onChange={(e) => setValues({ ...values, [ask.name]: e.target.value })}
                                />
                            )
                        }
                    </Field>
                ))}
                <div>
                    <Button type="submit" look="main">
                        Keep it
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
