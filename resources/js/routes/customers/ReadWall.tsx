import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { ApiError, api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { chemistries, count } from '@/lib/format';
import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useDraft } from '@/lib/useDraft';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { QueryState } from '@/parts/QueryState';
import { CONDITIONS, FILE } from '../packs/EnterReadings';

type Fleet = components['schemas']['Fleet'];
type Condition = components['schemas']['WallRead']['condition'];
interface Row {
    name: string;
    cells: string[];
}
interface Draft {
    what: 'volts' | 'ah';
    at: string;
    condition: Condition;
    soc: string;
    text: string;
    rows: Row[];
    /** What the new ones are: as the others, a model by its number, or said here. */
    like: string;
    chemistry: string;
    parallel: string;
    ah: string;
}
const EMPTY: Draft = {
    what: 'volts',
    at: '',
    condition: 'rest',
    soc: '',
    text: '',
    rows: [],
    like: 'others',
    chemistry: 'lfp',
    parallel: '',
    ah: '',
};
const local = (d: Date) => new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
/** What was typed, as a table that the server reads: one way of reading, however it was entered. */
export const asTable = (rows: Row[]) =>
    rows
        .filter((r) => r.name.trim() !== '' || r.cells.some((c) => c.trim() !== ''))
        .map((r) => [r.name.trim(), ...r.cells.map((c) => (c.trim() === '' ? '-' : c.trim()))].join('\t'))
        .join('\n');
/** A value with as many decimals as it was read with. */
export const shown = (v: number | null, resolution: number | null) =>
    v === null ? '-' : resolution === null ? String(v) : v.toFixed(Math.max(1, Math.round(-Math.log10(resolution))));
/** The cell that follows, across a row and then down; null after the last. */
export const nextCell = (row: number, cell: number, rows: Row[]): [number, number] | null =>
    cell + 1 < (rows[row]?.cells.length ?? 0) ? [row, cell + 1] : row + 1 < rows.length ? [row + 1, 0] : null;

/** A whole wall of packs at once: pasted, out of a file, or one after another by keyboard. */
export function Component() {
    const id = Number(useParams()['customer']);
    const all = useQuery({
        queryKey: slots.fleet(id, '{}'),
        queryFn: () => unwrap(api.GET('/api/customers/{customer}/fleet', { params: { path: { customer: id }, query: {} } })),
    });
    if (!all.data) return <QueryState of={all} what="Looking which packs are theirs ..." />;
    return <Wall id={id} fleet={all.data} />;
}

