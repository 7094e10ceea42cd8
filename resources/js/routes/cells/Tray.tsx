import { number as parse } from '@/lib/number';
import { useMutation } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors } from '@/lib/job';
import { useDraft } from '@/lib/useDraft';
import { chemistries } from '@/lib/format';
import { Button, Field } from '@/parts/basics';
import { Sheet } from '@/parts/Sheet';

const FIRST = { lot: '', supplier: '', model: '', chemistry: 'nmc', rated: '', lines: '', count: '' };

/** A tray by keyboard: one line a cell, "code Ah mohm volts", any of them left out with a dash; or just how many there are. */
export function Tray({ onClose }: { onClose: () => void }) {
    const [entry, setEntry, clear] = useDraft(`tray.${usePerson().id}`, FIRST);
    const [csv, setCsv] = useState('');
    const set = (name: keyof typeof FIRST) => (e: { target: { value: string } }) => setEntry({ ...entry, [name]: e.target.value });
    const number = (t: string | undefined) => (t === undefined || t === '-' || t === '' ? undefined : parse(t));
    const cells = entry.lines
        .split(/\n/)
        .map((l) => l.trim())
        .filter(Boolean)
        .map((l) => {
            const [code, ah, mohm, v] = l.split(/[\s;\t]+/);
            return { ...(code && code !== '-' ? { code } : {}), capacity_ah: number(ah), mohm: number(mohm), rest_v: number(v) };
        });
    const all = cells.length > 0 ? cells : Array.from({ length: Math.min(500, Number(entry.count) || 0) }, () => ({}));
    const bad = cells.findIndex((c) => [c.capacity_ah, c.mohm, c.rest_v].some((x) => x !== undefined && Number.isNaN(x)));
    const take = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/cells', {
                    params: { header: key() },
                    body: {
                        lot: { name: entry.lot, supplier: entry.supplier },
                        model: entry.model,
                        chemistry: entry.chemistry,
                        rated_ah: parse(entry.rated),
                        cells: all,
                    },
                }),
            ),
        onSuccess: () => {
            toast.success(`${all.length} cells taken in.`);
            clear();
            onClose();
        },
        onError: (e) => toast.error(e.message),
    });
    const bring = useMutation({
        mutationFn: () => unwrap(api.POST('/api/cells/import', { params: { header: key() }, body: { csv } })),
        onSuccess: () => {
            toast.success('Taken in.');
            onClose();
        },
        onError: (e) => toast.error(e.message),
    });
    const errors = fieldErrors(take.error);
    return (
        <Sheet title="Take in a tray" onClose={onClose} wide>
            <form
                className="grid gap-4 sm:grid-cols-2"
                onSubmit={(e: FormEvent) => {
                    e.preventDefault();
                    take.mutate();
                }}
            >
                <Field label="Lot" error={errors['lot.name']}>
                    {(p) => <input {...p} required value={entry.lot} onChange={set('lot')} />}
                </Field>
                <Field label="From whom">{(p) => <input {...p} value={entry.supplier} onChange={set('supplier')} />}</Field>
                <Field label="Cell model" error={errors['model']}>
                    {(p) => <input {...p} required value={entry.model} onChange={set('model')} />}
                </Field>
                <div className="grid grid-cols-2 gap-3">
                    <Field label="Chemistry">
                        {(p) => (
                            <select {...p} value={entry.chemistry} onChange={set('chemistry')}>
                                {chemistries.map((c) => (
                                    <option key={c}>{c}</option>
                                ))}
                            </select>
                        )}
                    </Field>
                    <Field label="Rated Ah" error={errors['rated_ah']}>
                        {(p) => <input {...p} required inputMode="decimal" value={entry.rated} onChange={set('rated')} />}
                    </Field>
                </div>
                <div className="sm:col-span-2">
                    <Field
                        label="One line a cell: code, Ah, mohm, volts; a dash where not known"
                        hint={bad >= 0 ? undefined : `${all.length} cells`}
                        error={
                            bad >= 0
                                ? `line ${bad + 1} has something that is no number`
                                : Object.entries(errors).find(([k]) => k.startsWith('cells.'))?.[1]
                        }
                    >
                        {(p) => (
                            <textarea
                                {...p}
                                rows={7}
                                className="digits"
                                value={entry.lines}
                                onChange={set('lines')}
                                placeholder={'QL-001 2.91 34.2 3.61\nQL-002 - - 3.60'}
                            />
                        )}
                    </Field>
                </div>
                {cells.length === 0 && (
                    <Field label="Or only how many, numbered in the lot">
                        {(p) => <input {...p} inputMode="numeric" value={entry.count} onChange={set('count')} />}
                    </Field>
                )}
                <div className="sm:col-span-2">
                    <Button type="submit" look="main" disabled={take.isPending || all.length === 0 || bad >= 0}>
                        Take them in
                    </Button>
                </div>
            </form>
            <details>
                <summary className="min-h-[44px] cursor-pointer">Import a CSV with the columns of the export</summary>
                <div className="grid gap-3">
                    <Field label="CSV" error={Object.entries(fieldErrors(bring.error)).map(([k, v]) => `${k}: ${v}`)[0]}>
                        {(p) => <textarea {...p} rows={5} value={csv} onChange={(e) => setCsv(e.target.value)} />}
                    </Field>
                    <div>
                        <Button disabled={csv.trim() === '' || bring.isPending} onClick={() => bring.mutate()}>
                            Import
                        </Button>
                    </div>
                </div>
            </details>
        </Sheet>
    );
}
