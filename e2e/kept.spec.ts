import { chromium, expect, test } from '@playwright/test';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { LAUNCH } from '../playwright.config';
import { held, PASSWORD, services, signIn, takeIn, TECHNICIAN, TRAINEE, type } from './bench';

test.describe.configure({ mode: 'serial' });

test('the server dies in the middle of a probe run, the browser is closed and opened again: every reading is there once', async ({
    baseURL,
}) => {
    const profile = mkdtempSync(join(tmpdir(), 'heartwood-'));
    const open = () => chromium.launchPersistentContext(profile, { ...LAUNCH, baseURL, viewport: { width: 1280, height: 800 } });
    try {
        let browser = await open();
        let page = browser.pages()[0]!;
        await signIn(page, TECHNICIAN);
        const job = await takeIn(page, 'Interrupted cart', 'Luggage cart, 12 groups');
        await type(page, '3.801', '7.602', '11.40');
        await expect(page.getByText('✓ kept')).toHaveCount(3);
        services('stop', 'nginx', 'fpm', 'mariadbd');
        await type(page, '15.20', '19.01', '22.81');
        await expect(page.getByTestId('safekeeping')).toContainText('3 only on this bench');
        await expect(page.getByTestId('questions')).toContainText('3 not checked yet');
        await browser.close();
        services('start', 'mariadbd', 'fpm', 'nginx');
        browser = await open();
        page = browser.pages()[0]!;
        await expect(async () => {
            await page.goto(`/jobs/${job}/probe`);
            await expect(page.getByTestId('safekeeping')).toContainText('all kept', { timeout: 4_000 });
        }).toPass({ timeout: 40_000 });
        await expect(page.getByText('✓ kept')).toHaveCount(6);
        expect((await held(page, job)).map((r) => `${r.to} ${r.typed}`).sort()).toEqual([
            'T1 3.801',
            'T2 7.602',
            'T3 11.40',
            'T4 15.20',
            'T5 19.01',
            'T6 22.81',
        ]);
        await expect(page.getByTestId('target')).toContainText('T7');
        await browser.close();
    } finally {
        services('start', 'mariadbd', 'fpm', 'nginx');
        rmSync(profile, { recursive: true, force: true });
    }
});

test('an expired session keeps what is typed and sends it under the name of who took it', async ({ page, context }) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Expired shears');
    await type(page, '3.801');
    await expect(page.getByText('✓ kept')).toHaveCount(1);
    // An answer still on its way would bring the session back.
    await page.waitForLoadState('networkidle');
    await page.waitForTimeout(600);
    await context.clearCookies();
    await type(page, '7.602', '11.40');
    await expect(page.getByTestId('safekeeping')).toContainText('2 only on this bench');
    // Somebody else signs in first: the entries are not theirs and stay.
    await signIn(page, TRAINEE);
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByTestId('safekeeping')).toContainText('all kept');
    expect(await held(page, job)).toHaveLength(1);
    await context.clearCookies();
    await signIn(page, TECHNICIAN);
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByText('✓ kept')).toHaveCount(3);
    const job2 = await (await page.request.get(`/api/jobs/${job}`)).json();
    expect(new Set(job2.measurements[0].readings.map((r: { by: string }) => r.by))).toEqual(new Set(['Sunniva Lark']));
});

test('a sign-in page that has grown old signs in all the same, with what was typed', async ({ page, context }) => {
    await page.goto('/sign-in');
    await page.getByLabel('E-mail').fill(TECHNICIAN);
    await page.getByLabel('Password').fill(PASSWORD);
    // What came with the page is gone; what was typed is not.
    await context.clearCookies();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();
});

test('signing out closes the bench to the next person, and keeps what is not sent yet', async ({ page, context }) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Signed-out shears');
    await type(page, '3.801');
    await expect(page.getByText('✓ kept')).toHaveCount(1);
    await context.setOffline(true);
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByText('You are still signed in')).toBeVisible();
    await page.getByLabel('Volts on the meter').focus();
    await type(page, '7.602');
    await expect(page.getByTestId('safekeeping')).toContainText('1 only on this bench');
    await context.setOffline(false);
    await expect(page.getByTestId('safekeeping')).toContainText('all kept', { timeout: 30_000 });
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
    expect((await page.request.get(`/api/jobs/${job}`)).status()).toBe(401);
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

