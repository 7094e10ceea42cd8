import { expect, type Page, test } from '@playwright/test';
import { openJob, signIn, takeIn, TECHNICIAN } from './bench';

const at = async (page: Page, name: string, stage: string) => {
    const { jobs } = await (await page.request.get('/api/bench')).json();
    const job = jobs.find((j: { name: string }) => j.name === name);
    await page.goto(`/jobs/${job.id}/${stage}`);
    await expect(page.getByRole('heading', { name: new RegExp(name) }).first()).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: '...' })).toHaveCount(0);
};

test('who is new here is walked through the screens by keyboard, once, and nothing is changed by it', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    const before = await (await page.request.get('/api/bench')).json();
    await page.getByRole('button', { name: 'Walk through' }).focus();
    await page.keyboard.press('Enter');
    const walk = page.getByRole('complementary', { name: 'Walk through' });
    await expect(walk).toContainText('1 of 7');
    for (const stage of ['probe', 'verdict', 'plan', 'work', 'proof']) {
        await walk.getByRole('button', { name: 'Next' }).press('Enter');
        await page.waitForURL(new RegExp(`/jobs/\\d+/${stage}$`));
    }
    // Looking around from a stop does not pull anybody back to it.
    await page.getByRole('link', { name: 'Cells' }).click();
    await page.waitForURL(/\/cells/);
    await expect(walk).toContainText('6 of 7');
    await walk.getByRole('button', { name: 'Next' }).click();
    await page.waitForURL(/\/intake$/);
    await walk.getByRole('button', { name: 'Done' }).click();
    await expect(walk).toBeHidden();
    await page.goto('/');
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Walk through' })).toBeHidden();
    const after = await (await page.request.get('/api/bench')).json();
    const told = (b: { jobs: { id: number; stage: string; touched_at: string }[] }) => b.jobs.map((j) => [j.id, j.stage, j.touched_at]);
    expect(told(after)).toEqual(told(before));
    // It stays to be had.
    await page.keyboard.press('/');
    await expect(page.getByRole('dialog')).toBeVisible();
    await page.keyboard.type('walk');
    await expect(page.getByRole('option', { name: 'Walk through the screens' })).toHaveAttribute('aria-selected', 'true');
    await page.keyboard.press('Enter');
    await expect(walk).toContainText('1 of 7');
    await walk.getByRole('button', { name: 'Leave the walk' }).click();
});

test('a word says what it means, and an odd question why it is asked', async ({ page }) => {
    await signIn(page);
    await at(page, 'Delivery trike', 'verdict');
    const word = page.getByRole('button', { name: 'Charge window' });
    await word.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByText('from where the first group is full to where the first is empty')).toBeVisible();
    await expect(word).toHaveAttribute('aria-expanded', 'true');
    await page.keyboard.press('Escape');
    await expect(page.getByText('from where the first group is full to where the first is empty')).toBeHidden();
    await page.goto('/intake');
    await page.getByLabel('Groups in series').locator('xpath=../..').getByRole('button', { name: 'Why is this asked?' }).first().click();
    await expect(page.getByText('Counting the taps, or the sense leads less one, settles it.')).toBeVisible();
    // Wherever it comes up, it lies within the window.
    const box = (await page.getByText('Counting the taps, or the sense leads less one, settles it.').boundingBox())!;
    expect(box.x).toBeGreaterThanOrEqual(0);
    expect(box.x + box.width).toBeLessThanOrEqual(1280);
});

test('what the server refuses of a form stands at its field, and nothing typed is lost', async ({ page }) => {
    await signIn(page);
    await page.goto('/cells');
    await page.getByRole('button', { name: 'Take in a tray' }).first().click();
    const form = page.getByRole('dialog');
    await expect(form.getByRole('button', { name: 'Take them in' })).toBeDisabled();
    await form.getByLabel('Cell model').fill('Quay 28');
    await form.getByLabel('Rated Ah').fill('2,8x');
    await form.getByLabel(/One line a cell/).fill('HS-1 2.7 31 3.61');
    await form.getByRole('button', { name: 'Take them in' }).click();
    await expect(form.getByText('Mend this: the name of the lot, such as it stands on the box.')).toBeVisible();
    await expect(form.getByText('Mend this: "2,8x" is no number: type it such as 3.812.')).toBeVisible();
    await expect(form.getByLabel('Lot', { exact: true })).toBeFocused();
    await form.getByLabel('Lot', { exact: true }).fill('House lot');
    await form.getByLabel('Rated Ah').fill('40000');
    await expect(form.getByText('Mend this: "2,8x"')).toBeHidden();
    await form.getByRole('button', { name: 'Take them in' }).click();
    // The bound is the server's alone.
    await expect(form.getByLabel('Rated Ah')).toHaveAttribute('aria-invalid', 'true');
    await expect(form.getByLabel('Rated Ah')).toBeFocused();
    await page.reload();
    await page.getByRole('button', { name: 'Take in a tray' }).first().click();
    await expect(form.getByLabel('Lot', { exact: true })).toHaveValue('House lot');
    await form.getByLabel('Rated Ah').fill('2,8');
    await expect(form.getByText('read as 2.8')).toBeVisible();
    await form.getByRole('button', { name: 'Take them in' }).click();
    await expect(page.getByText('1 cell taken in.')).toBeVisible();
    await page.goto('/cells?q=HS-1');
    await expect(page.getByRole('button', { name: 'HS-1' })).toBeVisible();
});

