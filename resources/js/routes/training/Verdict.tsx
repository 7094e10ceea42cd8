import { useQuery } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { api, unwrap } from '@/api/client';
import { sureness } from '@/lib/format';
import { slots } from '@/lib/slots';
import { useDraft } from '@/lib/useDraft';
import { Button, Field, Go } from '@/parts/basics';
import { Evidence } from './Evidence';
import type { InRound } from './Round';

export interface Said {
    code: string;
    place: string;
    sure: number;
}
export interface Verdict {
    findings: Said[];
    nothing: number | null;
}

export const EMPTY: Verdict = { findings: [{ code: '', place: '', sure: 80 }], nothing: null };

/** What is said of a round so far; it outlives a reload. */
export const useVerdict = (round: string) => useDraft<Verdict>(`training.${round}.verdict`, EMPTY);

export const useFaults = () =>
    useQuery({ queryKey: slots.faults(), queryFn: () => unwrap(api.GET('/api/faults')), staleTime: Infinity }).data ?? [];

const AREAS: Record<string, string> = {
    group: 'A group of cells',
    cell: 'A cell',
    joint: 'A joint',
    pack: 'The pack as a whole',
    path: 'The way to the output',
    bms: 'The board',
    sense: 'Sense leads',
    sensor: 'Sensors',
    charger: 'The charger',
    load: 'Device and harness',
    gauge: 'The gauge',
    label: 'The label',
};

/** What the one who plays holds for wrong, and how sure: nobody helps here, and the tool's own verdict is told at the end. */
export function Component() {
    const { round } = useOutletContext<InRound>();
    const faults = useFaults();
    const [verdict, setVerdict] = useVerdict(round.id);
    // How a pack stands is no cause, and nobody is asked for it.
    const areas = [...new Set(faults.filter((f) => !f.describes).map((f) => f.code.split('.')[0]!))];
    const change = (i: number, more: Partial<Said>) =>
        setVerdict({ ...verdict, findings: verdict.findings.map((f, at) => (at === i ? { ...f, ...more } : f)) });
    const nothing = verdict.nothing !== null;
    return (
        <div className="p-5 grid gap-5 xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start">
            <section aria-label="Your verdict" className="sheet p-5 grid gap-4">
                <h2>What is it, where, and how sure are you?</h2>
                {!nothing &&
                    verdict.findings.map((f, i) => {
                        const place = faults.find((x) => x.code === f.code)?.place;
                        return (
                            <fieldset key={i} className="grid gap-2 border-l-4 border-line pl-4">
                                <legend className="sr-only">Finding {i + 1}</legend>
                                <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_120px]">
                                    <Field label={`Finding ${i + 1}`}>
                                        {(p) => (
                                            <select
                                                {...p}
                                                disabled={round.over !== null}
                                                value={f.code}
                                                onChange={(e) => change(i, { code: e.target.value })}
                                            >
                                                <option value="">choose what is wrong</option>
                                                {areas.map((a) => (
                                                    <optgroup key={a} label={AREAS[a] ?? a}>
                                                        {faults
                                                            .filter((x) => x.code.startsWith(`${a}.`) && !x.describes)
                                                            .map((x) => (
                                                                <option key={x.code} value={x.code}>
                                                                    {x.title}
                                                                </option>
                                                            ))}
                                                    </optgroup>
                                                ))}
                                            </select>
                                        )}
                                    </Field>
                                    {place !== undefined && place !== 'pack' && (
                                        <Field label={place === 'group' ? 'Group' : place === 'joint' ? 'Joint at tap' : 'Tap'}>
                                            {(p) => (
                                                <input
                                                    {...p}
                                                    className="digits"
                                                    inputMode="numeric"
                                                    disabled={round.over !== null}
                                                    value={f.place}
                                                    onChange={(e) => change(i, { place: e.target.value })}
                                                />
                                            )}
                                        </Field>
                                    )}
                                </div>
                                <Sure value={f.sure} set={(sure) => change(i, { sure })} off={round.over !== null} />
                                {verdict.findings.length > 1 && !round.over && (
                                    <div>
                                        <Button
                                            look="quiet"
                                            onClick={() =>
                                                setVerdict({ ...verdict, findings: verdict.findings.filter((_, at) => at !== i) })
                                            }
                                        >
                                            Leave this one out
                                        </Button>
                                    </div>
                                )}
                            </fieldset>
                        );
                    })}
                {nothing && (
                    <Sure
                        value={verdict.nothing ?? 80}
                        set={(sure) => setVerdict({ ...verdict, nothing: sure })}
                        off={round.over !== null}
                    />
                )}
                {!round.over && (
                    <div className="flex flex-wrap gap-3">
                        {!nothing && (
                            <Button
                                onClick={() =>
                                    setVerdict({ ...verdict, findings: [...verdict.findings, { code: '', place: '', sure: 60 }] })
                                }
                            >
                                And something else
                            </Button>
                        )}
                        <label className="flex items-center gap-2 min-h-[44px]">
                            <input
                                type="checkbox"
                                checked={nothing}
                                onChange={(e) => setVerdict({ ...verdict, nothing: e.target.checked ? 80 : null })}
                            />
                            Nothing is wrong with it
                        </label>
                    </div>
                )}
                <p className="text-muted">
                    Say what follows from it too, such as a board that does its job. Said is what you hold for more likely than not.
                    Sureness is scored: who says 90 % is to be right nine times in ten.
                </p>
                <div>
                    <Go to={`/training/${round.id}/plan`} look="main">
                        Choose what to do
                    </Go>
                </div>
            </section>
            <Evidence round={round} />
        </div>
    );
}

function Sure({ value, set, off }: { value: number; set: (sure: number) => void; off: boolean }) {
    return (
        <Field label="How sure">
            {(p) => (
                <span className="flex items-center gap-4">
                    <input
                        {...p}
                        type="range"
                        min={5}
                        max={99}
                        step={1}
                        disabled={off}
                        className="!p-0 accent-(--drill)"
                        value={value}
                        onChange={(e) => set(Number(e.target.value))}
                        aria-valuetext={`${value} percent`}
                    />
                    <b className="digits whitespace-nowrap w-[9.5rem]">
                        {value} % <span className="font-normal text-muted font-sans">{sureness(value / 100)}</span>
                    </b>
                </span>
            )}
        </Field>
    );
}
