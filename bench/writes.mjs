// Bodies that are not what they should be, at every write; and two or eight at once on one row. Answers of 5xx, answers after
// two seconds, and what is lost are counted; all of them must be none.
import { randomUUID } from 'node:crypto';
import { call, signIn } from './client.mjs';
import { mutator } from './mutants.mjs';

const [bodies, rounds, seed] = process.argv.slice(2).map(Number);
let state = seed >>> 0 || 1;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
const mutate = mutator(random);

await signIn('maren@gannetquay.example');
const bench = await call('GET', '/api/bench');
const job = bench.jobs.find((j) => j.status === 'open' && j.stage === 'plan') ?? bench.jobs[0];
const view = await call('GET', `/api/jobs/${job.id}`);
const { people } = await call('GET', '/api/people');
const customers = await call('GET', '/api/customers');
const cells = await call('GET', '/api/cells');
const prices = await call('GET', '/api/prices');
const trainee = people.find((p) => p.role === 'trainee');
const pack = { chemistry: 'nmc', series: 4, parallel: 3, cell: { capacity_ah: 3 } };
const record = JSON.stringify(await call('GET', `/api/jobs/${job.id}/record`));

/** Method, path and a body that would do. */
const good = [
    [
        'POST',
        '/api/jobs',
        {
            customer: 'Mutant',
            name: 'Pack',
            symptoms: ['short-run'],
            inspection: { wet: false },
            pack,
            contact: '0555 1',
            serial: 's',
            batch: 'b',
            complaint: 'c',
        },
    ],
    ['PATCH', `/api/jobs/${job.id}`, { name: 'Pack', serial: 's', batch: 'b', complaint: 'c', pack: view.pack }],
    ['POST', `/api/jobs/${job.id}/triage`, { inspection: { wet: false }, symptoms: ['short-run'], withdrawn: [] }],
    ['POST', `/api/jobs/${job.id}/teardown`, { lines: [{ id: randomUUID(), line: '11 screws M3x8 @ lid', photo_id: null }] }],
    ['POST', `/api/jobs/${job.id}/teardown/checks`, { act: 'insulation', of: '', value: 20, note: 'x' }],
    [
        'POST',
        `/api/jobs/${job.id}/consents`,
        { terms: ['opening'], seal: 'whole', how: 'counter', said_by: 'Mutant', ceiling_cents: 900, signature: [[[0.1, 0.2]]] },
    ],
    ['POST', '/api/part-models', { kind: 'board', name: 'Mutant board', spec: { high_cut_v: 4.2 } }],
    ['POST', `/api/jobs/${job.id}/stage`, { stage: 'probe' }],
    ['POST', `/api/jobs/${job.id}/wait`, { until: '2027-01-01T00:00:00Z', for: 'rest' }],
    [
        'POST',
        `/api/jobs/${job.id}/decision`,
        { verdict_id: view.verdict?.id ?? 1, action: view.verdict?.document.options[0]?.action ?? 'none', reason: 'because' },
    ],
    ['POST', `/api/jobs/${job.id}/proof`, { check: 'capacity', data: { ah: 4.2 } }],
    ['POST', `/api/jobs/${job.id}/safety`, { way: 'released', reason: 'dry' }],
    ['POST', `/api/jobs/${job.id}/return`, { note: 'x', truth: [{ code: 'cell.dead', where: { group: 1 }, seen_by: 'measured' }] }],
    ['POST', `/api/jobs/${job.id}/runs`, { kind: 'recovery', group: 1, checks: { place: true }, time_scale: 1 }],
    ['POST', `/api/jobs/${job.id}/recovery-plan`, { kind: 'balance', held: true, method: 'level', phosphate: 'A', supply_a: 2 }],
    ['POST', `/api/jobs/${job.id}/deal`, { school: 'equal', ratio: 1.3 }],
    ['POST', `/api/jobs/${job.id}/pin-check`, { pins_v: [0, 3.7, 7.4], from_positive: false }],
    ['POST', `/api/jobs/${job.id}/board-swap`, { board: { series: 4, discharge_limit_a: 30 } }],
    ['POST', `/api/jobs/${job.id}/board-report`, { text: 'group 1 3.71\ngroup 2 3.72' }],
    ['POST', `/api/jobs/${job.id}/joints`, { tap: 1, min_nm: 2, max_nm: 4, tolerance: 0.04, set_nm: 3, contact: 'clean' }],
    ['POST', `/api/jobs/${job.id}/sheets/budget`, { data: { load_a: 20, length_mm: 300 } }],
    ['POST', `/api/jobs/${job.id}/sheets/layout`, { data: { rows: 2, pitch_mm: 21 } }],
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
                    data: { kind: 'wake', action: 'button', woke: true },
                },
            ],
        },
    ],
    ['POST', '/api/cells', { lot: { name: 'Mut' }, model: 'QX', chemistry: 'nmc', rated_ah: 3, cells: [{ capacity_ah: 2.8 }] }],
    ['POST', '/api/cells/import', { csv: 'code,lot,model,chemistry,rated_ah\nz1,L,QX,nmc,3' }],
    ['POST', '/api/cells/grade', { ids: [cells.cells[0]?.id ?? 1], rated_ah: 3, least_share: 0.8 }],
    ['PATCH', `/api/cells/${cells.cells[0]?.id ?? 1}`, { mohm: 30, reason: 'r', capacity_ah: 2.8, damaged: false }],
    ['POST', `/api/cells/${cells.cells[0]?.id ?? 1}/hold`, { before_v: 3.7, after_v: 3.69, days: 7 }],
    ['POST', '/api/instruments', { name: 'M', kind: 'meter', host: '192.168.1.1', port: 5025, place: 'x', timeout_s: 1 }],
    ['POST', '/api/registers', { dump: '0x09 3A98' }],
    ['POST', '/api/label-check', { pack: { ...pack, label: { full_v: 16.8 } }, cells_counted: 12 }],
    ['POST', '/api/import', { customer: 'Mutant', record }],
    ['POST', '/api/session', { email: 'nobody@nowhere.example', password: 'x', code: null }],
    ['POST', '/api/join/look', { secret: 'AAAA-BBBB-CCCC-DDDD' }],
    ['POST', '/api/start', { setup_code: 'A', workshop: 'W', name: 'N', email: 'n@w.example', password: 'lantern orchard' }],
    ['POST', '/api/me/code', { code: '402817' }],
    ['POST', '/api/invitations', { name: 'I', email: null, role: 'trainee' }],
    ['PATCH', `/api/people/${trainee.id}`, { name: trainee.name, competence: [{ what: 'x', note: null, at: '2026-01-01' }] }],
    ['PATCH', `/api/customers/${customers.customers[0].id}`, { phone: '0555 1', email: 'a@b.example', notes: 'n' }],
    ['POST', `/api/customers/${customers.customers[0].id}/merge`, { from: 99999 }],
    ['PATCH', '/api/settings', { values: { rate_cents: 5400, timezone: 'Atlantic/Azores' } }],
    ['PATCH', `/api/prices/cells/${prices.cells[0].id}`, { price_cents: 400 }],
];
const base = process.env.BASE_URL;
const tally = { '5xx': 0, 'over 2 s': 0, 'signed out': 0 };
const codes = new Map();
const { raw } = await import('./client.mjs');
let slowest = 0;
for (let n = 0; n < bodies; n++) {
    const [method, path, body] = good[n % good.length];
    const text = mutate(body);
    const began = performance.now();
    const answer = await raw(method, path, text, { 'Idempotency-Key': randomUUID(), 'If-Match': '*' });
    const took = performance.now() - began;
    slowest = Math.max(slowest, took);
    codes.set(answer.status, (codes.get(answer.status) ?? 0) + 1);
    if (answer.status >= 500 && answer.status !== 503) {
        tally['5xx']++;
        if (tally['5xx'] <= 12)
            console.error(`  ${answer.status} ${method} ${path} ${text.slice(0, 300)} -> ${(await answer.text()).slice(0, 200)}`);
    } else await answer.arrayBuffer();
    if (took > 2000) {
        tally['over 2 s']++;
        console.error(`  ${(took / 1000).toFixed(1)} s ${method} ${path} ${text.slice(0, 200)}`);
    }
    // What a mutant may truly do is undone: the one who tries is let in again.
    if (answer.status === 401) {
        tally['signed out']++;
        await signIn('maren@gannetquay.example');
    }
}
console.log(
    `${bodies} bodies, seed ${seed}: ${[...codes]
        .sort((a, b) => a[0] - b[0])
        .map(([c, n]) => `${n} x ${c}`)
        .join(', ')}; the slowest ${slowest.toFixed(0)} ms of ${base.replace(/:\d+$/, '')}`,
);

