import { expect, test } from '@playwright/test';
import { daysLater, held, paste, signIn, takeIn } from './bench';

test('each step of the work is closed by its evidence, from the room that takes it and back', async ({ page }) => {
    let touches = 0;
    await page.exposeFunction('touched', () => touches++);
    await page.addInitScript(() => addEventListener('pointerdown', () => (window as unknown as { touched(): void }).touched(), true));
    await signIn(page);
    const job = await takeIn(page, 'Closed by evidence');
    await paste(page, ['3.860', '7.721', '11.38', '15.24', '19.10']);
    await page.getByRole('button', { name: 'See the verdict' }).click();
    await page.getByText('Choose what to do').first().click();
    await page.getByLabel('Why this one').fill('It only drifted.');
    await page.getByRole('button', { name: /^Do this/ }).click();
    const step = (title: RegExp) => page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: title }) });
    // A word is no figure, and a current is none.
    await step(/prove zero current/)
        .getByLabel('Current read, A')
        .fill('0.4');
    await page.keyboard.press('Enter');
    await expect(step(/prove zero current/)).toContainText('0.4 A still flows');
    await step(/prove zero current/)
        .getByLabel('Current read, A')
        .fill('0.01');
    await page.keyboard.press('Enter');
    await expect(step(/prove zero current/)).toContainText('✓ done');

    await step(/Open the case/)
        .getByRole('button', { name: 'Write the teardown' })
        .click();
    const back = page.getByRole('navigation', { name: 'The work' });
    await expect(back).toContainText('2 of 6: Open the case');
    for (const line of ['6 screws M3x8 @ lid & hex 2', 'lid']) {
        await page.getByLabel('What came off').fill(line);
        await page.keyboard.press('Enter');
    }
    await expect(back).toContainText('3 of 6');
    await back.getByRole('link', { name: 'Back to the work' }).click();
    await expect(step(/Open the case/)).toContainText('2 steps written down');

    // Charged by hand and told as such: it closes what came before it too.
    await page.goto(`/jobs/${job}/probe`);
    await page.getByRole('combobox', { name: /Another test/ }).selectOption({ label: 'Charged a group by itself' });
    await page.getByRole('dialog').getByLabel('Group').fill('3');
    await page.getByRole('dialog').getByRole('button', { name: /Keep/ }).click();
    await expect(back).toContainText('5 of 6: Read every group again at rest');
    await page.getByRole('button', { name: 'New set' }).click();
    await paste(page, ['3.860', '7.721', '11.582', '15.442', '19.303']);
    await expect(back).toContainText('6 of 6: Close it the way it came');
    await back.getByRole('link', { name: 'Back to the work' }).click();
    await expect(step(/Read every group again/)).toContainText('5 groups read at rest');

    // What is left out wants its reason, which can be taken back.
    const close = step(/Close it the way it came/);
    await expect(close).toContainText('of the way back to go');
    await close.getByRole('button', { name: 'Leave it' }).click();
    await close.getByLabel(/Why it is left/).fill('Stays open for the hold test.');
    await page.keyboard.press('Enter');
    await expect(close).toContainText('◇ left');
    await close.getByRole('button', { name: 'Take it back' }).click();
    await close.getByRole('button', { name: 'The way back' }).click();
    await expect(page).toHaveURL(/teardown/);
    console.log(`touches of a one-group job up to here: ${touches}`);
});

test('a joint that was set stands on the bench a week later, and has come back or holds', async ({ page }) => {
    await signIn(page);
    const job = await takeIn(page, 'Warm lug of the week');
    await page.goto(`/jobs/${job}/build?do=checks`);
    const set = async (fields: Record<string, string>) => {
        for (const [label, text] of Object.entries(fields)) await page.getByLabel(label, { exact: true }).fill(text);
        await page.getByRole('button', { name: 'Set and recorded' }).click();
    };
    await set({
        'Joint at tap': '2',
        'Maker, Nm at least': '5',
        'Nm at most': '6',
        Tool: 'click wrench 3',
        'Before, mV across it': '112',
        'After, mV': '9',
        'both at, A': '45',
    });
    const again = page.getByRole('list', { name: 'Looked at again' });
    await expect(again).toContainText('Look again at the joint at T2');
    await expect(again).toContainText('0.20 mohm when it was set');
    daysLater(8, 'joint_checks', 'due_at', job);
    await page.goto('/');
    await page.getByRole('searchbox', { name: 'Show' }).fill('Warm lug of the week');
    const row = page.getByRole('link', { name: /Warm lug of the week/ });
    await expect(row).toContainText('Look again at the joint at T2');
    await row.click();
    await expect(page).toHaveURL(/build\?do=checks/);
    await again.getByLabel('mV across it now').fill('31');
    await again.getByLabel('at A').fill('45');
    await again.getByRole('button', { name: 'It reads so' }).click();
    await expect(again).toContainText('✕');
    await page.goto('/');
    await page.getByRole('searchbox', { name: 'Show' }).fill('Warm lug of the week');
    await expect(page.getByRole('link', { name: /Warm lug of the week/ })).not.toContainText('Look again at the joint');
});

test('a column pasted in the second before a reload is all kept, or none of it', async ({ page }) => {
    await signIn(page);
    const job = await takeIn(page, 'Pasted and gone');
    await paste(page, ['3.860', '7.721', '11.582', '15.442', '19.303']);
    await page.reload();
    await expect(page.getByTestId('safekeeping')).toContainText('all kept');
    const kept = (await held(page, job)).map((r) => r.typed);
    expect([[], ['3.860', '7.721', '11.582', '15.442', '19.303']]).toContainEqual(kept);
    // Whatever came of it, the rest goes on from there.
    if (kept.length === 0) await paste(page, ['3.860', '7.721', '11.582', '15.442', '19.303']);
    await expect.poll(async () => (await held(page, job)).length).toBe(5);
});
