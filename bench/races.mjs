// Two at once, again and again: two runs on one supply, two people who see different damage, an act that meets a quarantine.
// And a dripping instrument beside a run: the run turns at least every second, and no page waits.
import { randomUUID } from 'node:crypto';
import { call, hand, look, signIn, sleep, write } from './client.mjs';

const rounds = Number(process.argv[2] ?? 100);
await signIn('tobiah@gannetquay.example');
const whose = (await hand({ do: 'state' })).instance;
if (whose !== 'bench') {
    console.error(`the simulated bench at this port belongs to the instance '${whose}': nothing is driven`);
    process.exit(2);
}
const { instruments } = await call('GET', '/api/instruments');
const id = (kind) => instruments.find((i) => i.kind === kind).id;
const checks = { place: true, awake: true, extinguisher: true, isolated: true, temperature: true, fused: true };
const tally = {
    'two runs on one supply': 0,
    'two runs on one pack': 0,
    'triage answers lost': 0,
    'quarantine fell to hold': 0,
    'started after a quarantine': 0,
    'decided after a quarantine': 0,
    errors: 0,
};

async function pack(name) {
    const job = await write('/api/jobs', {
        customer: 'Race bench',
        name,
        symptoms: [],
        inspection: {},
        pack: { chemistry: 'nmc', series: 4, parallel: 3, cell: { capacity_ah: 3 } },
    });
    await look(job.id);
    const set = randomUUID();
    const at = new Date().toISOString();
    const entries = [
        {
            seq: 1,
            id: set,
            kind: 'measurement',
            job_id: job.id,
            at,
            data: { condition: 'rest', rested_min: 600, instrument: { resolution_v: 0.001 } },
        },
    ];
    for (let k = 0; k < 4; k++)
        entries.push({
            seq: k + 2,
            id: randomUUID(),
            kind: 'reading',
            job_id: job.id,
            at,
            data: { measurement_id: set, from: `T${k}`, to: `T${k + 1}`, typed: k === 1 ? '2.300' : '3.700' },
        });
    await call('POST', '/api/outbox', { outbox_id: randomUUID(), entries });
    return job.id;
}
/** The status of a write; a server's own error counts. */
async function status(path, body) {
    try {
        return { ok: true, data: await write(path, body) };
    } catch (e) {
        const code = Number(/: (\d{3}) /.exec(String(e))?.[1] ?? 0);
        if (code >= 500 || code === 0) {
            tally.errors++;
            console.error(`  ${String(e).slice(0, 300)}`);
        }
        return { ok: false, code };
    }
}
async function end(run) {
    await status(`/api/runs/${run}/say`, { do: 'end', why: 'race' });
    for (let n = 0; n < 150; n++) {
        const live = await call('GET', `/api/runs/${run}?from=999999`);
        if (!live.run.watched_until_closed) return;
        if (n === 60) await status(`/api/runs/${run}/say`, { do: 'leave' });
        await sleep(100);
    }
    tally.errors++;
    console.error(`  run ${run} does not close`);
}
const run = (job, more = {}) =>
    status(`/api/jobs/${job}/runs`, {
        kind: 'recovery',
        group: 2,
        meter_id: id('meter'),
        supply_id: id('supply'),
        time_scale: 20,
        checks,
        ...more,
    });

