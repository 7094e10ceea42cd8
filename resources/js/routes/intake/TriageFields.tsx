import { number } from '@/lib/number';
import { useState } from 'react';
import { looks, type Symptom, symptoms as SYMPTOMS } from '@/lib/format';

import { Button } from '@/parts/basics';
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
    const water = inspection['wet'] === true || typeof inspection['salt_water'] === 'boolean';
    return (
        <div className="grid gap-3">
            <Touches inspection={inspection} change={change} none={() => change(noneOf(inspection))} />
            <div className="flex flex-wrap gap-x-6 gap-y-2 items-end">
                <YesNo ask="The case" look="metal_case" words={['not of metal', 'of metal']} inspection={inspection} change={change} />
                {water && <YesNo ask="Salt water" look="salt_water" words={['no', 'yes']} inspection={inspection} change={change} />}
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

function YesNo({
    ask,
    look,
    words,
    inspection,
    change,
}: {
    ask: string;
    look: string;
    words: [string, string];
    inspection: Record<string, unknown>;
    change: (patch: Inspection) => void;
}) {
    return (
        <div role="group" aria-label={ask} className="flex items-center gap-2">
            <span aria-hidden="true">
                {ask}
                {typeof inspection[look] !== 'boolean' && <span className="text-muted"> (not looked at)</span>}
            </span>
            {words.map((word, i) => (
                <button
                    key={word}
                    type="button"
                    aria-pressed={inspection[look] === (i === 1)}
                    className={`min-h-[44px] px-3 rounded border ${
                        inspection[look] === (i === 1) ? 'border-2 border-bark bg-knot font-bold' : 'border-line bg-panel hover:bg-knot'
                    }`}
                    onClick={() => change({ [look]: i === 1 })}
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
            <span className="text-muted pb-2">up to 3 % is a note</span>
        </fieldset>
    );
}

export function SymptomFields({ chosen, change }: { chosen: Symptom[]; change: (next: Symptom[]) => void }) {
    return (
        <div className="grid gap-x-4 sm:grid-cols-2 lg:grid-cols-3">
            {(Object.entries(SYMPTOMS) as [Symptom, string][]).map(([code, text]) => (
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
    );
}
