import { expect, test } from '@playwright/test';
import { hand, lookAgain, OWNER, signIn, takeIn, TECHNICIAN, type } from './bench';

/** A tester's log of one cell: full charge by taper, half an hour of rest, discharge at a fifth to the cut-off. */
function log(capacity: number, ohm: number): string {
    const rows = ['Total Time;Voltage [V];Current [A];Temperature'];
    const open = (soc: number) => 2.8 + 1.4 * soc;
    let t = 0;
    let soc = 0.3;
    const add = (i: number) => {
        rows.push([t.toFixed(1), (open(soc) + i * ohm).toFixed(5), i.toFixed(4), '22,0'].join(';').replaceAll('.', ','));
        soc += (i * 2) / 3600 / capacity;
        t += 2;
    };
    for (;;) {
        const i = Math.min(1.5, (4.2 - open(soc)) / ohm);
        if (i < 0.11) break;
        add(i);
    }
    for (let k = 0; k < 900; k++) add(0);
    while (open(soc) - 0.6 * ohm > 2.47) add(-0.6);
    for (let k = 0; k < 60; k++) add(0);
    return rows.join('\r\n') + '\r\n';
}

test('four logs are imported, the cells graded and dealt, the path budgeted, the pack laid out, and a wrong plug is stopped', async ({
    page,
}) => {
    test.setTimeout(150_000);
    // Of its own each time: a second try finds the first one's cells in the drawer.
    const lot = `J${Date.now() % 1_000_000}`;
    const odd = (Date.now() % 1000) / 1e6;
    await signIn(page, TECHNICIAN);
    // A tray of four new cells, untested.
    await page.goto('/cells');
    await page.getByRole('button', { name: 'Take in a tray' }).click();
    await page.getByLabel('Lot', { exact: true }).fill(lot);
    await page.getByLabel('Cell model').fill('QL-30');
    await page.getByLabel('Rated Ah').fill('3,0');
    await page.getByLabel('Or only how many').fill('4');
    await page.getByRole('button', { name: 'Take them in' }).click();
    await expect(page.getByText('4 cells taken in')).toBeVisible();

    // Their logs: semicolons and decimal commas, told apart by name; one cell is worn out.
    await page.getByLabel('Code, model or lot').fill(lot);
    await expect(page.getByRole('button', { name: `${lot}-004` })).toBeVisible();
    await page.getByRole('button', { name: 'Import test logs' }).click();
    await page.getByLabel('Files of one tester').setInputFiles(
        [2.45, 2.4, 1.8, 2.43].map((ah, k) => ({
            name: `tester ${lot.toLowerCase()}-00${k + 1}.csv`,
            mimeType: 'text/csv',
            buffer: Buffer.from(log(ah, 0.034 + 0.001 * k + odd)),
        })),
    );
    await expect(page.getByText('How it is read')).toBeVisible();
    // No thermometer is in these logs, and nobody is believed to stand in a warm room: it is said.
    await expect(page.getByLabel('Around it, degC')).toHaveValue('');
    await page.getByLabel('Around it, degC').fill('22');
    await page.getByRole('button', { name: 'Import 4 logs' }).click();
    await expect(page.getByText('All read.')).toBeVisible({ timeout: 60_000 });
    await expect(page.getByText('counts as a capacity test')).toHaveCount(4);
    // The same files again are known.
    await page
        .getByLabel('Files of one tester')
        .setInputFiles([{ name: `again ${lot}-001.csv`, mimeType: 'text/csv', buffer: Buffer.from(log(2.45, 0.034 + odd)) }]);
    await page.getByRole('button', { name: 'Import 1 log' }).click();
    await expect(page.getByText('the same file is here already')).toBeVisible();
    await page.getByRole('button', { name: 'Close' }).click();

    await page.getByRole('button', { name: 'Grade what is shown' }).click();
    await expect(page.getByText('3 accepted, 1 rejected')).toBeVisible();
    await expect(page.getByRole('row', { name: new RegExp(`${lot}-003`) })).toContainText('2.40 Ah wanted');

    // A pack to build: four groups of two.
    const job = await takeIn(page, 'Journey radio', 'Lifeboat radio');
    await type(page, '3.70', '7.41', '11.10', '14.80');
    await expect(page.getByText('✓ kept')).toHaveCount(4);
    await page.goto(`/jobs/${job}/build`);
    await expect(page.getByText('Smallest group')).toBeVisible();
    await expect(page.getByText(/accepted cells, \d+ left over/)).toBeVisible();
    await page.getByRole('button', { name: 'Take these cells for the build' }).click();
    await expect(page.getByText('The cells belong to this build now')).toBeVisible();

    await page.getByRole('button', { name: 'Current budget' }).click();
    await page.getByLabel('Strip', { exact: true }).selectOption('nickel');
    await page.getByLabel('Width, mm').fill('8');
    await page.getByLabel('Thickness, mm').fill('0,15');
    await page.getByLabel('Main wire, AWG').fill('18');
    await page.getByLabel('Connector, A').fill('12');
    await page.getByRole('button', { name: 'Work it out' }).click();
    await expect(page.getByText(/Weakest:.*main wire, 9.1 A/)).toBeVisible();

    await page.getByRole('button', { name: 'Build sheet' }).click();
    await page.getByLabel('Case width, mm').fill('40');
    await page.getByLabel('Case height, mm').fill('40');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText('do not fit 40 x 40 mm').first()).toBeVisible();
    await page.getByLabel('Case width, mm').fill('90');
    await page.getByLabel('Case height, mm').fill('60');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText(/4 groups of 2, \w+ rows/)).toBeVisible();
    await expect(page.getByRole('img', { name: 'front face' })).toContainText('T1 3.70 V');
    // An odd case: a place is touched, stays empty, and is given back.
    const places = page.getByLabel('Places left empty');
    await page.getByLabel('Case width, mm').fill('140');
    await page.getByRole('img', { name: 'front face' }).locator('circle[data-place="0 0"]').click({ force: true });
    await expect(places).toHaveValue('0 0');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.locator('circle[data-place="0 0"]')).toHaveCount(0);
    await places.fill('corner');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText(/Mend this: Column and row/)).toBeVisible();
    await places.fill('');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.locator('circle[data-place="0 0"]').first()).toBeVisible();
    // Other cases: stepped rows that hold too few, then enough; a round one; two layers; a board whose leads are too short.
    await page.getByLabel('Case width, mm').fill('');
    await page.getByLabel('Case height, mm').fill('');
    await page.getByLabel('Case', { exact: true }).selectOption('stepped rows');
    await page.getByLabel('Cells of each row').fill('4 x');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText(/Mend this: Cells of each row/)).toBeVisible();
    await page.getByLabel('Cells of each row').fill('4 1+2');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText('These rows hold 6 cells, and 8 are wanted')).toBeVisible();
    await page.getByLabel('Cells of each row').fill('4 3 2');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText('in a stepped case')).toBeVisible();
    await page.getByLabel('Case', { exact: true }).selectOption('round');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText('in a round case')).toBeVisible();
    await page.getByLabel('Case', { exact: true }).selectOption('a box, two layers folded');
    await page.getByLabel('Board', { exact: true }).selectOption('at the left');
    await page.getByLabel('Lead of B-, mm').fill('10');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText(/In no way do both leads reach a board at the left/)).toBeVisible();
    await page.getByLabel('Lead of B-, mm').fill('200');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText('it folds about the broken line, at the links of T2')).toBeVisible();
    await expect(page.getByText('it has 200 mm')).toBeVisible();
    const paper = await page.request.get(`/api/jobs/${job}/build.pdf`);
    expect((await paper.body()).subarray(0, 5).toString()).toBe('%PDF-');

    await page.getByRole('button', { name: 'Pin check' }).click();
    const enter = async (...volts: string[]) => {
        for (const [k, v] of volts.entries()) await page.getByLabel(`Pin ${k + 1}`, { exact: true }).fill(v);
        await page.getByRole('button', { name: 'Check the plug' }).click();
    };
    await enter('0', '7.41', '3.70', '11.10', '14.80');
    await expect(page.getByText('⬣ Stop')).toBeVisible();
    await expect(page.getByText('pins of taps 1 and 2 are exchanged')).toBeVisible();
    await enter('0', '3.70', '7.41', '11.10', '14.80');
    await expect(page.getByText('✓ Right')).toBeVisible();
    await page.getByRole('button', { name: 'Keep this check' }).click();
    await expect(page.getByText('Kept with the job.')).toBeVisible();
});

