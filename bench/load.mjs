// Benches that listen to a meter each and take a tap every other second, as the screen does it; runs whose screens ask as
// the screen does. What is measured is a reading from the moment it is sent until it is kept.
import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import net from 'node:net';
import { look, pidOf, session, sleep, stolen } from './client.mjs';

const [seconds, benches, runs] = process.argv.slice(2).map(Number);
const P95_MS = 150;
/** Memory at the end against memory once all are at work. */
const FLAT = 1.1;
const LOOK_MS = 500;
const TAP_MS = 2200;
const WATCH_MS = 400;
const GROUPS = 14;
const PEOPLE = ['tobiah', 'sunniva', 'maren'].map((n) => `${n}@gannetquay.example`);

// A meter a bench: it speaks the standard words, and shows the tap that its probe is on.
const shows = [];
const ports = process.env.METERS.split(',')
    .flatMap((first) => [0, 1, 2, 3, 4].map((i) => Number(first) + i))
    .slice(0, benches + runs);
for (const [i, port] of ports.entries()) {
    shows[i] = 3.8;
    net.createServer((line) => {
        let text = '';
        line.on('error', () => {});
        line.on('data', (d) => {
            text += d;
            for (let n = text.indexOf('\n'); n >= 0; n = text.indexOf('\n')) {
                const word = text.slice(0, n).trim();
                text = text.slice(n + 1);
                if (word.startsWith('*IDN?')) line.write(`Made up,Load meter,${i},1\n`);
                else if (word.startsWith('MEAS:TEMP')) line.write('21.0\n');
                else if (word.startsWith('MEAS'))
                    line.write(`${shows[i] === null ? '0.0000' : (shows[i] + 0.0001 * Math.sin(Date.now())).toFixed(4)}\n`);
                else if (word.startsWith('SYST:ERR')) line.write('0,"No error"\n');
            }
        });
    }).listen(port, '127.0.0.1');
}

const desk = session();
await desk.signIn(PEOPLE[0]);
const meters = [];
const introduce = async (i) => {
    const { instruments } = await desk.write('/api/instruments', { name: `Load ${i}`, kind: 'meter', host: '127.0.0.1', port: ports[i] });
    meters[i] = instruments.find((m) => m.name === `Load ${i}`).id;
    await desk.write(`/api/instruments/${meters[i]}/identify`, {});
};
for (let i = 0; i < ports.length; i += 5)
    await Promise.all(Array.from({ length: Math.min(5, ports.length - i) }, (_, k) => introduce(i + k)));
const pack = (name, series) =>
    desk.write('/api/jobs', {
        customer: 'Load',
        name,
        symptoms: [],
        inspection: {},
        pack: { chemistry: 'nmc', series, parallel: 2, cell: { capacity_ah: 3 } },
    });

const kept = [];
const tally = { errors: 0, looks: 0, polls: 0, jobs: 0 };
const slow = { looks: [], polls: [] };
const failed = (what) => (e) => {
    tally.errors++;
    if (tally.errors <= 8) console.error(`  after ${performance.now().toFixed(0)} ms, ${what}: ${String(e).slice(0, 200)}`);
};
const timed = async (into, work) => {
    const began = performance.now();
    const answer = await work();
    into.push(performance.now() - began);
    return answer;
};
let over = false;

