import type { Page } from '@playwright/test';
import { expect, hardToReach, importCopy, test } from './demo';

/** A token of the site whose Live screen is open. */
async function madeToken(page: Page): Promise<string> {
  await page.getByRole('button', { name: 'Make a token' }).click();
  return (await page.getByTestId('feed-token').innerText()).split('\n')[0]!.trim();
}

test('@phone a token is made, what it sends is shown with its age, and ended it sends nothing more', async ({
  demo: page,
}) => {
  await importCopy(page, 'It speaks');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/live`);
  await expect(page.getByTestId('live-lead')).toHaveText('This system has not sent anything yet.', {
    timeout: 30_000,
  });
  const token = await madeToken(page);
  const send = (value: number, ago_s: number) =>
    page.context().request.post('/api/live', {
      headers: { authorization: `Bearer ${token}` },
      data: JSON.stringify({
        at: new Date(Date.now() - 1000 * ago_s).toISOString(),
        subject: 'gel',
        quantity: 'load_V',
        value,
      }),
    });
  expect((await send(12.4, 3600)).status()).toBe(200);
  expect((await send(12.6, 2)).status()).toBe(200);
  await expect(page.getByTestId('live-gel.load_V')).toContainText('12.6', { timeout: 20_000 });
  await expect(page.getByTestId('live-lead')).toContainText(/Heard \d+ s ago/);
  await expect(page.getByTestId('live-gel.load_V')).toContainText('from 12.4');
  expect(await hardToReach(page)).toEqual([]);
  await page.getByRole('button', { name: /^End the token/ }).click();
  await expect(page.getByRole('button', { name: /^End the token/ })).toBeHidden();
  expect((await send(12.7, 1)).status()).toBe(401);
});

test('@phone a day of what the controllers gave comes to amp-hours, beside what the year brings around this date', async ({
  demo: page,
}) => {
  await importCopy(page, 'It harvests');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/live`);
  const token = await madeToken(page);
  // Every five minutes of the last day 1.5 A: 36 Ah.
  const lines = Array.from({ length: 289 }, (_, i) =>
    JSON.stringify({ at: Date.now() - 300_000 * i, subject: 'cc', quantity: 'out_A', value: 1.5 }),
  );
  const sent = await page.context().request.post('/api/live', {
    headers: { authorization: `Bearer ${token}` },
    data: lines.join('\n'),
  });
  expect(await sent.json()).toMatchObject({ kept: 289, refused: [] });
  const sun = page.getByTestId('live-sun');
  await expect(sun).toContainText(/3[56](\.\d)?\sAh from the sun in the last 24 hours/, { timeout: 20_000 });
  await expect(sun).toContainText(/Around this date, 9 days in 10 bring [\d.]+\sAh to [\d.]+\sAh\./, {
    timeout: 20_000,
  });
  // A month and a year are no day.
  await page.getByRole('radio', { name: 'Month' }).click();
  await expect(sun).toBeHidden();
});

test('@phone out of range: said on screen and on the Line, in the log once within a minute, with the way to the fault', async ({
  demo: page,
}) => {
  await importCopy(page, 'It sags', (file) => {
    (file as unknown as { system: { inverters: { ac_V?: number }[] } }).system.inverters[0]!.ac_V = 230;
  });
  await page.getByTestId('line').first().waitFor();
  const site = page.url().replace(/\/$/, '');
  await page.goto(`${site}/live`);
  const token = await madeToken(page);
  const say = (value: number) =>
    page.context().request.post('/api/live', {
      headers: { authorization: `Bearer ${token}` },
      data: JSON.stringify({ subject: 'inv', quantity: 'ac_V', value }),
    });
  await say(196);
  await expect(page.getByTestId('live-outside')).toContainText('out of range', { timeout: 20_000 });
  await page.getByRole('radio', { name: 'On the Line' }).click();
  await expect(page.getByTestId('station-inv')).toContainText('196');
  await expect(page.getByTestId('station-inv')).toContainText('outside');
  await say(195);
  await page.goto(`${site}/log`);
  const entry = page.getByText(/is out of range: 196.V/);
  await expect(entry.first()).toBeVisible({ timeout: 60_000 });
  await page.waitForTimeout(12_000);
  await expect(entry).toHaveCount(1);
});

test('@phone a device that the server reads is entered: what is wrong is said by its line, then it stands on the list', async ({
  demo: page,
}) => {
  await importCopy(page, 'It is asked');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/live`);
  await expect(page.getByTestId('polled')).toContainText('MODBUS_ALLOW');
  await page.getByRole('button', { name: 'Add a device' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Gateway');
  await page.getByLabel('Registers').fill('40, 3, u16, big, 0.1, 0, nowhere, load_V');
  await page.getByRole('button', { name: 'Save device' }).click();
  await expect(page.getByText('Enter the name or address of the device.')).toBeVisible();
  await expect(page.getByText(/Line 1 subject is "nowhere"/)).toBeVisible();
  await page.getByLabel('Host').fill('10.8.0.2');
  await page.getByLabel('Registers').fill('40, 3, u16, big, 0.1, 0, gel, load_V');
  await page.getByRole('button', { name: 'Save device' }).click();
  await expect(page.getByTestId('polled')).toContainText('10.8.0.2:502, unit 1, every 30');
  expect(await hardToReach(page)).toEqual([]);
  await page.reload();
  await expect(page.getByTestId('polled')).toContainText('Gateway');
});
