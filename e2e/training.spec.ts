import { expect, type Page, test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { OWNER, SENIOR, signIn, TECHNICIAN, TRAINEE } from './bench';

test.describe.configure({ mode: 'serial' });

interface Truth {
    series: number;
    truth: { code: string; where: Record<string, number> | null; title: string; place: string }[];
    option: string;
}

/** Asks the server under test past every screen. */
function asked<T>(what: string): T {
    const php = `
        require 'vendor/autoload.php';
        $app = require 'bootstrap/app.php';
        $app->make(Illuminate\\Contracts\\Console\\Kernel::class)->bootstrap();
        echo json_encode((function () { ${what} })());`;
    const out = execFileSync('bash', ['-c', `. bin/lib.sh && as_app env APP_CONFIG_CACHE=/nonexistent php -r "$CODE"`], {
        env: { ...process.env, HEARTWOOD_INSTANCE: 'test', CODE: php },
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'inherit'],
    });
    return JSON.parse(out) as T;
}

/** What only the server knows of a round: by this a journey knows what to say. */
const known = (round: string): Truth =>
    asked(`
        $r = App\\Models\\TrainingRound::query()->findOrFail('${round}');
        $p = $r->start()->round()->patient;
        $tool = new Heartwood\\Core\\Trainer\\Tool($r->start()->round());
        return ['series' => $p->spec->series, 'option' => ($tool->play()->options[0] ?? null)?->action->value ?? 'none',
            'truth' => array_map(fn($t) => $t + ['title' => Heartwood\\Core\\Fault\\Faults::of($t['code'])->words()->anywhere(),
                'place' => Heartwood\\Core\\Fault\\Faults::of($t['code'])->placeKind()], $p->truth)];`);

const bench = async (page: Page) => ((await (await page.request.get('/api/bench')).json()) as { jobs: unknown[] }).jobs.length;

/** The word and the frame stand on the page, and in the window's title. */
async function marked(page: Page) {
    await expect(page.getByRole('note').filter({ hasText: 'TRAINING' })).toBeVisible();
    expect(await page.title()).toMatch(/^Training · /);
}

async function begin(page: Page, level = 1): Promise<string> {
    await page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name: 'Training' }).click();
    await marked(page);
    await page.getByRole('radio', { name: new RegExp(`^${level} `) }).check();
    await page.getByRole('button', { name: /^Begin/ }).click();
    await page.waitForURL(/training\/[0-9a-f-]{36}\/intake/);
    await marked(page);
    return page.url().match(/training\/([0-9a-f-]{36})/)![1]!;
}

const stage = (page: Page, name: string) =>
    page.getByRole('navigation', { name: 'Stages of the round' }).getByRole('link', { name, exact: true }).click();

test('a round is lost by an unsafe act: the rule is named, and the real bench knows nothing of it', async ({ page }) => {
    await signIn(page, TRAINEE);
    const jobs = await bench(page);
    const round = await begin(page);
    await expect(page.getByText('Nobody has looked at it yet.')).toBeVisible();
    await stage(page, 'Probe');
    await marked(page);
    // What it is stands nowhere: not in the page, not in what the server sent.
    const truth = known(round).truth.map((t) => t.code);
    const sent = await (await page.request.get(`/api/training/rounds/${round}`)).text();
    for (const code of truth) {
        expect(sent).not.toContain(code);
        expect(await page.content()).not.toContain(code);
    }
    await page.getByLabel('Another test, or something done').selectOption('load');
    await page.getByLabel('Amps out of it').fill('5');
    await page.getByLabel('For seconds').fill('60');
    await page.getByRole('button', { name: 'Do it' }).click();
    await expect(page.getByRole('heading', { name: /Ended by an unsafe act/ })).toBeVisible();
    await expect(page.getByText('Triage: current flowed before anybody had looked at the pack.').first()).toBeVisible();
    await marked(page);
    await expect(page.getByRole('button', { name: 'Give up' })).toHaveCount(0);
    expect(await bench(page)).toBe(jobs);
});