test("a log of a pack first does not count, then does, and stands beside last year's by its serial", async ({ page }) => {
    await signIn(page);
    const serial = `SB-${Date.now()}`;
    const log = (ah: number, charged: boolean) => {
        const rows = [`Of ${serial}`, 'Time (s),Voltage (V),Current (A),Temp (C)'];
        let t = 0;
        const row = (v: number, a: number) => rows.push(`${(t += 30)},${v.toFixed(4)},${a.toFixed(4)},21.0`);
        if (charged) for (let k = 0; k <= 200; k++) row(5 * (4 + 0.001 * k), Math.max(0.2, 1.2 - 0.01 * k));
        const n = Math.round((ah / 1.0) * 120);
        for (let k = 0; k <= n; k++) row(5 * (4.15 - ((4.15 - 2.49) * k) / n), -1.0);
        return rows.join('\n');
    };
    const attach = async (name: string, text: string) => {
        await page.getByRole('button', { name: 'Attach a test log' }).click();
        await page.getByLabel('Files of one tester').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
        await expect(page.getByText('How it is read:')).toBeVisible();
        await page.getByRole('button', { name: 'Import 1 log' }).click();
        await expect(page.getByText('All read.')).toBeVisible();
        await page.getByRole('button', { name: 'Close' }).click();
    };
    const pack = async (name: string) => {
        const job = await takeIn(page, name);
        await page.goto(`/jobs/${job}/intake`);
        await page.getByLabel('Serial or mark').fill(serial);
        await page.getByRole('button', { name: 'Keep these changes' }).click();
        await expect(page.getByText('Kept.')).toBeVisible();
        return job;
    };
    const before = await pack('Shears, last year');
    await page.goto(`/jobs/${before}/probe`);
    await attach('last-year.csv', log(4.6, true));
    const job = await pack('Shears, this year');
    // The door stands where the figure is asked for.
    await page.goto(`/jobs/${job}/proof`);
    await page.getByRole('link', { name: "Attach the tester's log" }).click();
    await page.getByRole('button', { name: 'Close' }).click();
    const logs = page.getByRole('region', { name: 'Test logs of this pack' });
    await attach('this-year.csv', log(4.1, false));
    await expect(logs).toContainText('does not count: no full charge before it in this log: was it full?');
    await logs.getByRole('button', { name: 'It was full: I say so' }).click();
    await expect(logs).toContainText('Full, says Tobiah Reeve');
    await expect(logs).toContainText('Ah since the test before');
    await expect(logs).toContainText('last-year.csv');
    await page.goto(`/jobs/${job}/proof`);
    await expect(page.getByRole('listitem').filter({ hasText: 'Capacity, logged' })).toContainText('3.33 Ah');
});

