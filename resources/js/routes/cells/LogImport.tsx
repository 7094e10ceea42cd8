import { number } from '@/lib/number';
import { told } from '@/lib/logs';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Job, unwrap } from '@/api/client';
import { slots } from '@/lib/slots';
import type { components } from '@/api/schema';
import { key } from '@/api/client';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Sheet } from '@/parts/Sheet';
import { Word } from '@/parts/Word';
import type { Cell } from './Drawer';

type Mapping = components['schemas']['LogMapping'];
type LogRow = components['schemas']['LogRow'];
/** What a person says of how a log is read; what nobody says is found in each log anew. */
type Said = Partial<Pick<Mapping, 'sign' | 'dates'>> & { columns?: Record<string, number>; scale?: Record<string, number> };
interface Item {
    file: File;
    /** The cell, or the group of the job; of a job, none is the whole pack. */
    of: number | null;
    state: 'waits' | 'sending' | 'done' | 'known' | 'failed';
    text: string;
    log?: LogRow;
}

const SIGNS = { waits: '○', sending: '◐', done: '✓', known: '◇', failed: '✕' };

/** One of several, or as it is found in the log. */
function Choice<T extends string | number>({
    label,
    value,
    of,
    choose,
}: {
    label: string;
    value: T | undefined;
    of: Record<string, T>;
    choose: (value: T | undefined) => void;
}) {
    return (
        <Field label={label}>
            {(p) => (
                <select
                    {...p}
                    value={Object.keys(of).find((k) => of[k] === value) ?? ''}
                    onChange={(e) => choose(e.target.value === '' ? undefined : of[e.target.value])}
                >
                    <option value="">as it is found</option>
                    {Object.keys(of).map((k) => (
                        <option key={k}>{k}</option>
                    ))}
                </select>
            )}
        </Field>
    );
}

const without = (said: Said, field: keyof Said): Said => Object.fromEntries(Object.entries(said).filter(([k]) => k !== field));

/** Small letters, numbers without the zeros before them. */
const plain = (text: string) => text.toLowerCase().replace(/\d+/g, (n) => n.replace(/^0+(?=\d)/, ''));

/**
 * The cell whose code stands in the file's name as a word of its own, the longest that does; one as it is written before one that
 * only has other zeros. Cell 1 is not cell 12.
 */
export const guessCell = (name: string, cells: Cell[]): number | null => {
    const longest = [...cells].sort((a, b) => b.code.length - a.code.length);
    const stands = (inside: string, code: string) =>
        new RegExp(`(?<![a-z0-9])${code.replace(/[^a-z0-9]/g, '\\$&')}(?![a-z0-9])`).test(inside);
    const found =
        longest.find((c) => stands(name.toLowerCase(), c.code.toLowerCase())) ?? longest.find((c) => stands(plain(name), plain(c.code)));
    return found?.id ?? null;
};

/** The beginning of a file as text: the browser minds the byte order mark, as the server does. */
export const beginning = (file: Blob) =>
    new Promise<string>((done, failed) => {
        const reader = new FileReader();
        reader.onload = () => done(String(reader.result));
        reader.onerror = () => failed(reader.error);
        reader.readAsText(file.slice(0, 60_000));
    });

/**
 * Several files at once, of cells or of one pack and its groups; how they are read is guessed from the first, found in each, said by a
 * person where nobody else can tell, and that is remembered for the tester.
 */