/** What a screen is for, and what it asks to be done. */
const FIRST_SCREENFUL: [string, string, RegExp, RegExp?][] = [
    ['Luggage cart 3', 'probe', /^Take it/, /^Core sample/],
    ['Delivery trike', 'verdict', /^Do that/, /^Millivolts of each group/],
    ['Shears 11', 'plan', /^Do this/],
    ['Deck scooter 5', 'work', /^Take it back|^Done|^Keep/],
    ['Harbour chair', 'proof', /^Enter/],
    ['Shears 08', 'report', /^Open as PDF/, /Core sample/],
];

test('the first screenful of every screen holds what it is and what is done next', async ({ page }) => {
    await signIn(page);
    const seen: string[] = [];
    for (const [name, stage, act, picture] of FIRST_SCREENFUL) {
        await at(page, name, stage);
        const main = page.locator('#main');
        const button = main
            .getByRole('button', { name: act })
            .or(main.getByRole('link', { name: act }))
            .first();
        const box = await button.boundingBox();
        if (box === null || box.y + box.height > 800) seen.push(`${stage}: ${act.source} ends at ${box ? box.y + box.height : 'nowhere'}`);
        if (picture) {
            const drawn = await main
                .getByRole('img', { name: picture })
                .or(main.getByRole('group', { name: picture }))
                .first()
                .boundingBox();
            if (drawn === null || drawn.y > 620) seen.push(`${stage}: the picture begins at ${drawn ? drawn.y : 'nowhere'}`);
        }
        expect(await page.evaluate(() => document.documentElement.scrollWidth), `${stage} is no wider than the window`).toBe(1280);
    }
    expect(seen).toEqual([]);
});

for (const [width, height] of [
    [390, 844],
    [1024, 1366],
] as const) {
    test(`at ${width}x${height} what is asked first comes first, nothing is wider than the window`, async ({ page }) => {
        test.setTimeout(120_000);
        await page.setViewportSize({ width, height });
        await signIn(page);
        const found: string[] = [];
        const look = async (where: string) => {
            const wide = await page.evaluate(() => document.documentElement.scrollWidth);
            if (wide > width) found.push(`${where}: ${wide} px wide`);
        };
        await look('bench');
        for (const [name, stage] of FIRST_SCREENFUL) {
            await at(page, name, stage);
            await look(stage);
        }
        await at(page, 'Luggage cart 3', 'probe');
        const field = (await page.getByLabel('Volts on the meter').boundingBox())!;
        const take = (await page.getByRole('button', { name: /^Take it/ }).boundingBox())!;
        const sample = (await page.getByRole('group', { name: /^Core sample/ }).boundingBox())!;
        expect(take.y + take.height).toBeLessThan(height);
        if (width < 1024) {
            expect(field.y).toBeLessThan(sample.y);
            expect(take.width, 'the thumb finds it').toBeGreaterThan(width * 0.6);
        }
        await page.goto('/intake');
        await look('intake');
        expect(found).toEqual([]);
    });
}

test('on a phone a reading is taken, and the rail shows where one stands', async ({ page }) => {
    await page.setViewportSize({ width: 390, height: 844 });
    await signIn(page);
    const job = await takeIn(page, 'Phone pack');
    const slot = `heartwood.job.${job}`;
    const before = await page.evaluate((of) => localStorage.getItem(of), slot);
    await page.getByLabel('Volts on the meter').fill('3,912');
    await page.getByRole('button', { name: /^Take it/ }).click();
    await expect(page.getByTestId('target')).toContainText('T2');
    const here = (await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: /Probe/ }).boundingBox())!;
    expect(here.x).toBeGreaterThanOrEqual(0);
    expect(here.x + here.width).toBeLessThanOrEqual(390);
    await page.goto('/');
    await openJob(page, 'Phone pack');
    await expect(page.getByTestId('target')).toContainText('T2');
    // What this bench saw of the job before the reading is drawn first, and gives way to what the server has.
    await expect(page.getByText('all kept')).toBeVisible();
    await page.evaluate(([of, text]) => localStorage.setItem(of!, text!), [slot, before ?? '']);
    await page.reload();
    await expect(page.getByTestId('target')).toContainText('T2');
});
