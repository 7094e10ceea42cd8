import { number } from '@/lib/number';
/** Tests other than group voltages: what to enter for each, in the record's own fields. */

export type Values = Record<string, string>;

export interface Ask {
    name: string;
    label: string;
    /** numbers: several, separated by blanks, "-" where one is missing; marks: several of the options. */
    kind: 'number' | 'numbers' | 'yes-no' | 'choice' | 'marks' | 'group' | 'joint';
    options?: string[];
    optional?: boolean;
    /** Why it is asked, where the question is an odd one. */
    why?: string;
    when?: (v: Values) => boolean;
}

export interface TestForm {
    kind: string;
    title: string;
    asks: Ask[];
    /** What it becomes: a test of the record, a set of its own (temperatures), or something that was done to the pack. */
    entry?: 'test' | 'measurement' | 'event';
    build?: (data: Record<string, unknown>) => Record<string, unknown>;
}

const GROUP: Ask = { name: 'scope', label: 'Group', kind: 'group' };
const GROUP_OR_PACK: Ask = { name: 'scope', label: 'Group, or empty for the whole pack', kind: 'group', optional: true };
const AT_STOP: Ask = {
    name: 'groups_v',
    label: 'Volts of the groups at the stop, from B-, "-" where unread',
    kind: 'numbers',
    optional: true,
};