test('a round is won: looked at, read by keys, said with a sureness, chosen, and walked through', async ({ page }) => {
    await signIn(page, TRAINEE);
    const round = await begin(page);
    const { series, truth, option } = known(round);
    await page.getByRole('button', { name: 'Look at it' }).click();
    await expect(page.getByRole('link', { name: 'To the probes' })).toBeVisible();
    await expect(page.getByText('Nobody has looked at it yet.')).toHaveCount(0);
    await stage(page, 'Probe');
    // Every group by Enter alone; what the meter shows is written down by itself.
    await expect(page.getByRole('button', { name: /^Probes on/ })).toBeFocused();
    for (let k = 1; k <= series; k++) {
        await expect(page.getByTestId('target')).toContainText(`T${k - 1}`);
        await page.keyboard.press('Enter');
        await expect(page.getByRole('button', { name: `T${k - 1} to T${k}`, exact: true })).toBeVisible();
    }
    await page.getByRole('button', { name: 'Output P- to P+' }).click();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'P- to P+', exact: true })).toBeVisible();
    // Waiting is skipped; the clock has it.
    await page.getByRole('button', { name: 'Let time pass' }).click();
    await page.getByRole('button', { name: 'an hour' }).click();
    await expect(page.getByTestId('clock')).toContainText(/^01:/);
    await stage(page, 'Verdict');
    const meant = truth.filter((t) => t.code !== 'bms.protecting');
    if (meant.length === 0) await page.getByLabel('Nothing is wrong with it').check();
    for (const [i, t] of meant.entries()) {
        if (i > 0) await page.getByRole('button', { name: 'And something else' }).click();
        await page.getByLabel(`Finding ${i + 1}`, { exact: true }).selectOption({ label: t.title });
        if (t.where)
            await page.getByLabel(t.place === 'group' ? 'Group' : 'Joint at tap', { exact: true }).fill(String(Object.values(t.where)[0]));
        await page.getByRole('slider').nth(i).fill('90');
    }
    // What was said so far outlives a reload, and so does what was read.
    await page.reload();
    await marked(page);
    if (meant.length > 0) await expect(page.getByRole('slider').first()).toHaveValue('90');
    else await expect(page.getByLabel('Nothing is wrong with it')).toBeChecked();
    await expect(page.getByRole('region', { name: 'What was measured' }).getByRole('row')).toHaveCount(series + 2);
    await stage(page, 'Plan');
    await page.getByRole('button', { name: 'That is my answer' }).click();
    await expect(page.getByRole('alert')).toContainText('Choose what is to be done.');
    const choices = (await (await page.request.get('/api/training/choices')).json()) as { action: string; title: string }[];
    await page.getByRole('radio', { name: new RegExp(`^${choices.find((c) => c.action === option)!.title}`) }).check();
    const where = page.getByLabel(/^(Which groups|Joints at)/);
    if (await where.isVisible()) await where.fill(String(Object.values(meant[0]?.where ?? { group: 1 })[0]));
    await page.getByRole('button', { name: /That is my answer/ }).click();
    // What was chosen may be carried out; here it is left on the bench.
    const leave = page.getByRole('button', { name: 'Leave it, and show me' });
    const won = page.getByRole('heading', { name: /Right, and at its place/ });
    await expect(leave.or(won)).toBeVisible();
    if (await leave.isVisible()) await leave.click();
    await expect(won).toBeVisible();
    await marked(page);
    await expect(page.getByRole('region', { name: 'The evidence in its order' }).getByRole('listitem').first()).toContainText(
        /It was: |Nothing was wrong/,
    );
    await expect(page.getByText(/\.\/heartwood train plays the same pack again/)).toBeVisible();
    await page.getByRole('link', { name: 'How I get on' }).click();
    await expect(page.getByRole('region', { name: 'Rounds played' }).getByRole('link').first()).toContainText('Right, and at its place');
    await expect(page.getByRole('region', { name: 'What comes back' })).toBeVisible();
});

/** The pack of a round that has just begun is another, which has this and nothing else. */
const given = (round: string, code: string): number =>
    asked<{ k: number }>(`
        for ($seed = 1; ; $seed++) {
            $truth = Heartwood\\Core\\Trainer\\Rounds::of(1, $seed)->patient->truth;
            if (($truth[0]['code'] ?? '') === '${code}') { break; }
        }
        App\\Models\\TrainingRound::query()->whereKey('${round}')->update(['seed' => $seed]);
        return ['k' => $truth[0]['where']['group']];`).k;

/** Looked at, every group read by Enter, told as one group's fault, and the choice made. */
async function answered(page: Page, fault: string, k: number, choice: RegExp) {
    await page.getByRole('button', { name: 'Look at it' }).click();
    await expect(page.getByText('Nobody has looked at it yet.')).toHaveCount(0);
    await stage(page, 'Probe');
    await expect(page.getByRole('button', { name: /^Probes on/ })).toBeFocused();
    const { series } = known(page.url().match(/training\/([0-9a-f-]{36})/)![1]!);
    for (let n = 1; n <= series; n++) {
        await page.keyboard.press('Enter');
        await expect(page.getByRole('button', { name: `T${n - 1} to T${n}`, exact: true })).toBeVisible();
    }
    await stage(page, 'Verdict');
    await page.getByLabel('Finding 1', { exact: true }).selectOption({ label: fault });
    await page.getByLabel('Group', { exact: true }).fill(String(k));
    await stage(page, 'Plan');
    await page.getByRole('radio', { name: choice }).check();
    await page.getByLabel(/^Which groups/).fill(String(k));
    await page.getByRole('button', { name: 'That is my answer: to work' }).click();
    await page.waitForURL(/carry-out/);
    await marked(page);
}