test('a tray of mixed models is graded each by its own, and three groups are dealt anew while the fourth stays', async ({ page }) => {
    const lot = `M${Date.now() % 1_000_000}`;
    await signIn(page, TECHNICIAN);
    await page.goto('/cells');
    await page.getByRole('button', { name: 'Take in a tray' }).click();
    await page.getByText('Import a CSV with the columns of the export').click();
    const rows = ['code;lot;model;chemistry;rated_ah;capacity_ah;mohm;rest_v'];
    // Sixteen of 3 Ah, two of 2.5 Ah: what is too little for one kind is enough for the other.
    for (let k = 1; k <= 16; k++) rows.push(`${lot}-${k};${lot};QL-30;nmc;3,0;${(2.95 - 0.003 * k).toFixed(3)};${34 + (k % 4) / 4};3,61`);
    rows.push(`${lot}-A;${lot};QL-25;nmc;2,5;2,10;31;3,61`, `${lot}-B;${lot};QL-25;nmc;2,5;1,90;31;3,61`);
    await page.getByLabel('CSV', { exact: true }).fill(rows.map((r) => r.replaceAll('.', ',')).join('\n'));
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByText('Taken in.')).toBeVisible();
    await page.getByLabel('Code, model or lot').fill(lot);
    await expect(page.getByRole('button', { name: `${lot}-16` })).toBeVisible();
    await page.getByRole('button', { name: 'Grade what is shown' }).click();
    await expect(page.getByText('17 accepted, 1 rejected')).toBeVisible();
    await expect(page.getByRole('row', { name: new RegExp(`${lot}-B`) })).toContainText('2.00 Ah wanted');

    const job = await takeIn(page, 'Journey radio dealt twice', 'Lifeboat radio');
    await page.goto(`/jobs/${job}/build`);
    const group = (n: number) => page.getByRole('listitem').filter({ has: page.locator('b', { hasText: new RegExp(`^${n}$`) }) });
    const cells = async (n: number) => (await group(n).getByRole('button').allTextContents()).sort().join();
    await expect(page.getByText('Smallest group')).toBeVisible();
    await page.getByRole('button', { name: 'Take these cells for the build' }).click();
    await expect(page.getByText('These cells are in this build.')).toBeVisible();
    const before = [await cells(1), await cells(2), await cells(3), await cells(4)];

    await page.getByLabel('Only these groups anew').fill('1, 2, 3');
    await expect(page.getByText('Other cells are in this build now.')).toBeVisible();
    expect(await cells(4)).toBe(before[3]);
    for (const n of [1, 2, 3]) expect(await cells(n)).not.toBe(before[n - 1]);
    await page.getByRole('button', { name: 'Take these cells for the build' }).click();
    await expect(page.getByText('These cells are in this build.')).toBeVisible();
    await page.reload();
    await page.getByRole('button', { name: 'Show what is in it' }).click();
    await expect(page.getByText('These cells are in this build.')).toBeVisible();
    expect(await cells(4)).toBe(before[3]);
});

