// In the middle of recoveries something dies; the simulated supply's own log tells when its output went off.
import { randomInt } from 'node:crypto';
import { call, hand, pidOf, shell, signIn, sleep, write } from './client.mjs';

const LIMIT_S = 5;
const rounds = Number(process.argv[2] ?? 50);
const kinds = ['screen', 'server', 'database', 'runner', 'meter', 'supply line'];
const table = new Map(kinds.map((k) => [k, { n: 0, worst: 0, sum: 0, late: 0, resumed: 0, closed: 0, stuck: 0 }]));

await signIn();
const { instruments } = await call('GET', '/api/instruments');
const id = (kind) => instruments.find((i) => i.kind === kind).id;
const job = await write('/api/jobs', { customer: 'Supervision bench', name: 'Supervision bench', symptoms: [], inspection: {}, pack: { chemistry: 'nmc', series: 10, parallel: 3, cell: { capacity_ah: 3 } } });
const set = crypto.randomUUID();
const at = new Date().toISOString();
const entries = [{ seq: 1, id: set, kind: 'measurement', job_id: job.id, at, data: { condition: 'rest', rested_min: 600, instrument: { resolution_v: 0.001 } } }];
for (let k = 0; k < 10; k++) entries.push({ seq: k + 2, id: crypto.randomUUID(), kind: 'reading', job_id: job.id, at, data: { measurement_id: set, from: `T${k}`, to: `T${k + 1}`, typed: k === 3 ? '2.300' : '3.700' } });
await call('POST', '/api/outbox', { outbox_id: crypto.randomUUID(), entries });
const checks = { place: true, awake: true, extinguisher: true, isolated: true, temperature: true };

let watching = null;
let state = null;
/** The screen: asks four times a second while it lives. */
async function screen() {
    while (watching) {
        try {
            state = (await call('GET', `/api/runs/${watching}?from=999999`, undefined, {}, 1500)).state;
        } catch {
            state = null;
        }
        await sleep(250);
    }
}
async function until(what, seconds, test) {
    for (let n = 0; n < seconds * 10; n++) {
        if (await test()) return true;
        await sleep(100);
    }
    console.error(`  waited ${seconds} s in vain: ${what}`);
    return false;
}
async function patiently(work) {
    for (let n = 0; ; n++) {
        try {
            return await work();
        } catch (e) {
            if (n > 100) throw e;
            await sleep(200);
        }
    }
}

for (let round = 0; round < rounds; round++) {
    const kind = kinds[round % kinds.length];
    const row = table.get(kind);
    await hand({ do: 'pack', groups: Array.from({ length: 10 }, (_, k) => ({ v: k === 3 ? 2.3 : 3.7 })), capacity_ah: 9, scale: 20 });
    await hand({ do: 'clip', group: 4 });
    const run = await patiently(() => write(`/api/jobs/${job.id}/runs`, { kind: 'recovery', group: 4, meter_id: id('meter'), supply_id: id('supply'), time_scale: 20, checks }));
    watching = run.id;
    state = null;
    const eyes = screen();
    if (!(await until('output on', 15, async () => (await hand({ do: 'state' })).output_on))) {
        row.stuck++;
        watching = null;
        await eyes;
        await patiently(() => write(`/api/runs/${run.id}/say`, { do: 'abort', why: 'bench' }));
        continue;
    }
    await sleep(randomInt(200, 1800));
    const before = (await hand({ do: 'state' })).now;
    if (kind === 'screen') watching = null;
    if (kind === 'server') shell(`pid=$(ctl pid fpm); pkill -KILL -P $pid; kill -KILL $pid`);
    if (kind === 'database') process.kill(pidOf('mariadbd'), 'SIGKILL');
    if (kind === 'runner') process.kill(pidOf('runner'), 'SIGKILL');
    if (kind === 'meter') await hand({ do: 'dead', devices: ['meter'] });
    if (kind === 'supply line') await hand({ do: 'dead', devices: ['supply'] });
    // Server and database are back within a second by their supervisor: only a longer outage must switch off.
    let off = null;
    await until('output off', 12, async () => {
        const s = await hand({ do: 'state' });
        off = s.outputs.find((o) => !o.on && o.at >= before)?.at ?? null;
        return off !== null || (['server', 'database'].includes(kind) && s.now - before > 8 && s.output_on && state !== null);
    });
    row.n++;
    const seconds = off === null ? null : off - before;
    if (seconds === null && !['server', 'database'].includes(kind)) row.late++;
    if (seconds !== null) {
        row.worst = Math.max(row.worst, seconds);
        row.sum += seconds;
        if (seconds > LIMIT_S) row.late++;
    } else row.carried = (row.carried ?? 0) + 1;
    await hand({ do: 'dead', devices: [] });
    if (!watching) {
        watching = run.id;
        void screen();
    }
    // Resumable, or closed with its reason.
    await until('state again', 20, async () => state !== null);
    if (seconds !== null) {
        await until('paused or over', 10, async () => state?.paused || state?.over);
        if (state?.paused) {
            await patiently(() => write(`/api/runs/${run.id}/say`, { do: 'resume' }));
            (await until('output on again', 10, async () => (await hand({ do: 'state' })).output_on)) ? row.resumed++ : row.stuck++;
        } else if (state?.over) row.closed++;
        else row.stuck++;
    }
    await patiently(() => write(`/api/runs/${run.id}/say`, { do: 'abort', why: 'bench' })).catch(() => {});
    await until('closed', 20, async () => (await patiently(() => call('GET', `/api/runs/${run.id}?from=999999`))).run.ended_at !== null);
    watching = null;
    await eyes;
}
console.log('killed          n  mean off  worst off  over 5 s  resumed  closed  stuck  back before it mattered');
let bad = 0;
for (const [kind, r] of table) {
    const off = r.n - (r.carried ?? 0);
    console.log(`${kind.padEnd(12)} ${String(r.n).padStart(4)} ${(off ? r.sum / off : 0).toFixed(2).padStart(7)} s ${r.worst.toFixed(2).padStart(8)} s ${String(r.late).padStart(9)} ${String(r.resumed).padStart(8)} ${String(r.closed).padStart(7)} ${String(r.stuck).padStart(6)} ${String(r.carried ?? 0).padStart(6)}`);
    bad += r.late + r.stuck;
}
console.log(`${rounds} kills, ${bad} not as they should be (limit 0) ${bad === 0 ? 'ok' : 'FAIL'}`);
process.exit(bad === 0 ? 0 : 1);
