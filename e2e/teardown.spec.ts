import { expect, type Page, test } from '@playwright/test';
import { signIn, takeIn, TECHNICIAN } from './bench';

/** Eighteen steps of a kick scooter's pack that was left empty for two winters, as they are typed. */
const STEPS = [
    '4 rubber feet',
    '11 screws M3x8 @ lid',
    'screw M3x8 @ under sealant ! # behind the third foot',
    'sealant @ rim',
    'lid',
    'label',
    '2 foam @ ends',
    'strap',
    'shrink',
    'plug @ board, sense',
    'lead red @ B- to pin 1 = 0',
    'lead black @ P+ to board = 29.4',
    'lead white @ T7 to pin 8 = 15.9',
    '4 screws M2 @ board',
    'board',
    'tape @ between blocks',
    'link @ B+',
    '6 rings',
];

const off = async (page: Page, line: string) => {
    await page.getByLabel('What came off').fill(line);
    await page.keyboard.press('Enter');
};
const steps = (page: Page) => page.getByRole('list', { name: 'Steps so far' }).getByRole('listitem');

test('a dead run: eighteen steps with their photos, colours that lie, and the way back in order with its counts', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Two winters flat');
    await page.goto(`/jobs/${job}/intake`);
    // Agreed before it is opened: what, up to how much, signed.
    await page.getByRole('button', { name: 'Agree on opening it' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('Its seal').selectOption({ label: 'The seal was broken already when it came.' });
    await sheet.getByLabel(/without a call/).fill('80');
    const box = (await sheet.getByRole('img', { name: 'Signature' }).boundingBox())!;
    await page.mouse.move(box.x + 20, box.y + 60);
    await page.mouse.down();
    for (const dx of [60, 100, 160, 200]) await page.mouse.move(box.x + dx, box.y + 40 + (dx % 40));
    await page.mouse.up();
    await sheet.getByRole('button', { name: 'Keep what is agreed' }).click();
    await expect(page.getByText(/Work goes on up to 80.00/)).toBeVisible();
    await expect(page.getByRole('img', { name: 'Signature' }).locator('polyline')).toHaveCount(1);
    await page.getByRole('link', { name: 'Take it apart, step by step' }).click();
    for (const s of STEPS.slice(0, 9)) await off(page, s);
    // Nothing is lost while the server is away, nor by a reload.
    await page.route('**/api/jobs/*/teardown', (route) => (route.request().method() === 'POST' ? route.abort() : route.continue()));
    await off(page, STEPS[9]!);
    await expect(page.getByText(/kept here/).first()).toBeVisible();
    await page.reload();
    await expect(page.getByText('plug @ board, sense:')).toBeVisible();
    await page.unroute('**/api/jobs/*/teardown');
    await expect(steps(page)).toHaveCount(10, { timeout: 15_000 });
    for (const s of STEPS.slice(10)) await off(page, s);
    await expect(steps(page)).toHaveCount(18);
    await expect(page.getByText(/is red and reads 0 V against B-: it is not positive/)).toBeVisible();
    await expect(page.getByText(/is black and reads 29.4 V/)).toBeVisible();
    // A slip of the hand comes back into it, with a word.
    await off(page, 'lead = red');
    await expect(page.getByText(/is no voltage/)).toBeVisible();
    await expect(page.getByLabel('What came off')).toHaveValue('lead = red');
    await page.getByLabel('What came off').fill('');
    const dot = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
    await page.getByLabel('Photo', { exact: true }).setInputFiles([{ name: 'screw.png', mimeType: 'image/png', buffer: dot }]);
    await steps(page).nth(2).getByRole('button', { name: 'Its photo' }).click();
    await page.getByRole('button', { name: 'Photo 1 from the newest' }).click();
    await expect(page.getByRole('button', { name: 'Photo of step 3' })).toBeVisible();
    await page.getByRole('link', { name: 'The way back' }).click();
    const back = page.getByRole('list', { name: 'The way back' }).getByRole('listitem');
    await expect(back.first()).toContainText('New: 6 x rings');
    await expect(back.nth(1)).toContainText('Put back link, B+');
    await expect(back.nth(2)).toContainText('Tug at link');
    await expect(page.locator('p', { hasText: 'none of it holds twice' })).toContainText('1 sealant');
    await expect(page.getByText('Connect lead black, P+ to board: it must read 29.4 V against B- first.')).toBeVisible();
    const rows = await back.count();
    for (let k = 0; k < rows; k++) {
        const row = back.nth(k);
        const text = (await row.textContent()) ?? '';
        if (text.includes('Measure the insulation')) {
            await row.getByLabel('Measured, Mohm').fill('0,4');
            await row.getByRole('button', { name: 'Keep it' }).click();
            await expect(row).toContainText('over 1 is wanted');
            await row.getByLabel('Measured, Mohm').fill('50');
            await row.getByRole('button', { name: 'Keep it' }).click();
        } else if (text.includes('11 x screws M3x8')) {
            await row.getByRole('button', { name: 'Another number' }).click();
            await row.getByLabel('Went back').fill('10');
            await row.getByRole('button', { name: 'Keep it' }).click();
        } else if (text.includes('Count: nothing')) {
            await row.getByRole('button', { name: 'Counted' }).click();
            await expect(row).toContainText('1 screw m3x8 left over');
            await row.getByRole('textbox').fill('Stripped, replaced by one of M4');
            await row.getByRole('button', { name: 'Counted' }).click();
        } else {
            await row.getByRole('button', { name: /^(Done|It holds)$/ }).click();
        }
        await expect(row).toContainText('✓');
    }
    await expect(page.getByText('It is together again')).toBeVisible();
    // What was measured on the way is a test of the pack: the proof has it.
    const { tests } = (await (await page.request.get(`/api/jobs/${job}`)).json()) as { tests: { kind: string; data: { mohm?: number } }[] };
    expect(tests.filter((t) => t.kind === 'insulation').map((t) => t.data.mohm)).toEqual(expect.arrayContaining([0.4, 50]));
});

test('three packs of one model: the third is guided by the second, in half the touches of the first, and asked about what differs', async ({
    page,
}) => {
    await signIn(page, TECHNICIAN);
    const keys = [0, 0, 0];
    await page.exposeFunction('struck', (pack: number) => keys[pack]!++);
    await page.addInitScript(() => {
        window.addEventListener(
            'keydown',
            () => (window as unknown as { struck: (n: number) => void }).struck(Number(sessionStorage.getItem('pack'))),
            true,
        );
        window.addEventListener(
            'pointerdown',
            () => (window as unknown as { struck: (n: number) => void }).struck(Number(sessionStorage.getItem('pack'))),
            true,
        );
    });
    const lines = STEPS.slice(0, 10);
    for (const pack of [0, 1, 2]) {
        const job = await takeIn(page, `Sibling ${pack + 1}`, 'Quay tug, 14 groups');
        await page.goto(`/jobs/${job}/teardown`);
        await page.evaluate((n) => sessionStorage.setItem('pack', String(n)), pack);
        keys[pack] = 0;
        if (pack === 0) {
            for (const s of lines) {
                await page.getByLabel('What came off').pressSequentially(s);
                await page.keyboard.press('Enter');
            }
        } else {
            for (let k = 0; k < lines.length; k++) {
                if (pack === 2 && k === 1) {
                    // One screw was missing when it came.
                    await page.getByLabel('What came off').pressSequentially('10 screws M3x8 @ lid');
                    await page.keyboard.press('Enter');
                } else {
                    await expect(page.getByText(/As at job \d+, next:/)).toBeVisible();
                    await page.keyboard.press('Enter');
                }
                await expect(steps(page)).toHaveCount(k + 1);
            }
        }
        await expect(steps(page)).toHaveCount(lines.length);
    }
    await expect(page.getByText('screws M3x8, lid: 11 last time, 10 now.')).toBeVisible();
    console.log(`keys and touches of a teardown of ${lines.length} steps: ${keys.join(', ')}`);
    expect(keys[2]! * 2).toBeLessThanOrEqual(keys[0]!);
});