test('a cell model is described once, its delivery is used when its sample was tested, and sent back with a reason', async ({ page }) => {
    const model = `QB-${Date.now() % 100_000}`;
    const lot = `D${Date.now() % 1_000_000}`;
    await signIn(page, OWNER);
    await page.goto('/settings');
    await page.getByRole('button', { name: 'Add a cell model' }).click();
    await page.getByRole('textbox', { name: 'Cell model' }).fill(model);
    await page.getByLabel('Chemistry').selectOption('lfp');
    await page.getByLabel('Rated Ah').fill('3,2');
    await page.getByLabel('Price of one').fill('4,10');
    await page.getByLabel('Full, V').fill('36');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByText(/Mend this: .*5/)).toBeVisible();
    await page.getByLabel('Full, V').fill('3,65');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByLabel(`Price of ${model}, EUR`)).toHaveValue('4.10');

    await page.goto('/cells');
    await page.getByRole('button', { name: 'Take in a tray' }).click();
    await page.getByLabel('Lot', { exact: true }).fill(lot);
    await page.getByLabel('From whom').fill('Journey Cells');
    await page.getByLabel('Cell model').fill(model);
    await page.getByLabel('Cell model').blur();
    // The model brings its chemistry and rating along.
    await expect(page.getByLabel('Chemistry')).toHaveValue('lfp');
    await expect(page.getByLabel('Rated Ah')).toHaveValue('3.2');
    await page.getByLabel('A delivery: a sample is tested').check();
    await page.getByLabel(/One line a cell/).fill([3.2, 3.19, 3.21, 3.2].map((ah, k) => `${lot}-${k} ${ah} 20 3.3`).join('\n'));
    await page.getByRole('button', { name: 'Take them in' }).click();
    await expect(page.getByText('4 cells taken in')).toBeVisible();

    await page.getByRole('button', { name: 'Lots' }).click();
    const delivery = page.getByRole('region', { name: `Delivery ${lot}` });
    await expect(delivery).toContainText('no less than 95 % by its sample');
    await delivery.getByRole('button', { name: 'Send it back' }).click();
    await expect(page.getByText(/Say why it is done all the same/)).toBeVisible();
    await delivery.getByLabel('Why, where its sample says otherwise').fill('the supplier recalls it');
    await delivery.getByRole('button', { name: 'Send it back' }).click();
    await expect(page.getByText('refused: the supplier recalls it').first()).toBeVisible();
    await expect(delivery).toHaveCount(0);
    await expect(page.getByRole('row', { name: /^Journey Cells/ })).toContainText(/\d of \d/);
});