const race = { 'two editors: one lost': 0, 'two deciders: one lost': 0, 'eight triages: one lost': 0, '5xx at once': 0 };
const status = async (method, path, body, headers = {}) => {
    const answer = await raw(method, path, JSON.stringify(body), { 'Idempotency-Key': randomUUID(), ...headers });
    if (answer.status >= 500) race['5xx at once']++;
    return { code: answer.status, body: await answer.json().catch(() => ({})) };
};
const fresh = async (name) => (await status('POST', '/api/jobs', { customer: 'Race', name, symptoms: [], inspection: {}, pack })).body;
for (let round = 0; round < rounds; round++) {
    const mine = await fresh(`Race ${round}`);
    const edits = await Promise.all(
        ['left', 'right'].map((complaint) => status('PATCH', `/api/jobs/${mine.id}`, { complaint }, { 'If-Match': mine.version })),
    );
    const won = edits.findIndex((e) => e.code === 200);
    const after = await call('GET', `/api/jobs/${mine.id}`);
    if (
        edits.filter((e) => e.code === 200).length !== 1 ||
        !edits.some((e) => e.code === 412 && e.body.now.complaint === ['left', 'right'][won]) ||
        after.complaint !== ['left', 'right'][won]
    )
        race['two editors: one lost']++;

    const keys = ['swollen', 'leaking', 'venting', 'smell', 'warm_at_rest', 'crushed', 'punctured', 'burnt'];
    await Promise.all(keys.map((k) => status('POST', `/api/jobs/${mine.id}/triage`, { inspection: { [k]: false } })));
    const answers = (await call('GET', `/api/jobs/${mine.id}`)).inspection;
    if (!keys.every((k) => answers[k] === false)) race['eight triages: one lost']++;

    await status('POST', `/api/jobs/${mine.id}/verdict`, {});
    const seen = await call('GET', `/api/jobs/${mine.id}`);
    const action = seen.verdict?.document.options[0]?.action;
    if (action) {
        const both = await Promise.all(
            ['first', 'second'].map((reason) =>
                status('POST', `/api/jobs/${mine.id}/decision`, {
                    verdict_id: seen.verdict.id,
                    action,
                    reason,
                    seen: seen.decision?.id ?? null,
                }),
            ),
        );
        const kept = (await call('GET', `/api/jobs/${mine.id}`)).events.filter((e) => e.kind === 'decided').length;
        if (
            kept !== both.filter((b) => b.code === 200).length ||
            both.filter((b) => b.code === 200).length !== 1 ||
            !both.some((b) => b.code === 412 && b.body.now.reason === ['first', 'second'][both.findIndex((o) => o.code === 200)])
        )
            race['two deciders: one lost']++;
    }
}
let bad = 0;
for (const [what, n] of [...Object.entries(tally).filter(([k]) => k !== 'signed out'), ...Object.entries(race)]) {
    console.log(`  ${what.padEnd(28)} ${n} (limit 0)`);
    bad += n;
}
process.exit(bad === 0 ? 0 : 1);
