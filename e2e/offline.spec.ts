import { expect, openSite, pad, test } from './demo';

test.use({ serviceWorkers: 'allow' });

test('the app and its sites open without a signal, from cold; what is noted there is sent later', async ({
  demo,
  context,
}, { project }) => {
  // Another value each time, or there is nothing to send.
  const amps = `${project.name === 'phone' ? 33 : 34}.${Date.now() % 1000}1`;
  await openSite(demo, 'Seal Sound ferry waiting room');
  // Kept: the app by the service worker, the sites by the device's database.
  await demo.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await demo.waitForTimeout(1500);
  const url = demo.url();
  await demo.close();

  await context.setOffline(true);
  const page = await context.newPage();
  await page.goto(url);
  await expect(page.getByTestId('line').first()).toBeVisible();
  await page.getByTestId('station-cc').first().click();
  await page.getByTestId('field-maxPv_A').click();
  await pad(page, amps);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByTestId('outbox').or(page.getByTestId('field-maxPv_A')).first()).toBeVisible();
  await page.reload();
  await expect(page.getByTestId('field-maxPv_A')).toContainText(amps);

  const sent = page.waitForResponse((response) => response.url().endsWith('/changes') && response.ok(), {
    timeout: 15_000,
  });
  await context.setOffline(false);
  await sent;
  await expect(page.getByTestId('field-maxPv_A')).toContainText(amps);
});