test('a choice is carried out at the supply: zero current, polarity, the run with its curve, and the pack handed back', async ({
    page,
}) => {
    await signIn(page, TECHNICIAN);
    const round = await begin(page);
    const k = given(round, 'group.undercharged');
    await page.reload();
    await answered(page, 'Group holds less charge than its neighbours', k, /^Top the group up/);
    // The answer is given: nobody goes back to it, and what it was is still nowhere.
    await expect(page.getByRole('navigation', { name: 'Stages of the round' }).getByRole('link', { name: 'Plan' })).toHaveCount(0);
    expect(await (await page.request.get(`/api/training/rounds/${round}`)).text()).not.toContain('debrief');
    await page.getByRole('button', { name: /prove zero current$/ }).click();
    await expect(page.getByText('Nothing is connected')).toBeVisible();
    await page.getByRole('link', { name: 'Read and test' }).click();
    await page
        .getByRole('img', { name: /^Core sample/ })
        .or(page.getByRole('region', { name: 'Core sample' }))
        .first()
        .waitFor();
    for (let n = 1; n <= k; n++) {
        await page.keyboard.press('Enter');
        await expect(page.getByRole('button', { name: `T${n - 1} to T${n}`, exact: true })).toBeVisible();
    }
    await stage(page, 'Work');
    await page.getByRole('button', { name: 'Start the run' }).click();
    const came = page.getByRole('status', { name: 'What came of it' });
    await expect(came).toContainText(`Supply on group ${k}`);
    await expect(came).toContainText('Ended, at its target');
    await expect(came.getByRole('img', { name: /^Volts against time/ })).toBeVisible();
    // A reload loses nothing of the work.
    await page.reload();
    await expect(page.getByRole('region', { name: 'Done so far' }).getByRole('listitem')).toHaveCount(2);
    await expect(page.getByRole('region', { name: 'Does it go back' })).toContainText('6 of 6 not passed');
    await page.getByRole('button', { name: 'It goes back', exact: true }).click();
    const ran = page.getByRole('region', { name: 'How you carried it out' });
    await expect(ran).toContainText('Of what was wrong with it nothing is left.');
    await expect(ran).toContainText('It went back, and not everything was proved:');
    await marked(page);
});

test('a part goes in by hand and not before zero current is proved', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    const k = given(await begin(page), 'group.dead');
    await page.reload();
    await answered(page, 'Group is dead', k, /^Replace the group/);
    const hands = page.getByRole('form', { name: 'By hand' });
    await expect(hands.getByLabel('What is done')).toHaveValue('replace-group');
    await expect(hands.getByLabel('Which groups')).toHaveValue(String(k));
    await hands.getByRole('button', { name: 'Do it by hand' }).click();
    await expect(hands.getByRole('alert')).toContainText('Say at what voltage the new cells stand.');
    await hands.getByLabel('The new cells were brought to, V').fill('3.75');
    await hands.getByRole('button', { name: 'Do it by hand' }).click();
    await expect(page.getByRole('heading', { name: /Ended by an unsafe act/ })).toBeVisible();
    await expect(page.getByText('Nothing is loosened or joined before').first()).toBeVisible();
});

