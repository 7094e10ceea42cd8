import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import { toast } from 'sonner';
import { v7 } from 'uuid';
import { api, ApiError, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { tests } from '@/lib/format';
import { slots } from '@/lib/slots';
import type { Line } from '../probe/set';
import { type Ask, type TestForm, TESTS } from '../probe/tests';

type Schemas = components['schemas'];
export type Round = Schemas['TrainingRound'];
export type Home = Schemas['Training'];
export type Progress = Schemas['TrainingProgress'];
export type Person = Schemas['TrainingPerson'];
export type Check = Schemas['TrainingChecks'][number];
export type Outcome = Schemas['TrainingOutcome'];
export type Act = Record<string, unknown> & { do: string };
export type Done = Round['acts'][number];

export const LEVELS = [
    { level: 1, name: 'Plain', what: 'one plain fault' },
    { level: 2, name: 'Wider', what: 'one fault of any part' },
    { level: 3, name: 'Hidden', what: 'more than one test, slips of the probe' },
    { level: 4, name: 'Mixed', what: 'two at once, and traps' },
];

export const useHome = () => useQuery({ queryKey: slots.training(), queryFn: () => unwrap(api.GET('/api/training')) });

export const useRound = (id: string) =>
    useQuery({
        queryKey: slots.training('round', id),
        queryFn: () => unwrap(api.GET('/api/training/rounds/{trainingRound}', { params: { path: { trainingRound: id } } })),
        staleTime: Infinity,
    });

/** Acts of a round, one after another however fast they are asked for; each is sent again with its own id until it is answered. */
export function useActs(id: string): { act: (a: Act) => Promise<Round | null>; doing: number } {
    const queries = useQueryClient();
    const turn = useRef<Promise<unknown>>(Promise.resolve());
    const [doing, setDoing] = useState(0);
    const act = useCallback(
        (a: Act) => {
            const own = v7();
            setDoing((n) => n + 1);
            const slot = slots.training('round', id);
            const done = turn.current
                .then(async () => {
                    const now = queries.getQueryData<Round>(slot);
                    if (!now || now.over) return now ?? null;
                    const then = await unwrap(
                        api.POST('/api/training/rounds/{trainingRound}/acts', {
                            params: { path: { trainingRound: id }, header: { 'Idempotency-Key': own } },
                            body: { id: own, number: now.acts.length + 1, act: a },
                        }),
                    );
                    queries.setQueryData(slot, then);
                    if (then.over) void queries.invalidateQueries({ queryKey: slots.training(), exact: true });
                    return then;
                })
                .catch((e: unknown) => {
                    toast.error(e instanceof Error ? e.message : String(e));
                    if (e instanceof ApiError && e.status === 409) void queries.invalidateQueries({ queryKey: slot });
                    return null;
                })
                .finally(() => setDoing((n) => n - 1));
            turn.current = done;
            return done;
        },
        [id, queries],
    );
    return { act, doing };
}

/** The clock of the bench: hours, minutes, seconds; days in front once there are some. */
export function clock(seconds: number): string {
    const of = (n: number) => String(n).padStart(2, '0');
    const days = Math.floor(seconds / 86_400);
    const rest = seconds % 86_400;
    const hms = `${of(Math.floor(rest / 3600))}:${of(Math.floor((rest % 3600) / 60))}:${of(rest % 60)}`;
    return days > 0 ? `${days} d ${hms}` : hms;
}

/** Readings since anything else was done to the pack: what was read before that is of another moment. */
export function sitting(acts: Done[]): Line[] {
    const out: Line[] = [];
    acts.forEach(({ act, result }, i) => {
        const a = act as Act;
        if (a.do === 'look') return;
        if (a.do !== 'read') {
            out.length = 0;
            return;
        }
        const r = result as { v?: number; resolution_v?: number };
        if (r.v === undefined) return;
        const pair = { from: String(a['from']), to: String(a['to']) };
        const typed = r.v.toFixed(decimals(r.resolution_v ?? 0.001));
        const old = out.findIndex((l) => l.from === pair.from && l.to === pair.to);
        if (old >= 0) out.splice(old, 1);
        out.push({ ...pair, id: String(i), typed, where: 'server' });
    });
    return out;
}

const decimals = (step: number) => Math.max(0, Math.round(-Math.log10(step)));

const ASKED = ['action', 'element', 'where', 'scope', 'days'];
const more = (kind: string, title: string, ...asks: Ask[]): TestForm => ({ kind, title, asks });

/** The tests of the bench as a round asks for them: what is done and where, and never what comes of it. */
export const TRIALS: TestForm[] = [
    ...TESTS.filter((t) => (t.entry ?? 'test') === 'test').map((t) => ({
        kind: t.kind,
        title: t.title,
        asks: t.asks
            .filter((a) => ASKED.includes(a.name))
            .map((a) => (a.name === 'days' ? { ...a, label: 'Days until it is filled again' } : a)),
    })),
    more('recovery', 'Recovery trial of a group', { name: 'scope', label: 'Group', kind: 'group' }),
    more('pin-check', 'Pins of the sense plug'),
];

/** What flows, what is moved: acts that are no test. */
export const FLOWS: TestForm[] = [
    more(
        'load',
        'Load the pack',
        { name: 'current_a', label: 'Amps out of it', kind: 'number' },
        { name: 'seconds', label: 'For seconds', kind: 'number' },
    ),
    more(
        'charge-step',
        'Charge the pack for a while',
        { name: 'current_a', label: 'Amps into it', kind: 'number' },
        { name: 'minutes', label: 'For minutes', kind: 'number' },
    ),
];

/** An act in a few words, with its place. */
export function said(act: Act): string {
    const test = (act['test'] ?? {}) as Record<string, unknown>;
    const at = [test['scope'], test['where']].flatMap((w) => (w && typeof w === 'object' ? Object.entries(w) : []))[0];
    switch (act.do) {
        case 'read':
            return `${String(act['from'])} to ${String(act['to'])}`;
        case 'look':
            return 'Looked at it';
        case 'wait':
            return `Waited ${hours(Number(act['hours']))}`;
        case 'plug':
            return 'Sense plug put in';
        case 'unplug':
            return 'Sense plug pulled';
        case 'load':
            return `Loaded with ${Math.abs(Number(act['current_a']))} A for ${String(act['seconds'])} s`;
        case 'isolate':
            return 'Zero current proved';
        case 'level':
            return `Left on its charger for ${hours(Number(act['hours']))}`;
        case 'supply':
            return `Supply on ${onWhat(act)}`;
        case 'hands':
            return 'By hand';
        case 'charge':
            return `Charged with ${String(act['current_a'])} A for ${String(act['minutes'])} min`;
        default: {
            const title = TRIALS.find((t) => t.kind === test['kind'])?.title ?? tests[String(test['kind'])] ?? String(test['kind']);
            const what = [test['element'], test['action'], at ? `${at[0]} ${String(at[1])}` : null].filter(Boolean).join(', ');
            return what === '' ? title : `${title}: ${what}`;
        }
    }
}

function onWhat(act: Act): string {
    const group = act['group'] === undefined ? 'the whole string' : `group ${String(act['group'])}`;
    return act['to'] === 'full' ? `${group}, to full` : group;
}

export const hours = (h: number) =>
    h < 1 ? `${Math.round(60 * h)} min` : h < 48 ? `${Number(h.toFixed(1))} h` : `${Number((h / 24).toFixed(1))} days`;

const UNTOLD = [
    'plugged',
    'hours',
    'kind',
    'scope',
    'where',
    'element',
    'action',
    'ambient_c',
    'at',
    'refused',
    'why',
    'rate_a',
    'method',
    'started_full',
];

/** What figures of a result are called; what is not here is said by its own name. */
const CALLED: Record<string, string> = {
    groups_v: 'groups from B-, V:',
    terminal_v: 'output, V:',
    a: 'amps:',
    current_a: 'amps:',
    clamp_a: 'at the clamp, A:',
    stopped_by: 'stopped by',
    after_ah: 'after Ah:',
    measured_ah: 'holds Ah:',
    mohm: 'mohm:',
    ohm: 'ohm:',
    expected_ohm: 'expected ohm:',
    drop_v: 'drop, V:',
    refill_ah: 'took Ah:',
    days: 'days:',
    open_v: 'open, V:',
    loaded_v: 'loaded, V:',
    pins_v: 'pins against the first, V:',
    cells_mv: 'cells, mV:',
    full_charge_wh: 'believes Wh:',
    design_wh: 'when new Wh:',
    harness_ohm: 'harness, ohm:',
    device_ok: 'device runs:',
    woke: 'woke:',
    changed: 'changed:',
    loose: 'came loose:',
    stages: 'stages:',
};

/** What came of an act, as one line of names and figures. */
export function cameTo(result: Record<string, unknown>): string {
    if (result['refused']) return String(result['why'] ?? 'It could not be done.');
    if (result['done'] !== undefined) {
        const stands = result['stands_v'] === null ? '' : `, new cells at ${String(result['stands_v'])} V`;
        return `${String(result['done'])}${stands}${result['plugged'] === false ? '; the sense plug is out' : ''}.`;
    }
    if (result['ended'] !== undefined) {
        const [v, ah, h] = [Number(result['v']).toFixed(3), Number(result['ah']).toFixed(2), hours(Number(result['hours']))];
        return `${result['good'] ? 'Ended' : 'Stopped'}, ${String(result['ended'])}: ${String(result['text'])} ${v} V, ${ah} Ah in, ${h}.`;
    }
    const one = (v: unknown): string =>
        Array.isArray(v)
            ? v.map(one).join(' ')
            : typeof v === 'number'
              ? String(Number(v.toFixed(3)))
              : typeof v === 'boolean'
                ? v
                    ? 'yes'
                    : 'no'
                : v === null
                  ? '--'
                  : String(v);
    return Object.entries(result)
        .filter(([k, v]) => !UNTOLD.includes(k) && v !== null)
        .flatMap(([k, v]) =>
            k === 'samples' ? [trial(v as { min: number; v: number }[])] : [`${CALLED[k] ?? k.replaceAll('_', ' ')} ${one(v)}`],
        )
        .join(', ');
}

/** What is known of the pack of a round before anything is measured: what, how much, in what. */
export function factsOf(pack: Record<string, unknown>): [string, string, string][] {
    const of = (part: string, name: string) => ((pack[part] ?? {}) as Record<string, unknown>)[name];
    const all: [string, unknown, string][] = [
        ['A cell holds', of('cell', 'capacity_ah'), 'Ah'],
        ['and resists', of('cell', 'resistance_mohm'), 'mohm'],
        ['A cell gives at most', of('cell', 'max_continuous_a'), 'A'],
        ['A cell takes at most', of('cell', 'max_charge_a'), 'A'],
        ['Board: out at most', of('bms', 'discharge_limit_a'), 'A'],
        ['Board: in at most', of('bms', 'charge_limit_a'), 'A'],
        ['Board cuts above', of('bms', 'high_cut_v'), 'V a group'],
        ['Board cuts below', of('bms', 'low_cut_v'), 'V a group'],
        ['Board bleeds with', of('bms', 'balance_current_a'), 'A'],
        ['Device draws up to', of('load', 'controller_limit_a'), 'A'],
        ['Charger', of('charger', 'cv_v'), `V, ${String(of('charger', 'cc_a') ?? '--')} A`],
        ['Label: nominal', of('label', 'nominal_v'), 'V'],
        ['Label: capacity', of('label', 'capacity_ah'), 'Ah'],
    ];
    return all.filter(([, v]) => v !== undefined && v !== null).map(([name, v, unit]) => [name, String(v), unit]);
}

function trial(samples: { min: number; v: number }[]): string {
    const first = samples[0];
    const last = samples.at(-1);
    return first && last ? `${first.v.toFixed(3)} V rose to ${last.v.toFixed(3)} V in ${last.min} min` : '';
}

export const OUTCOMES: Record<Outcome, { sign: string; word: string; ink: string }> = {
    right: { sign: '✓', word: 'Right, and at its place', ink: 'text-moss' },
    'place-wrong': { sign: '◐', word: 'The right fault, at another place', ink: 'text-amber' },
    wrong: { sign: '✗', word: 'Not what it was', ink: 'text-ember' },
    unsafe: { sign: '⬣', word: 'Ended by an unsafe act', ink: 'text-ember' },
    left: { sign: '○', word: 'Left without an answer', ink: 'text-muted' },
};
