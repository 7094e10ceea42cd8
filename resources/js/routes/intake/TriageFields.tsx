import { number } from '@/lib/number';
import { useState } from 'react';
import { looks, type Symptom, symptoms as SYMPTOMS } from '@/lib/format';

import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';

export type Inspection = Record<string, boolean | number>;

const MEANS = { quarantine: 'quarantine', hold: 'hold', note: '' };
type Look = (typeof looks)[number];

/** What whoever stands before the pack can see, feel and smell: "none of these" answers all of it that has no answer. */
export const outside = looks.filter((l) => l.outside);
export const noneOf = (inspection: Record<string, unknown>): Inspection =>
    Object.fromEntries(outside.filter((l) => inspection[l.key] !== true).map((l) => [l.key, false]));

/** One touch where nothing is wrong, one for each yes, what a yes asks next; what nobody answers stays "not looked at". */
export function TriageFields({ inspection, change }: { inspection: Record<string, unknown>; change: (patch: Inspection) => void }) {
    const flat = ['thickness_mm', 'drawn_thickness_mm'].some((k) => typeof inspection[k] === 'number');
    const [measures, setMeasures] = useState(false);
    // What a yes asks next, and what is a question of its own.
    const asked = looks.filter(
        (l) => !l.outside && (l.after === null || inspection[l.after] === true || typeof inspection[l.key] === 'boolean'),
    );
    return (
        <div className="grid gap-3">
            <Touches inspection={inspection} change={change} none={() => change(noneOf(inspection))} />
            <div className="flex flex-wrap gap-x-6 gap-y-2 items-end">
                {asked.map((l) => (
                    <YesNo key={l.key} of={l} inspection={inspection} change={change} />
                ))}
                {inspection['swollen'] === true || flat || measures ? (
                    <Thickness inspection={inspection} change={change} />
                ) : (
                    <Button look="quiet" onClick={() => setMeasures(true)}>
                        Measure a flat cell
                    </Button>
                )}
            </div>
        </div>
    );
}

/** The touches alone: none of it, or what it is. */
export function Touches({
    inspection,
    change,
    none,
}: {
    inspection: Record<string, unknown>;
    change: (patch: Inspection) => void;
    none: () => void;
}) {
    const some = outside.some((l) => inspection[l.key] === true);
    const open = outside.filter((l) => typeof inspection[l.key] !== 'boolean');
    return (
        <div role="group" aria-label="What is wrong with it, as it lies there" className="grid gap-2">
            <div className="flex flex-wrap gap-2">
                <button
                    type="button"
                    aria-pressed={open.length === 0 && !some}
                    className={`min-h-[44px] px-4 rounded border-2 font-bold ${
                        open.length === 0 && !some ? 'border-moss bg-knot' : 'border-bark bg-panel hover:bg-knot'
                    }`}
                    onClick={none}
                >
                    {open.length === 0 && !some ? '\u2713 None of these' : some ? 'None of the others' : 'None of these'}
                </button>
                {outside.map((l) => (
                    <Touch key={l.key} of={l} value={inspection[l.key]} change={change} />
                ))}
            </div>
            {open.length > 0 && open.length < outside.length && (
                <p className="text-muted">Not looked at: {open.map((l) => l.ask.toLowerCase()).join(', ')}.</p>
            )}
        </div>
    );
}

function Touch({ of: l, value, change }: { of: Look; value: unknown; change: (patch: Inspection) => void }) {
    const yes = value === true;
    return (
        <button
            type="button"
            aria-pressed={yes}
            className={`min-h-[44px] px-3 rounded border ${
                yes ? 'border-2 border-ember bg-knot font-bold' : 'border-line bg-panel hover:bg-knot'
            }`}
            onClick={() => change({ [l.key]: !yes })}
        >
            <span aria-hidden="true">
                {yes ? (l.means === 'quarantine' ? '\u2b23 ' : '\u25fc ') : value === false ? '\u00b7 ' : '\u25cb '}
            </span>
            {l.ask}
            {yes && <b className="text-ember">: {MEANS[l.means]}</b>}
        </button>
    );
}