test('numbers taken while the disk is busy are there after the page was left in that moment', async ({ page, context }) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Left-at-once mower');
    await type(page, '3.801');
    await expect(page.getByText('✓ kept')).toHaveCount(1);
    // Another window holds the disk: nothing that is typed from here on can be written.
    const other = await context.newPage();
    await other.goto('/rings.svg');
    await other.evaluate(
        () =>
            new Promise<void>((held) => {
                const opening = indexedDB.open('heartwood-bench');
                opening.onsuccess = () => {
                    const store = opening.result.transaction(['boxes', 'entries', 'kept'], 'readwrite').objectStore('boxes');
                    const hold = () => {
                        if (!('letGo' in window)) store.count().onsuccess = hold;
                    };
                    store.count().onsuccess = () => {
                        held();
                        hold();
                    };
                };
            }),
    );
    await type(page, '7.602', '11.40', '15.20');
    expect(await page.evaluate(() => Object.keys(localStorage).filter((k) => k.startsWith('heartwood.outbox.')).length)).toBe(3);
    await page.goto('/');
    await other.evaluate(() => void Object.assign(window, { letGo: true }));
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByText('✓ kept')).toHaveCount(4);
    expect((await held(page, job)).map((r) => r.typed)).toEqual(['3.801', '7.602', '11.40', '15.20']);
});

test('two windows of one slow bench, of which one sends for both: no number goes to another tap', async ({ page, context }) => {
    test.setTimeout(90_000);
    await signIn(page, TECHNICIAN);
    const jobs = [await takeIn(page, 'Left cart', 'Luggage cart, 12 groups'), await takeIn(page, 'Right cart', 'Luggage cart, 12 groups')];
    const windows = [page, await context.newPage()];
    for (const [i, w] of windows.entries()) {
        await w.goto(`/jobs/${jobs[i]}/probe`);
        await expect(w.getByTestId('target')).toContainText('T1');
        await (await context.newCDPSession(w)).send('Emulation.setCPUThrottlingRate', { rate: 6 });
    }
    const volts = Array.from({ length: 8 }, (_, k) => (3.8 * (k + 1)).toFixed(2));
    await Promise.all(
        windows.map(async (w) => {
            const field = w.getByLabel('Volts on the meter');
            for (const v of volts) {
                await field.fill(v);
                await field.press('Enter');
                await expect(field).toHaveValue('');
            }
        }),
    );
    for (const [i, w] of windows.entries()) {
        await expect(w.getByText('✓ kept')).toHaveCount(8, { timeout: 30_000 });
        await expect(w.getByTestId('target')).toContainText('T9');
        expect((await held(w, jobs[i]!)).map((r) => `${r.to} ${r.typed}`).sort()).toEqual(volts.map((v, k) => `T${k + 1} ${v}`).sort());
    }
});

test('a half-filled intake survives a reload', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    await page.goto('/intake');
    await page.getByLabel('Customer', { exact: true }).fill('Half typed');
    await page.getByLabel("In the customer's words").fill('It hums.');
    await page.getByRole('button', { name: 'None of these' }).click();
    await page.reload();
    await expect(page.getByLabel('Customer', { exact: true })).toHaveValue('Half typed');
    await expect(page.getByLabel("In the customer's words")).toHaveValue('It hums.');
    await expect(page.getByRole('button', { name: 'None of these' })).toHaveAttribute('aria-pressed', 'true');
    await page.getByRole('button', { name: 'Empty the form' }).click();
    await expect(page.getByLabel('Customer', { exact: true })).toHaveValue('');
});

test('signing in says what is wrong and lets one try again', async ({ page }) => {
    await page.goto('/sign-in');
    await page.getByLabel('E-mail').fill(TECHNICIAN);
    await page.getByLabel('Password').fill('wrong');
    await page.keyboard.press('Enter');
    await expect(page.getByText(/do not match/)).toBeVisible();
    await page.getByLabel('Password').fill(PASSWORD);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();
});

test('a number typed before this bench has its own disk open waits for it, and is kept', async ({ page }) => {
    await signIn(page);
    const job = await takeIn(page, 'Slow disk');
    // The disk of this bench takes its time to open.
    await page.addInitScript(() => {
        const real = EventTarget.prototype.addEventListener;
        IDBOpenDBRequest.prototype.addEventListener = function (this: IDBOpenDBRequest, kind: string, listener: EventListener) {
            real.call(this, kind, kind === 'success' ? (e) => void setTimeout(() => listener.call(this, e), 1_500) : listener);
        };
    });
    await page.goto(`/jobs/${job}/probe`);
    await expect(page.getByTestId('target')).toContainText('T0');
    await type(page, '3.811', '3.812');
    await expect(page.getByTestId('target')).toContainText('T3');
    await expect(page.getByTestId('safekeeping')).not.toContainText('all kept');
    await expect.poll(async () => (await held(page, job)).map((r) => r.typed)).toEqual(['3.811', '3.812']);
    await expect(page.getByTestId('safekeeping')).toContainText('all kept');
});
