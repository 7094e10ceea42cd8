import { expect, type Page, test } from '@playwright/test';
import { daysLater, lookAgain, OWNER, paste, signIn } from './bench';

test.describe.configure({ mode: 'serial' });

/** What the owner sees on a phone of their own, that has never signed in. */
async function phone(page: Page, link: string) {
    const context = await page
        .context()
        .browser()!
        .newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
    const owner = await context.newPage();
    await owner.goto(link);
    return { owner, context };
}

/** Days go by for a pack in service. */
function later(days: number, pack: number, job: number) {
    daysLater(days, 'measurements', 'taken_at', job);
    for (const column of ['work_ended_at', 'next_at', 'read_at']) daysLater(days, 'packs', column, pack, 'id');
    for (const column of ['at', 'told_at']) daysLater(days, 'service_readings', column, pack, 'pack_id');
}

const tell = async (owner: Page, highest: string, lowest: string) => {
    await owner.getByLabel('Highest, V').fill(highest);
    await owner.getByLabel('Lowest, V').fill(lowest);
    await owner.getByRole('button', { name: 'was charged full' }).tap();
    await owner.getByRole('button', { name: 'No, none of it' }).tap();
    await owner.getByRole('button', { name: 'Done' }).tap();
};

test('a label, three readings by its owner weeks apart, a forecast, told to stop, and back in with its history', async ({ page }) => {
    await signIn(page);
    await page.getByRole('link', { name: 'Packs' }).click();
    await page.getByLabel('Find').fill('Laptop 02');
    await page.getByRole('link', { name: 'Laptop 02' }).click();
    await expect(page).toHaveURL(/packs\/\d+/);
    const pack = Number(page.url().match(/packs\/(\d+)/)![1]);
    const job = ((await (await page.request.get(`/api/packs/${pack}`)).json()) as { watch: { job_id: number } }).watch.job_id;
    await page.getByRole('button', { name: /^Label/ }).click();
    await page.getByRole('button', { name: 'Make the label' }).click();
    const link = await page.getByRole('link', { name: /as its owner sees it/ }).getAttribute('href');
    // On paper it stands alone, whole and on the page.
    await page.emulateMedia({ media: 'print' });
    const printed = await page.locator('.print-only-this').boundingBox();
    expect(printed!.x).toBeGreaterThanOrEqual(0);
    expect(printed!.height).toBeGreaterThan(100);
    await expect(page.locator('.print-only-this svg')).toBeInViewport({ ratio: 1 });
    await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
    await page.emulateMedia({ media: 'screen' });
    const { owner, context } = await phone(page, link!);
    await expect(owner.getByText('A reading is due now.')).toBeVisible();
    // Nothing sideways, and no staff.
    expect(await owner.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await expect(owner.getByText(/Reeve|Lark|Harbour school/)).toHaveCount(0);
    await tell(owner, '4186', '4174');
    const said = owner.getByRole('heading', { level: 2 }).first();
    await expect(said).toContainText('Fine');

    // Without a network: the page opens all the same, what is typed is kept on the phone, and sent when it is back.
    later(11, pack, job);
    // What it is made of lies on the phone by now.
    const missing = () =>
        owner.evaluate(async () => {
            const parts = performance.getEntriesByType('resource').map((e) => e.name);
            const wanted = [...parts.filter((n) => n.includes('/build/')), '/pack'];
            const found = await Promise.all(wanted.map((n) => caches.match(n)));
            return wanted.filter((_, i) => found[i] === undefined);
        });
    await expect.poll(missing).toEqual([]);
    await context.setOffline(true);
    await owner.reload();
    await tell(owner, '4.187', '4.154');
    await expect(said).toContainText('Kept on this phone');
    await context.setOffline(false);
    await expect(said).toContainText('Fine', { timeout: 15_000 });

    later(25, pack, job);
    await owner.getByRole('button', { name: 'Enter another reading' }).tap();
    await tell(owner, '4.186', '4.142');
    await expect(said).toContainText('Fine');
    await expect(owner.getByText('44 mV apart').last()).toBeVisible();

    await page.keyboard.press('Escape');
    await page.goto('/packs?due=1');
    await page.getByRole('link', { name: 'Laptop 02' }).click();
    const hold = page.getByRole('region', { name: 'Does the repair hold?' });
    await expect(hold.getByRole('heading', { name: 'It grows' })).toBeVisible();
    await expect(hold).toContainText(/It passes 100 mV about/);
    await expect(hold.getByRole('listitem').filter({ hasText: 'said by the owner' })).toHaveCount(3);

    // It is hot: stop, and the bench calls them.
    await owner.getByRole('button', { name: 'Enter another reading' }).tap();
    await owner.getByRole('button', { name: 'Yes' }).tap();
    await owner.getByRole('button', { name: 'Done' }).tap();
    await expect(owner.getByRole('alert')).toContainText('Which of them?');
    await owner.getByRole('button', { name: 'hot', exact: true }).tap();
    await owner.getByRole('button', { name: 'Done' }).tap();
    await expect(said).toContainText('Stop using it and bring it in');
    await expect(owner.getByText('It is hot.')).toBeVisible();
    await page.goto('/');
    await page.getByRole('searchbox', { name: 'Show' }).fill('Laptop 02');
    await page.getByRole('link', { name: /Its owner was told to stop/ }).click();
    await expect(hold).toContainText('⬣ stop');

    // Withdrawn: the same link shows nothing any more.
    await page.getByRole('button', { name: /^Label/ }).click();
    await page.getByRole('button', { name: 'Withdraw the page' }).click();
    await expect(page.getByText('is withdrawn')).toBeVisible();
    await owner.reload();
    await expect(owner.getByRole('alert')).toContainText('not good any more');
    await context.close();

    // It comes back: taken in from its passport, with its history at the head, and closed by why.
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: 'It came back: take it in' }).click();
    await page.getByRole('button', { name: 'It is this one: fill it in' }).click();
    await page.getByRole('button', { name: 'None of these' }).click();
    await page.getByRole('button', { name: 'not of metal' }).click();
    await page.getByRole('button', { name: 'Take it in and probe' }).click();
    await expect(page.getByTestId('target')).toContainText('T0');
    await lookAgain(page);
    await paste(page, ['3.9', '7.8', '11.45', '11.45']);
    const strip = page.getByRole('navigation', { name: 'It came back' });
    await expect(strip).toContainText(/Back after \d+ days.*The promise runs/);
    await page.getByRole('button', { name: 'See the verdict' }).click();
    await expect(strip).toContainText('Looks like another fault');
    await page.getByText('Choose what to do').first().click();
    await page.getByRole('radio', { name: /Recycle it/ }).check();
    await page.getByLabel(/Why this one/).fill('Not worth a group.');
    await page.getByRole('button', { name: /Do this/ }).click();
    await expect(page.getByRole('heading', { name: 'Recycle it' })).toBeVisible();
    await page.goto(page.url().replace(/jobs\/(\d+).*/, 'jobs/$1/report'));
    await page.getByRole('button', { name: 'Close the job' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByRole('button', { name: 'Close it' }).click();
    await expect(sheet.getByRole('alert')).toContainText('Say why it came back');
    await sheet.getByRole('radio', { name: /another fault/ }).check();
    await sheet.getByRole('button', { name: 'Close it' }).click();
    // What was asked of the server is answered before the page is left.
    await expect(sheet).toHaveCount(0);
    await page.goto(`/packs/${pack}`);
    await expect(page.getByRole('region', { name: 'Jobs' })).toContainText('It had come back: another fault. That fell under the promise.');
});

test('readings typed and pasted at the bench, one taken back with its reason, another owner', async ({ page }) => {
    await signIn(page);
    await page.goto('/packs?q=Shears+08');
    await page.getByRole('link', { name: 'Shears 08' }).click();
    const hold = page.getByRole('region', { name: 'Does the repair hold?' });
    const rows = hold.getByRole('list', { name: 'What was read' }).getByRole('listitem');
    const before = 3;
    await expect(rows).toHaveCount(before);
    await hold.getByLabel('It had').selectOption('charged full');
    await hold.getByLabel('Volts of its groups, from B-').fill('4.186 4.18 4.185');
    await hold.getByRole('button', { name: 'Keep it' }).click();
    await expect(hold).toContainText('3 volts, and the pack has 5 groups');
    await hold.getByLabel('Volts of its groups, from B-').fill('4.186 4.18 4.185 4.186 4.152');
    await hold.getByRole('button', { name: 'Keep it' }).click();
    await expect(rows).toHaveCount(before + 1);
    await hold.getByText('Several at once').click({ position: { x: 20, y: 20 } });
    const many = hold.getByLabel(/Lines with a date/);
    await many.fill('2026-03-04 full 4.1 4.1 4.1 4.1\n2026-13-04 full 4.18 4.17');
    await hold.getByRole('button', { name: 'Look what is in it' }).click();
    await expect(hold).toContainText('Line 1: 4 volts, and the pack has 5 groups');
    await expect(hold).toContainText('Line 2:');
    await many.fill('date;soc;g1;g2;g3;g4;g5\n2026-03-04;100;4.181;4.18;4.18;4.181;4.16');
    await hold.getByRole('button', { name: 'Look what is in it' }).click();
    await expect(hold.getByRole('list', { name: 'Read out of it' })).toContainText('4.181 4.180 4.180 4.181 4.160');
    await expect(rows).toHaveCount(before + 1);
    await rows.first().getByRole('button', { name: 'Take it back' }).click();
    const why = rows.first().getByLabel('Why it is taken back (needed)');
    await expect(rows.first().getByRole('button', { name: 'Take it back' }).last()).toBeDisabled();
    await why.fill('Read on another pack.');
    await rows.first().getByRole('button', { name: 'Take it back' }).last().click();
    await expect(rows.first()).toContainText('taken back: Read on another pack.');

    await page.getByRole('button', { name: 'It has another owner' }).click();
    await page.getByLabel('Who owns it now').fill('Orchard school');
    await page.getByRole('button', { name: 'It is theirs now' }).click();
    const owners = page.getByRole('region', { name: 'Owners' });
    await expect(owners.getByRole('link', { name: 'Orchard school' })).toBeVisible();
    await expect(owners).toContainText('Orchard co-op');
});

test('a message goes to nobody who has not agreed, then to the simulated mailbox; a passport goes out and comes in', async ({ page }) => {
    await signIn(page, OWNER);
    await page.goto('/messages');
    const row = page.getByRole('listitem').filter({ hasText: 'Charge Laptop 12 full' });
    await expect(row.getByRole('button', { name: 'Send it' })).toHaveCount(0);
    await row.getByLabel('How they agreed').selectOption('by phone');
    await row.getByRole('button', { name: 'They agree' }).click();
    await row.getByRole('button', { name: 'Send it' }).click();
    await expect(page.getByRole('region', { name: 'Done' })).toContainText(/Charge Laptop 12 full.*sent to harbour-school/);
    await expect(page.getByRole('region', { name: 'Simulated mailbox' })).toContainText('Charge Laptop 12 full');

    await page.goto('/packs?q=Shears+08');
    await page.getByRole('link', { name: 'Shears 08' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Export the passport' }).click();
    const file = await (await download).path();
    await page.goto('/packs');
    await page.getByRole('button', { name: 'Import a passport' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('Whose it is now').fill('Ferry house');
    await sheet.getByLabel('File').setInputFiles(file);
    await sheet.getByRole('button', { name: 'Import it' }).click();
    const elsewhere = page.getByRole('region', { name: 'From elsewhere' });
    await expect(elsewhere).toContainText('was not seen here');
    await expect(elsewhere).toContainText('were said by its owner');
    await page.goto('/packs?glance=1');
    await expect(page.getByRole('list', { name: 'Packs at a glance' }).getByText('In its band').first()).toBeVisible();
});
