// Work of all kinds under kills. Whoever works here repeats what got no answer, as the screens do, and counts from the
// acknowledgements; what is drawn by chance is drawn from one seed, so that what fails once can be looked for again.
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import net from 'node:net';
import { hand, look, pidOf, session, shell, sleep, stolen } from './client.mjs';
import { mutator } from './mutants.mjs';

const [minutes, seed] = process.argv.slice(2, 4).map(Number);
/** On a machine that others use too how long an answer takes is told and not judged. */
const anyPace = process.argv[4] === 'any-pace';
const until = Date.now() + minutes * 60_000;
const going = () => Date.now() < until;
/** Chance of its own for each that works, so that one does not move another's. */
const chance = (which) => {
    let state = (seed * 2654435761 + which * 40503) >>> 0 || 1;
    return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
};
const SLOW_MS = 12_000;
const SLOW = 'answers after 12 s';
const tally = {
    'acknowledged and lost': 0,
    'held twice': 0,
    'a write repeated and done twice': 0,
    'a write acknowledged and not there': 0,
    'answers of 5xx that are no outage': 0,
    [SLOW]: 0,
    'a job without its first revision or event': 0,
    'output left on': 0,
    'a run that does not close': 0,
    'programs that did not come back': 0,
};
const count = {
    kills: 0,
    entries: 0,
    repeats: 0,
    jobs: 0,
    mutants: 0,
    'hostile looks': 0,
    runs: 0,
    'runs with current': 0,
    'clock jumps': 0,
};
const say = (what, text) => {
    tally[what]++;
    if (tally[what] <= 5) console.error(`  ${what}: ${String(text).slice(0, 260)}`);
};
/** An outage is not answered, or by the web server in the application's place; anything else of five hundred is a fault. */
const isOutage = (code) => [0, 502, 503, 504].includes(code);

const people = ['tobiah', 'sunniva', 'maren'].map((n) => `${n}@gannetquay.example`);
const screens = people.map(() => session());
for (const [i, s] of screens.entries()) await s.signIn(people[i]);
const [desk, bench, owner] = screens;

/** One write until it is answered, with the same key. */
async function surely(screen, method, path, body) {
    const key = randomUUID();
    for (let n = 0; ; n++) {
        const began = Date.now();
        let answer = null;
        try {
            answer = await screen.raw(method, path, JSON.stringify(body), { 'Idempotency-Key': key, 'If-Match': '*' }, 60_000);
        } catch {
            answer = null;
        }
        const text = answer === null ? '' : await answer.text().catch(() => null);
        const code = text === null ? 0 : (answer?.status ?? 0);
        if (Date.now() - began > SLOW_MS && !isOutage(code)) say(SLOW, `${method} ${path} ${Date.now() - began} ms`);
        if (code >= 500 && !isOutage(code)) say('answers of 5xx that are no outage', `${code} ${method} ${path} ${text}`);
        // Still under way, or an outage: the same again. A session that the outage has cost is begun anew.
        if (code === 401) await screen.signIn(people[screens.indexOf(screen)] ?? people[0]).catch(() => {});
        else if (code !== 0 && code < 500 && !(code === 409 && text.includes('under-way'))) return { code, data: JSON.parse(text || '{}') };
        if (n > 400) throw new Error(`${method} ${path} is never answered`);
        count.repeats++;
        await sleep(250);
    }
}
const pack = { chemistry: 'nmc', series: 14, parallel: 3, cell: { capacity_ah: 3 } };
const open = async (screen, name, series = 14) =>
    (await surely(screen, 'POST', '/api/jobs', { customer: 'Chaos', name, symptoms: [], inspection: {}, pack: { ...pack, series } })).data;