async function bench(i) {
    const me = session();
    await me.signIn(PEOPLE[i % PEOPLE.length]);
    const job = await pack(`Load ${i}`, GROUPS);
    const outbox = randomUUID();
    let [seq, set, k] = [0, null, 0];
    let since = null;
    let left = null;
    let leave = { word: '', until: 0 };
    const entry = (kind, data, id = randomUUID()) => ({ seq: ++seq, id, kind, job_id: job.id, at: new Date().toISOString(), data });
    await sleep(TAP_MS * Math.random());
    for (let began = Date.now(); !over; await sleep(Math.max(0, LOOK_MS - (Date.now() - began)))) {
        began = Date.now();
        // The probe stands on a tap for most of the time between two, and is lifted in between.
        const phase = ((Date.now() / TAP_MS + i / benches) % 1) * TAP_MS;
        shows[i] = phase < 400 ? null : 3.8 * ((k % GROUPS) + 1);
        // Leave to look is asked for as the screen does it: before its thirty seconds are over.
        if (Date.now() > leave.until) {
            const given = await me.call('POST', `/api/instruments/${meters[i]}/watch/${job.id}`).catch(failed('leave'));
            if (given) leave = { word: given.watch, until: began + 1000 * (given.lasts_s - 5) };
        }
        const answer = await timed(slow.looks, () =>
            me.call(
                'POST',
                '/api/watch/meter',
                {
                    since,
                    left_v: left,
                    has_left: left === null,
                    before: null,
                    typical: 3.8,
                    groups: (k % GROUPS) + 1,
                },
                { 'X-Heartwood-Watch': leave.word },
            ),
        ).catch(failed('look'));
        tally.looks++;
        if (answer?.state !== 'steady') continue;
        const entries = [];
        if (k % GROUPS === 0) {
            set = randomUUID();
            entries.push(entry('measurement', { condition: 'rest', rested_min: 600, instrument: { resolution_v: 0.001 } }, set));
        }
        entries.push(entry('reading', { measurement_id: set, from: 'T0', to: `T${(k % GROUPS) + 1}`, typed: answer.typed }));
        const stored = await timed(kept, () => me.call('POST', '/api/outbox', { outbox_id: outbox, check: set, entries })).catch(
            failed('reading'),
        );
        if (stored && stored.results.some((r) => r.status !== 'stored')) failed('reading')(JSON.stringify(stored.results));
        [since, left] = [answer.now, Number(answer.typed)];
        // The screen asks for the job again when a set is read through.
        if (++k % GROUPS === 0) {
            tally.jobs++;
            await me.call('GET', `/api/jobs/${job.id}`).catch(failed('job'));
        }
    }
    return k;
}

async function watch(i) {
    const me = session();
    await me.signIn(PEOPLE[i % PEOPLE.length]);
    const job = await pack(`Watched ${i}`, 4);
    await look(job.id, me);
    const set = randomUUID();
    const at = new Date().toISOString();
    const entry = (seq, kind, data, id = randomUUID()) => ({ seq, id, kind, job_id: job.id, at, data });
    await me.call('POST', '/api/outbox', {
        outbox_id: randomUUID(),
        entries: [
            entry(1, 'measurement', { condition: 'rest', rested_min: 600, instrument: { resolution_v: 0.001 } }, set),
            ...[3.7, 2.3, 3.7, 3.71].map((v, k) =>
                entry(k + 2, 'reading', { measurement_id: set, from: `T${k}`, to: `T${k + 1}`, typed: v.toFixed(3) }),
            ),
        ],
    });
    shows[benches + i] = 2.3;
    const checks = { place: true, awake: true, extinguisher: true, isolated: true, temperature: true, fused: true };
    const run = await me.write(`/api/jobs/${job.id}/runs`, {
        kind: 'recovery',
        group: 2,
        meter_id: meters[benches + i],
        time_scale: 1,
        checks,
    });
    let [next, samples] = [0, 0];
    let leave = { word: '', until: 0 };
    for (let began = Date.now(); !over; await sleep(Math.max(0, WATCH_MS - (Date.now() - began)))) {
        began = Date.now();
        const opens = began > leave.until;
        const live = await timed(slow.polls, () =>
            opens
                ? me.call('GET', `/api/runs/${run.id}?from=${next}`)
                : me.call('GET', `/api/watch/run?from=${next}`, undefined, { 'X-Heartwood-Watch': leave.word }),
        ).catch(failed('poll'));
        tally.polls++;
        if (!live) continue;
        [next, samples] = [live.next, samples + live.samples.length];
        if (opens) leave = { word: live.watch, until: began + 1000 * (live.lasts_s - 5) };
        else if (live.again) leave.until = 0;
    }
    return samples;
}

const PROGRAMS = Object.fromEntries(['fpm', 'mariadbd', 'runner', 'nginx'].map((name) => [name, pidOf(name)]));
/** Ticks of the kernel's count of processor time a second, and bytes of a page of memory (proc(5), on Linux). */
const [TICKS, PAGE] = [100, 4096];

/**
 * Memory of the instance's own programs in MB, what they share counted each time, and the seconds of processor that they have had,
 * with those of their children that are gone. It is read without waiting for anybody: the meters of this drill answer meanwhile.
 */
