// Two windows of one browser, each at a job of its own; copies of the database are taken and put back by chance, at any moment of it.
import { chromium } from '@playwright/test';
import { base, look, shell, signIn, sleep, write } from './client.mjs';

const rounds = Number(process.argv[2]);
let seed = Number(process.argv[3]);
const slower = Number(process.argv[4]);
const dice = (n) => (seed = (seed * 1103515245 + 12345) % 2147483648) % n;
const GROUPS = 14;
const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';

await signIn();
const job = async (name) => {
    const { id } = await write('/api/jobs', {
        customer: 'Set back',
        name,
        symptoms: [],
        inspection: {},
        pack: { chemistry: 'nmc', series: GROUPS, parallel: 2, cell: { capacity_ah: 3 } },
    });
    await look(id);
    return id;
};
const jobs = [];
for (let r = 0; r < rounds; r++) jobs.push([await job(`A ${r}`), await job(`B ${r}`)]);

const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox', '--headless', '--disable-gpu'] });
const context = await browser.newContext({ baseURL: base });
const windows = [await context.newPage(), await context.newPage()];
// A bench's old machine, where everything takes its time.
for (const w of windows) await (await context.newCDPSession(w)).send('Emulation.setCPUThrottlingRate', { rate: slower });
const page = windows[0];
await page.goto('/sign-in');
await page.getByLabel('E-mail').fill('tobiah@gannetquay.example');
await page.getByLabel('Password').fill('growth-rings');
await page.keyboard.press('Enter');
await page.getByRole('heading', { name: 'Bench' }).waitFor();

const copy = () => shell('copy_database "$(setting DB_DATABASE)" "$VAR/tmp/set-back.sql.gz"');
const back = () => shell('put_back "$(setting DB_DATABASE)" "$VAR/tmp/set-back.sql.gz"');
copy();
let [copies, backs] = [1, 0];
const type = async (w, id) => {
    for (let tries = 0; ; tries++) {
        try {
            await w.goto(`/jobs/${id}/probe`, { timeout: 20_000 });
            await w.getByTestId('target').filter({ hasText: 'T0' }).waitFor({ timeout: 10_000 });
            break;
        } catch (e) {
            // The server is away while its database is put back.
            if (tries > 20) throw e;
            await sleep(500);
        }
    }
    const field = w.getByLabel('Volts on the meter');
    for (let k = 1; k <= GROUPS; k++) {
        // As a person does: the number stands in the field until it is taken.
        await field.fill((3.8 * k).toFixed(2));
        for (let presses = 0; presses < 20 && (await field.inputValue()) !== ''; presses++) {
            await field.press('Enter');
            for (let i = 0; i < 20 && (await field.inputValue()) !== ''; i++) await sleep(25);
        }
        await sleep(dice(60));
    }
};
const started = Date.now();
for (let r = 0; r < rounds; r++) {
    const typing = windows.map((w, i) => type(w, jobs[r][i]));
    await sleep(dice(2500));
    if (dice(10) < 8) {
        back();
        backs++;
    }
    await Promise.all(typing);
    if (dice(3) === 0) {
        copy();
        copies++;
    }
    if (dice(10) < 4) {
        back();
        backs++;
    }
    if (r % 10 === 9)
        console.log(`round ${r + 1}: ${copies} copies, set back ${backs} times, ${((Date.now() - started) / 1000).toFixed(0)} s`);
}
for (const w of windows) await w.goto('/');
const all = rounds * 2 * GROUPS;
/** What the server holds: how many, of how many taps, and how many that belong to another tap. */
const held = () => {
    const rows = shell(
        `db_root -N "$(setting DB_DATABASE)" -e "SELECT r.job_id, r.from_point, r.to_point, r.typed FROM readings r ` +
            `JOIN jobs j ON j.id = r.job_id JOIN customers c ON c.id = j.customer_id WHERE c.name = 'Set back'"`,
    )
        .split('\n')
        .filter((line) => line !== '')
        .map((line) => line.split('\t'));
    const astray = rows.filter(([, from, to, typed]) => from !== 'T0' || Number(typed).toFixed(2) !== (3.8 * to.slice(1)).toFixed(2));
    return [rows.length, new Set(rows.map((r) => r.slice(0, 3).join(' '))).size, astray];
};
let [n, distinct, stray] = held();
for (let i = 0; i < 8 && distinct < all; i++) {
    await sleep(3000);
    [n, distinct, stray] = held();
}
for (const row of stray.slice(0, 12)) console.log(`  astray: job ${row.join(' ')}`);
console.log(
    `${all} readings typed into two windows, ${copies} copies, set back ${backs} times: ` +
        `${all - distinct} lost, ${n - distinct} twice, ${stray.length} at another tap (limit 0)`,
);
if (distinct < all) {
    const mine = await page.evaluate(
        () =>
            new Promise((done) => {
                const r = indexedDB.open('heartwood-bench');
                r.onsuccess = () => {
                    const t = r.result.transaction(['kept', 'entries']);
                    const a = t.objectStore('kept').getAll();
                    const b = t.objectStore('entries').getAll();
                    t.oncomplete = () => done([...a.result.map((k) => k.entry), ...b.result].filter((e) => e.kind === 'reading'));
                };
            }),
    );
    for (const id of jobs.flat()) {
        const typed = mine
            .filter((e) => e.job_id === id)
            .map((e) => `${e.data.to}=${e.data.typed}${e.status === 'waiting' ? '' : ' ' + e.status}`);
        if (typed.length !== GROUPS) console.log(`job ${id}: this bench holds ${typed.length}: ${typed.join(' ')}`);
    }
    console.log(`this bench holds ${mine.length} in all`);
}
await browser.close();
process.exit(distinct === all && n === distinct && stray.length === 0 ? 0 : 1);
