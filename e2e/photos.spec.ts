import { devices, expect, type Page, test } from '@playwright/test';
import { signIn, takeIn, TECHNICIAN } from './bench';

/** A photo as a camera makes it: so many dots, and hard to fold. */
async function photo(page: Page, width: number, height: number): Promise<Buffer> {
    const text = await page.evaluate(
        async ([w, h]) => {
            const canvas = document.createElement('canvas');
            [canvas.width, canvas.height] = [w!, h!];
            const draw = canvas.getContext('2d')!;
            for (let k = 0; k < 4000; k++) {
                draw.fillStyle = `hsl(${(k * 47) % 360} 60% ${30 + (k % 50)}%)`;
                draw.fillRect((k * 7919) % w!, (k * 104729) % h!, 60 + (k % 90), 40 + (k % 70));
            }
            const blob = await new Promise<Blob>((done) => canvas.toBlob((b) => done(b!), 'image/jpeg', 0.97));
            const bytes = new Uint8Array(await blob.arrayBuffer());
            let out = '';
            for (let i = 0; i < bytes.length; i += 32768) out += String.fromCharCode(...bytes.subarray(i, i + 32768));
            return btoa(out);
        },
        [width, height],
    );
    return Buffer.from(text, 'base64');
}

const jpeg = (name: string, buffer: Buffer) => ({ name, mimeType: 'image/jpeg', buffer });

test('photos from the first touch: kept before the job is there, marked, beside the label fields, refused with a word', async ({
    page,
}) => {
    await signIn(page, TECHNICIAN);
    await page.goto('/intake');
    const one = await photo(page, 900, 600);
    await page.getByLabel('Add photos').setInputFiles([jpeg('front.jpg', one)]);
    await expect(page.getByRole('list', { name: 'Photos on their way' })).toContainText('front.jpg');
    await page.getByLabel('Customer', { exact: true }).fill('Journey customer');
    await page.getByLabel('Pack model', { exact: true }).selectOption({ label: 'Orchard shears' });
    await page.getByLabel('Name of this pack').fill('Photographed shears');
    await page.getByRole('button', { name: 'Take it in and probe' }).click();
    await page.waitForURL(/probe/);
    const job = page.url().match(/jobs\/(\d+)/)![1];
    await page.goto(`/jobs/${job}/intake`);
    const photos = page.getByRole('region', { name: 'Photos' });
    await expect(photos.getByRole('heading', { name: '1 photo' })).toBeVisible();
    await photos
        .getByLabel('Add photos')
        .setInputFiles([
            jpeg('label.jpg', await photo(page, 600, 400)),
            { name: 'page.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>') },
        ]);
    await expect(photos.getByRole('heading', { name: '2 photos' })).toBeVisible();
    await expect(photos.getByRole('alert')).toContainText('JPEG, PNG and WebP are taken');
    await photos.getByRole('button', { name: 'Leave it out' }).click();
    await photos
        .getByRole('button', { name: /Photo of/ })
        .last()
        .click();
    const sheet = page.getByRole('dialog');
    await sheet.locator('img').click({ position: { x: 60, y: 40 } });
    await sheet.getByLabel('Mark 1', { exact: true }).fill('hidden screw');
    await sheet.getByRole('button', { name: /Mark 1: hidden screw/ }).press('ArrowRight');
    await sheet.getByLabel('It shows').selectOption({ label: 'the label' });
    await sheet.getByLabel('on the report').check();
    await sheet.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByRole('img', { name: 'The label of the pack, as it was taken' })).toBeVisible();
    await page.goto(`/jobs/${job}/report`);
    await expect(page.getByText('hidden screw')).toBeVisible();
});

test('a phone is the camera of one job: no account, its network dropped in the middle, nothing lost and nothing twice', async ({
    page,
    browser,
}) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Phoned shears');
    await page.goto(`/jobs/${job}/intake`);
    await page.getByRole('button', { name: 'With a phone' }).click();
    const link = await page.getByTestId('phone-link').getAttribute('href');
    const phone = await browser.newContext({ ...devices['Pixel 5'], viewport: { width: 390, height: 844 } });
    const camera = await phone.newPage();
    await camera.goto(link!);
    await expect(camera.getByRole('heading', { name: 'Phoned shears' })).toBeVisible();
    await camera.getByRole('button', { name: 'a side' }).click();
    const files = [];
    for (let k = 0; k < 4; k++) files.push(jpeg(`side ${k}.jpg`, await photo(camera, 400 + k, 300)));
    await camera.getByLabel('Take a photo').setInputFiles(files.slice(0, 2));
    await expect(camera.getByText('2 photos there')).toBeVisible();
    await phone.setOffline(true);
    await camera.getByLabel('Take a photo').setInputFiles(files.slice(2));
    await expect(camera.getByText('2 photos kept on this phone and on the way')).toBeVisible();
    await expect(camera.getByText(/No network: kept here/)).toBeVisible();
    await phone.setOffline(false);
    await expect(camera.getByText('4 photos there')).toBeVisible({ timeout: 15_000 });
    await expect(camera.getByText('Nothing waits here')).toBeVisible();
    expect(await camera.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    // At the bench they come by themselves; then the link is ended, and the phone is told.
    await page.getByRole('button', { name: 'End all links of this job' }).click();
    await expect(page.getByRole('region', { name: 'Photos' }).getByRole('button', { name: /a side/ })).toHaveCount(4);
    await camera.reload();
    await expect(camera.getByRole('alert')).toContainText('not good any more');
    // With a link nothing else is open.
    await camera.goto(`/jobs/${job}/intake`);
    await expect(camera.getByRole('button', { name: 'Sign in' })).toBeVisible();
    await phone.close();
});

test('a photo of twelve million dots over a slow network: how far it is, the screen usable, a reload survived', async ({
    page,
    context,
}) => {
    await signIn(page, TECHNICIAN);
    const job = await takeIn(page, 'Slowly photographed');
    await page.goto(`/jobs/${job}/intake`);
    const large = await photo(page, 4000, 3000);
    expect(large.length).toBeGreaterThan(1_500_000);
    const wire = await context.newCDPSession(page);
    const slow = (bytes: number) =>
        wire.send('Network.emulateNetworkConditions', { offline: false, latency: 50, downloadThroughput: -1, uploadThroughput: bytes });
    await wire.send('Network.enable');
    await slow(250_000);
    await page.getByLabel('Add photos').setInputFiles([jpeg('large.jpg', large)]);
    const way = page.getByRole('list', { name: 'Photos on their way' });
    await expect(way.getByRole('progressbar')).toBeVisible();
    await expect(way).toContainText(/[1-9]\d? %/);
    // Meanwhile the form takes what is typed.
    await page.getByLabel('Serial or mark').fill('while it goes');
    await expect(page.getByLabel('Serial or mark')).toHaveValue('while it goes');
    await page.reload();
    await expect(way).toContainText('large.jpg');
    await slow(-1);
    await expect(page.getByRole('region', { name: 'Photos' }).getByRole('heading', { name: '1 photo' })).toBeVisible({ timeout: 30_000 });
    await expect(way).toHaveCount(0);
});
