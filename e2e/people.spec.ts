import { type Browser, expect, type Page, test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { createHmac } from 'node:crypto';
import { OWNER, held, PASSWORD, signIn, takeIn, TECHNICIAN, type } from './bench';

const GOOD = 'lantern orchard ferry';
/** Personal codes of the demo (app/Demo/DemoWorkshop.php). */
const CODE = { technician: '583164', senior: '719350' };

const artisan = (...words: string[]) =>
    execFileSync('bash', ['-c', `. bin/lib.sh && as_app php artisan ${words.join(' ')}`], {
        env: { ...process.env, HEARTWOOD_INSTANCE: 'test', APP_CONFIG_CACHE: '/nonexistent' },
    }).toString();

/** The code an authenticator shows now, or some steps on (RFC 6238). */
function totp(secret: string, on = 0): string {
    const bits = [...secret].map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0')).join('');
    const key = Buffer.from(bits.match(/.{8}/g)!.map((b) => parseInt(b, 2)));
    const step = Buffer.alloc(8);
    step.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000) + on));
    const mac = createHmac('sha1', key).update(step).digest();
    return String((mac.readUInt32BE(mac[19]! & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

const another = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

async function enter(page: Page, email: string, password: string, code?: string) {
    await page.goto('/sign-in');
    await page.getByLabel('E-mail').fill(email);
    await page.getByLabel('Password').fill(password);
    await page.keyboard.press('Enter');
    if (code !== undefined) {
        await page.getByLabel('Code of your authenticator').fill(code);
        await page.keyboard.press('Enter');
    }
}

test('an empty start: workshop, owner, price, somebody invited, the first job; then second factor, reset and disabling', async ({
    page,
    browser,
}) => {
    const mark = String(Date.now());
    const link = /(\/start#\S+)/.exec(artisan('heartwood:setup-code'))![1]!;
    await page.goto(link);
    await page.getByLabel('Name of the workshop').fill(`Kiln Lane ${mark}`);
    await page.getByLabel('Your name').fill('Orla Penn');
    await page.getByLabel('Your e-mail').fill(`orla${mark}@kiln.example`);
    await page.getByLabel('Your password').fill('password12345');
    await page.getByRole('button', { name: 'Open the workshop' }).click();
    await expect(page.getByText('tried first')).toBeVisible();
    await page.getByLabel('Your password').fill(GOOD);
    await page.getByRole('button', { name: 'Open the workshop' }).click();
    await expect(page.getByRole('heading', { name: `Settings of Kiln Lane ${mark}` })).toBeVisible();
    await page.getByLabel('An hour of hands, an hour').fill('71');
    await page.keyboard.press('Enter');
    await expect(page.getByText('Back to the default (60.00)')).toBeVisible();

    await page.getByRole('link', { name: 'People', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Invite somebody' })).toBeVisible();
    await page.getByLabel('Name', { exact: true }).fill('Wren Holt');
    await page.getByRole('button', { name: 'Make the invitation' }).click();
    const code = await page.getByTestId('invitation-code').innerText();
    await page.getByRole('button', { name: 'Close' }).click();

    const wren = await another(browser);
    await wren.goto('/join');
    await wren.getByLabel('Code of the invitation or reset').fill(code.toLowerCase());
    await wren.getByRole('button', { name: 'Look' }).click();
    await expect(wren.getByLabel('Your name')).toHaveValue('Wren Holt');
    await wren.getByLabel('Your e-mail').fill(`wren${mark}@kiln.example`);
    await wren.getByLabel('Your password').fill(GOOD);
    await wren.getByRole('button', { name: 'Come in' }).click();
    await expect(wren.getByRole('heading', { name: /Wren Holt/ })).toBeVisible();
    await wren.goto('/intake');
    await wren.getByLabel('Customer', { exact: true }).fill('First customer');
    await wren.getByLabel('Name of this pack').fill('First pack');
    await expect(wren.getByRole('button', { name: 'Take it in and probe' })).toBeVisible();

    // The owner's second factor.
    await page.getByRole('button', { name: /At the bench/ }).click();
    await page.getByRole('button', { name: 'My password, code and sessions' }).click();
    await page.getByRole('button', { name: 'Set it up' }).click();
    const secret = await page.getByTestId('totp-secret').innerText();
    await page.getByLabel('Code that it shows').fill(totp(secret));
    await page.getByRole('button', { name: 'Switch it on' }).click();
    const recovery = await page.getByTestId('recovery').getByRole('listitem').first().innerText();
    await page.getByRole('button', { name: 'I have kept them' }).click();
    await page.getByRole('button', { name: 'Sign out' }).click();
    await enter(page, `orla${mark}@kiln.example`, GOOD, '000000');
    await expect(page.getByText('does not match')).toBeVisible();
    await page.getByLabel('Code of your authenticator').fill(recovery);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();

    // A reset, by the hands of the one who lost the password.
    await page.goto('/people');
    await page.getByRole('button', { name: 'Open Wren' }).click();
    await page.getByRole('button', { name: 'Reset the password' }).click();
    const reset = await page.getByTestId('invitation-code').innerText();
    await page.getByRole('button', { name: 'Close' }).click();
    const elsewhere = await another(browser);
    await elsewhere.goto(`/join#${reset}`);
    await elsewhere.getByLabel('Your password').fill('harbour kettle moss');
    await elsewhere.getByRole('button', { name: 'Set it' }).click();
    await expect(elsewhere.getByRole('heading', { name: /Wren Holt/ })).toBeVisible();
    // The session that was open before has ended with the old password.
    await wren.goto('/');
    await expect(wren.getByRole('button', { name: 'Sign in' })).toBeVisible();

    // Disabled: at once, in the middle of a session.
    await page.getByRole('button', { name: 'Open Wren' }).click();
    await page.getByRole('button', { name: 'Disable' }).click();
    await expect(page.getByRole('button', { name: 'Let them in again' })).toBeVisible();
    await elsewhere.goto('/');
    await expect(elsewhere.getByRole('button', { name: 'Sign in' })).toBeVisible();
    await enter(elsewhere, `wren${mark}@kiln.example`, 'harbour kettle moss');
    await expect(elsewhere.getByText('do not match')).toBeVisible();
});

test('a shared bench is handed over in two touches, with both outboxes full, and each keeps their own name', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, `Hand over ${Date.now()}`);
    // The server takes no entries for a while: what is typed stays on the bench.
    await page.route('**/api/outbox', (route) => route.abort());
    await type(page, '3.701', '3.702');
    await expect(page.getByText(/only on this bench|not sent/i).first()).toBeVisible();
    await page.getByRole('button', { name: /At the bench: Sunniva/ }).click();
    await page.getByRole('button', { name: /Tobiah Reeve/ }).click();
    await page.keyboard.type(CODE.senior);
    await expect(page.getByRole('button', { name: /At the bench: Tobiah Reeve/ })).toBeVisible();
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByTestId('target')).toContainText('T0');
    await type(page, '3.703');
    await page.unroute('**/api/outbox');
    await expect.poll(async () => (await held(page, job)).map((r) => r.typed).sort(), { timeout: 20_000 }).toEqual(['3.703']);
    await page.getByRole('button', { name: /At the bench: Tobiah/ }).click();
    await page.getByRole('button', { name: /Sunniva Lark/ }).click();
    await page.keyboard.type('111111');
    await expect(page.getByText('This is not the personal code')).toBeVisible();
    await page.keyboard.type(CODE.technician);
    await expect(page.getByRole('button', { name: /At the bench: Sunniva Lark/ })).toBeVisible();
    await expect
        .poll(async () => (await held(page, job)).map((r) => r.typed).sort(), { timeout: 20_000 })
        .toEqual(['3.701', '3.702', '3.703']);
    const body = await (await page.request.get(`/api/jobs/${job}`)).json();
    const by = Object.fromEntries(
        body.measurements.flatMap((m: { readings: { typed: string; by: string }[] }) =>
            m.readings.map((r) => [r.typed, r.by] as [string, string]),
        ),
    );
    expect(by).toEqual({ '3.701': 'Sunniva Lark', '3.702': 'Sunniva Lark', '3.703': 'Tobiah Reeve' });
});

test('a price that the owner changes is in the next look at the plan', async ({ page }) => {
    await signIn(page, OWNER);
    await page.goto('/');
    await page.getByRole('link', { name: /Choose what to do.*Shears 11/s }).click();
    const price = page.getByText(/parts €/).first();
    const before = await price.innerText();
    const plan = new URL(page.url()).pathname;
    await page.goto('/settings#prices');
    const field = page.getByLabel('Price of QL-18, EUR');
    await field.fill('9.90');
    await page.keyboard.press('Enter');
    await expect(page.getByText('QL-18: kept.')).toBeVisible();
    await page.goto(plan);
    await expect(price).not.toHaveText(before);
    await page.goto('/settings#prices');
    await field.fill('3.90');
    await page.keyboard.press('Enter');
    await expect(page.getByText('QL-18: kept.')).toBeVisible();
    await page.goto(plan);
    await expect(price).toHaveText(before);
});

test('a customer is found by any writing of the number, edited by two at once, merged, and forgotten', async ({ page, browser }) => {
    const mark = String(Date.now()).slice(-6);
    await signIn(page, OWNER);
    for (const [name, contact] of [
        [`Ilse Quay ${mark}`, `0555 ${mark.slice(0, 2)} ${mark.slice(2)}`],
        [`I. Quay ${mark}`, `ilse${mark}@quay.example`],
    ] as const) {
        await page.goto('/intake');
        await page.getByLabel('Customer', { exact: true }).fill(name);
        await page.getByLabel('How to reach them').fill(contact);
        await page.getByLabel('Pack model', { exact: true }).selectOption({ label: 'Orchard shears' });
        await page.getByLabel('Name of this pack').fill(`Shears of ${name}`);
        await page.getByRole('button', { name: 'Take it in and probe' }).click();
        await expect(page.getByTestId('target')).toContainText('T0');
    }
    await page.getByRole('link', { name: 'Customers', exact: true }).click();
    await page.getByLabel('Find').fill(`55${mark}`);
    await page.getByRole('link', { name: `Ilse Quay ${mark}` }).click();
    const other = await another(browser);
    await signIn(other, TECHNICIAN);
    await other.goto(new URL(page.url()).pathname);
    await other.getByLabel('Address').fill('Quay 4');
    await page.getByLabel('Address').fill('Quay 5');
    await other.getByRole('button', { name: 'Keep' }).click();
    await expect(other.getByText('Kept.')).toBeVisible();
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    const clash = page.getByRole('alert', { name: 'Changed by somebody else' });
    await expect(clash).toContainText('Quay 4');
    await expect(clash).toContainText('Quay 5');
    await clash.getByRole('button', { name: 'Keep mine' }).click();
    await expect(clash).toBeHidden();
    await expect(page.getByLabel('Address')).toHaveValue('Quay 5');

    await page.getByRole('button', { name: 'Merge a double' }).click();
    await page.getByLabel('Find the other').fill(mark);
    await page.getByRole('button', { name: `Merge I. Quay ${mark}` }).click();
    await expect(page.getByText(`Also written as I. Quay ${mark}.`)).toBeVisible();
    await expect(page.getByLabel('E-mail')).toHaveValue(`ilse${mark}@quay.example`);
    await page.getByRole('button', { name: 'Forget', exact: true }).click();
    await page.getByRole('button', { name: 'Forget this customer' }).click();
    await expect(page.getByRole('heading', { name: /Forgotten customer/ })).toBeVisible();
    await page.goto(`/customers?q=${mark}`);
    await expect(page.getByText('Nobody is found by that.')).toBeVisible();
});

test('what is not undone easily asks for the password again, and goes on where it was', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    await page.getByRole('button', { name: /At the bench/ }).click();
    await page.getByRole('button', { name: /Maren Oake/ }).click();
    await page.keyboard.type('402817');
    await expect(page.getByRole('button', { name: /At the bench: Maren Oake/ })).toBeVisible();
    await page.goto('/people');
    await page.getByLabel('Name').fill('Not yet');
    await page.getByRole('button', { name: 'Make the invitation' }).click();
    await page.getByLabel('Your password').fill(PASSWORD);
    await page.getByRole('button', { name: 'It is me' }).click();
    await expect(page.getByTestId('invitation-code')).toBeVisible();
    await page.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Withdraw' }).first().click();
});
