// One picture of each main view at 1280x800, in the order in which they disturb the demo least.
import { chromium } from '@playwright/test';
import net from 'node:net';

const [folder, ...only] = process.argv.slice(2);
const base = process.env.BASE_URL;
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: ['--no-sandbox'] });

/** One line to the simulated hand. */
const hand = (message) =>
    new Promise((done, failed) => {
        const s = net.connect(Number(process.env.BENCH_PORT) + 4, '127.0.0.1', () => s.write(JSON.stringify(message) + '\n'));
        s.setTimeout(5000, () => s.destroy(new Error('the hand does not answer')));
        s.on('error', failed);
        s.on('data', () => s.destroy() && done());
    });

const pages = {};
async function as(who) {
    if (pages[who]) return pages[who];
    const page = await (
        await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
    ).newPage();
    await page.goto('/sign-in');
    await page.getByLabel('E-mail').fill(`${who}@gannetquay.example`);
    await page.getByLabel('Password').fill('growth-rings');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Bench' }).waitFor();
    return (pages[who] = page);
}
const jobs = Object.fromEntries((await (await (await as('maren')).request.get('/api/bench')).json()).jobs.map((j) => [j.name, j.id]));
const at = (who, path) => async () => {
    const page = await as(who);
    await page.goto(path);
    return page;
};
const job = (name, room) => `/jobs/${jobs[name]}/${room}`;
const chargeSlowly = async () => {
    const page = await as('sunniva');
    await page.goto(job('Deck scooter 5', 'supply'));
    await page.getByRole('button', { name: 'Lay it on the bench' }).click();
    await page.getByText('lies on the simulated bench').waitFor();
    for (const box of await page.getByRole('group', { name: 'Before any current flows' }).getByRole('checkbox').all()) await box.check();
    await page.getByLabel('Time runs (simulation)').selectOption('30');
    await page.getByRole('button', { name: 'Start, I stay with it' }).click();
    await page.getByText(/2\.\d+ V, as the plan has it/).waitFor();
    await page.getByRole('button', { name: "The supply's clips sit on group 4" }).click();
    await page.getByTestId('phase').filter({ hasText: 'slow charge' }).waitFor();
    await page.waitForTimeout(40_000);
    return page;
};
const views = {
    bench: at('sunniva', '/'),
    intake: at('sunniva', '/intake'),
    probe: at('sunniva', job('Luggage cart 3', 'probe')),
    verdict: at('sunniva', job('Delivery trike', 'verdict')),
    teardown: at('sunniva', job('Deck scooter 5', 'teardown')),
    plan: at('maren', job('Shears 11', 'plan')),
    work: at('sunniva', job('Night block', 'work')),
    proof: at('sunniva', job('Harbour chair', 'proof')),
    cells: at('sunniva', '/cells'),
    guided: async () => {
        const page = await as('sunniva');
        await page.goto(job('Post bike 1', 'guided'));
        await page.getByRole('listitem').filter({ hasText: 'Read under load' }).getByRole('button', { name: 'Begin' }).click();
        const now = page.locator('[aria-current=step]');
        await now.getByLabel('Volts of the groups').waitFor();
        const { measurements } = await (await page.request.get(`/api${job('Post bike 1', '')}`.replace(/\/$/, ''))).json();
        const volts = measurements.findLast((m) => m.condition === 'rest').groups_v.map((v) => v.toFixed(3));
        await now.getByLabel('Volts of the groups').fill(volts.join(' '));
        await now.getByLabel('The first group once more, V').fill(volts[0]);
        await now.getByRole('button', { name: 'Keep the reading' }).click();
        await now.getByRole('button', { name: 'Leave it out' }).click();
        await page.getByText('Read every group from sixty seconds in').waitFor();
        await now.getByLabel('Volts of the groups').waitFor();
        await now.getByLabel('Volts of the groups').fill(volts.map((v) => (v - 0.112).toFixed(3)).join(' '));
        return page;
    },
    'build-sheet': at('tobiah', `${job('Post bike 1', 'build')}?do=sheet`),
    training: async () => {
        const page = await at('sunniva', '/training')();
        await page.getByRole('button', { name: 'Case 1' }).click();
        await page.getByRole('button', { name: 'Look at it' }).click();
        await page.getByRole('link', { name: 'To the probes' }).click();
        const read = page.getByRole('button', { name: /^Probes on/ });
        for (let k = 0; k < 4; k++) {
            await read.click();
            await page.getByRole('button', { name: `T${k} to T${k + 1}`, exact: true }).waitFor();
        }
        return page;
    },
    debrief: async () => {
        const page = await at('piet', '/training')();
        await page.getByRole('region', { name: 'Rounds played' }).getByRole('link').filter({ hasText: 'Right' }).first().click();
        await page.getByRole('heading', { name: /^Right/ }).waitFor();
        return page;
    },
    'side-by-side': async () => {
        const page = await at('sunniva', '/customers?q=Lantern')();
        await page.getByRole('link', { name: 'Lantern house' }).first().click();
        await page.getByRole('link', { name: 'Side by side' }).click();
        await page.getByRole('region', { name: 'Side by side' }).waitFor();
        return page;
    },
    batch: async () => {
        const page = await at('sunniva', '/batches')();
        await page.getByRole('link', { name: 'School laptops' }).click();
        await page.getByRole('region', { name: 'Yield' }).waitFor();
        return page;
    },
    passport: async () => {
        const page = await as('sunniva');
        await page.goto('/packs?q=Shears+08');
        await page.getByRole('link', { name: 'Shears 08' }).click();
        await page.getByRole('heading', { name: 'It grows' }).waitFor();
        return page;
    },
    'hands-free': async () => {
        const page = await as('sunniva');
        await page.goto('/intake');
        await page.getByLabel('Customer', { exact: true }).fill('Harbour tugs');
        await page.getByLabel('Pack model', { exact: true }).selectOption({ label: 'Quay tug, 14 groups' });
        await page.getByLabel('Name of this pack').fill('Tug 2');
        await page.getByRole('button', { name: 'Take it in and probe' }).click();
        await page.getByTestId('target').waitFor();
        await page.goto(`${new URL(page.url()).pathname}?hands=free`);
        await page.getByRole('button', { name: 'Lay it on the bench' }).click();
        await page.getByText('lies on the simulated bench').waitFor();
        await hand({ do: 'speed', s: 1 });
        await page.getByLabel('follow the prompts').check();
        await page.getByTestId('target').filter({ hasText: 'T6' }).waitFor({ timeout: 60_000 });
        await page.evaluate(() => window.scrollTo(0, 150));
        return page;
    },
    glance: at('sunniva', '/packs?glance=1'),
    recovery: chargeSlowly,
};
let failed = 0;
for (const [name, go] of Object.entries(views)) {
    if (only.length > 0 && !only.includes(name)) continue;
    try {
        const page = await go();
        await page.waitForLoadState('networkidle', { timeout: 4000 }).catch(() => {});
        await page.waitForTimeout(400);
        await page.screenshot({ path: `${folder}/${name}.png` });
        console.log(name);
    } catch (e) {
        failed++;
        console.error(`${name}: ${e.message.split('\n')[0]}`);
    }
}
await browser.close();
process.exit(failed);