test('a dead group is replaced, the pack proved, and it goes back with nothing left wrong', async ({ page }) => {
    test.slow();
    await signIn(page, TECHNICIAN);
    const round = await begin(page);
    const k = given(round, 'group.dead');
    await page.reload();
    const { series } = known(round);
    await answered(page, 'Group is dead', k, /^Replace the group/);
    const readAll = async () => {
        if (!page.url().endsWith('/probe')) await stage(page, 'Probe');
        await expect(page.getByRole('button', { name: /^Probes on/ })).toBeFocused();
        for (let n = 1; n <= series; n++) {
            await page.keyboard.press('Enter');
            await expect(page.getByRole('button', { name: `T${n - 1} to T${n}`, exact: true })).toBeVisible();
        }
    };
    const came = page.getByRole('status', { name: 'What came of it' });
    const test_ = async (kind: string, ...fields: [string, string][]) => {
        await page.getByLabel('Another test, or something done').selectOption(kind);
        if (kind !== 'plug') {
            for (const [label, value] of fields) await page.getByLabel(label).fill(value);
            await page.getByRole('button', { name: 'Do it' }).click();
        }
    };
    const wait = async (how: string) => {
        await page.getByRole('button', { name: 'Let time pass' }).click();
        await page.getByRole('button', { name: how }).click();
        await expect(came).toContainText('Waited');
    };
    // What the others stand at is what the new cells are brought to.
    const others = (await page.request.get(`/api/training/rounds/${round}`).then((r) => r.json())) as {
        check: { groups: { v: number | null }[] };
    };
    const volts = others.check.groups.map((g) => g.v ?? 0).filter((v) => v > 2);
    const middle = volts.sort((a, b) => a - b)[Math.floor(volts.length / 2)]!;
    await page.getByRole('button', { name: /prove zero current$/ }).click();
    await expect(page.getByText('Nothing is connected')).toBeVisible();
    const hands = page.getByRole('form', { name: 'By hand' });
    await hands.getByLabel('The new cells were brought to, V').fill(middle.toFixed(3));
    await hands.getByRole('button', { name: 'Do it by hand' }).click();
    await expect(came).toContainText('the sense plug is out');
    await readAll();
    await test_('pin-check');
    await expect(came).toContainText('pins against the first');
    await test_('plug');
    await expect(came).toContainText('Sense plug put in');
    await test_('charge');
    await expect(came).toContainText('stopped by charger');
    await stage(page, 'Work');
    await page.getByRole('button', { name: 'Leave it on' }).click();
    await expect(came).toContainText('Left on its charger');
    await wait('over night');
    await readAll();
    await wait('a week');
    await readAll();
    await test_('load', ['Amps out of it', '5'], ['For seconds', '60']);
    await expect(came).toContainText('groups from B-');
    await page.getByLabel('Another test, or something done').selectOption('capacity');
    await page.getByRole('button', { name: 'Do it' }).click();
    await expect(came).toContainText('holds Ah');
    await stage(page, 'Work');
    await expect(page.getByRole('region', { name: 'Does it go back' })).toContainText('Everything that can be proved here is proved.');
    await page.getByRole('button', { name: 'It goes back', exact: true }).click();
    const ran = page.getByRole('region', { name: 'How you carried it out' });
    await expect(ran).toContainText('It went back with everything proved that can be proved here.');
    await expect(ran).toContainText('Of what was wrong with it nothing is left.');
    await page.getByRole('link', { name: 'How I get on' }).click();
    await expect(page.getByRole('region', { name: 'How you get on' })).toContainText('with everything proved and nothing left wrong');
});

test('two windows play one round in turn, and a round that is given up tells what it was', async ({ page, context }) => {
    await signIn(page, TECHNICIAN);
    await begin(page, 2);
    await stage(page, 'Probe');
    const probes = (on: Page) => expect(on.getByRole('button', { name: /^Probes on/ })).toBeFocused();
    await probes(page);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'T0 to T1', exact: true })).toBeVisible();
    const other = await context.newPage();
    await other.goto(page.url());
    await probes(other);
    await other.keyboard.press('Enter');
    await expect(other.getByRole('button', { name: 'T1 to T2', exact: true })).toBeVisible();
    // The first does not know of it: it is told, looks again, and goes on from there.
    await page.keyboard.press('Enter');
    await expect(page.getByText('from another screen')).toBeVisible();
    await expect(page.getByTestId('target')).toContainText('T2');
    await other.close();
    await page.getByRole('button', { name: 'Give up' }).click();
    await page.getByRole('button', { name: 'Give it up and show me' }).click();
    await expect(page.getByRole('heading', { name: /Left without an answer/ })).toBeVisible();
});