function Wall({ id, fleet }: { id: number; fleet: Fleet }) {
    const queries = useQueryClient();
    const navigate = useNavigate();
    const lookups = useQuery({ queryKey: slots.lookups(), queryFn: () => unwrap(api.GET('/api/lookups')) });
    const [draft, setDraft, clear] = useDraft<Draft>(`wall.${id}`, EMPTY);
    const [wrong, setWrong] = useState<string[]>([]);
    const [notes, setNotes] = useState<string[]>([]);
    const grid = useRef<HTMLTableElement>(null);
    const set = (change: Partial<Draft>) => setDraft((d) => ({ ...d, ...change }));
    const params = { path: { customer: id } };
    const known = new Set(fleet.packs.flatMap((p) => [p.name, p.serial, p.code].map((s) => s.trim().toLowerCase())));
    const groups = Math.max(0, ...draft.rows.map((r) => r.cells.length));
    const fresh = draft.rows.filter((r) => r.name.trim() !== '' && !known.has(r.name.trim().toLowerCase()));
    const parse = (text: string) =>
        unwrap(
            api.POST('/api/customers/{customer}/wall/pasted', { params: { ...params, header: key() }, body: { text, what: draft.what } }),
        );
    const look = useMutation({
        mutationFn: parse,
        onSuccess: (read) => {
            setWrong(read.wrong);
            setNotes(read.notes);
            if (read.wrong.length > 0) return;
            set({
                text: '',
                rows: read.rows.map((r) => ({
                    name: r.name,
                    cells: r.values.map((v) => shown(v, draft.what === 'ah' ? null : r.resolution_v)),
                })),
            });
        },
        onError: (e) => toast.error(e.message),
    });
    const spec = (): components['schemas']['Pack'] | null => {
        if (fresh.length === 0) return null;
        if (draft.like === 'others' && fleet.pack) return fleet.pack as unknown as components['schemas']['Pack'];
        const model = lookups.data?.pack_models.find((m) => String(m.id) === draft.like);
        if (model) return model.spec as unknown as components['schemas']['Pack'];
        return {
            kind: 'storage',
            chemistry: draft.chemistry,
            series: groups,
            ...(draft.parallel.trim() === '' ? {} : { parallel: number(draft.parallel) }),
            ...(draft.ah.trim() === '' ? {} : { label: { capacity_ah: number(draft.ah) } }),
        } as components['schemas']['Pack'];
    };
    const keep = useMutation({
        mutationFn: async () => {
            const read = await parse(asTable(draft.rows));
            setNotes(read.notes);
            setWrong(read.wrong);
            if (read.wrong.length > 0) return null;
            return unwrap(
                api.POST('/api/customers/{customer}/wall', {
                    params: { ...params, header: key() },
                    body: {
                        what: draft.what,
                        at: new Date(draft.at === '' ? Date.now() : draft.at).toISOString(),
                        condition: draft.condition,
                        soc: draft.soc.trim() === '' ? null : number(draft.soc) / 100,
                        pack: spec(),
                        rows: read.rows.map(({ name, soc, values, resolution_v }) => ({ name, soc, values, resolution_v })),
                    },
                }),
            );
        },
        onSuccess: (now) => {
            if (now === null) return;
            clear();
            void queries.invalidateQueries({ queryKey: slots.fleet(id) });
            void queries.invalidateQueries({ queryKey: slots.packs() });
            toast.success(`Kept: ${count(draft.rows.length, 'pack')}.`);
            void navigate(`/customers/${id}/fleet`);
        },
        onError: (e) => {
            if (e instanceof ApiError && Object.keys(e.fields).length > 0) setWrong(Object.values(e.fields));
            else toast.error(e.message);
        },
    });
    const cell = (row: number, k: number, value: string) =>
        setDraft((d) => ({
            ...d,
            rows: d.rows.map((r, i) => (i === row ? { ...r, cells: r.cells.map((c, j) => (j === k ? value : c)) } : r)),
        }));
    const go = (row: number, k: number) => grid.current?.querySelector<HTMLInputElement>(`[data-at="${row}.${k}"]`)?.focus();
    const start = () => {
        const read = new Set(draft.rows.map((r) => r.name));
        set({
            rows: [
                ...draft.rows,
                ...fleet.packs.filter((p) => !read.has(p.name)).map((p) => ({ name: p.name, cells: Array<string>(p.series).fill('') })),
            ],
        });
    };
    return (
        <div className="p-5 grid gap-5 max-w-7xl grid-cols-[minmax(0,1fr)]">
            <div className="flex flex-wrap gap-x-5 items-center">
                <h1 className="grow">Read the packs of {fleet.customer}</h1>
                <Link to={`/customers/${id}/fleet`} className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    Side by side
                </Link>
            </div>
            <div className="grid gap-3 grid-cols-[minmax(0,1fr)] md:grid-cols-[minmax(0,15rem)_14rem_12rem_9rem] items-start">
                <Field label="What was measured">
                    {(p) => (
                        <select {...p} value={draft.what} onChange={(e) => set({ what: e.target.value as Draft['what'] })}>
                            <option value="volts">volts of every group</option>
                            <option value="ah">what every group holds, Ah</option>
                        </select>
                    )}
                </Field>
                <Field label="Read at" hint="now, where nothing is said">
                    {(p) => (
                        <input
                            {...p}
                            type="datetime-local"
                            max={local(new Date())}
                            value={draft.at}
                            onChange={(e) => set({ at: e.target.value })}
                        />
                    )}
                </Field>
                {draft.what === 'volts' && (
                    <>
                        <Field label="They had">
                            {(p) => (
                                <select {...p} value={draft.condition} onChange={(e) => set({ condition: e.target.value as Condition })}>
                                    {Object.entries(CONDITIONS).map(([k, word]) => (
                                        <option key={k} value={k}>
                                            {word}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        <NumberField
                            label="Charge"
                            unit="%"
                            least={0}
                            most={100}
                            value={draft.soc}
                            onChange={(soc) => set({ soc })}
                            hint="where it is known"
                        />
                    </>
                )}
            </div>
            <section aria-label="Paste a table" className="sheet p-4 grid gap-2">
                <Field
                    label="A table: a line for each pack, its name first, then every group"
                    hint="3.451, 3,451 or 3451; - where not read. A column for each pack is read too; taps from B- are subtracted"
                >
                    {(p) => (
                        <textarea
                            {...p}
                            rows={draft.rows.length > 0 ? 2 : 7}
                            className="digits"
                            value={draft.text}
                            onChange={(e) => set({ text: e.target.value })}
                        />
                    )}
                </Field>
                <div className="flex flex-wrap gap-3 items-center">
                    <Button
                        look={draft.rows.length > 0 ? 'plain' : 'main'}
                        disabled={look.isPending || draft.text.trim() === ''}
                        onClick={() => look.mutate(draft.text)}
                    >
                        Look what is in it
                    </Button>
                    <label className={FILE}>
                        From a file
                        <input
                            type="file"
                            accept=".csv,.txt,text/csv,text/plain"
                            className="sr-only"
                            onChange={(e) => {
                                const file = e.target.files?.[0];
                                e.target.value = '';
                                void file?.text().then((t) => look.mutate(t));
                            }}
                        />
                    </label>
                    {fleet.packs.length > 0 && <Button onClick={start}>One after another: list their packs</Button>}
                </div>
            </section>
            {(wrong.length > 0 || notes.length > 0) && (
                <div aria-live="polite" className="grid gap-1">
                    {wrong.slice(0, 8).map((w) => (
                        <p key={w} role="alert" className="border-l-4 border-ember pl-3">
                            {w}
                        </p>
                    ))}
                    {wrong.length > 8 && <p className="pl-4">And {wrong.length - 8} more.</p>}
                    {notes.map((n) => (
                        <p key={n} className="border-l-4 border-water pl-3">
                            {n}
                        </p>
                    ))}
                </div>
            )}
            {draft.rows.length > 0 && (
                <section aria-label="The wall" className="grid gap-3 grid-cols-[minmax(0,1fr)]">
                    <div className="overflow-x-auto">
                        <table ref={grid} className="[&_td]:px-0.5">
                            <thead>
                                <tr>
                                    <th scope="col" className="text-left">
                                        Pack
                                    </th>
                                    {Array.from({ length: groups }, (_, k) => (
                                        <th key={k} scope="col" className="digits">
                                            {k + 1}
                                        </th>
                                    ))}
                                    <th>
                                        <span className="sr-only">New</span>
                                    </th>
                                </tr>
                            </thead>
                            <tbody>
                                {draft.rows.map((r, i) => (
                                    <tr key={i}>
                                        <td className="pr-2">
                                            <input
                                                aria-label={`Pack ${i + 1}`}
                                                className="w-32 py-1"
                                                value={r.name}
                                                onChange={(e) =>
                                                    setDraft((d) => ({
                                                        ...d,
                                                        rows: d.rows.map((x, j) => (j === i ? { ...x, name: e.target.value } : x)),
                                                    }))
                                                }
                                            />
                                        </td>
                                        {r.cells.map((c, k) => (
                                            <td key={k}>
                                                <input
                                                    aria-label={`${r.name || `pack ${i + 1}`}, group ${k + 1}`}
                                                    data-at={`${i}.${k}`}
                                                    className="digits w-[3.9rem] py-1 px-1 text-[0.95rem]"
                                                    inputMode="decimal"
                                                    autoComplete="off"
                                                    value={c}
                                                    onChange={(e) => cell(i, k, e.target.value)}
                                                    onKeyDown={(e) => {
                                                        if (e.key !== 'Enter') return;
                                                        e.preventDefault();
                                                        const to = nextCell(i, k, draft.rows);
                                                        if (to) go(...to);
                                                    }}
                                                    onFocus={(e) => e.target.select()}
                                                />
                                            </td>
                                        ))}
                                        <td className="whitespace-nowrap pl-2">
                                            {r.name.trim() !== '' && !known.has(r.name.trim().toLowerCase()) && (
                                                <span className="text-muted">new</span>
                                            )}{' '}
                                            <Button
                                                look="quiet"
                                                aria-label={`Leave ${r.name || `pack ${i + 1}`} out`}
                                                onClick={() => setDraft((d) => ({ ...d, rows: d.rows.filter((_, j) => j !== i) }))}
                                            >
                                                leave out
                                            </Button>
                                        </td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    </div>
                    {fresh.length > 0 && (
                        <fieldset className="sheet p-4 grid gap-3">
                            <legend className="font-bold px-1">{count(fresh.length, 'pack')} new here: what they are</legend>
                            <div className="grid gap-3 md:grid-cols-4">
                                <Field label="They are">
                                    {(p) => (
                                        <select
                                            {...p}
                                            value={draft.like === 'others' && !fleet.pack ? 'here' : draft.like}
                                            onChange={(e) => set({ like: e.target.value })}
                                        >
                                            {fleet.pack && <option value="others">as the others</option>}
                                            {lookups.data?.pack_models.map((m) => (
                                                <option key={m.id} value={m.id}>
                                                    {m.name}
                                                </option>
                                            ))}
                                            <option value="here">said here</option>
                                        </select>
                                    )}
                                </Field>
                                {(draft.like === 'here' || (draft.like === 'others' && !fleet.pack)) && (
                                    <>
                                        <Field label="Chemistry" hint={`${count(groups, 'group')} in series, as in the table`}>
                                            {(p) => (
                                                <select {...p} value={draft.chemistry} onChange={(e) => set({ chemistry: e.target.value })}>
                                                    {chemistries.map((c) => (
                                                        <option key={c}>{c}</option>
                                                    ))}
                                                </select>
                                            )}
                                        </Field>
                                        <NumberField
                                            label="Cells in parallel"
                                            whole
                                            least={1}
                                            value={draft.parallel}
                                            onChange={(parallel) => set({ parallel })}
                                        />
                                        <NumberField
                                            label="Label: capacity"
                                            unit="Ah"
                                            least={0.1}
                                            value={draft.ah}
                                            onChange={(ah) => set({ ah })}
                                            hint="without it no amp-hours are said"
                                        />
                                    </>
                                )}
                            </div>
                        </fieldset>
                    )}
                    <div className="flex flex-wrap gap-3 items-center">
                        <Button look="main" disabled={keep.isPending} onClick={() => keep.mutate()}>
                            Keep {count(draft.rows.length, 'pack')}
                        </Button>
                        <Button
                            onClick={() =>
                                set({
                                    rows: [...draft.rows, { name: '', cells: Array<string>(groups || 1).fill('') }],
                                })
                            }
                        >
                            Another row
                        </Button>
                        <Button look="quiet" onClick={() => set({ rows: [] })}>
                            Empty the table
                        </Button>
                    </div>
                </section>
            )}
        </div>
    );
}
