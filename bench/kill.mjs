// One bench's outbox sends readings while the server's processes are killed. Same rules as the screen's outbox: an
// entry is sent again until it is acknowledged. Afterwards the server's copy is held against what was acknowledged.
import { execFileSync } from 'node:child_process';
import { randomInt, randomUUID } from 'node:crypto';
import { call, pidOf, shell, signIn, sleep, write } from './client.mjs';

const rounds = Number(process.argv[2] ?? 50);
const PER_ROUND = 24;
await signIn();
const job = await write('/api/jobs', {
    customer: 'Kill bench',
    name: 'Kill bench',
    symptoms: [],
    inspection: {},
    pack: { chemistry: 'nmc', series: 100 },
});

const outbox = randomUUID();
let seq = 0;
let retries = 0;
const acknowledged = new Map();
const entry = (kind, data, id = randomUUID()) => ({ seq: ++seq, id, kind, job_id: job.id, at: new Date().toISOString(), data });
const set = entry('measurement', { condition: 'rest' });

async function send(entries) {
    for (;;) {
        try {
            const { results } = await call('POST', '/api/outbox', { outbox_id: outbox, entries });
            for (const r of results) {
                if (r.status === 'refused') throw Object.assign(new Error(`refused: ${JSON.stringify(r.errors)}`), { final: true });
                if (entries.find((e) => e.id === r.id).kind === 'reading') acknowledged.set(r.id, r.status);
            }
            return;
        } catch (error) {
            if (error.final) throw error;
            retries++;
            await sleep(120);
        }
    }
}

await send([set]);
const kills = { mariadbd: 0, 'fpm, all of it': 0, 'one fpm worker': 0 };
const started = Date.now();
for (let round = 1; round <= rounds; round++) {
    const victim = ['mariadbd', 'fpm, all of it', 'one fpm worker'][randomInt(3)];
    const killing = (async () => {
        await sleep(randomInt(0, 350));
        try {
            if (victim === 'mariadbd') process.kill(pidOf('mariadbd'), 'SIGKILL');
            else if (victim === 'fpm, all of it') process.kill(-pidOf('fpm'), 'SIGKILL');
            else {
                const workers = execFileSync('pgrep', ['-P', String(pidOf('fpm'))])
                    .toString()
                    .trim()
                    .split('\n')
                    .map(Number);
                process.kill(workers[randomInt(workers.length)], 'SIGKILL');
            }
            kills[victim]++;
        } catch {
            // It was between two lives: nothing to kill this time.
        }
    })();
    for (let i = 0; i < PER_ROUND;) {
        const n = Math.min(PER_ROUND - i, randomInt(1, 5));
        await send(
            Array.from({ length: n }, () =>
                entry('reading', {
                    measurement_id: set.id,
                    from: 'T0',
                    to: `T${1 + (seq % 99)}`,
                    typed: (3.5 + (seq % 100) / 100).toFixed(3),
                }),
            ),
        );
        i += n;
    }
    await killing;
}
await sleep(1500);
const sql = (query) => shell(`ensure_env; db_root -N -e "${query}" "$(setting DB_DATABASE)"`);
const held = sql(`SELECT id FROM readings WHERE job_id=${job.id}`).split('\n');
const lost = [...acknowledged.keys()].filter((id) => !held.includes(id)).length;
const doubled =
    held.length - new Set(held).size + Number(sql(`SELECT COUNT(*) - COUNT(DISTINCT seq) FROM readings WHERE job_id=${job.id}`));
const duplicates = [...acknowledged.values()].filter((s) => s === 'duplicate').length;
console.log(`rounds                        ${rounds} in ${((Date.now() - started) / 1000).toFixed(0)} s`);
for (const [what, n] of Object.entries(kills)) console.log(`killed: ${what.padEnd(22)}${n}`);
console.log(`requests repeated             ${retries}`);
console.log(`readings acknowledged         ${acknowledged.size} (${duplicates} on a repeated request)`);
console.log(`readings held                 ${held.length}`);
console.log(`acknowledged and lost         ${lost} (limit 0) ${lost === 0 ? 'ok' : 'OVER'}`);
console.log(`doubled                       ${doubled} (limit 0) ${doubled === 0 ? 'ok' : 'OVER'}`);
process.exit(lost + doubled === 0 && held.length === acknowledged.size ? 0 : 1);