function YesNo({ of: l, inspection, change }: { of: Look; inspection: Record<string, unknown>; change: (patch: Inspection) => void }) {
    return (
        <div role="group" aria-label={l.ask} className="flex items-center gap-2">
            <span aria-hidden="true">
                {l.ask}
                {typeof inspection[l.key] !== 'boolean' && <span className="text-muted"> (not looked at)</span>}
            </span>
            {l.answers.map((word, i) => (
                <button
                    key={word}
                    type="button"
                    aria-pressed={inspection[l.key] === (i === 1)}
                    className={`min-h-[44px] px-3 rounded border ${
                        inspection[l.key] === (i === 1) ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel hover:bg-knot'
                    }`}
                    onClick={() => change({ [l.key]: i === 1 })}
                >
                    {word}
                </button>
            ))}
        </div>
    );
}

/** Pouch and prismatic cells: a bulge that the eye does not see shows against the drawing. Both values or neither. */
function Thickness({ inspection, change }: { inspection: Record<string, unknown>; change: (patch: Inspection) => void }) {
    const [typed, setTyped] = useState<{ thickness_mm?: string; drawn_thickness_mm?: string }>({});
    const value = (name: 'thickness_mm' | 'drawn_thickness_mm') =>
        typed[name] ?? (typeof inspection[name] === 'number' ? String(inspection[name]) : '');
    const keep = () => {
        const [now, drawn] = [value('thickness_mm'), value('drawn_thickness_mm')].map((t) => number(t));
        if (now! > 0 && drawn! > 0 && (now !== inspection['thickness_mm'] || drawn !== inspection['drawn_thickness_mm'])) {
            change({ thickness_mm: now!, drawn_thickness_mm: drawn! });
        }
    };
    const field = (name: 'thickness_mm' | 'drawn_thickness_mm', label: string) => (
        <NumberField
            label={label}
            className="w-24"
            onBlur={keep}
            value={value(name)}
            onChange={(typed) => setTyped((old) => ({ ...old, [name]: typed }))}
        />
    );
    return (
        <fieldset className="flex flex-wrap items-end gap-3 px-3 pt-1.5 pb-2 rounded border border-line">
            <legend className="sr-only">Flat cells: thickness against the drawing</legend>
            {field('thickness_mm', 'Flat cell: thickness, mm')}
            {field('drawn_thickness_mm', 'as drawn, mm')}
            <span className="text-muted pb-2">a small bulge is a note, more is swollen</span>
        </fieldset>
    );
}

/** What the customer says of it: by a touch, or by any word of it; what is chosen stays in sight. */
export function SymptomFields({ chosen, change }: { chosen: Symptom[]; change: (next: Symptom[]) => void }) {
    const [word, setWord] = useState('');
    const wanted = word.trim().toLowerCase().split(/\s+/);
    const all = Object.entries(SYMPTOMS) as [Symptom, string][];
    const shown = all.filter(([code, text]) => chosen.includes(code) || wanted.every((w) => text.toLowerCase().includes(w)));
    const left = shown.filter(([code]) => !chosen.includes(code));
    return (
        <div className="grid gap-2">
            <div className="max-w-sm">
                <Field label="Find what is said">
                    {(p) => (
                        <input
                            {...p}
                            value={word}
                            autoComplete="off"
                            placeholder="dead, hot, short"
                            onChange={(e) => setWord(e.target.value)}
                            onKeyDown={(e) => {
                                if (e.key !== 'Enter') return;
                                // Enter takes the one that is left, and never sends the form.
                                e.preventDefault();
                                if (word.trim() === '' || left.length !== 1) return;
                                change([...chosen, left[0]![0]]);
                                setWord('');
                            }}
                        />
                    )}
                </Field>
            </div>
            <div className="grid gap-x-4 sm:grid-cols-2 lg:grid-cols-3">
                {shown.map(([code, text]) => (
                    <label key={code} className="flex items-center gap-2.5 min-h-[44px]">
                        <input
                            type="checkbox"
                            checked={chosen.includes(code)}
                            onChange={(e) => change(e.target.checked ? [...chosen, code] : chosen.filter((c) => c !== code))}
                        />{' '}
                        {text}
                    </label>
                ))}
            </div>
            {shown.length === 0 && <p className="text-muted">Nothing of the list is called so: say it in the customer&apos;s words.</p>}
        </div>
    );
}
