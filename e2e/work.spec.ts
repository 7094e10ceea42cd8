import { expect, test } from '@playwright/test';
import { paste, signIn, takeIn } from './bench';

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