test('the owner sees how everybody gets on and who is ready for what; a trainee does not', async ({ page }) => {
    await signIn(page, TRAINEE);
    await page.goto('/training');
    await expect(page.getByRole('region', { name: 'How you get on' })).toContainText('Level 1');
    await expect(page.getByRole('region', { name: 'Everybody', exact: true })).toHaveCount(0);
    await page.goto('/');
    await page.getByRole('button', { name: 'Sign out' }).click();
    await signIn(page, OWNER);
    await page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name: 'Training' }).click();
    const piet = page.getByRole('region', { name: 'Everybody', exact: true }).getByRole('row').filter({ hasText: 'Piet Aldous' });
    await expect(piet).toContainText('trainee');
    await expect(piet).toContainText('⬣');
    await expect(piet).toContainText('more rounds at level 2 or higher.');
    await piet.getByText('show the curve of Piet Aldous').locator('..').click();
    await expect(piet.getByRole('img', { name: /^Stated sureness against what was so/ })).toBeVisible();
    // A month later, two dozen rounds on, some of them carried out at the supply: what they speak for is said, and given by a person.
    asked(`
        $p = App\\Models\\Person::query()->where('name', 'Piet Aldous')->firstOrFail();
        foreach (range(1, 24) as $n) {
            $at = now()->addSeconds($n);
            $ran = ['supplies' => 1, 'returned' => true, 'proved' => true, 'left' => 0];
            App\\Models\\TrainingRound::query()->create(['id' => (string) Illuminate\\Support\\Str::uuid7(),
                'workshop_id' => $p->workshop_id, 'person_id' => $p->id, 'level' => 2, 'seed' => $n,
                'sitting_at' => $at, 'started_at' => $at, 'ended_at' => $at,
                'ended_by' => 'answer', 'attempt' => ['days' => 1.0 + $n, 'level' => 2, 'kinds' => ['group.dead'], 'safe' => true,
                'right' => true, 'place_right' => true, 'brier' => 0.02, 'stated' => [['p' => 0.9, 'so' => true]], 'seconds' => 900,
                'best_seconds' => 600, 'ran' => $ran]]);
        }
        return true;`);
    await page.reload();
    await expect(piet).toContainText('✓ ready to charge, recover and balance at a supply');
    await expect(piet).toContainText('to lift a safety state: 12 more rounds at level 4 or higher.');
    await page.getByRole('link', { name: 'Give a right by hand' }).click();
    await expect(page).toHaveURL(/\/people/);
});

test('a closed job becomes a case without names, is played, and taken out again', async ({ page }) => {
    await signIn(page, SENIOR);
    await page.goto('/training');
    await page.getByRole('button', { name: /^Case 1/ }).click();
    await page.waitForURL(/training\/[0-9a-f-]{36}\/intake/);
    await expect(page.getByRole('heading', { level: 1 })).toContainText('case 1 of this shop');
    await expect(page.getByText(/Orchard|Shears 08/)).toHaveCount(0);
    await stage(page, 'Probe');
    // It stands where the job stood: one group of ten lower than the rest.
    await expect(page.getByRole('button', { name: /^Probes on/ })).toBeFocused();
    for (let k = 1; k <= 3; k++) {
        await page.keyboard.press('Enter');
        await expect(page.getByRole('button', { name: `T${k - 1} to T${k}`, exact: true })).toBeVisible();
    }
    const volts = await page.getByRole('row').filter({ hasText: / to T/ }).allInnerTexts();
    const at = (n: number) => Number(volts.find((v) => v.startsWith(`T${n - 1} `))!.match(/\d\.\d+/)![0]);
    expect(at(1) - at(2)).toBeGreaterThan(0.1);
    await page.getByRole('button', { name: 'Give up' }).click();
    await page.getByRole('button', { name: 'Give it up and show me' }).click();
    await expect(page.getByRole('region', { name: 'How it went' })).toContainText(/group 2/i);
    // Its job says so, and lets it out.
    const job = asked<number>(`return App\\Models\\TrainingCase::query()->where('number', 1)->value('job_id');`);
    await page.goto(`/jobs/${job}/report`);
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect(page.getByRole('button', { name: 'Make it a training case' })).toBeVisible();
    await page.getByRole('button', { name: 'Make it a training case' }).click();
    await page.getByRole('button', { name: 'Make it a case' }).click();
    await expect(page.getByText(/Nobody said what it was in the end/)).toBeVisible();
});

test('a round on paper has its answers behind the fold', async ({ page }) => {
    await signIn(page, SENIOR);
    await page.goto('/training');
    await page.getByRole('link', { name: 'A round on paper' }).click();
    await marked(page);
    const answers = page.getByTestId('answers');
    await expect(page.getByText('fold here')).toBeVisible();
    await expect(answers).toBeHidden();
    await page.getByRole('button', { name: 'Unfold the answers' }).click();
    await expect(answers).toContainText(/It was: |Nothing was wrong/);
    await page.getByRole('button', { name: 'Fold the answers away' }).click();
    // Printed they stand below the fold, upside down.
    await page.emulateMedia({ media: 'print' });
    await expect(answers).toBeVisible();
    expect(await answers.evaluate((e) => getComputedStyle(e).rotate)).toBe('180deg');
    await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
});
