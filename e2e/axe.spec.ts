import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { OWNER, signIn } from './bench';

const ALL_SIZES = [
    [390, 844],
    [1024, 1366],
    [1280, 800],
] as const;
// `bench/axe` looks at every screen at every size; here each is looked at in one of two, and the next at the other.
const EVERY = process.env['EVERY_SIZE'] !== undefined;
const sizesOf = (screen: number) => (EVERY ? ALL_SIZES : [ALL_SIZES[screen % 2 === 0 ? 0 : 2]]);

async function axe(page: Page, where: string) {
    const { violations } = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
        .analyze();
    return violations.map((v) => `${where}: ${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
}

/** Walks the screen by Tab alone: what a hand can touch and the key does not reach, and whether the key is ever caught. */
async function keys(page: Page, where: string) {
    const wanted = await page.evaluate(() => {
        const radios = new Set<string>();
        const seen = (el: HTMLElement) =>
            el.checkVisibility({ visibilityProperty: true }) &&
            el.getClientRects().length > 0 &&
            el.closest('[inert], [aria-hidden=true]') === null &&
            // A group of radio buttons is one stop.
            !(el instanceof HTMLInputElement && el.type === 'radio' && (radios.has(el.name) || !radios.add(el.name)));
        const of =
            'a[href], button:not(:disabled), input:not(:disabled):not([type=hidden]), select:not(:disabled), ' +
            'textarea:not(:disabled), summary, [tabindex]';
        const all = [...document.querySelectorAll<HTMLElement>(of)].filter((el) => el.tabIndex >= 0 && seen(el));
        const walked = new Set<string>();
        const name = (el: Element) =>
            el instanceof HTMLInputElement && el.type === 'radio'
                ? `radio ${el.name}`
                : `${el.tagName} ${el.getAttribute('aria-label') ?? (el.textContent || el.id)}`.trim().slice(0, 60);
        Object.assign(window, { walked });
        document.addEventListener('focusin', (e) => walked.add(name(e.target as Element)));
        (document.activeElement as HTMLElement | null)?.blur();
        getSelection()?.removeAllRanges();
        return all.map(name);
    });
    // Once round, and a little more: the browser's own stop before the first, and a date has a stop for each of its parts.
    const parts = 7 * (await page.locator('input[type^=date]:visible').count());
    for (let i = 0; i < wanted.length + 4 + parts; i++) await page.keyboard.press('Tab');
    const walked = await page.evaluate(() => [...(window as unknown as { walked: Set<string> }).walked]);
    return [...new Set(wanted)].filter((w) => !walked.includes(w)).map((w) => `${where}: the Tab key does not reach ${w}`);
}

/** A screen at the three sizes: axe, nothing wider than the window, everything reached by the key. */
async function everywhere(page: Page, where: string, sizes: readonly (readonly [number, number])[]) {
    const found: string[] = [];
    for (const [width, height] of sizes) {
        await page.setViewportSize({ width, height });
        const here = `${where} at ${width}`;
        const wide = await page.evaluate(() => document.documentElement.scrollWidth);
        if (wide > width) found.push(`${here}: ${wide} px wide`);
        found.push(...(await axe(page, here)));
        // What the key reaches hangs on the size where things fold away: the narrow one, and in the drill all three.
        if (width === 390 || EVERY) found.push(...(await keys(page, here)));
    }
    return found;
}

const JOB_SCREENS: [string, string][] = [
    ['Luggage cart 3', 'probe'],
    ['Delivery trike', 'verdict'],
    ['Shears 11', 'plan'],
    ['Deck scooter 5', 'work'],
    ['Harbour chair', 'proof'],
    ['Shears 08', 'report'],
    ['Laptop 09', 'intake'],
    ['Laptop 09', 'verdict'],
    ['Night block', 'verdict'],
    ['Deck scooter 5', 'supply'],
    ['Deck scooter 5', 'teardown'],
    ['Deck scooter 5', 'supply?do=balance'],
    ['Deck scooter 5', 'supply?do=charge'],
    ['Deck scooter 5', 'supply?do=wake'],
    ['Delivery trike', 'build'],
    ['Delivery trike', 'build?do=budget'],
    ['Delivery trike', 'build?do=sheet'],
    ['Delivery trike', 'build?do=pins'],
    ['Delivery trike', 'build?do=checks'],
    ['Post bike 4', 'probe?hands=free'],
    ['Post bike 1', 'guided'],
];
// Screens of a kind that another of the list stands for: the drill looks at these too.
const IN_THE_DRILL = [
    ...['do=charge', 'do=wake', 'do=balance', 'do=sheet', 'do=pins', 'do=checks'],
    ...['/import', '/nowhere', '/customers', '/batches', '/me', '/people', '/instruments', '/report', '/settings', '/cells'],
];
const ROOMS = [
    '/intake',
    '/import',
    '/cells',
    '/instruments',
    '/customers',
    '/customers/1',
    '/customers/1/fleet',
    '/customers/1/wall',
    '/batches',
    '/batches/new',
    '/batches/1',
    '/packs',
    '/packs/1',
    '/packs?glance=1',
    '/messages',
    '/settings',
    '/people',
    '/me',
    '/training',
    '/training/paper',
    '/nowhere',
];

async function open(page: Page, to: string) {
    await page.goto(to);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    if (to.includes('hands')) await page.waitForTimeout(1_500);
    // What is still on its way says so.
    await expect(page.getByRole('status').filter({ hasText: '...' })).toHaveCount(0);
}

test('axe finds nothing on any screen at any size, and the Tab key reaches all of it', async ({ page, context }) => {
    test.setTimeout(240_000);
    const found: string[] = [];
    await open(page, '/sign-in');
    found.push(...(await everywhere(page, 'sign-in', sizesOf(0))));
    // What looks would see it: a picture without words, a key that is caught.
    await page.evaluate(() => {
        document.querySelector('main')!.append(document.createElement('img'));
        addEventListener('keydown', (e) => e.key === 'Tab' && e.preventDefault());
    });
    expect((await everywhere(page, 'broken', sizesOf(0))).join('\n')).toMatch(/image-alt[\s\S]*does not reach BUTTON Sign in/);
    await signIn(page, OWNER);
    const { jobs } = await (await page.request.get('/api/bench')).json();
    // A round of the trainer, begun and not answered.
    await open(page, '/training');
    await page.getByRole('button', { name: /^Begin/ }).click();
    await page.waitForURL(/training\/[0-9a-f-]{36}\/intake/);
    const round = page.url().replace(/.*(\/training\/[0-9a-f-]{36}).*/, '$1');
    const id = (name: string) => jobs.find((j: { name: string }) => j.name === name).id as number;
    const all = [
        ['bench', '/'],
        ...JOB_SCREENS.map(([name, stage]): [string, string] => [`${name} ${stage}`, `/jobs/${id(name)}/${stage}`]),
        ...ROOMS.map((r): [string, string] => [r, r]),
        ...['intake', 'probe', 'verdict', 'plan'].map((r): [string, string] => [`training ${r}`, `${round}/${r}`]),
    ]
        .filter(([, to]) => EVERY || !IN_THE_DRILL.some((of) => to!.endsWith(of)))
        .map(([where, to], k) => ({ where: where!, to: to!, sizes: sizesOf(k) }));
    // Two pages at once: one waits for the server while the other is looked at.
    const walk = async (on: Page) => {
        for (let next = all.shift(); next; next = all.shift()) {
            await open(on, next.to);
            found.push(...(await everywhere(on, next.where, next.sizes)));
        }
    };
    await Promise.all([walk(page), walk(await context.newPage())]);
    // Answered, carried out, and told.
    await open(page, `${round}/verdict`);
    await page.getByLabel('Nothing is wrong with it').check();
    await page.getByRole('link', { name: 'Choose what to do' }).click();
    await page.getByRole('radio', { name: 'Leave it as it is' }).check();
    await page.getByRole('button', { name: 'That is my answer: to work' }).click();
    await page.waitForURL(/carry-out/);
    found.push(...(await everywhere(page, 'training work', sizesOf(0))));
    await page.getByRole('button', { name: 'It does not', exact: true }).click();
    await page.waitForURL(/debrief/);
    found.push(...(await everywhere(page, 'training debrief', sizesOf(1))));
    expect(found).toEqual([]);
});

test('axe finds nothing in the dim light, nor in what opens over a screen', async ({ page }) => {
    test.setTimeout(120_000);
    await signIn(page);
    const found: string[] = [];
    const { jobs } = await (await page.request.get('/api/bench')).json();
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog')).toBeVisible();
    found.push(...(await axe(page, 'keys')));
    await page.keyboard.press('Escape');
    await page.keyboard.press('/');
    await expect(page.getByRole('dialog')).toBeVisible();
    found.push(...(await axe(page, 'palette')));
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Dim' }).click();
    found.push(...(await axe(page, 'dim bench')));
    // The dim light changes colours alone: one screen of each kind shows them all.
    for (const [name, stage] of JOB_SCREENS.filter((_, k) => k % (EVERY ? 3 : 18) === 1)) {
        await open(page, `/jobs/${jobs.find((j: { name: string }) => j.name === name).id}/${stage}`);
        found.push(...(await axe(page, `dim ${name} ${stage}`)));
    }
    await open(page, '/cells');
    found.push(...(await axe(page, 'dim cells')));
    expect(found).toEqual([]);
});
