// Records as large as the limits allow, in several shapes: a long history, long sets, sets under current, many events.
import { randomUUID } from 'node:crypto';
import { call, signIn } from './client.mjs';

const most = Number(process.argv[2]);
const IMPORT_S = 5;
const OPEN_S = 2;
/** Twice the readings may take twice the time, and a little for what the two cores do besides. */
const GROWTH = 2.6;
let state = 7;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
const at = (hours) => new Date(Date.UTC(2020, 0, 1) + hours * 3.6e6).toISOString().replace('.000', '');

function record(readings, { series, per, condition = 'rest', events = 0 }) {
    const measurements = Array.from({ length: Math.ceil(readings / per) }, (_, i) => ({
        id: `m${i}`,
        at: at(2 * i),
        condition,
        current_a: condition === 'rest' ? 0 : -5,
        rested_min: 600,
        instrument: { resolution_v: 0.001 },
        readings: Array.from({ length: per }, (_, j) => {
            const to = (j % series) + 1;
            const from = Math.floor(j / series) % 2 ? to - 1 : 0;
            return {
                from: `T${from}`,
                to: `T${to}`,
                v: Number((3.7 * (to - from) + (random() - 0.5) / 500 - (to === 3 ? i * 1e-5 : 0)).toFixed(3)),
                at_s: j,
            };
        }),
    }));
    return JSON.stringify({
        format: 'heartwood.job',
        version: 1,
        pack: { chemistry: 'nmc', series, parallel: 2, cell: { capacity_ah: 2.9 } },
        symptoms: ['low-range'],
        measurements,
        events: Array.from({ length: events }, (_, i) => ({
            at: at(2 * i + 1),
            kind: i % 9 ? 'retightened' : 'group-charged',
            where: i % 9 ? { joint: 4 } : { group: 3 },
        })),
    });
}

async function timed(what) {
    const began = performance.now();
    const out = await what();
    return [(performance.now() - began) / 1000, out];
}

const shapes = {
    'sets of 50 at rest': { series: 10, per: 50 },
    'sets of 10 at rest': { series: 10, per: 10 },
    'sets of 10, 400 events': { series: 10, per: 10, events: 400 },
    'sets of 1,000 at rest': { series: 20, per: 1000 },
    'sets of 50 under current': { series: 10, per: 50, condition: 'discharge' },
    'sets of 5,000 at rest': { series: 14, per: 5000 },
};
await signIn('maren@gannetquay.example');
let over = 0;
console.log('shape                          import s   first open s   again s   half of it, x');
for (const [name, shape] of Object.entries(shapes)) {
    const go = async (n) => {
        const text = record(n, { ...shape, per: Math.min(shape.per, n) });
        const [imported, job] = await timed(() =>
            call('POST', '/api/import', { customer: 'Large', record: text }, { 'Idempotency-Key': randomUUID() }, 120_000),
        );
        const [first, view] = await timed(() => call('GET', `/api/jobs/${job.id}`, undefined, {}, 120_000));
        const [again] = await timed(() => call('GET', `/api/jobs/${job.id}`, undefined, {}, 120_000));
        if (view.measurements.reduce((sum, m) => sum + m.readings.length, 0) !== n) throw new Error(`${name}: not every reading came back`);
        return [imported, first, again];
    };
    const half = await go(most / 2);
    const whole = await go(most);
    const growth = whole.reduce((a, b) => a + b) / half.reduce((a, b) => a + b);
    const bad = whole[0] > IMPORT_S || whole[1] > OPEN_S || whole[2] > OPEN_S || growth > GROWTH;
    over += bad ? 1 : 0;
    console.log(
        [name.padEnd(30), ...whole.map((s) => s.toFixed(2).padStart(8)), growth.toFixed(2).padStart(12), bad ? 'OVER' : 'ok'].join('   '),
    );
}
console.log(
    `${most} readings each (limits: import ${IMPORT_S} s, open ${OPEN_S} s, twice the size ${GROWTH} x the time) ${over ? 'OVER' : 'ok'}`,
);
process.exit(over ? 1 : 0);
