import { expect, hardToReach, importCopy, test } from './demo';

test('@phone a token is made, what it sends is shown with its age, and ended it sends nothing more', async ({
  demo: page,
}) => {
  await importCopy(page, 'It speaks');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/live`);
  await expect(page.getByTestId('live-lead')).toHaveText('Nothing has been heard from this system yet.', {
    timeout: 30_000,
  });
  await page.getByRole('button', { name: 'Make a token' }).click();
  const token = (await page.getByTestId('feed-token').innerText()).split('\n')[0]!.trim();
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