test('a new build goes from an empty job to its first charge', async ({ page }) => {
    await signIn(page, TECHNICIAN);
    await page.goto('/intake');
    await page.getByRole('button', { name: 'A new pack to build from cells' }).click();
    await expect(page.getByRole('button', { name: 'None of these' })).toHaveCount(0);
    await page.getByLabel('Customer', { exact: true }).fill('Motor kit of the slip');
    await page.getByLabel('Name of this pack').fill('Kit pack');
    await page.getByLabel('Kind', { exact: true }).selectOption('e-bike');
    await page.getByLabel('Groups in series').fill('4');
    await page.getByLabel('Cells in parallel').fill('2');
    await page.getByText('Board', { exact: true }).click();
    await page.getByLabel('Cuts a group over, V').fill('4,22');
    await page.getByLabel('Cuts a group under, V').fill('2,9');
    await page.getByText('Device', { exact: true }).click();
    await page.getByLabel('Controller allows, A').fill('8');
    await page.getByRole('button', { name: 'Plan the build' }).click();
    await page.waitForURL(/jobs\/\d+\/plan/);
    const job = Number(page.url().match(/jobs\/(\d+)/)![1]);
    await page.getByLabel('Why this one').fill('Ordered for the motor kit.');
    await page.getByRole('button', { name: /Do this/ }).click();
    await page.waitForURL(/work/);
    // Deal, budget, sheet, pins: each a door away.
    await page.goto(`/jobs/${job}/build`);
    await page.getByRole('button', { name: 'Take these cells for the build' }).click();
    await expect(page.getByText('The cells belong to this build now')).toBeVisible();
    await page.getByRole('button', { name: 'Current budget' }).click();
    await expect(page.getByText('8.0 A').first()).toBeVisible();
    await page.getByRole('button', { name: 'Build sheet' }).click();
    await page.getByLabel('Case width, mm').fill('90');
    await page.getByLabel('Case height, mm').fill('60');
    await page.getByRole('button', { name: 'Lay it out' }).click();
    await expect(page.getByText(/4 groups of 2, \w+ rows/)).toBeVisible();
    // Before anything flows it is looked at, every group read, and the plug checked against what was read.
    await page.goto(`/jobs/${job}/probe`);
    await lookAgain(page);
    await page.getByLabel('Volts on the meter').focus();
    await type(page, '3.60', '7.20', '10.80', '14.40');
    await expect(page.getByText('✓ kept')).toHaveCount(4);
    await page.goto(`/jobs/${job}/build?do=pins`);
    const enter = async (...volts: string[]) => {
        for (const [k, v] of volts.entries()) await page.getByLabel(`Pin ${k + 1}`, { exact: true }).fill(v);
        await page.getByRole('button', { name: 'Check the plug' }).click();
    };
    await enter('0', '7.20', '3.60', '10.80', '14.40');
    await expect(page.getByText('pins of taps 1 and 2 are exchanged')).toBeVisible();
    await enter('0', '3.60', '7.20', '10.80', '14.40');
    await page.getByRole('button', { name: 'Keep this check' }).click();
    await expect(page.getByText('Kept with the job.')).toBeVisible();
    await hand({ do: 'pack', groups: Array.from({ length: 4 }, () => ({ v: 3.6 })), capacity_ah: 5.6, scale: 1 });
    await page.goto(`/jobs/${job}/supply?do=charge`);
    await expect(page.getByRole('group', { name: 'Before any current flows' }).getByRole('checkbox')).toHaveCount(6);
    for (const box of await page.getByRole('group', { name: 'Before any current flows' }).getByRole('checkbox').all()) await box.check();
    await page.getByLabel('Time runs (simulation)').selectOption('30');
    await page.getByRole('button', { name: 'Start, I stay with it' }).click();
    await page.getByRole('button', { name: "The supply's clips sit on the pack" }).click();
    await expect(page.getByTestId('phase')).toContainText('charging, every group watched');
    await page.getByLabel('Why end it').fill('seen enough');
    await page.getByRole('button', { name: 'End it' }).click();
    await expect(page.getByTestId('phase')).toContainText('stopped: ended by hand');
    await page.getByRole('button', { name: /I watch it myself/ }).click();
});