/** Readings by way of an outbox; now and then the bench's clock is a year off, in either direction. */
const acknowledged = new Set();
async function probe(which) {
    const random = chance(which);
    const screen = which % 2 ? bench : desk;
    const job = await open(screen, `Probed ${which}`);
    const outbox = randomUUID();
    let seq = 0;
    let jump = 0;
    const now = () => new Date(Date.now() + jump).toISOString();
    const entry = (kind, data, id = randomUUID()) => ({ seq: ++seq, id, kind, job_id: job.id, at: now(), data });
    let set = null;
    while (going()) {
        if (random() < 0.05) {
            jump = (random() - 0.5) * 2 * 365 * 86_400_000;
            count['clock jumps']++;
        }
        const entries = [];
        if (set === null || random() < 0.1) {
            set = randomUUID();
            entries.push(entry('measurement', { condition: 'rest', rested_min: 600 }, set));
        }
        for (let n = 1 + Math.floor(random() * 4); n > 0; n--) {
            const k = 1 + Math.floor(random() * 14);
            entries.push(entry('reading', { measurement_id: set, from: 'T0', to: `T${k}`, typed: (3.8 * k).toFixed(3) }));
        }
        const { code, data } = await surely(screen, 'POST', '/api/outbox', { outbox_id: outbox, sent_at: now(), entries });
        if (code !== 200) say('acknowledged and lost', `the outbox was answered ${code} ${JSON.stringify(data)}`);
        for (const r of data.results ?? []) if (r.status !== 'refused') acknowledged.add(r.id);
        count.entries += entries.length;
        await sleep(random() * 150);
    }
}

/** Jobs are opened and carried on: each write is done once, however often it is repeated. */
const opened = new Map();
async function carry(which) {
    const random = chance(100 + which);
    const screen = which % 2 ? owner : desk;
    for (let n = 0; going(); n++) {
        const name = `Carried ${which}.${n}`;
        const job = await open(screen, name, 4);
        if (!job.id) continue;
        opened.set(name, job.id);
        count.jobs++;
        await surely(screen, 'POST', `/api/jobs/${job.id}/triage`, { inspection: { swollen: false, wet: random() < 0.1 } });
        await surely(screen, 'PATCH', `/api/jobs/${job.id}`, { complaint: `stops ${n}` });
        await surely(screen, 'POST', `/api/jobs/${job.id}/verdict`, {});
        await surely(screen, 'POST', `/api/jobs/${job.id}/wait`, { until: '2027-01-01T00:00:00Z', for: 'rest' });
        await sleep(random() * 300);
    }
}

/** Bodies that are not what they should be, beside all of it. */
async function fuzz() {
    const random = chance(200);
    const mutate = mutator(random);
    const job = await open(owner, 'Mutated', 4);
    const good = [
        ['POST', '/api/jobs', { customer: 'Mutant', name: 'Pack', symptoms: ['short-run'], inspection: { wet: false }, pack }],
        ['PATCH', `/api/jobs/${job.id}`, { name: 'Pack', serial: 's', batch: 'b', complaint: 'c', pack }],
        ['POST', `/api/jobs/${job.id}/triage`, { inspection: { wet: false }, symptoms: ['short-run'], withdrawn: [] }],
        ['POST', `/api/jobs/${job.id}/runs`, { kind: 'recovery', group: 1, checks: { place: true }, time_scale: 1 }],
        ['POST', `/api/jobs/${job.id}/recovery-plan`, { kind: 'balance', held: true, method: 'level', phosphate: 'A', supply_a: 2 }],
        ['POST', `/api/jobs/${job.id}/board-report`, { text: 'group 1 3.71\ngroup 2 3.72' }],
        [
            'POST',
            '/api/outbox',
            {
                outbox_id: randomUUID(),
                check: null,
                entries: [
                    {
                        seq: 1,
                        id: randomUUID(),
                        kind: 'test',
                        job_id: job.id,
                        at: '2026-11-01T10:00:00Z',
                        data: { kind: 'wake', woke: true },
                    },
                ],
            },
        ],
        ['POST', '/api/outbox/missing', { entries: [{ id: randomUUID(), kind: 'reading', job_id: job.id }] }],
        ['POST', '/api/registers', { dump: '0x09 3A98' }],
        ['PATCH', '/api/settings', { values: { rate_cents: 5400 } }],
    ];
    while (going()) {
        const [method, path, body] = good[count.mutants++ % good.length];
        const text = mutate(body);
        try {
            const answer = await owner.raw(method, path, text, { 'Idempotency-Key': randomUUID(), 'If-Match': '*' }, 60_000);
            const said = await answer.text();
            if (answer.status >= 500 && !isOutage(answer.status))
                say('answers of 5xx that are no outage', `${answer.status} ${method} ${path} ${text} -> ${said}`);
            if (answer.status === 401) await owner.signIn(people[2]);
        } catch {
            // It was away.
        }
        await sleep(20 + random() * 60);
    }
}

