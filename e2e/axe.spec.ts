import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { signIn } from './bench';

async function clean(page: Page, where: string) {
    const { violations } = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
        .analyze();
    expect(violations.map((v) => `${where}: ${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`)).toEqual([]);
}

const JOB_SCREENS: [string, string][] = [
    ['Luggage cart 3', 'probe'],
    ['Delivery trike', 'verdict'],
    ['Shears 11', 'plan'],
    ['Deck scooter 5', 'work'],
    ['Harbour chair', 'proof'],
    ['Shears 08', 'report'],
    ['Laptop 09', 'intake'],
    ['Laptop 09', 'verdict'],
    ['Night block', 'verdict'],
    ['Deck scooter 5', 'supply'],
    ['Deck scooter 5', 'supply?do=balance'],
    ['Deck scooter 5', 'supply?do=wake'],
    ['Delivery trike', 'build'],
    ['Delivery trike', 'build?do=budget'],
    ['Delivery trike', 'build?do=sheet'],
    ['Delivery trike', 'build?do=pins'],
    ['Post bike 4', 'probe?hands=free'],
];

for (const light of ['day', 'dim'] as const) {
    test(`axe finds nothing on any screen (${light})`, async ({ page, context }) => {
        test.setTimeout(180_000);
        await page.goto('/sign-in');
        await clean(page, 'sign-in');
        await signIn(page);
        if (light === 'dim') await page.getByRole('button', { name: 'Dim' }).click();
        await clean(page, 'bench');
        const { jobs } = await (await page.request.get('/api/bench')).json();
        // The dim light changes colours alone: one screen of each kind shows them all.
        const walk = async (on: Page, screens: [string, string][]) => {
            for (const [name, stage] of screens) {
                const job = jobs.find((j: { name: string }) => j.name === name);
                await on.goto(`/jobs/${job.id}/${stage}`);
                await expect(on.getByRole('heading', { name: new RegExp(name) }).first()).toBeVisible();
                // A screen that listens to a meter is never idle.
                await (stage.includes('hands') ? on.waitForTimeout(1_500) : on.waitForLoadState('networkidle'));
                await clean(on, `${name} ${stage}`);
            }
        };
        const screens = light === 'dim' ? JOB_SCREENS.filter((_, k) => k % 5 === 1) : JOB_SCREENS;
        const middle = Math.ceil(screens.length / 2);
        // Two pages at once: one waits for the server while the other is looked at.
        await Promise.all([walk(page, screens.slice(0, middle)), walk(await context.newPage(), screens.slice(middle))]);
        for (const path of light === 'dim' ? ['/cells'] : ['/intake', '/import', '/cells', '/instruments', '/nowhere']) {
            await page.goto(path);
            await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
            await clean(page, path);
        }
        await page.goto('/');
        await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();
        await page.keyboard.press('?');
        await expect(page.getByRole('dialog')).toBeVisible();
        await clean(page, 'keys');
        await page.keyboard.press('Escape');
        await page.keyboard.press('/');
        await expect(page.getByRole('dialog')).toBeVisible();
        await clean(page, 'palette');
    });
}
