export const volts = (v: number | null | undefined, digits = 3) => (v == null ? '--' : `${v.toFixed(digits)} V`);
export const percent = (p: number) => `${Math.round(p * 100)} %`;
export const money = (cents: number, currency: string) =>
    new Intl.NumberFormat(undefined, { style: 'currency', currency }).format(cents / 100);
/** A moment, by this machine's clock or, where a paper leaves the shop, by the shop's. */
export const when = (iso: string, zone?: string) =>
    new Intl.DateTimeFormat(undefined, {
        weekday: 'short',
        day: 'numeric',
        month: 'short',
        hour: '2-digit',
        minute: '2-digit',
        timeZone: zone,
    }).format(new Date(iso));
export const day = (iso: string) =>
    new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(iso));

/** How sure, in a word: said beside the figure, never instead of it. */
export function sureness(p: number): string {
    if (p >= 0.95) return 'as good as certain';
    if (p >= 0.8) return 'very likely';
    if (p >= 0.6) return 'likely';
    if (p >= 0.4) return 'an even bet';
    return 'possible';
}

export function place(where: Record<string, unknown> | null | undefined): string {
    if (!where) return 'the pack';
    const [kind, n] = Object.entries(where)[0] ?? ['pack', ''];
    return `${kind} ${String(n)}`;
}

export const tests: Record<string, string> = {
    'rest-taps': 'Read the groups at rest',
    'group-reading': 'Read one group directly',
    'half-string': 'Read one more stretch',
    'rest-again': 'Wait, then read again',
    'sense-unplugged-rest': 'Rest with the sense plug out',
    refill: 'Refill and measure',
    'load-step': 'Read under load',
    'charge-step': 'Read on charge',
    'relaxing-read': 'Read while relaxing',
    'low-impedance-terminal': 'Read the output at low impedance',
    wake: 'Try to wake the board',
    continuity: 'Check the current path',
    flex: 'Move wires while reading',
    'bms-report': "Read the board's report",
    'pin-check': 'Check the pins',
    'recovery-trial': 'Try a small current',
    'full-charge-watch': 'Watch a full charge',
    'full-discharge-watch': 'Watch a full discharge',
    'capacity-group': "Measure a group's capacity",
    'capacity-pack': "Measure the pack's capacity",
    'resistance-cell': "Measure a cell's resistance",
    'strip-millivolt': 'Read the strips',
    'tug-weld': 'Tug the welds',
    'charger-check': 'Check the charger',
    'load-check': 'Check device and harness',
    sensor: 'Measure the sensor',
    'gauge-relearn': 'Teach the gauge',
    insulation: 'Measure the insulation',
};

export const symptoms: Record<string, string> = {
    'dead-output': 'Dead: no output',
    'will-not-charge': 'Will not charge',
    'cuts-out-when-bumped': 'Cuts out when bumped',
    'charger-blinks-fault': 'Charger blinks a fault',
    'charger-full-at-once': 'Charger says full at once',
    'dies-early': 'Dies early',
    'cuts-out-under-load': 'Cuts out under load',
    'cuts-out-until-reconnected': 'Cuts out until reconnected',
    'low-range': 'Runs shorter than it did',
    'gauge-jumps': 'Gauge jumps',
    'gauge-wrong': 'Gauge is wrong',
    'voltage-drops-off-charger': 'Drops when off the charger',
    'stored-long': 'Stored for long',
    modified: 'Modified',
    swelling: 'Swelling',
    hot: 'Gets hot: at rest, or not said when',
    'hot-on-charge': 'Gets hot on charge',
    'hot-in-use': 'Gets hot in use',
    smell: 'Smells',
    wet: 'Got wet',
    dropped: 'Dropped',
    'short-circuited': 'Short-circuited',
};

export const triage: { key: string; ask: string; means: 'quarantine' | 'hold' | 'note' }[] = [
    { key: 'swollen', ask: 'Swollen', means: 'quarantine' },
    { key: 'leaking', ask: 'Leaking', means: 'quarantine' },
    { key: 'venting', ask: 'Venting or hissing', means: 'quarantine' },
    { key: 'smell', ask: 'Smells sweet or sharp', means: 'quarantine' },
    { key: 'punctured', ask: 'Punctured', means: 'quarantine' },
    { key: 'warm_at_rest', ask: 'Warm with no current', means: 'quarantine' },
    { key: 'salt_water', ask: 'Salt water', means: 'quarantine' },
    { key: 'wet', ask: 'Wet', means: 'hold' },
    { key: 'crushed', ask: 'Crushed', means: 'hold' },
    { key: 'burnt', ask: 'Burnt', means: 'hold' },
    { key: 'metal_case', ask: 'Metal case', means: 'note' },
];

/** The first letters of first and last name: beside the name, never instead of it. */
export const initials = (name: string) => {
    const words = name.trim().split(/\s+/);
    return ((words[0]?.[0] ?? '') + (words.length > 1 ? (words[words.length - 1]?.[0] ?? '') : '')).toUpperCase();
};
