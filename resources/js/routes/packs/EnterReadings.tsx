import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { Button, Field } from '@/parts/basics';
import { type Passport, usePackWrite } from './write';

type Pasted = components['schemas']['ServiceReadings']['readings'];
type Condition = Pasted[number]['condition'];
export const CONDITIONS: Record<Condition, string> = {
    rest: 'rested an hour',
    full: 'charged full',
    charge: 'on charge',
    discharge: 'in use',
};

/** The volts of one reading as they are said in a line. */
export const voltsOf = (r: {
    groups_v?: (number | null)[] | null;
    highest_v?: number | null;
    lowest_v?: number | null;
    halves_v?: number[] | null;
    pack_v?: number | null;
}) =>
    r.groups_v
        ? r.groups_v.map((v) => (v === null ? '-' : v.toFixed(3))).join(' ')
        : r.highest_v != null && r.lowest_v != null
          ? `${r.highest_v.toFixed(3)} to ${r.lowest_v.toFixed(3)}`
          : r.halves_v
            ? `halves ${r.halves_v.map((v) => v.toFixed(2)).join(' and ')}`
            : r.pack_v != null
              ? `${r.pack_v} V in all`
              : '';

/** A button that opens a file. */
export const FILE = 'inline-flex items-center min-h-[44px] px-4 rounded border-[1.5px] border-muted bg-panel hover:bg-knot';

/** Readings typed, pasted, or out of a file: what the server reads out of them is seen before it is kept. */
export function EnterReadings({ pack }: { pack: Passport }) {
    const today = new Date().toLocaleDateString('sv');
    const [date, setDate] = useState(today);
    const [condition, setCondition] = useState<Condition>('rest');
    const [text, setText] = useState('');
    const [many, setMany] = useState('');
    const [seen, setSeen] = useState<{ readings: Pasted; notes: string[] } | null>(null);
    const [wrong, setWrong] = useState<{ one: string; many: string }>({ one: '', many: '' });
    const [reading, setReading] = useState(false);
    const keep = usePackWrite(
        pack.id,
        (readings: Pasted) =>
            unwrap(api.POST('/api/packs/{pack}/readings', { params: { path: { pack: pack.id }, header: key() }, body: { readings } })),
        () => {
            setText('');
            setMany('');
            setSeen(null);
            toast.success('Kept.');
        },
    );
    const refused = keep.error instanceof ApiError ? Object.values(keep.error.fields).join(' ') : '';
    const look = async (of: string) => {
        setReading(true);
        try {
            return await unwrap(
                api.POST('/api/packs/{pack}/pasted', {
                    params: { path: { pack: pack.id }, header: key() },
                    body: { text: of, date, condition },
                }),
            );
        } catch (e) {
            toast.error(e instanceof Error ? e.message : String(e));
            return null;
        } finally {
            setReading(false);
        }
    };
    const single = async () => {
        const read = await look(text);
        if (!read) return;
        setWrong({ one: read.wrong[0]?.replace(/^Line 1: /, '') ?? '', many: '' });
        // Noon of today may be yet to come.
        const now = new Date().toISOString();
        if (read.wrong.length === 0) keep.mutate(read.readings.map((r) => ({ ...r, at: r.at > now ? now : r.at })));
    };
    const several = async (of: string) => {
        const read = await look(of);
        if (!read) return;
        setWrong({ one: '', many: read.wrong.slice(0, 8).join(' ') });
        setSeen(read.wrong.length === 0 && read.readings.length > 0 ? read : null);
    };
    return (
        <div className="grid gap-3 border-t border-line pt-3">
            <form
                className="grid gap-3 md:grid-cols-[11rem_12rem_minmax(0,1fr)_auto] items-start"
                noValidate
                onSubmit={(e) => {
                    e.preventDefault();
                    void single();
                }}
            >
                <Field label="Read on">
                    {(p) => <input {...p} type="date" max={today} value={date} onChange={(e) => setDate(e.target.value)} />}
                </Field>
                <Field label="It had">
                    {(p) => (
                        <select {...p} value={condition} onChange={(e) => setCondition(e.target.value as Condition)}>
                            {Object.entries(CONDITIONS).map(([k, word]) => (
                                <option key={k} value={k}>
                                    {word}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <Field
                    label="Volts of its groups, from B-"
                    error={wrong.one || (seen ? undefined : refused) || undefined}
                    hint="every group, or the highest and the lowest; 62% before them where the charge is known"
                >
                    {(p) => <input {...p} className="digits" autoComplete="off" value={text} onChange={(e) => setText(e.target.value)} />}
                </Field>
                <div className="pt-7">
                    <Button type="submit" look="main" disabled={keep.isPending || reading || text.trim() === ''}>
                        Keep it
                    </Button>
                </div>
            </form>
            <details>
                <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                    Several at once: pasted, a table, or what its board says
                </summary>
                <div className="grid gap-2">
                    <Field
                        label="Lines with a date, a table whose first line names its columns, or a report of the board"
                        hint="2026-03-04 full 4.181 4.183 4.179, or date;soc;g1;g2;g3. A report has no date: it is of the day above"
                        error={wrong.many || (seen ? refused : undefined) || undefined}
                    >
                        {(p) => (
                            <textarea
                                {...p}
                                rows={5}
                                className="digits"
                                value={many}
                                onChange={(e) => {
                                    setMany(e.target.value);
                                    setSeen(null);
                                }}
                            />
                        )}
                    </Field>
                    <div className="flex flex-wrap gap-3 items-center">
                        <Button disabled={reading || many.trim() === ''} onClick={() => void several(many)}>
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
                                    void file?.text().then((t) => {
                                        setMany(t);
                                        return several(t);
                                    });
                                }}
                            />
                        </label>
                    </div>
                    {seen && (
                        <div className="grid gap-2 border-l-4 border-water pl-3">
                            {seen.notes.map((n) => (
                                <p key={n}>{n}</p>
                            ))}
                            <ul aria-label="Read out of it" className="max-h-64 overflow-y-auto">
                                {seen.readings.map((r) => (
                                    <li key={r.id} className="flex flex-wrap gap-x-4">
                                        <span className="w-44">{when(r.at)}</span>
                                        <span className="w-28">{CONDITIONS[r.condition]}</span>
                                        <span className="digits">
                                            {r.soc != null && `${(100 * r.soc).toFixed(0)} % `}
                                            {voltsOf(r)}
                                        </span>
                                    </li>
                                ))}
                            </ul>
                            <div>
                                <Button look="main" disabled={keep.isPending} onClick={() => keep.mutate(seen.readings)}>
                                    {seen.readings.length === 1 ? 'Keep it as read' : `Keep all ${seen.readings.length}`}
                                </Button>
                            </div>
                        </div>
                    )}
                </div>
            </details>
        </div>
    );
}
