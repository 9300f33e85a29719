import { readFileSync } from 'node:fs';
import { AxeBuilder } from '@axe-core/playwright';
import { expect, give, importCopy, test } from './demo';

test('@phone the log, what is due and the trends are read and written off line, and nobody is told the same thing twice', async ({
  demo,
  context,
}, { project }) => {
  await importCopy(demo, `Kept up ${project.name} ${Date.now() % 10000}`);
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('due').click();
  await expect(demo.getByTestId('due-lead')).toContainText('overdue');
  await context.setOffline(true);
  const count = Number(/^(\d+)/.exec((await demo.getByTestId('due-lead').textContent()) ?? '')?.[1]);
  await demo.getByTestId('due-joints').click();
  await demo.getByRole('button', { name: 'Mark as done' }).click();
  await expect(demo.getByTestId('due-lead')).toContainText(`${count - 1} job`);
  await demo.getByRole('button', { name: 'Back', exact: true }).click();
  await demo.getByTestId('log').click();
  await expect(demo.getByTestId('log-line').first()).toContainText('Connections retightened');
  await demo.getByRole('button', { name: 'Add entry' }).click();
  await demo.getByLabel('Text', { exact: true }).fill('Lamp in the store replaced, 9 W');
  await demo.getByRole('button', { name: 'Save entry' }).click();
  await demo.getByLabel('Search the log').fill('store lamp');
  await expect(demo.getByTestId('log-line')).toHaveCount(1);
  await demo.getByTestId('log-line').click();
  await demo.getByRole('button', { name: 'Strike out' }).click();
  await expect(demo.getByTestId('log-line')).toContainText('struck out');
  await context.setOffline(false);
  await demo.waitForTimeout(1500);
  await demo.reload();
  // What is typed before the log has come is typed into a field that is drawn anew with it.
  await expect(demo.getByTestId('log-line').first()).toBeVisible({ timeout: 15_000 });
  await demo.getByLabel('Search the log').fill('store lamp');
  await expect(demo.getByTestId('log-line')).toContainText('struck out', { timeout: 15_000 });
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
});

test('@phone six years of readings say what rises, and lead on to the fault', async ({ demo }) => {
  await demo.getByTestId('site-Whelk Bank research raft').click();
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('trends').click();
  await expect(demo.getByTestId('trends-lead')).toContainText('drifting', { timeout: 20_000 });
  const cable = demo.getByTestId('trend-drop_V-r-inv');
  await expect(cable).toContainText('rising');
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  await cable.getByRole('button', { name: 'Find the fault' }).click();
  await expect(demo.getByTestId('faults-lead')).toBeVisible({ timeout: 30_000 });
});

test('@phone a hidden fault: unsafe moves are stopped, a cause is named, the best way is shown, nothing is saved', async ({
  demo,
}) => {
  await demo.getByTestId('site-Whelk Bank research raft').click();
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('practice').click();
  await demo.getByTestId('case-11').click();
  await expect(demo.getByTestId('practice-complaint')).toBeVisible({ timeout: 20_000 });
  await demo.getByTestId('unsafe-resistance_ohm').click();
  await expect(demo.getByText(/Never measure resistance/)).toBeVisible();
  await demo
    .getByTestId(/^read-/)
    .first()
    .click();
  await demo.getByRole('button', { name: 'Read it' }).click();
  await expect(demo.getByTestId('practice-read')).toHaveCount(1);
  await demo.getByRole('button', { name: 'Name the cause' }).click();
  await demo
    .getByTestId(/^answer-/)
    .first()
    .click();
  await expect(demo.getByTestId('practice-outcome')).toContainText('It was', { timeout: 20_000 });
  await expect(demo.getByTestId('practice-banner')).toBeVisible();
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
});

