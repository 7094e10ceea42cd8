import { number } from '@/lib/number';
import { useState } from 'react';
import { looks, type Symptom, symptoms as SYMPTOMS } from '@/lib/format';

import { NumberField } from '@/parts/NumberField';

export type Inspection = Record<string, boolean | number>;

const MEANS = { quarantine: 'quarantine', hold: 'hold', note: '' };

/** Yes or no to everything that can stop a pack at the door; not asked is neither. */
export function TriageFields({ inspection, change }: { inspection: Record<string, unknown>; change: (patch: Inspection) => void }) {
    const stops = (t: (typeof looks)[number]) => inspection[t.key] === true && t.means !== 'note';
    return (
        <div className="grid gap-2 sm:grid-cols-2">
            {looks.map((t) => (
                <fieldset
                    key={t.key}
                    className={`flex items-center gap-3 px-3 rounded border ${stops(t) ? 'border-ember bg-knot' : 'border-line'}`}
                >
                    <legend className="sr-only">{t.ask}</legend>
                    <span className="grow py-2" aria-hidden="true">
                        {t.ask} {stops(t) && <b className="text-ember">: {MEANS[t.means]}</b>}
                    </span>
                    {[
                        ['no', false],
                        ['yes', true],
                    ].map(([word, value]) => (
                        <label key={String(word)} className="flex items-center gap-1.5 min-h-[44px]">
                            <input
                                type="radio"
                                name={t.key}
                                checked={inspection[t.key] === value}
                                onChange={() => change({ [t.key]: value as boolean })}
                            />{' '}
                            {word}
                        </label>
                    ))}
                </fieldset>
            ))}
            <Thickness inspection={inspection} change={change} />
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
        <fieldset className="flex items-end gap-3 px-3 pt-1.5 pb-2 rounded border border-line">
            <legend className="sr-only">Flat cells: thickness against the drawing</legend>
            {field('thickness_mm', 'Flat cell: thickness, mm')}
            {field('drawn_thickness_mm', 'as drawn, mm')}
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
