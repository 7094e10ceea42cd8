import { symptoms as SYMPTOMS, triage } from '@/lib/format';

const MEANS = { quarantine: 'quarantine', hold: 'hold', note: '' };

/** Yes or no to everything that can stop a pack at the door; not asked is neither. */
export function TriageFields({ inspection, change }: { inspection: Record<string, unknown>; change: (patch: Record<string, boolean>) => void }) {
    return (
        <div className="grid gap-2 sm:grid-cols-2">
            {triage.map((t) => (
                <fieldset
                    key={t.key}
                    className={`flex items-center gap-3 px-3 rounded border ${inspection[t.key] === true && t.means !== 'note' ? 'border-ember bg-knot' : 'border-line'}`}
                >
                    <legend className="sr-only">{t.ask}</legend>
                    <span className="grow py-2" aria-hidden="true">
                        {t.ask} {inspection[t.key] === true && t.means !== 'note' && <b className="text-ember">: {MEANS[t.means]}</b>}
                    </span>
                    {[
                        ['no', false],
                        ['yes', true],
                    ].map(([word, value]) => (
                        <label key={String(word)} className="flex items-center gap-1.5 min-h-[44px]">
                            <input type="radio" name={t.key} checked={inspection[t.key] === value} onChange={() => change({ [t.key]: value as boolean })} />{' '}
                            {word}
                        </label>
                    ))}
                </fieldset>
            ))}
        </div>
    );
}

export function SymptomFields({ chosen, change }: { chosen: string[]; change: (next: string[]) => void }) {
    return (
        <div className="grid gap-x-4 sm:grid-cols-2 lg:grid-cols-3">
            {Object.entries(SYMPTOMS).map(([code, text]) => (
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