test('@phone practice on a made-up site; a case is saved as a file and opened by somebody else; what is no case is told', async ({
  demo,
}) => {
  await demo.getByTestId('site-Corrach bothy refuge').click();
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('practice').click();
  await demo.getByRole('radio', { name: 'A made-up site' }).click();
  await demo.getByTestId('case-12').click();
  const complaint = demo.getByTestId('practice-complaint');
  await expect(complaint).toBeVisible({ timeout: 20_000 });
  const said = await complaint.textContent();
  await demo.getByRole('button', { name: 'Name the cause' }).click();
  await demo
    .getByTestId(/^answer-/)
    .first()
    .click();
  await expect(demo.getByTestId('practice-outcome')).toContainText('it tells', { timeout: 20_000 });
  const saving = demo.waitForEvent('download');
  await demo.getByRole('button', { name: 'Save this case as a file' }).click();
  const path = await (await saving).path();
  const text = readFileSync(path, 'utf8');
  expect(JSON.parse(text)).toMatchObject({ format: 'true-lantern-practice', seed: 12, level: 1 });
  // Nothing of the customer's: no name, no proposals, no readings.
  expect(text).not.toMatch(/Corrach|proposals|readings/);
  await demo.getByRole('button', { name: 'Back' }).click();
  const open = (name: string, given: string) =>
    give(demo, demo.getByRole('button', { name: 'Open a case from a file' }), {
      name,
      mimeType: 'application/json',
      buffer: Buffer.from(given),
    });
  await open('other.json', '{"format":"something"}');
  await expect(demo.getByRole('alert')).toContainText('not a practice case');
  await open('case.json', text);
  await expect(complaint).toHaveText(said ?? '', { timeout: 20_000 });
});

test('the days ahead begin with the charge that was set, and say what to leave off', async ({ demo }) => {
  await demo.getByTestId('site-Whelk Bank research raft').click();
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('ahead').click();
  await expect(demo.getByTestId('ahead-0')).toContainText('Tonight', { timeout: 20_000 });
  const before = await demo.getByTestId('ahead-0').textContent();
  for (let i = 0; i < 8; i++) await demo.getByRole('button', { name: /one less/ }).click();
  await expect(demo.getByTestId('ahead-0')).not.toHaveText(before ?? '');
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
});

test('@phone a cable that loses eight times what it should stands on Check by itself, and leads to its cause', async ({
  demo,
}) => {
  await importCopy(demo, `Hot lug ${Date.now() % 10000}`, (file) => {
    const copy = file as unknown as { readings: object[] };
    copy.readings = [
      {
        id: 'hot',
        at: new Date(Date.now() - 86_400_000).toISOString(),
        subject: 'r-inv',
        quantity: 'drop_V',
        value: 1.6,
        conditions: { current_A: 60 },
      },
    ];
  });
  await demo.getByRole('link', { name: /^Check/ }).click();
  const row = demo.getByTestId('far-drop_V-r-inv');
  await expect(row).toContainText('1.6\u00a0V read', { timeout: 20_000 });
  await row.click();
  await expect(demo.getByTestId('faults-lead')).toBeVisible({ timeout: 30_000 });
  await demo
    .getByTestId(/^cause-/)
    .first()
    .click();
  await demo.getByRole('button', { name: 'Log this cause' }).click();
  await demo.getByRole('button', { name: 'Back', exact: true }).click();
  await demo.getByTestId('log').click();
  await expect(demo.getByTestId('log-line').first()).toContainText('Fault found');
});