const began = Date.now();
let [a, b] = [await pack('Race a'), await pack('Race b')];
for (let round = 0; round < rounds; round++) {
    // Two packs, one supply; every other time one pack twice, by hand.
    const same = round % 2 === 1;
    const both = await Promise.all(
        same
            ? [run(a, { meter_id: null, supply_id: null, time_scale: 1 }), run(a, { meter_id: null, supply_id: null, time_scale: 1 })]
            : [run(a), run(b)],
    );
    if (both.every((r) => r.ok)) tally[same ? 'two runs on one pack' : 'two runs on one supply']++;
    for (const r of both) if (r.ok) await end(r.data.id);

    // Two people, different damage, at once; and a third who starts a run, a fourth who decides.
    const job = await pack(`Race ${round}`);
    await status(`/api/jobs/${job}/verdict`, {});
    const view = await call('GET', `/api/jobs/${job}`);
    const option = view.verdict?.document?.options?.find((o) => o.action === 'recover-group' || o.action === 'replace-group');
    const answers = await Promise.all([
        status(`/api/jobs/${job}/triage`, { inspection: { leaking: true } }),
        status(`/api/jobs/${job}/triage`, { inspection: { wet: true }, symptoms: ['dropped'] }),
        run(job, { meter_id: null, supply_id: null, time_scale: 1 }),
        option
            ? status(`/api/jobs/${job}/decision`, { verdict_id: view.verdict.id, action: option.action, reason: 'race' })
            : Promise.resolve({ ok: false }),
    ]);
    const after = await call('GET', `/api/jobs/${job}`);
    if (!(after.inspection.leaking === true && after.inspection.wet === true && after.symptoms.includes('dropped')))
        tally['triage answers lost']++;
    if (!/quarantine/.test(after.gates['load-or-charge'] ?? '')) tally['quarantine fell to hold']++;
    if (answers[2].ok) {
        // It was before the damage was reported, so the report has ended it; nothing may go on in it.
        await end(answers[2].data.id);
    }
    if ((await run(job, { meter_id: null, supply_id: null, time_scale: 1 })).ok) tally['started after a quarantine']++;
    if (option && (await status(`/api/jobs/${job}/decision`, { verdict_id: view.verdict.id, action: 'recover-group', reason: 'race' })).ok)
        tally['decided after a quarantine']++;
}
console.log(`${rounds} rounds of two at once in ${((Date.now() - began) / 1000).toFixed(0)} s`);
let bad = 0;
for (const [what, n] of Object.entries(tally)) {
    console.log(`  ${what.padEnd(28)} ${n} (limit 0)`);
    bad += n;
}

// A dripping meter, kept under Instruments and read by a page, beside a run on the good ones.
const drip = Number(process.env.DRIP_PORT);
if (drip) {
    const list = await write('/api/instruments', { name: 'Dripping', kind: 'meter', host: '127.0.0.1', port: drip });
    const dripping = list.instruments.find((i) => i.name === 'Dripping').id;
    await hand({ do: 'pack', groups: [3.7, 2.3, 3.7, 3.7].map((v) => ({ v })), capacity_ah: 9, scale: 1 });
    await hand({ do: 'clip', group: 2 });
    const r = await run(await pack('Beside a drip'), { time_scale: 1 });
    let worstTurn = 0;
    let worstPage = 0;
    let turns = 0;
    let wall = null;
    const until = Date.now() + 20_000;
    const pages = (async () => {
        while (Date.now() < until) {
            await call('GET', `/api/instruments/${dripping}/reading`).catch(() => {});
            const u = Date.now();
            await call('GET', '/api/bench');
            worstPage = Math.max(worstPage, Date.now() - u);
            await sleep(100);
        }
    })();
    while (Date.now() < until) {
        const state = (await call('GET', `/api/runs/${r.data.id}?from=999999`)).state;
        if (state && state.wall !== wall) {
            if (wall !== null) worstTurn = Math.max(worstTurn, state.wall - wall);
            wall = state.wall;
            turns++;
        }
        await sleep(60);
    }
    await pages;
    await end(r.data.id);
    const late = worstTurn > 1 || worstPage > 1000 || turns < 40;
    console.log(
        `beside a dripping meter: ${turns} turns seen in 20 s, the slowest after ${worstTurn.toFixed(2)} s (limit 1), ` +
            `the slowest page ${worstPage} ms (limit 1000) ${late ? 'FAIL' : 'ok'}`,
    );
    bad += late ? 1 : 0;
}
console.log(bad === 0 ? 'ok' : 'FAIL');
process.exit(bad === 0 ? 0 : 1);
