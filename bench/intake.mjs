import { chromium } from '@playwright/test';

const base = process.env.BASE_URL;
const MANY = Number(process.argv[2] ?? 500);
const FEW = 5;
const KEYS = 40;
const TOUCHES = 8;
const TEARDOWN_S = 240;
const RATIO = 1.3;
/** A hand that types with gloves off: a key, and a look at the pack between two steps. */
const KEY_MS = 170;
const LOOK_MS = 5000;
let bad = 0;
const says = (text, ok) => {
    console.log(`${text} ${ok ? 'ok' : 'OVER'}`);
    bad += ok ? 0 : 1;
};

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
await page.goto(base);
await page.getByLabel('E-mail').fill('sunniva@gannetquay.example');
await page.getByLabel('Password', { exact: true }).fill('growth-rings');
await page.keyboard.press('Enter');
await page.getByRole('heading', { name: 'Bench' }).waitFor();

// First verdict of a known model: every key and every touch, as they reach the page.
let [keys, touches] = [0, 0];
await page.exposeFunction('struck', () => keys++);
await page.exposeFunction('touched', () => touches++);
await page.addInitScript(() => {
    window.addEventListener('keydown', () => window.struck(), true);
    window.addEventListener('pointerdown', () => window.touched(), true);
});
await page.goto(`${base}/intake`);
[keys, touches] = [0, 0];
await page.getByRole('button', { name: 'None of these' }).click();
await page.getByRole('button', { name: 'not of metal' }).click();
await page.getByLabel('Customer', { exact: true }).click();
await page.keyboard.type('Lock');
// Choosing in a list by the keyboard: into it, the first letters, on.
for (let k = 0; k < 3; k++) await page.keyboard.press('Tab');
await page.keyboard.type('Orch');
await page.keyboard.press('Enter');
if (!/probe/.test(page.url())) await page.getByRole('button', { name: 'Take it in and probe' }).click();
await page.getByTestId('target').waitFor();
await page.getByRole('region', { name: 'Look at it' }).getByRole('button', { name: 'None of these' }).click();
await page.getByRole('region', { name: 'Look at it' }).waitFor({ state: 'detached' });
for (const v of ['3.8', '7.6', '9.4', '13.2', '17']) {
    await page.keyboard.type(v);
    await page.keyboard.press('Enter');
}
await page.getByText('✓ kept').nth(4).waitFor();
await page
    .getByRole('link', { name: /verdict/i })
    .last()
    .click();
await page.waitForURL(/verdict/);
await page
    .locator('main')
    .getByText(/Group 3/)
    .first()
    .waitFor();
says(
    `first verdict of a known model: ${keys} keys (limit ${KEYS}), ${touches} touches (limit ${TOUCHES})`,
    keys <= KEYS && touches <= TOUCHES,
);
const job = Number(page.url().match(/jobs\/(\d+)/)[1]);

// Fifteen steps, typed.
await page.goto(`${base}/jobs/${job}/teardown`);
const lines = [
    '8 screws M3x8 @ lid',
    'lid',
    'label',
    '2 foam @ ends',
    'screw M3x8 @ under sealant !',
    'sealant @ rim',
    'shrink',
    'plug @ board, sense',
    'lead red @ P+ to board = 19',
    'lead black @ B- to board = 0',
    '4 screws M2 @ board',
    'board',
    'tape @ between blocks',
    'link @ B+',
    '5 rings',
];
const began = Date.now();
for (const line of lines) {
    await page.waitForTimeout(LOOK_MS);
    await page.getByRole('textbox', { name: 'What came off' }).pressSequentially(line, { delay: KEY_MS });
    await page.keyboard.press('Enter');
}
await page.getByRole('list', { name: 'Steps so far' }).getByRole('listitem').nth(14).waitFor();
const seconds = (Date.now() - began) / 1000;
says(
    `a teardown of ${lines.length} steps, ${KEY_MS} ms a key and ${LOOK_MS / 1000} s a look: ${seconds.toFixed(0)} s (limit ${TEARDOWN_S})`,
    seconds < TEARDOWN_S,
);

// Jobs of few photos and of many, opened in turn.
const picture = Buffer.from(
    await page.evaluate(async () => {
        const canvas = document.createElement('canvas');
        [canvas.width, canvas.height] = [320, 240];
        canvas.getContext('2d').fillRect(10, 10, 200, 120);
        return canvas.toDataURL('image/jpeg').split(',')[1];
    }),
    'base64',
);
const cookies = Object.fromEntries((await context.cookies()).map((c) => [c.name, c.value]));
const other = await page.evaluate(async (token) => {
    const answer = await fetch('/api/jobs', {
        method: 'POST',
        headers: {
            'Content-Type': 'application/json',
            Accept: 'application/json',
            'X-XSRF-TOKEN': token,
            'Idempotency-Key': crypto.randomUUID(),
        },
        body: JSON.stringify({
            customer: 'Many',
            name: 'Many photos',
            symptoms: [],
            inspection: {},
            pack: { chemistry: 'nmc', series: 5 },
        }),
    });
    return (await answer.json()).id;
}, decodeURIComponent(cookies['XSRF-TOKEN']));
const fill = async (to, n) => {
    for (let k = 0; k < n; k++) {
        const id = crypto.randomUUID();
        const answer = await page.request.post(`${base}/api/jobs/${to}/photos`, {
            headers: { Accept: 'application/json', 'X-XSRF-TOKEN': decodeURIComponent(cookies['XSRF-TOKEN']), 'Idempotency-Key': id },
            multipart: { id, file: { name: 'p.jpg', mimeType: 'image/jpeg', buffer: picture } },
        });
        if (answer.status() !== 201) throw new Error(`photo ${k}: ${answer.status()} ${await answer.text()}`);
    }
};
await fill(job, FEW);
await fill(other, MANY);
const opened = { [job]: [], [other]: [] };
for (let round = 0; round < 9; round++) {
    for (const to of [job, other]) {
        await page.goto(`${base}/`);
        const start = Date.now();
        await page.goto(`${base}/jobs/${to}/probe`);
        await page.getByTestId('target').waitFor();
        opened[to].push(Date.now() - start);
    }
}
const median = (v) => [...v].sort((a, b) => a - b)[Math.floor(v.length / 2)];
const [many, few] = [median(opened[other]), median(opened[job])];
const ratio = many / few;
const told = `job screen with ${MANY} photos ${many} ms, with ${FEW} ${few} ms`;
says(`${told}: ratio ${ratio.toFixed(2)} (limit ${RATIO})`, ratio <= RATIO);
const start = Date.now();
await page.goto(`${base}/jobs/${other}/intake`);
await page.getByRole('heading', { name: `${MANY} photos` }).waitFor();
const listed = Date.now() - start;
const small = () => performance.getEntriesByType('resource').filter((r) => r.name.includes('/small')).length;
console.log(`the ${MANY} photos listed in ${listed} ms; ${await page.evaluate(small)} small ones fetched`);
await browser.close();
process.exit(bad === 0 ? 0 : 1);
