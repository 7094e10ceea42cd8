import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, ApiError, key, unwrap } from '@/api/client';
import { count } from '@/lib/format';
import { slots } from '@/lib/slots';
import { useDraft } from '@/lib/useDraft';
import { Button, Field } from '@/parts/basics';
import { Evidence } from './Evidence';
import type { InRound } from './Round';
import { useFaults, useVerdict, type Verdict } from './Verdict';

interface Choice {
    action: string;
    places: string;
}
const NONE: Choice = { action: '', places: '' };

const whole = (typed: string) => (/^\d{1,3}$/.test(typed.trim()) ? Number(typed) : null);

export const places = (typed: string): number[] =>
    typed
        .split(/[\s,;]+/)
        .filter((p) => /^\d{1,3}$/.test(p))
        .map(Number);

/** What is sent for a verdict; a sentence where it is none yet. */
export function findingsOf(
    verdict: Verdict,
    place: (code: string) => string | undefined,
): { findings: { code: string; where: Record<string, number> | null; probability: number }[]; nothing: number | null } | string {
    if (verdict.nothing !== null) return { findings: [], nothing: verdict.nothing / 100 };
    const said = verdict.findings.filter((f) => f.code !== '');
    if (said.length === 0) return 'Say what it is first, or that nothing is wrong with it.';
    // Without the list nobody knows which of them has a place.
    if (said.some((f) => place(f.code) === undefined)) return 'The list of faults is still on its way.';
    const bare = said.find((f) => place(f.code) !== 'pack' && whole(f.place) === null);
    if (bare) return 'A finding lacks its place: say which group or joint.';
    return {
        findings: said.map((f) => {
            const kind = place(f.code)!;
            return { code: f.code, where: kind === 'pack' ? null : { [kind]: whole(f.place)! }, probability: f.sure / 100 };
        }),
        nothing: null,
    };
}

/** What may be done with a pack of a round. */
export const useChoices = () =>
    useQuery({
        queryKey: slots.training('choices'),
        queryFn: () => unwrap(api.GET('/api/training/choices')),
        staleTime: Infinity,
    }).data;

/** What is to be done with it: after this it is done, or told. */
export function Component() {
    const { round } = useOutletContext<InRound>();
    const faults = useFaults();
    const queries = useQueryClient();
    const navigate = useNavigate();
    const [verdict, , clearVerdict] = useVerdict(round.id);
    const [choice, setChoice, clear] = useDraft<Choice>(`training.${round.id}.choice`, NONE);
    const [asked, setAsked] = useState(false);
    const choices = useChoices();
    const placeOf = (code: string) => faults.find((f) => f.code === code)?.place;
    const said = findingsOf(verdict, placeOf);
    const needs = choices?.find((c) => c.action === choice.action)?.at ?? null;
    const at = places(choice.places);
    const wrong =
        typeof said === 'string'
            ? said
            : choice.action === ''
              ? 'Choose what is to be done.'
              : needs && at.length === 0
                ? `Say which ${needs === 'group' ? 'groups' : 'joints'}.`
                : null;
    const answer = useMutation({
        mutationFn: (carry_out: boolean) => {
            if (typeof said === 'string') throw new Error(said);
            return unwrap(
                api.POST('/api/training/rounds/{trainingRound}/answer', {
                    params: { path: { trainingRound: round.id }, header: key() },
                    body: {
                        ...said,
                        carry_out,
                        option: { action: choice.action, ...(needs ? { where: at.map((k) => ({ [needs]: k })) } : {}) },
                    },
                }),
            );
        },
        onSuccess: (r) => {
            clear();
            clearVerdict();
            queries.setQueryData(slots.training('round', round.id), r);
            void queries.invalidateQueries({ queryKey: slots.training(), exact: true });
            void navigate(`/training/${round.id}/${r.over ? 'debrief' : 'carry-out'}`);
        },
    });
    const ends = choices?.find((c) => c.action === choice.action)?.ends === true;
    const give = (carry: boolean) => {
        setAsked(true);
        if (!wrong && !round.over) answer.mutate(carry);
    };
    return (
        <div className="p-5 grid gap-5 xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start">
            <form
                className="sheet p-5 grid gap-4"
                onSubmit={(e) => {
                    e.preventDefault();
                    give(!ends);
                }}
            >
                <section aria-label="You say">
                    <h2>You say</h2>
                    {verdict.nothing !== null ? (
                        <p>Nothing is wrong with it, {verdict.nothing} % sure.</p>
                    ) : (
                        <ul>
                            {verdict.findings
                                .filter((f) => placeOf(f.code) !== undefined)
                                .map((f, i) => (
                                    <li key={i}>
                                        <b>{faults.find((x) => x.code === f.code)?.title ?? f.code}</b>
                                        {f.place !== '' && placeOf(f.code) !== 'pack' && ` (${placeOf(f.code)} ${f.place})`}, {f.sure} %
                                        sure
                                    </li>
                                ))}
                        </ul>
                    )}
                    <Link
                        to={`/training/${round.id}/verdict`}
                        className="underline underline-offset-4 inline-flex items-center min-h-[44px]"
                    >
                        Change it
                    </Link>
                </section>
                <fieldset className="grid gap-1" disabled={round.over !== null}>
                    <legend className="font-bold text-lg pb-1">What is to be done?</legend>
                    <div className="grid sm:grid-cols-2 gap-x-5">
                        {(choices ?? []).map((c) => (
                            <label key={c.action} className="flex items-center gap-2 min-h-[44px] border-b border-line">
                                <input
                                    type="radio"
                                    name="action"
                                    checked={choice.action === c.action}
                                    onChange={() => setChoice({ ...choice, action: c.action })}
                                />
                                <span className="grow">{c.title}</span>
                                {c.minutes > 0 && <span className="text-muted text-sm whitespace-nowrap">{c.minutes} min</span>}
                            </label>
                        ))}
                    </div>
                </fieldset>
                {needs && (
                    <Field
                        label={needs === 'group' ? 'Which groups, blanks between them' : 'Joints at which taps, blanks between them'}
                        hint={at.length > 0 ? count(at.length, needs) : undefined}
                    >
                        {(p) => (
                            <input
                                {...p}
                                className="digits"
                                inputMode="numeric"
                                value={choice.places}
                                onChange={(e) => setChoice({ ...choice, places: e.target.value })}
                            />
                        )}
                    </Field>
                )}
                <div className="sticky bottom-0 bg-panel border-t border-line py-3 grid gap-3">
                    {((asked && wrong) || answer.error) && (
                        <p role="alert" className="text-ember font-bold">
                            {wrong ?? (answer.error instanceof ApiError ? answer.error.message : String(answer.error))}
                        </p>
                    )}
                    {!round.over && (
                        <div className="flex flex-wrap gap-3">
                            <Button type="submit" look="main" disabled={answer.isPending}>
                                {ends ? 'That is my answer' : 'That is my answer: to work'}
                            </Button>
                            {!ends && (
                                <Button look="quiet" disabled={answer.isPending} onClick={() => give(false)}>
                                    Answer, and show me at once
                                </Button>
                            )}
                        </div>
                    )}
                </div>
            </form>
            <Evidence round={round} />
        </div>
    );
}