/** An instrument that answers what no instrument does, and a screen that looks at it. */
const mood = { now: 0 };
const hostile = chance(300);
const MOODS = [
    (line) => line.write(Buffer.from(Array.from({ length: 40 }, () => Math.floor(hostile() * 256)))),
    (line) => line.write('9'.repeat(70_000)),
    (line) => line.write('1e999\n'),
    (line) => line.write('NaN\n\n\n-0\n'),
    (line) => line.write('3.7'),
    (line) => line.destroy(),
    () => {},
    (line) => line.write(`${3.7 + hostile()}\n${3.7 + hostile()}\n`),
    (line) => line.write('<html><title>500</title></html>\n'),
    (line, asked) => line.write(asked),
    (line) => {
        let n = 0;
        const drip = setInterval(() => (line.destroyed || n++ > 40 ? clearInterval(drip) : line.write('3')), 60);
    },
];
const port = Number(process.env.HOSTILE);
net.createServer((line) => {
    line.on('error', () => {});
    line.on('data', (d) => {
        const asked = d.toString();
        if (asked.includes('*IDN?') && mood.now === 0) line.write('Made up,Hostile,7,1\n');
        else MOODS[mood.now % MOODS.length](line, asked);
    });
}).listen(port, '127.0.0.1');
async function listen() {
    const random = chance(301);
    const { data } = await surely(desk, 'POST', '/api/instruments', { name: 'Hostile', kind: 'meter', host: '127.0.0.1', port });
    const id = data.instruments.find((i) => i.name === 'Hostile').id;
    const job = await open(desk, 'Listened to', 4);
    for (; going(); await sleep(100 + random() * 300)) {
        mood.now = Math.floor(random() * MOODS.length);
        const [method, path, body] = [
            ['GET', `/api/instruments/${id}/reading`],
            ['POST', '/api/watch/meter', { has_left: true, groups: 1 }],
            ['POST', `/api/instruments/${id}/identify`, {}],
        ][Math.floor(random() * 3)];
        // Leave is asked for anew each time: the one before may be over, or the server may have been away.
        const leave = await surely(desk, 'POST', `/api/instruments/${id}/watch/${job.id}`, {});
        const began = Date.now();
        try {
            const answer = await desk.raw(
                method,
                path,
                body === undefined ? undefined : JSON.stringify(body),
                { 'Idempotency-Key': randomUUID(), 'X-Heartwood-Watch': leave.data.watch },
                60_000,
            );
            const said = await answer.text();
            if (answer.status >= 500 && !isOutage(answer.status))
                say('answers of 5xx that are no outage', `${answer.status} ${path} ${said}`);
            if (Date.now() - began > SLOW_MS && answer.status < 500) say(SLOW, `${path} mood ${mood.now}`);
            const v = JSON.parse(said)?.v ?? JSON.parse(said)?.shows?.volts ?? null;
            if (answer.ok && v !== null && !(Math.abs(v) <= 1100)) say('answers of 5xx that are no outage', `${path} believed ${said}`);
        } catch {
            // It was away.
        }
        count['hostile looks']++;
    }
}