test('@phone a capacity test by the clock: prepared, read when the sound asks, kept over a reload, saved as the capacity', async ({
  demo,
}) => {
  await importCopy(demo, `By the clock ${Date.now() % 10000}`);
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('guided').click();
  await demo.getByTestId('guided-capacity').click();
  const start = demo.getByRole('button', { name: 'Start the test' });
  await expect(start).toBeDisabled();
  for (const line of await demo.getByRole('checkbox').all()) await line.click();
  await expect(start).toBeDisabled();
  await demo.getByLabel('Temperature of the bank').fill('25');
  await demo.clock.install();
  await start.click();
  const lead = demo.getByTestId('clock-lead');
  await expect(lead).toHaveText('Read voltage and current now.');
  const end = Number(/Ends at ([\d.]+)/.exec((await demo.getByText(/Ends at/).textContent()) ?? '')?.[1]);
  const read = async (volts: number, amps?: number) => {
    await demo.getByLabel('Bank voltage, V').fill(String(volts));
    if (amps !== undefined) await demo.getByLabel('Bank current, A').fill(String(amps));
    await demo.getByRole('button', { name: 'Save reading' }).click();
  };
  await read(end * 1.15, 20);
  await expect(lead).toContainText('Next reading in');
  await demo.clock.fastForward('10:30');
  await expect(lead).toHaveText('Read voltage and current now.');
  await demo.clock.fastForward('05:00');
  await expect(lead).toContainText('min late');
  // Closed and opened again: the clock is the wall's, and nothing is lost.
  await demo.reload();
  await demo.getByTestId('guided-capacity').click();
  await expect(lead).toContainText('late', { timeout: 15_000 });
  await read(end * 1.01);
  await expect(demo.getByText(/Next reading in [12]:/)).toBeVisible();
  await demo.clock.fastForward('40:00');
  await read(end - 0.01);
  await expect(lead).toHaveText('The test is complete.');
  await expect(demo.getByTestId('clock-result')).toContainText('of the label');
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  await demo.getByRole('button', { name: /^Save .* Ah as the measured capacity/ }).click();
  await expect(demo.getByTestId('guided-capacity')).not.toContainText('running');
  await demo.getByRole('button', { name: 'Back', exact: true }).click();
  await demo.getByTestId('log').click();
  await expect(demo.getByTestId('log-line').filter({ hasText: 'Capacity test:' })).toHaveCount(1);
});

test('@phone strings are compared with each other: the weak one stands out, without a light meter', async ({
  demo,
}) => {
  await demo.getByTestId('site-Whelk Bank research raft').click();
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('guided').click();
  await demo.getByTestId('guided-strings').click();
  const rows = demo.getByTestId(/^round-.*stringImp_A/);
  const count = await rows.count();
  expect(count).toBeGreaterThan(1);
  await rows.first().click();
  for (let k = 0; k < count; k++) {
    await demo.keyboard.type(k === 1 ? '6' : '8');
    await demo.getByRole('button', { name: 'Save reading' }).click();
    await expect(
      demo
        .getByTestId('reading-entry')
        .or(demo.getByText(/stands out/))
        .first(),
    ).toBeVisible();
  }
  await expect(demo.getByTestId('round-lead')).toContainText('stands out');
});

test('which site may lose power first: worked out on the server, listed, on a map, as a file', async ({ demo }) => {
  await demo.getByRole('button', { name: 'Risk of power cuts' }).click();
  await expect(demo.getByTestId('fleet-lead')).toContainText(/worked out|at risk/, { timeout: 40_000 });
  await expect(demo.getByTestId('fleet-Whelk Bank research raft')).toContainText('%', { timeout: 40_000 });
  await demo.getByRole('checkbox', { name: 'Map' }).click();
  await expect(demo.getByTestId('fleet-map')).toBeVisible();
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  const saved = demo.waitForEvent('download');
  await demo.getByRole('button', { name: 'Export CSV' }).click();
  const { readFileSync } = await import('node:fs');
  const text = readFileSync(await (await saved).path(), 'utf8');
  expect(text.split('\r\n')[0]).toBe('site,chance,first,state_of_charge,assumed,helps,last_heard,due,over,worked_out');
});