function programs() {
    const out = { cpu: {} };
    for (const name of Object.keys(PROGRAMS)) out[name] = out.cpu[name] = 0;
    for (const pid of readdirSync('/proc').filter((n) => /^\d+$/.test(n))) {
        let text;
        try {
            text = readFileSync(`/proc/${pid}/stat`, 'utf8');
        } catch {
            continue;
        }
        // After the name, which may hold anything: state, parent, ..., times of its own and of its ended children, ..., pages.
        const words = text
            .slice(text.lastIndexOf(')') + 2)
            .split(' ')
            .map(Number);
        for (const [name, id] of Object.entries(PROGRAMS)) {
            if (Number(pid) !== id && words[1] !== id) continue;
            out[name] += (words[21] * PAGE) / 1024 / 1024;
            out.cpu[name] += (words[11] + words[12] + (Number(pid) === id ? words[13] + words[14] : 0)) / TICKS;
        }
    }
    return out;
}
const p = (list, share) => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(share * list.length))] ?? NaN;

// They come in one after another, as people do.
const [watched, probed] = [[], []];
const begin = async (list, work, n) => {
    for (let i = 0; i < n; i++) {
        list.push(work(i).catch(failed('bench')));
        await sleep(400);
    }
};
await begin(watched, watch, runs);
await begin(probed, bench, benches);
// What is measured begins when all are at work.
await sleep(5_000);
for (const list of [kept, slow.looks, slow.polls]) list.length = 0;
const [before, from, lostBefore] = [programs(), Date.now(), stolen()];
while (Date.now() - from < seconds * 1000) {
    await sleep(Math.min(60_000, seconds * 1000 - (Date.now() - from)));
    const now = programs();
    console.log(
        `${((Date.now() - from) / 1000).toFixed(0).padStart(4)} s: ${kept.length} readings, ` +
            `p50 ${p(kept, 0.5).toFixed(0)} p95 ${p(kept, 0.95).toFixed(0)} ms; ` +
            `fpm ${now.fpm.toFixed(0)} MB, mariadbd ${now.mariadbd.toFixed(0)} MB, runs ${now.runner.toFixed(0)} MB`,
    );
}
const took = (Date.now() - from) / 1000;
const after = programs();
over = true;
const sum = async (list) => (await Promise.all(list)).reduce((a, b) => a + (b ?? 0), 0);
const [taps, samples] = [await sum(probed), await sum(watched)];
const grown = ['fpm', 'mariadbd', 'runner'].map((k) => [k, after[k] / before[k]]);
console.log(`${benches} benches and ${runs} runs for ${took.toFixed(0)} s: ${taps} taps, ${samples} samples seen`);
console.log(
    `processor, per cent of one: ${Object.keys(after.cpu)
        .map((k) => `${k} ${((100 * (after.cpu[k] - before.cpu[k])) / took).toFixed(0)}`)
        .join(', ')}; ${((100 * (stolen() - lostBefore)) / took).toFixed(0)} taken away by the machine's other guests`,
);
for (const [what, list] of [
    ['a look at a meter', slow.looks],
    ['a look at a run', slow.polls],
])
    console.log(
        `${what}: ${(list.length / took).toFixed(0)} a second, p50 ${p(list, 0.5).toFixed(0)} ms, p95 ${p(list, 0.95).toFixed(0)} ms`,
    );
const lines = [
    [
        `a kept reading: ${(kept.length / took).toFixed(0)} a second, p50 ${p(kept, 0.5).toFixed(0)} ms, ` +
            `p95 ${p(kept, 0.95).toFixed(0)} ms (limit ${P95_MS})`,
        p(kept, 0.95) <= P95_MS,
    ],
    [`errors ${tally.errors} (limit 0)`, tally.errors === 0],
    [
        `memory, end against beginning: ${grown.map(([k, g]) => `${k} ${g.toFixed(2)}`).join(', ')} (limit ${FLAT})`,
        grown.every(([, g]) => g <= FLAT),
    ],
];
for (const [text, ok] of lines) console.log(`${text} ${ok ? 'ok' : 'OVER'}`);
process.exit(lines.every(([, ok]) => ok) ? 0 : 1);