export const TESTS: TestForm[] = [
    {
        kind: 'wake',
        title: 'Tried to wake the board',
        asks: [
            {
                name: 'action',
                label: 'How',
                kind: 'choice',
                options: ['charger-pulse', 'button', 'enable-wire', 'bridge', 'reconnect', 'device'],
            },
            { name: 'woke', label: 'Did it wake?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'continuity',
        title: 'Current path',
        asks: [
            { name: 'element', label: 'What', kind: 'choice', options: ['fuse', 'switch', 'connector', 'joint'] },
            { name: 'where', label: 'Joint at tap', kind: 'joint', when: (v) => v['element'] === 'joint' },
            { name: 'ohm', label: 'Ohms, circuit dead', kind: 'number', optional: true },
            { name: 'drop_v', label: 'or volts across it', kind: 'number', optional: true },
            {
                name: 'current_a',
                label: 'at amps (out is negative)',
                kind: 'number',
                optional: true,
                why: 'Volts across a joint say nothing without the current through it: the two together are its resistance.',
            },
        ],
    },
    {
        kind: 'capacity',
        title: 'Capacity',
        asks: [
            GROUP_OR_PACK,
            { name: 'measured_ah', label: 'Measured, Ah', kind: 'number' },
            { name: 'rate_a', label: 'At amps', kind: 'number', optional: true },
            { name: 'cutoff_v', label: 'Down to volts a group', kind: 'number', optional: true },
            {
                name: 'started_full',
                label: 'Started full?',
                kind: 'yes-no',
                why: 'Only a discharge from full to the cut-off tells what it holds. Any other tells what was left in it.',
            },
            { name: 'ambient_c', label: 'Room, degC', kind: 'number', optional: true },
        ],
    },
    {
        kind: 'resistance',
        title: 'Resistance of the cells',
        asks: [
            GROUP,
            { name: 'mohm', label: 'Measured, mohm', kind: 'number' },
            { name: 'method', label: 'How', kind: 'choice', options: ['four-wire', 'step-1s', 'step-10s', 'two-wire'] },
        ],
    },
    {
        kind: 'strip-millivolt',
        title: 'Millivolts along the strips',
        asks: [
            GROUP,
            { name: 'cells_mv', label: 'Each cell, mV, + into the cell, "-" where unread', kind: 'numbers' },
            { name: 'current_a', label: 'At amps (0 at rest, out is negative)', kind: 'number' },
        ],
    },
    {
        kind: 'tug-weld',
        title: 'Tugged the welds',
        asks: [
            { name: 'where', label: 'Group', kind: 'group' },
            { name: 'loose', label: 'Came one loose?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'heat',
        title: 'Heat at a joint, under current',
        entry: 'measurement',
        asks: [
            { name: 'joint', label: 'Joint at tap', kind: 'number' },
            { name: 'c', label: 'It has, degC', kind: 'number' },
            { name: 'ambient_c', label: 'The room has, degC', kind: 'number' },
            { name: 'current_a', label: 'At amps (out is negative)', kind: 'number' },
        ],
        build: (d) => ({
            condition: Number(d['current_a']) < 0 ? 'discharge' : 'charge',
            current_a: d['current_a'],
            ambient_c: d['ambient_c'],
            temperatures: [{ where: { joint: d['joint'] }, c: d['c'] }],
        }),
    },
    {
        kind: 'refill',
        title: 'Filled again after days',
        asks: [
            GROUP,
            { name: 'days', label: 'Days since it was full', kind: 'number' },
            { name: 'refill_ah', label: 'It took, Ah', kind: 'number' },
        ],
    },
    {
        kind: 'charger',
        title: 'Charger',
        asks: [
            { name: 'open_v', label: 'Open, V', kind: 'number' },
            { name: 'loaded_v', label: 'Loaded, V', kind: 'number', optional: true },
            {
                name: 'stages',
                label: 'Stages that its log shows',
                kind: 'marks',
                options: ['cc', 'cv', 'float', 'equalise', 'desulphate', 'pulse'],
                optional: true,
            },
        ],
    },
    {
        kind: 'charge',
        title: 'Full charge watched',
        asks: [
            { name: 'stopped_by', label: 'Stopped by', kind: 'choice', options: ['charger', 'bms', 'person'] },
            { name: 'after_ah', label: 'After, Ah', kind: 'number', optional: true },
            AT_STOP,
        ],
    },
    {
        kind: 'discharge',
        title: 'Full discharge watched',
        asks: [
            { name: 'stopped_by', label: 'Stopped by', kind: 'choice', options: ['bms', 'person'] },
            { name: 'after_ah', label: 'After, Ah', kind: 'number', optional: true },
            { name: 'current_a', label: 'At amps (negative)', kind: 'number', optional: true },
            { name: 'peak_a', label: 'Peak amps (negative)', kind: 'number', optional: true },
            AT_STOP,
        ],
    },
    {
        kind: 'flex',
        title: 'Moved wires while reading',
        asks: [
            { name: 'element', label: 'What was moved', kind: 'choice', options: ['connector', 'main lead', 'fuse', 'switch', 'joint'] },
            { name: 'changed', label: 'Did the reading change?', kind: 'yes-no' },
        ],
    },
    {
        kind: 'sensor',
        title: 'Temperature sensor',
        asks: [
            { name: 'ohm', label: 'Measured, ohm', kind: 'number' },
            { name: 'expected_ohm', label: 'Expected, ohm', kind: 'number' },
        ],
    },
    {
        kind: 'gauge',
        title: 'What the gauge says',
        asks: [
            { name: 'full_charge_wh', label: 'Full, Wh', kind: 'number' },
            { name: 'design_wh', label: 'When new, Wh', kind: 'number', optional: true },
            { name: 'reported_soc', label: 'It shows now, 0 to 1', kind: 'number', optional: true },
        ],
    },
    { kind: 'insulation', title: 'Insulation', asks: [{ name: 'mohm', label: 'Mohm, case to terminals', kind: 'number' }] },
    {
        kind: 'load-check',
        title: 'Device and harness',
        asks: [
            { name: 'harness_ohm', label: 'Harness, ohm', kind: 'number', optional: true },
            { name: 'device_ok', label: 'Device runs on a good supply?', kind: 'yes-no' },
        ],
    },
    { kind: 'retightened', title: 'Re-tightened a joint', entry: 'event', asks: [{ name: 'where', label: 'Joint at tap', kind: 'joint' }] },
    { kind: 'group-charged', title: 'Charged a group by itself', entry: 'event', asks: [{ name: 'where', label: 'Group', kind: 'group' }] },
    { kind: 'balanced', title: 'Balanced the pack', entry: 'event', asks: [] },
    { kind: 'sense-unplugged', title: 'Pulled the sense plug', entry: 'event', asks: [] },
];

/** Tests of a verdict that open a form, by the form. */
export const FORMS: Record<string, string> = {
    wake: 'wake',
    continuity: 'continuity',
    flex: 'flex',
    sensor: 'sensor',
    refill: 'refill',
    insulation: 'insulation',
    'capacity-group': 'capacity',
    'capacity-pack': 'capacity',
    'resistance-cell': 'resistance',
    'strip-millivolt': 'strip-millivolt',
    'tug-weld': 'tug-weld',
    'charger-check': 'charger',
    'load-check': 'load-check',
    'full-charge-watch': 'charge',
    'full-discharge-watch': 'discharge',
    'gauge-relearn': 'gauge',
};

/** What the form starts with when a verdict sends here for a place. */
export function startValues(test: TestForm, group: number | null, joint: number | null): Values {
    const out: Values = {};
    for (const ask of test.asks) if (ask.kind === 'choice') out[ask.name] = ask.options![0]!;
    if (group !== null) Object.assign(out, { scope: String(group), where: String(group) });
    if (joint !== null) Object.assign(out, { element: 'joint', where: String(joint), joint: String(joint) });
    return out;
}

/** Entered numbers that are none, by field; empty when all is well. */
export function problems(test: TestForm, values: Values): Record<string, string> {
    const out: Record<string, string> = {};
    for (const ask of asked(test, values)) {
        const text = (values[ask.name] ?? '').trim();
        if (text === '') continue;
        if (['number', 'group', 'joint'].includes(ask.kind) && !Number.isFinite(number(text)))
            out[ask.name] = 'Type a number such as 3.71.';
        if (ask.kind === 'numbers' && split(text).some((n) => n !== null && !Number.isFinite(n)))
            out[ask.name] = 'Numbers with blanks between them, "-" where one is missing.';
    }
    return out;
}

const split = (text: string) =>
    text
        .trim()
        .split(/[\s;]+/)
        .map((n) => (n === '-' ? null : number(n)));

export const asked = (test: TestForm, values: Values) => test.asks.filter((a) => !a.when || a.when(values));

/** The outbox entry that the form stands for. */
export function entryOf(test: TestForm, values: Values): { kind: 'test' | 'measurement' | 'event'; data: Record<string, unknown> } {
    const data: Record<string, unknown> = {};
    for (const ask of asked(test, values)) {
        const text = (values[ask.name] ?? '').trim();
        if (ask.name === 'scope' && ask.optional && text === '') data[ask.name] = 'pack';
        else if (text === '') continue;
        else if (ask.kind === 'group') data[ask.name] = { group: number(text) };
        else if (ask.kind === 'joint') data[ask.name] = { joint: number(text) };
        else if (ask.kind === 'numbers') data[ask.name] = split(text);
        else if (ask.kind === 'marks') data[ask.name] = text.split(' ');
        else data[ask.name] = ask.kind === 'number' ? number(text) : ask.kind === 'yes-no' ? text === 'yes' : text;
    }
    return { kind: test.entry ?? 'test', data: test.build ? test.build(data) : { kind: test.kind, ...data } };
}
