import { readFileSync } from 'node:fs';
import type { Browser, Page } from '@playwright/test';
import { expect, hardToReach, importCopy, test } from './demo';

const SIGN_IN = JSON.parse(readFileSync(new URL('../demo/sign-in.json', import.meta.url), 'utf8')) as {
  password: string;
};

/** One setting changed: a short order, with nothing taken apart. */
const settingsAlone = (file: Record<string, unknown>) => {
  const { system, proposals } = file as unknown as {
    system: { controllers: { id: string; maxPv_V: number }[] };
    proposals: { id: string }[];
  };
  const [controller] = system.controllers;
  const cc = controller!.id;
  // Nothing is left that somebody would have to answer for before the work begins.
  controller!.maxPv_V = 200;
  Object.assign(file, {
    readings: [],
    proposals: [
      {
        id: 'p-set',
        title: 'Absorb a little lower',
        changes: [{ op: 'set', at: 'controllers', id: cc, value: { settings: { absorb_V: 14.1 } } }],
      },
      // Stays open: it can be laid over the other all the same.
      { ...proposals.find(({ id }) => id === 'p-relay') },
    ],
  });
};

/** Somebody else of the firm, on a device of their own. */
async function enter(browser: Browser, name: string): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  await page.goto(process.env.BASE_URL ?? '/');
  await page.getByLabel('E-mail').fill(`${name.toLowerCase()}@saltmarsh.example`);
  await page.getByLabel('Password').fill(SIGN_IN.password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByLabel('Find a site')).toBeVisible({ timeout: 15_000 });
  return page;
}
const openOrder = async (page: Page, id: string) => {
  await page.getByRole('link', { name: /^Install/ }).click();
  await page.getByTestId(`order-${id}`).click();
  await expect(page.getByTestId('phase-bar')).toBeVisible();
};
const draw = async (page: Page) => {
  const box = (await page.getByTestId('signature').first().boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + 60);
  await page.mouse.down();
  for (const [x, y] of [
    [60, 20],
    [90, 70],
    [140, 30],
  ] as const)
    await page.mouse.move(box.x + x, box.y + y, { steps: 3 });
  await page.mouse.up();
};

test('@phone an order is worked by two phones off line, merged, proved, signed, and is then the system as found', async ({
  demo,
  context,
  browser,
}) => {
  test.setTimeout(120_000);
  await importCopy(demo, 'Two phones', settingsAlone);
  const path = new URL(demo.url()).pathname;
  await openOrder(demo, 'p-set');
  await expect(demo.getByTestId('isolation')).toContainText('Nothing is switched off');
  const other = await enter(browser, 'Morag');
  await other.goto(new URL(path, demo.url()).href);
  await openOrder(other, 'p-set');

  // Both out of reach: one tells and saves, the other covers the array.
  await context.setOffline(true);
  await other.context().setOffline(true);
  await demo.getByTestId('tick').click();
  await expect(demo.getByTestId('step-number')).toContainText('step 2 of');
  await demo.getByTestId('tick').click();
  await expect(demo.getByTestId('step-text')).toContainText('cover all modules');
  await other.getByText(/^All \d+ steps$/).click();
  await other.getByTestId('step-3').click();
  // What is not ticked before it asks for a reason.
  await expect(other.getByTestId('waits')).toContainText('Waits for step 1, 2');
  await other.getByTestId('tick').click();
  await other.getByRole('textbox', { name: 'Reason' }).fill('Isla tells them while I am on the roof');
  await other.getByRole('button', { name: 'Mark as done anyway' }).click();
  await expect(other.getByTestId('isolation')).toContainText('PV off');
  await context.setOffline(false);
  await other.context().setOffline(false);
  await expect(async () => {
    await demo.goto(demo.url());
    await expect(demo.getByTestId('phase-bar')).toContainText('3 of', { timeout: 4000 });
  }).toPass({ timeout: 30_000 });
  await expect(demo.getByTestId('isolation')).toContainText('PV off. Since');
  await other.context().close();

  // The rest by thumb.
  for (let left = 12; left > 0 && (await demo.getByTestId('order-done').count()) === 0; left--) {
    const before = await demo.getByTestId('phase-bar').textContent();
    await demo.getByTestId('tick').click();
    await expect(demo.getByTestId('phase-bar').or(demo.getByTestId('order-done')).first()).not.toHaveText(before ?? '');
  }
  await demo.getByRole('button', { name: 'Measure and sign' }).click();
  await expect(demo.getByTestId('service-lead')).toContainText('measurements');
  // A reading flips its row while it is typed; out of its band it asks why.
  await demo.getByTestId(/^test-gel.rest_V/).click();
  await expect(demo.getByTestId('reading-pad')).toBeVisible();
  for (const key of ['1', '2', 'point', '6']) await demo.getByRole('button', { name: key, exact: true }).click();
  await expect(demo.getByTestId('reading-judged')).toHaveText('inside');
  for (let i = 0; i < 4; i++) await demo.getByRole('button', { name: 'delete', exact: true }).click();
  for (const key of ['1', '1', 'point', '2']) await demo.getByRole('button', { name: key, exact: true }).click();
  await expect(demo.getByTestId('reading-judged')).toHaveText('outside');
  await expect(demo.getByTestId('ask-why')).toContainText('Why?');
  await demo.getByRole('textbox', { name: 'Reason' }).fill('loads were on a minute before');
  await demo.getByRole('button', { name: 'Save reading' }).click();
  await expect(demo.getByTestId('service-lead')).toContainText('1 outside');
  expect(await hardToReach(demo)).toEqual([]);
  const sign = demo.getByRole('button', { name: /^Sign\. This becomes the current system/ });
  await expect(sign).toBeDisabled();
  await expect(demo.getByTestId('signing')).toContainText('30 measurements not taken');
  await demo.getByLabel('Why were they not measured?').fill('the light was gone');
  await demo.getByRole('button', { name: /^Use for all/ }).click();
  await draw(demo);
  await expect(sign).toBeEnabled();
  await sign.click();
  await expect(demo.getByTestId('visit')).toContainText('signed');
  await expect(demo.getByTestId('visit')).toContainText('installed');

  // The record is a document: its number is on the paper, and whoever holds it may ask whether it is unchanged.
  await demo.getByRole('button', { name: 'Add a correction' }).click();
  await demo.getByLabel('Correction', { exact: true }).last().fill('The meter was the old one');
  await demo.getByRole('button', { name: 'Save correction' }).click();
  await expect(demo.getByTestId('corrections')).toContainText('The meter was the old one');
  const visits = demo.url();
  await demo.getByRole('button', { name: 'Commissioning record' }).click();
  await expect(demo.getByTestId('visit-paper')).toContainText('The meter was the old one');
  const number = (await demo.getByTestId('record-number').innerText()).match(/(?:[0-9a-f]{8}\s*){8}/)![0];
  // Somebody who is not signed in at all.
  const asked = await browser.newContext();
  const stranger = await asked.newPage();
  await expect
    .poll(async () => {
      await stranger.goto(new URL(`/record/${number.replace(/\s/g, '')}`, visits).href);
      await stranger.getByRole('button', { name: 'Home page' }).waitFor();
      return stranger.getByText(/This record is stored here, unchanged/).isVisible();
    })
    .toBe(true);
  await expect(stranger.getByText(/One correction was added later/)).toBeVisible();
  await asked.close();
  await demo.goto(visits);

  // The proposal is the system as found now, with its evidence; nothing is open any more.
  await demo.getByRole('link', { name: /^Install/ }).click();
  await expect(demo.getByText(/^installed, /)).toBeVisible();
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await expect(demo.getByTestId('since-last')).toBeVisible();
  await demo.getByTestId('station-cc').first().click();
  await expect(demo.getByTestId('field-settings.absorb_V')).toContainText('14.1');
  await expect(demo.getByTestId('field-settings.absorb_V')).toContainText('measured');
});