/** A supervised run on the simulated bench, ended and begun again; its supply's own word is what counts. */
async function drive() {
    const random = chance(400);
    const { instruments } = (await surely(bench, 'GET', '/api/instruments')).data;
    const id = (kind) => instruments.find((i) => i.kind === kind && i.name !== 'Hostile').id;
    const checks = { place: true, awake: true, extinguisher: true, isolated: true, temperature: true, fused: true };
    while (going()) {
        const job = await open(bench, `Driven ${count.runs}`, 4);
        await look(job.id, { write: (path, body) => surely(bench, 'POST', path, body).then((a) => a.data) });
        const set = randomUUID();
        const at = new Date().toISOString();
        const entry = (seq, kind, data, own = randomUUID()) => ({ seq, id: own, kind, job_id: job.id, at, data });
        await surely(bench, 'POST', '/api/outbox', {
            outbox_id: randomUUID(),
            entries: [
                entry(1, 'measurement', { condition: 'rest', rested_min: 600, instrument: { resolution_v: 0.001 } }, set),
                ...[3.7, 2.3, 3.7, 3.71].map((v, k) =>
                    entry(k + 2, 'reading', { measurement_id: set, from: `T${k}`, to: `T${k + 1}`, typed: v.toFixed(3) }),
                ),
            ],
        });
        const groups = [3.7, 2.3, 3.7, 3.71].map((v) => ({ v }));
        await hand({ do: 'pack', groups, capacity_ah: 6, scale: 20 }).catch(() => {});
        await hand({ do: 'clip', group: 2 }).catch(() => {});
        const run = await surely(bench, 'POST', `/api/jobs/${job.id}/runs`, {
            kind: 'recovery',
            group: 2,
            meter_id: id('meter'),
            supply_id: id('supply'),
            time_scale: 20,
            checks,
        });
        if (run.code !== 201) {
            await sleep(500);
            continue;
        }
        count.runs++;
        let flowed = false;
        const words = (body) => surely(bench, 'POST', `/api/runs/${run.data.id}/say`, body);
        const live = () => bench.call('GET', `/api/runs/${run.data.id}`).catch(() => null);
        for (let n = 0, l = null; n < 40 && !(l?.state?.asks_clip && l.state.live?.v != null); n++) {
            await sleep(250);
            l = await live();
        }
        await words({ do: 'clipped' });
        for (let end = Date.now() + 4000 + random() * 8000; Date.now() < end && going(); await sleep(300)) {
            await live();
            if ((await hand({ do: 'state' }).catch(() => null))?.output_on) flowed = true;
        }
        if (flowed) count['runs with current']++;
        await words({ do: 'end', why: 'chaos' });
        let closed = false;
        for (let n = 0; n < 90 && !closed; n++) {
            await sleep(500);
            if (n % 20 === 10) await words({ do: 'leave', why: 'chaos' });
            closed = await bench.call('GET', `/api/runs/${run.data.id}`).then(
                (l) => !l.run.watched_until_closed,
                () => false,
            );
        }
        if (!closed) say('a run that does not close', run.data.id);
        const state = await hand({ do: 'state' }).catch(() => null);
        if (state?.output_on) say('output left on', JSON.stringify(state));
    }
}

const pgrep = (pattern) => {
    try {
        return execFileSync('pgrep', ['-f', pattern]).toString().trim().split('\n').map(Number);
    } catch {
        return [];
    }
};
const killed = new Map();
async function kill() {
    const random = chance(500);
    const pick = (list) => list[Math.floor(random() * list.length)];
    const children = (program) =>
        execFileSync('pgrep', ['-P', String(pidOf(program))])
            .toString()
            .trim()
            .split('\n')
            .map(Number);
    const victims = {
        mariadbd: () => pidOf('mariadbd'),
        'fpm, all of it': () => -pidOf('fpm'),
        'one fpm worker': () => pick(children('fpm')),
        nginx: () => pidOf('nginx'),
        'the runner': () => pidOf('runner'),
        'the process of a run': () => pick(pgrep('bin/runner.php [0-9a-f-]{36}').filter((p) => children('runner').includes(p))),
        'what reads an instrument': () => pick(pgrep('bin/runner.php desk').filter((p) => children('runner').includes(p))),
        'the simulated bench': () => pidOf('standins'),
        'the folder of runs': () => pidOf('folder'),
        messages: () => pidOf('messages'),
        mailbox: () => pidOf('mailbox'),
    };
    await sleep(3000);
    while (going()) {
        const who = pick(Object.keys(victims));
        try {
            process.kill(victims[who](), 'SIGKILL');
            killed.set(who, (killed.get(who) ?? 0) + 1);
            count.kills++;
        } catch {
            // It was between two lives, or there is none.
        }
        await sleep(1000 + random() * 4000);
    }
}