export function LogImport({ cells, job, onClose }: { cells: Cell[]; job?: Job; onClose: () => void }) {
    const queries = useQueryClient();
    const [items, setItems] = useState<Item[]>([]);
    const [mapping, setMapping] = useState<Mapping | null>(null);
    const [said, setSaid] = useState<Said>({});
    const [lines, setLines] = useState<string[]>([]);
    const [times, setTimes] = useState<Record<string, number>>({});
    const [fault, setFault] = useState('');
    const [about, setAbout] = useState({ tester: '', ambient: '', fourWire: true, lead: '' });
    const [busy, setBusy] = useState(false);

    const look = async (file: File, tester: string) => {
        try {
            const head = await beginning(file);
            const p = await unwrap(api.POST('/api/logs/preview', { body: { head, ...(tester ? { tester } : {}) } }));
            setMapping(p.mapping);
            setLines(p.lines);
            setTimes(p.times);
            setFault('');
        } catch (e) {
            setMapping(null);
            setFault(e instanceof Error ? e.message : String(e));
        }
    };
    const choose = (files: FileList | null) => {
        const all = Array.from(files ?? []).map((file): Item => ({
            file,
            of: job ? null : guessCell(file.name, cells),
            state: 'waits',
            text: '',
        }));
        setSaid({});
        setItems(all);
        if (all[0]) void look(all[0].file, about.tester);
    };
    const send = async () => {
        setBusy(true);
        for (const [i, item] of items.entries()) {
            if (item.state === 'done' || item.state === 'known') continue;
            const show = (change: Partial<Item>) => setItems((list) => list.map((x, k) => (k === i ? { ...x, ...change } : x)));
            show({ state: 'sending', text: '' });
            const form = new FormData();
            form.set('file', item.file, item.file.name);
            form.set('mapping', JSON.stringify(said));
            form.set('tester', about.tester);
            if (job) form.set('job_id', String(job.id));
            if (item.of !== null) form.set(job ? 'group_no' : 'cell_id', String(item.of));
            form.set('four_wire', about.fourWire ? '1' : '0');
            if (!about.fourWire && about.lead) form.set('lead_mohm', String(number(about.lead)));
            if (about.ambient) form.set('ambient_c', String(number(about.ambient)));
            try {
                const token = document.cookie.match(/(?:^|; )XSRF-TOKEN=([^;]+)/)?.[1];
                const response = await fetch('/api/logs', {
                    method: 'POST',
                    body: form,
                    headers: {
                        Accept: 'application/json',
                        'X-XSRF-TOKEN': decodeURIComponent(token ?? ''),
                        'Idempotency-Key': key()['Idempotency-Key'],
                    },
                });
                const answer = (await response.json()) as { log: LogRow; known: boolean; of: string; message?: string };
                if (!response.ok) throw new Error(answer.message ?? 'The server did not take it.');
                show({
                    state: answer.known ? 'known' : 'done',
                    log: answer.log,
                    text: answer.known ? `the same file is here already, of ${answer.of}` : told(answer.log),
                });
            } catch (e) {
                show({ state: 'failed', text: e instanceof Error ? e.message : String(e) });
            }
        }
        setBusy(false);
        if (job) {
            void queries.invalidateQueries({ queryKey: slots.job(job.id) });
            void queries.invalidateQueries({ queryKey: slots.capacity(job.id) });
        }
    };
    const roles = ['time', 'voltage', 'current', 'temperature'] as const;
    const width = mapping ? Math.max(1, ...lines.map((l) => l.split(mapping.separator).length)) : 1;
    return (
        <Sheet title="Import test logs" onClose={onClose} wide>
            <Field label="Files of one tester" hint="CSV in any dialect; several at once">
                {(p) => <input {...p} type="file" multiple accept=".csv,.txt,.tsv,text/*" onChange={(e) => choose(e.target.files)} />}
            </Field>
            {fault && <p className="text-ember font-bold">{fault}</p>}
            {mapping && (
                <>
                    <div className="grid gap-3 sm:grid-cols-4">
                        <Field label="Tester" hint="remembered under this name">
                            {(p) => (
                                <input
                                    {...p}
                                    value={about.tester}
                                    onChange={(e) => setAbout({ ...about, tester: e.target.value })}
                                    onBlur={(e) => items[0] && e.target.value && void look(items[0].file, e.target.value)}
                                />
                            )}
                        </Field>
                        <NumberField
                            label="Around it"
                            unit="degC"
                            value={about.ambient}
                            onChange={(typed) => setAbout({ ...about, ambient: typed })}
                        />
                        <label className="flex items-center gap-2 min-h-[44px] self-end">
                            <input
                                type="checkbox"
                                checked={about.fourWire}
                                onChange={(e) => setAbout({ ...about, fourWire: e.target.checked })}
                            />{' '}
                            four wires
                        </label>
                        {!about.fourWire && (
                            <NumberField
                                label="Leads"
                                unit="mohm"
                                value={about.lead}
                                onChange={(typed) => setAbout({ ...about, lead: typed })}
                            />
                        )}
                    </div>
                    <div className="grid gap-2">
                        <p className="text-muted text-sm">
                            What counts is a <Word of="stretch">capacity test</Word>; other stretches are kept and shown.
                        </p>
                        <p className="eyebrow">How it is read: {mapping.notes.join('; ')}</p>
                        <pre className="overflow-x-auto text-[0.85rem] bg-knot p-2">{lines.join('\n')}</pre>
                        <div className="flex flex-wrap gap-3">
                            {roles.map((role) => (
                                <Field key={role} label={role}>
                                    {(p) => (
                                        <select
                                            {...p}
                                            value={said.columns?.[role] ?? mapping.columns[role] ?? ''}
                                            onChange={(e) => {
                                                const { [role]: _, ...columns } = said.columns ?? {};
                                                setSaid({
                                                    ...said,
                                                    columns:
                                                        e.target.value === '' ? columns : { ...columns, [role]: Number(e.target.value) },
                                                });
                                            }}
                                        >
                                            <option value="">none</option>
                                            {Array.from({ length: width }, (_, c) => (
                                                <option key={c} value={c}>
                                                    column {c + 1}
                                                </option>
                                            ))}
                                        </select>
                                    )}
                                </Field>
                            ))}
                            <Choice
                                label="discharge is"
                                value={said.sign}
                                of={{ negative: 1, positive: -1 }}
                                choose={(sign) => setSaid(sign === undefined ? without(said, 'sign') : { ...said, sign })}
                            />
                            <Choice
                                label="time counts"
                                value={said.scale?.['time']}
                                of={times}
                                choose={(time) => setSaid(time === undefined ? without(said, 'scale') : { ...said, scale: { time } })}
                            />
                            {mapping.time === 'stamp' && (
                                <Choice
                                    label="dates are"
                                    value={said.dates}
                                    of={{ 'day, month, year': 'dmy', 'month, day, year': 'mdy', 'year, month, day': 'ymd' } as const}
                                    choose={(dates) => setSaid(dates === undefined ? without(said, 'dates') : { ...said, dates })}
                                />
                            )}
                        </div>
                    </div>
                    <ul className="grid gap-2">
                        {items.map((item, i) => (
                            <li key={item.file.name} className="border-t border-line pt-2 grid gap-1 sm:grid-cols-[1fr_220px] items-center">
                                <span>
                                    <b>{SIGNS[item.state]}</b> {item.file.name}{' '}
                                    <span className={item.state === 'failed' ? 'text-ember font-bold' : 'text-muted'}>{item.text}</span>
                                </span>
                                <select
                                    aria-label={`${job ? 'Group' : 'Cell'} of ${item.file.name}`}
                                    value={item.of ?? ''}
                                    onChange={(e) =>
                                        setItems(
                                            items.map((x, k) =>
                                                k === i ? { ...x, of: e.target.value === '' ? null : Number(e.target.value) } : x,
                                            ),
                                        )
                                    }
                                >
                                    <option value="">{job ? 'the whole pack' : 'choose its cell'}</option>
                                    {job
                                        ? Array.from({ length: job.series }, (_, k) => (
                                              <option key={k} value={k + 1}>
                                                  group {k + 1} alone
                                              </option>
                                          ))
                                        : cells.map((c) => (
                                              <option key={c.id} value={c.id}>
                                                  {c.code}
                                              </option>
                                          ))}
                                </select>
                            </li>
                        ))}
                    </ul>
                    <div className="flex gap-4 items-center">
                        <Button look="main" disabled={busy || (!job && items.some((i) => i.of === null))} onClick={() => void send()}>
                            {busy
                                ? `Reading ${items.filter((i) => i.state !== 'waits').length} of ${items.length} ...`
                                : `Import ${items.length} log${items.length === 1 ? '' : 's'}`}
                        </Button>
                        {items.every((i) => i.state === 'done' || i.state === 'known') && <span role="status">All read.</span>}
                    </div>
                </>
            )}
        </Sheet>
    );
}
