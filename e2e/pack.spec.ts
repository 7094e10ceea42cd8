import { expect, type Page, test } from '@playwright/test';
import { daysLater, signIn } from './bench';

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
    for (const column of ['work_ended_at', 'next_at']) daysLater(days, 'packs', column, pack, 'id');
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
    const { owner, context } = await phone(page, link!);
    await expect(owner.getByText('A reading is due now.')).toBeVisible();
    // Nothing sideways, and no staff.
    expect(await owner.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await expect(owner.getByText(/Reeve|Lark|Harbour school/)).toHaveCount(0);
    await tell(owner, '4186', '4174');
    const said = owner.getByRole('heading', { level: 2 }).first();
    await expect(said).toContainText('Fine');

    // Without a network: kept on the phone through a closed page, and sent when it is back.
    later(11, pack, job);
    await owner.getByRole('button', { name: 'Enter another reading' }).tap();
    await context.setOffline(true);
    await tell(owner, '4.187', '4.154');
    await expect(said).toContainText('Kept on this phone');
    await context.setOffline(false);
    await expect(said).toContainText('Fine', { timeout: 15_000 });

    later(25, pack, job);
    await owner.getByRole('button', { name: 'Enter another reading' }).tap();
    await tell(owner, '4.186', '4.142');
    await expect(said).toContainText('Fine');
    await expect(owner.getByText('44 mV apart')).toBeVisible();

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
    await owner.getByRole('button', { name: 'hot' }).tap();
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
    await hold.getByText('Several at once, pasted').click({ position: { x: 20, y: 20 } });
    await hold.getByLabel('A line each: date, condition, volts').fill('2026-03-04 full 4.1 4.1 4.1 4.1\n2026-13-04 full 4.18 4.17');
    await hold.getByRole('button', { name: 'Keep all of them' }).click();
    await expect(hold).toContainText('Line 1: 4 volts, and the pack has 5 groups');
    await expect(hold).toContainText('Line 2:');
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
