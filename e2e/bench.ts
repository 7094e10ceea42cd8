import { expect, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import net from 'node:net';

export const PASSWORD = 'growth-rings';
export const OWNER = 'maren@gannetquay.example';
export const SENIOR = 'tobiah@gannetquay.example';
export const TECHNICIAN = 'sunniva@gannetquay.example';
export const TRAINEE = 'piet@gannetquay.example';

export async function signIn(page: Page, email = SENIOR) {
    await page.goto('/sign-in');
    await page.getByLabel('E-mail').fill(email);
    await page.getByLabel('Password').fill(PASSWORD);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible();
}

/** Stops or starts the services of the server under test, as an operator would see them die and come back. */
export function services(verb: 'stop' | 'start', ...names: string[]) {
    execFileSync('bash', ['-c', `. bin/lib.sh && ctl ${verb} ${names.join(' ')}`], {
        env: { ...process.env, HEARTWOOD_INSTANCE: 'test' },
        stdio: 'pipe',
    });
}

/** Lets days go by for one row of the server under test: what was due then is due now. */
export function daysLater(days: number, table: string, column: string, of: number, key = 'job_id') {
    execFileSync(
        'bash',
        [
            '-c',
            `. bin/lib.sh && sockets_folder && db_root "$(setting DB_DATABASE)" -e ` +
                `"UPDATE ${table} SET ${column} = ${column} - INTERVAL ${days} DAY WHERE ${key} = ${of}"`,
        ],
        { env: { ...process.env, HEARTWOOD_INSTANCE: 'test' }, stdio: 'pipe' },
    );
}

/** Takes a fresh pack of a known model in, and stands at its probe screen. */
export async function takeIn(page: Page, name: string, model = 'Orchard shears'): Promise<number> {
    await page.goto('/intake');
    await page.getByLabel('Customer', { exact: true }).fill('Journey customer');
    await page.getByLabel('Pack model', { exact: true }).selectOption({ label: model });
    await page.getByLabel('Name of this pack').fill(name);
    await page.getByRole('button', { name: 'None of these' }).click();
    await page.getByRole('button', { name: 'not of metal' }).click();
    await page.getByRole('button', { name: 'Take it in and probe' }).click();
    await expect(page.getByTestId('target')).toContainText('T0');
    await lookAgain(page);
    return Number(page.url().match(/jobs\/(\d+)/)![1]);
}

/** The case is open: nothing of it inside either. */
export async function lookAgain(page: Page) {
    const strip = page.getByRole('region', { name: 'Look at it' });
    await strip.getByRole('button', { name: 'None of these' }).click();
    await expect(strip).toHaveCount(0);
}

export async function type(page: Page, ...numbers: string[]) {
    for (const n of numbers) {
        await page.keyboard.type(n);
        await page.keyboard.press('Enter');
    }
}

/** From the bench to a job by its name, as a person would among many. */
export async function openJob(page: Page, name: string): Promise<number> {
    await page.getByRole('searchbox', { name: 'Show' }).fill(name);
    await page
        .getByRole('link', { name: new RegExp(name) })
        .first()
        .click();
    await page.waitForURL(/jobs\/\d+/);
    await expect(page.getByRole('heading', { name: new RegExp(name) }).first()).toBeVisible();
    return Number(page.url().match(/jobs\/(\d+)/)![1]);
}

/** What the server holds of a job, read through the API of the signed-in page. */
export async function held(page: Page, job: number): Promise<{ to: string; typed: string }[]> {
    const body = await (await page.request.get(`/api/jobs/${job}`)).json();
    return body.measurements.flatMap((m: { readings: { to: string; typed: string }[] }) =>
        m.readings.map((r) => ({ to: r.to, typed: r.typed })),
    );
}

/** Pastes a column of numbers into the probe field, as copied from a sheet. */
export async function paste(page: Page, numbers: string[]) {
    await page.getByLabel('Volts on the meter').evaluate((field, text) => {
        const data = new DataTransfer();
        data.setData('text', text);
        field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, numbers.join('\n'));
}

export interface SimulatedBench {
    groups: number[];
    output_on: boolean;
    now: number;
    outputs: { at: number; on: boolean; why: string }[];
}

/** Tells the simulated hand something, past the server. */
export function hand(message: Record<string, unknown>): Promise<SimulatedBench> {
    return new Promise((done, failed) => {
        let text = '';
        const s = net.connect(Number(process.env['BENCH_PORT']) + 4, '127.0.0.1', () => s.write(JSON.stringify(message) + '\n'));
        s.setTimeout(5_000, () => s.destroy(new Error('the hand does not answer')));
        s.on('error', failed);
        s.on('data', (d) => {
            text += String(d);
            if (text.endsWith('\n')) {
                s.destroy();
                done(JSON.parse(text) as SimulatedBench);
            }
        });
    });
}