test('@phone several sites become a trip: their order, what is due there, what to take along', async ({ demo }) => {
  await demo.getByRole('button', { name: 'Due, all sites' }).click();
  await expect(demo.getByTestId('firm-due-lead')).toContainText('overdue', { timeout: 20_000 });
  const [first, second] = ['Gannet Ledge bird observatory', 'Whelk Bank research raft'];
  for (const name of [first, second]) await demo.getByRole('checkbox', { name: `${name}: on the trip` }).click();
  await demo.getByRole('button', { name: 'Plan a trip to 2 sites' }).click();
  await expect(demo.getByTestId('trip-lead')).toContainText('at 2 sites');
  await expect(demo.getByText(`1. ${first}`)).toBeVisible();
  await expect(demo.getByText('Take along')).toBeVisible();
  await demo.getByRole('button', { name: `${first}: later` }).click();
  await expect(demo.getByText(`2. ${first}`)).toBeVisible();
  await demo.getByLabel('Day (YYYY-MM-DD)').fill('2026-12-04');
  await demo.getByLabel('Note').fill('The key hangs behind the fuel tank');
  await demo.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(demo.getByTestId('trip-lead')).toContainText('4 Dec 2026');
  // On paper the note stands under the day, and nothing that only a screen can do.
  const back = demo.getByRole('button', { name: 'Back', exact: true });
  await demo.emulateMedia({ media: 'print' });
  await expect(demo.getByTestId('trip-note')).toBeVisible();
  await expect(demo.getByTestId('trip-note')).toHaveText('The key hangs behind the fuel tank');
  await expect(back).toBeHidden();
  await demo.emulateMedia({ media: null });
  await expect(back).toBeVisible();
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  await demo.getByRole('button', { name: 'Remove trip' }).click();
  await expect(demo.getByTestId('firm-due-lead')).toBeVisible();
  await expect(demo.getByTestId('trip')).toHaveCount(0);
});

test('@phone a photo goes with an entry of the log; what was changed in the survey stands on the same list', async ({
  demo,
}) => {
  await importCopy(demo, `Photographed ${Date.now() % 10000}`);
  const site = demo.url().replace(/\/$/, '');
  await demo.goto(`${site}/log`);
  await demo.getByRole('button', { name: 'Add entry' }).click();
  const entry = demo.getByTestId('log-entry');
  await give(demo, entry.getByRole('button', { name: 'File' }), {
    name: 'joint.png',
    mimeType: 'image/png',
    buffer: await demo.screenshot({ clip: { x: 0, y: 0, width: 300, height: 200 } }),
  });
  await expect(entry.getByTestId('thumbnail')).toBeVisible();
  // A photo says enough: no text is asked for.
  await entry.getByRole('button', { name: 'Save entry' }).click();
  const line = demo.getByTestId('log-line').first();
  await expect(line).toContainText('1 photo');
  await line.click();
  await expect(demo.getByTestId('thumbnail')).toBeVisible();
  // One that is not written leaves no photo behind.
  await demo.getByRole('button', { name: 'Add entry' }).click();
  await give(demo, entry.getByRole('button', { name: 'File' }), {
    name: 'other.png',
    mimeType: 'image/png',
    buffer: await demo.screenshot({ clip: { x: 0, y: 0, width: 200, height: 200 } }),
  });
  await expect(entry.getByTestId('thumbnail')).toBeVisible();
  await entry.getByRole('button', { name: 'Cancel' }).click();
  await expect(demo.getByTestId('thumbnail')).toHaveCount(1);
  const id = new URL(site).pathname.split('/')[2] ?? '';
  const { parts } = (await (await demo.request.get(`/api/sites/${id}`)).json()) as {
    parts: { id: string; kind: string; revision: number }[];
  };
  const { csrfToken } = (await (await demo.request.get('/api/session')).json()) as { csrfToken: string };
  const bank = parts.find(({ kind }) => kind === 'bank')!;
  const change = {
    changeId: crypto.randomUUID(),
    partId: bank.id,
    baseRevision: bank.revision,
    set: { label: 'The old bank' },
  };
  await demo.request.post(`/api/sites/${id}/changes`, {
    data: { changes: [{ ...change, at: new Date().toISOString() }] },
    headers: { 'x-csrf-token': csrfToken },
  });
  await demo.getByRole('radio', { name: 'Survey' }).click();
  await expect(demo.getByTestId('log-line').first()).toContainText('The old bank', { timeout: 10_000 });
});
