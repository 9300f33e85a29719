import { expect, give, openSite, pad, plateFile, test } from './demo';

test.use({ serviceWorkers: 'allow' });

test('@phone the app and its sites open without a signal, from cold; what is noted there is sent later', async ({
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

test('@phone a whole site is surveyed without a signal from a cold start, reloaded in between, and arrives row by row', async ({
  demo,
  context,
}, { project }) => {
  test.setTimeout(90_000);
  await demo.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await demo.waitForTimeout(1500);
  await demo.close();
  await context.setOffline(true);
  const page = await context.newPage();
  await page.goto('/');
  await page.getByRole('button', { name: 'New site' }).click();
  const name = `Far out ${project.name} ${Date.now() % 1000}`;
  await page.getByLabel('Name of the site').fill(name);
  await page.getByRole('button', { name: 'Begin' }).click();
  const add = async (
    kind: string,
    pick: string | null,
    fields: [string, string][] = [],
    answers: [string, string][] = [],
  ) => {
    await page.getByRole('link', { name: /^Survey/ }).click();
    await page.getByRole('button', { name: 'Add a part' }).last().click();
    await page.getByTestId(`kind-${kind}`).click();
    if (kind === 'runs') await page.getByRole('button', { name: 'All fields, or another cable' }).click();
    if (pick) {
      await page.getByLabel('Search the shelf').last().fill(pick);
      await page.getByTestId(`shelf-${pick}`).click();
    }
    for (const [field, choice] of answers) {
      await page.getByTestId(`field-${field}`).click();
      await page.getByRole('dialog').getByRole('radio', { name: choice, exact: true }).click();
      await page.getByRole('button', { name: 'Save' }).click();
    }
    for (const [field, keys] of fields) {
      await page.getByTestId(`field-${field}`).click();
      await pad(page, keys);
      await page.getByRole('button', { name: 'Save' }).click();
    }
    for (const [what, n] of kind === 'bank'
      ? [
          ['Blocks in series', 2],
          ['Strings in parallel', 2],
        ]
      : kind === 'arrays'
        ? [['Modules in series', 3]]
        : [])
      await page.getByRole('radio', { name: `${what}: ${n}`, exact: true }).click();
    await page.getByRole('button', { name: 'Add to the Line' }).click();
    await expect(page.getByRole('heading', { name: 'As recorded' })).toBeVisible();
  };
  await add('controllers', 'Brackwell T60-150');
  await add('arrays', 'Tarnlight 310');
  await add('bank', 'Ostrum Gel 12-130');
  await page.reload();
  await add('inverters', 'Tarnlight Wave 24-1600');
  await add(
    'runs',
    null,
    [
      ['length_m', '2.5'],
      ['size', '35'],
      ['protection.rating_A', '80'],
    ],
    [
      ['kind', 'controller to bank'],
      ['from', 'Brackwell T60-150'],
      ['to', 'Ostrum Gel 12-130'],
      ['protection.type', 'terminal'],
    ],
  );
  await page.reload();
  await add('loads', 'Larder fridge, DC', [['hours_d', '8']]);
  const shown = await page.evaluate(
    () =>
      new Promise<{ entries: number }>((resolve) => {
        const open = indexedDB.open('lantern');
        open.onsuccess = () => {
          const count = open.result.transaction('outbox').objectStore('outbox').count();
          count.onsuccess = () => resolve({ entries: count.result });
        };
      }),
  );
  expect(shown.entries).toBeGreaterThan(6);
  await page.getByRole('link', { name: /^Survey/ }).click();
  await page.getByRole('button', { name: /^This site/ }).click();
  const saved = page.waitForEvent('download');
  await page.getByTestId('more-export').click();
  const { readFileSync } = await import('node:fs');
  const here = JSON.parse(readFileSync(await (await saved).path(), 'utf8')) as object;

  await context.setOffline(false);
  const id = /\/site\/([^/]+)/.exec(page.url())?.[1] ?? '';
  // What the server has is what the device had, member by member.
  await expect
    .poll(async () => (await page.request.get(`/api/sites/${id}/file`)).json().catch(() => null) as Promise<unknown>, {
      timeout: 20_000,
    })
    .toEqual(here);
});

test('@phone a plate is read without a signal once its reader has been fetched; before that it is said', async ({
  demo,
  context,
}) => {
  test.slow();
  await openSite(demo, 'Seal Sound ferry waiting room');
  await demo.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await demo.waitForTimeout(1500);
  const address = `${demo.url().replace(/\/$/, '')}/plate`;
  await demo.close();
  const page = await context.newPage();
  const read = () => give(page, page.getByRole('button', { name: 'Choose pictures' }), plateFile('controller-01.jpg'));
  await context.setOffline(true);
  await page.goto(address);
  await read();
  await expect(page.getByTestId('plate-trouble')).toContainText('With a signal, try again', { timeout: 60_000 });
  await context.setOffline(false);
  await read();
  await expect(page.getByTestId('plate-lead')).toHaveText(/Charge controller: \d of \d/, { timeout: 90_000 });
  await context.setOffline(true);
  await page.reload();
  await read();
  await expect(page.getByTestId('plate-lead')).toHaveText(/Charge controller: \d of \d/, { timeout: 90_000 });
});
