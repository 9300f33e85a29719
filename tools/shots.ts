import { chromium, type Page } from '@playwright/test';
import { BROWSER } from './browser';

/** Retakes docs/screenshots from the demo data. The demo must be running: `npm run demo` in another terminal. */
const address = `http://localhost:${process.env.PORT ?? 4280}`;
const folder = 'docs/screenshots';

const browser = await chromium.launch(BROWSER);
await take('phone', { width: 390, height: 844 }, 'light', async (page, shot) => {
  await enter(page);
  // What each site is about is worked out after the list stands.
  await page.getByTestId('site-Corrach bothy refuge').waitFor();
  await page.getByText('reading ...').first().waitFor({ state: 'hidden' });
  await shot('sites');
  await page.getByTestId('site-Corrach bothy refuge').click();
  await shot('line-day');
  const corrach = page.url().replace(/\/$/, '');
  await page.goto(`${corrach}/roof`);
  await page.getByText(/W with what fits/).waitFor({ timeout: 60_000 });
  await page.waitForTimeout(1500);
  await shot('roof');
  await page.goto(corrach);
  await page.getByTestId('line').first().waitFor();
  await page.getByTestId('station-cc').click();
  await page.getByTestId('field-maxPv_V').click();
  for (const key of '175') await page.getByRole('dialog').getByRole('button', { name: key, exact: true }).click();
  await shot('edit');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: /^Survey/ }).click();
  await page.getByRole('button', { name: 'Walk round' }).click();
  await shot('walk-round');
  await page.getByRole('link', { name: /^Check/ }).click();
  await page.getByText('No more load').waitFor();
  await page
    .getByText(/fixes it/)
    .first()
    .waitFor();
  await shot('check');
  await page.getByText('No more load').click();
  await page.getByTestId('ladder').waitFor();
  await page.getByText('No more load').click();
  await page.getByTestId('row-pv.cold-voltage').first().click();
  await page.getByText('What would fix it').waitFor();
  await shot('finding');
  await page.getByRole('link', { name: /^Plan/ }).click();
  await page.getByTestId('what-if-modules').click();
  await page.getByTestId('layout').first().waitFor();
  await shot('add-modules');
  await page.getByRole('button', { name: 'All proposals' }).click();
  await page.getByTestId('proposal-p-lantern').click();
  await shot('proposal');
  await page.getByRole('link', { name: /^Install/ }).click();
  await page.getByTestId('order-p-relay').click();
  await page.getByTestId('step').waitFor();
  await shot('install');
  await page.goto('/');
  await page.getByTestId('site-Whelk Bank research raft').click();
  await page.getByRole('link', { name: /^Service/ }).click();
  await page.getByTestId('test-lfp.rest_V').click();
  for (const key of ['5', '3', 'point', '2']) await page.getByRole('button', { name: key, exact: true }).click();
  await page.getByTestId('reading-judged').scrollIntoViewIfNeeded();
  await shot('service');
  await page.getByTestId('trends').scrollIntoViewIfNeeded();
  await page.getByTestId('trends').click();
  await page.getByTestId('trend-drop_V-r-inv').waitFor();
  await shot('trends');
  await page.getByRole('button', { name: 'Back', exact: true }).click();
  await page.getByTestId('live').scrollIntoViewIfNeeded();
  await page.getByTestId('live').click();
  await page.getByRole('radio', { name: 'On the Line' }).click();
  await page.getByTestId('figure').first().waitFor();
  await page.getByTestId('station-inv').scrollIntoViewIfNeeded();
  await shot('live');
  await page.getByRole('button', { name: 'Back', exact: true }).click();
  await page.getByTestId('find-fault').scrollIntoViewIfNeeded();
  await page.getByTestId('find-fault').click();
  await page.getByRole('radio', { name: 'Lights dim at night' }).click();
  await page.getByTestId('faults-lead').waitFor();
  await page.waitForTimeout(1500);
  await shot('faults');
  await page.goto('/');
  await page.getByTestId('site-Gannet Ledge bird observatory').click();
  await page.getByRole('link', { name: /^Plan/ }).click();
  await page.getByTestId('what-if-convert').click();
  await page.getByTestId('option').first().waitFor();
  await shot('lithium');
  await page.getByRole('button', { name: 'All proposals' }).click();
  await page.getByTestId('what-if-replace').click();
  await page.getByTestId('replace-inv').click();
  await page.getByTestId('meets').first().waitFor();
  await page.getByRole('button', { name: 'All proposals' }).click();
  await page.getByRole('link', { name: /^Check/ }).click();
  await page.getByTestId('year').click();
  await page.getByText(/of 200 /).waitFor();
  await page.getByRole('radio', { name: 'Twice the bank capacity' }).click();
  await page.getByTestId('year-beside').waitFor();
  await page.waitForTimeout(2500);
  await shot('year');
});
await take('phone', { width: 390, height: 844 }, 'dark', async (page, shot) => {
  await enter(page);
  await page.getByTestId('site-Corrach bothy refuge').click();
  await shot('line-lamp');
});
await take('wide', { width: 1280, height: 800 }, 'light', async (page, shot) => {
  await enter(page);
  await page.getByTestId('site-Gannet Ledge bird observatory').click();
  await page.getByTestId('station-bank').click();
  await shot('survey');
  await page.getByRole('link', { name: /^Plan/ }).click();
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  await page
    .getByText(/of need/)
    .last()
    .waitFor();
  await page.waitForTimeout(2500);
  await shot('compare');
});
await browser.close();

async function enter(page: Page) {
  await page.getByRole('button', { name: 'Look around the demo' }).click();
  await page.getByLabel('Find a site').waitFor();
}

async function take(
  size: string,
  viewport: { width: number; height: number },
  colorScheme: 'light' | 'dark',
  act: (page: Page, shot: (name: string) => Promise<void>) => Promise<void>,
) {
  const page = await browser.newPage({ viewport, colorScheme, baseURL: address });
  await page.goto(address).catch(() => {
    process.stderr.write(`Nothing answers at ${address}: start "npm run demo" in another terminal first.\n`);
    process.exit(1);
  });
  await page.getByRole('button', { name: 'Look around the demo' }).waitFor();
  await act(page, async (name) => {
    await page.waitForTimeout(700);
    await page.screenshot({ path: `${folder}/${size}-${name}.png` });
  });
  await page.close();
}