test('@phone a wrong reading stops the order, a stop card blocks what is live, AC work wants a licence, a reader ticks nothing', async ({
  demo,
  browser,
}) => {
  test.setTimeout(120_000);
  await importCopy(demo, 'Kept back', (file) => {
    const { proposals, site } = file as unknown as {
      proposals: { id: string; work?: unknown }[];
      site: { observations?: Record<string, string> };
    };
    Object.assign(file, { proposals: proposals.filter(({ id }) => id === 'p-relay') });
    site.observations = { ...site.observations, noCharring: 'no' };
    delete proposals.find(({ id }) => id === 'p-relay')!.work;
  });
  const path = new URL(demo.url()).pathname;
  await openOrder(demo, 'p-relay');
  await demo.getByText(/^All \d+ steps$/).click();
  const goTo = async (page: Page, words: RegExp) => {
    await page.getByTestId('step-list').getByText(words).first().click();
    await expect(page.getByTestId('step-text')).toContainText(words);
  };
  // The stop card: nothing live is switched on.
  await goTo(demo, /Connect Ostrum gel bank to the bus/);
  await expect(demo.getByTestId('stopped')).toContainText('melted or charred');
  await expect(demo.getByTestId('tick')).toHaveCount(0);
  // Volts at what parts the bank, the wrong way round: the order stops, and says what to do.
  await goTo(demo, /Check polarity and voltage on both sides of the bank isolation/);
  for (const key of ['minus', '1', '2', 'point', '6'])
    await demo.getByRole('button', { name: key, exact: true }).click();
  await demo.getByRole('button', { name: 'Done, save reading' }).click();
  await expect(demo.getByTestId('order-stopped')).toContainText('the poles are swapped');
  await demo.getByRole('button', { name: 'Measure again' }).click();
  await expect(demo.getByTestId('step-reading')).toBeVisible();
  // Another cable than was proposed: noted, and the proposal is what was fitted.
  await goTo(demo, /Fit the cable.*: Relay/);
  await demo.getByRole('button', { name: 'Done differently' }).click();
  await demo.getByLabel('What was done differently, and why').fill('4 mm2 was on the van');
  await demo.getByRole('button', { name: 'Save note' }).click();
  await expect(demo.getByTestId('deviations')).toContainText('4 mm2 was on the van');
  await demo.getByTestId('field-size').click();
  await demo.getByRole('dialog').getByRole('button', { name: '4', exact: true }).click();
  await demo.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await demo.getByRole('radio', { name: 'Cuts' }).click();
  await expect(demo.getByTestId('cuts')).toContainText('4\u00a0mm\u00b2');
  await demo.getByRole('radio', { name: 'Kit' }).click();
  await demo.getByTestId('kit-1').getByRole('radio', { name: 'ordered' }).click();
  await expect(demo.getByTestId('kit-1')).toContainText('Not on the van yet: step');
  expect(await hardToReach(demo)).toEqual([]);

  // Morag has no licence; a reader looks on.
  const morag = await enter(browser, 'Morag');
  await morag.goto(new URL(path, demo.url()).href);
  await openOrder(morag, 'p-relay');
  await morag.getByText(/^All \d+ steps$/).click();
  await goTo(morag, /Verify one neutral bond/);
  await expect(morag.getByTestId('needs-licence')).toContainText('Licensed work');
  await expect(morag.getByTestId('tick')).toHaveCount(0);
  await goTo(morag, /Tell everyone on site/);
  await expect(morag.getByTestId('tick')).toBeVisible();
  await morag.context().close();
});
