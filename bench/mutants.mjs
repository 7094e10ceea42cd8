// Bodies that are not what they should be.
const ODD = [
    null,
    true,
    false,
    [],
    {},
    [[]],
    { a: { b: [1] } },
    '',
    ' ',
    'x',
    'ä'.repeat(400),
    '\u0000',
    '\u202e',
    -1,
    0,
    1e30,
    -1e30,
    9007199254740993,
    0.1,
    '1e999',
    'NaN',
    '<script>',
    ['x', 'x'],
    'not-a-date',
    "' or 1=1 --",
    '../../etc/passwd',
    'a@b.example, c@d.example',
    { $ne: 1 },
    Array.from({ length: 300 }, (_, i) => i),
    '2026-13-45T99:99:99Z',
];

/** Somewhere inside the body, something else stands, is gone, or is there twice; now and then the text itself is broken. */
export function mutator(random) {
    const pick = (list) => list[Math.floor(random() * list.length)];
    return function mutate(body) {
        const copy = structuredClone(body);
        for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
            let at = copy;
            for (;;) {
                const keys = Object.keys(at);
                if (keys.length === 0) break;
                const key = pick(keys);
                if (at[key] !== null && typeof at[key] === 'object' && random() < 0.6) {
                    at = at[key];
                    continue;
                }
                if (random() < 0.15) delete at[key];
                else at[key] = structuredClone(pick(ODD));
                break;
            }
        }
        let text = JSON.stringify(copy);
        const r = random();
        if (r < 0.02) text = text.slice(0, Math.floor(random() * text.length));
        else if (r < 0.05) text = text.replace(/:(-?\d+(\.\d+)?)([,}])/, ':1e999$3');
        else if (r < 0.06) text = pick(['[]', '"x"', '1', 'null', '']);
        return text;
    };
}