const [began, lostBefore] = [Date.now(), stolen()];
const work = [probe(1), probe(2), probe(3), carry(1), carry(2), fuzz(), listen(), drive(), kill()];
const progress = setInterval(
    () =>
        console.log(
            `${((Date.now() - began) / 60_000).toFixed(0)} min: ${count.kills} kills, ${count.entries} entries, ${count.jobs} jobs`,
        ),
    60_000,
);
await Promise.all(work);
clearInterval(progress);

// Everything is to stand again by itself.
const PROGRAMS = ['mariadbd', 'fpm', 'nginx', 'standins', 'mailbox', 'messages', 'runner', 'folder'];
let down = PROGRAMS;
for (let n = 0; n < 40 && down.length > 0; n++) {
    await sleep(1000);
    const status = shell('ctl status || true');
    down = PROGRAMS.filter((p) => !new RegExp(`^${p}\\s+RUNNING`, 'm').test(status));
}
for (const p of down) say('programs that did not come back', p);
const sql = (query) =>
    shell(`db_root -N "$(setting DB_DATABASE)" -e "${query}"`)
        .split('\n')
        .filter((l) => l !== '');
const held = sql(`SELECT id FROM readings UNION ALL SELECT id FROM measurements`);
const here = new Set(held);
for (const id of acknowledged) if (!here.has(id)) say('acknowledged and lost', id);
for (const row of sql('SELECT outbox_id, seq, COUNT(*) FROM readings GROUP BY outbox_id, seq HAVING COUNT(*) > 1')) say('held twice', row);
if (here.size !== held.length) say('held twice', `${held.length - here.size} ids`);
const jobs = new Map(
    sql(`SELECT name, COUNT(*), MAX(id) FROM jobs WHERE name LIKE 'Carried %' GROUP BY name`).map((l) => [l.split('\t')[0], l.split('\t')]),
);
for (const [name, id] of opened) {
    const row = jobs.get(name);
    if (!row || Number(row[2]) !== id) say('a write acknowledged and not there', name);
    else if (Number(row[1]) !== 1) say('a write repeated and done twice', `${name}: ${row[1]} jobs`);
}
const bare = [
    'SELECT j.id FROM jobs j LEFT JOIN pack_revisions r ON r.job_id = j.id AND r.number = 1',
    "LEFT JOIN events e ON e.job_id = j.id AND e.kind = 'opened' WHERE r.id IS NULL OR e.id IS NULL",
].join(' ');
for (const id of sql(bare)) say('a job without its first revision or event', id);

console.log(
    `${minutes} minutes, seed ${seed}: ${Object.entries(count)
        .map(([k, n]) => `${n} ${k}`)
        .join(', ')}`,
);
console.log(
    `${(stolen() - lostBefore).toFixed(0)} s of ${((Date.now() - began) / 1000).toFixed(0)} of one processor taken by other guests`,
);
console.log(`killed: ${[...killed].map(([k, n]) => `${k} ${n}`).join(', ')}`);
let bad = 0;
for (const [what, n] of Object.entries(tally)) {
    const told = anyPace && what === SLOW;
    console.log(`  ${what.padEnd(44)} ${n} ${told ? '(told)' : '(limit 0)'}`);
    bad += told ? 0 : n;
}
// A drill in which nothing was done proves nothing.
const idle = ['kills', 'entries', 'jobs', 'mutants', 'hostile looks', 'runs with current'].filter((k) => count[k] === 0);
if (idle.length > 0) console.log(`nothing of this was done: ${idle.join(', ')}`);
process.exit(bad === 0 && idle.length === 0 ? 0 : 1);
