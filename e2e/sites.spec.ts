import { chooseFile, expect, hardToReach, importCopy, openSite, test, troublesOn } from './demo';

test('@phone the five demo sites say in a sentence what each is about', async ({ demo }) => {
  for (const name of [
    'Corrach bothy refuge',
    'Gannet Ledge bird observatory',
    'Harbour workshop',
    'Seal Sound ferry waiting room',
    'Whelk Bank research raft',
  ])
    await expect(demo.getByTestId(`site-${name}`)).toBeVisible();
  await expect(demo.getByTestId('site-Corrach bothy refuge')).toContainText(
    'On the coldest morning the string reaches 154\u00a0V; this controller is rated for 150\u00a0V.',
  );
  await expect(demo.getByTestId('site-Whelk Bank research raft')).toContainText('Nothing is over.');
});

test('@phone a wrong password gets a sentence, and no way in', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('E-mail').fill('nobody@saltmarsh.example');
  await page.getByLabel('Password').fill('not the password');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByText('E-mail or password is wrong.')).toBeVisible();
});

test('@phone searching narrows the list, and says when nothing is called so', async ({ demo }) => {
  await demo.getByLabel('Find a site').fill('gannet');
  await expect(demo.getByTestId('site-Corrach bothy refuge')).toHaveCount(0);
  await expect(demo.getByTestId('site-Gannet Ledge bird observatory')).toBeVisible();
  await demo.getByLabel('Find a site').fill('zzz');
  await expect(demo.getByText('No site is called "zzz".')).toBeVisible();
});

test('@phone a broken file is refused with each path, and nothing is imported', async ({ demo }) => {
  await chooseFile(
    demo,
    'bad.lantern.json',
    '{"format":"true-lantern","version":1,"site":{"name":"Bad","recordLow_C":-300},"system":{"moduleTypes":[{"id":"m","pmax_W":300,"voc_V":5000,"isc_A":9,"vmp_V":30,"imp_A":8}]}}',
  );
  await expect(demo.getByText('bad.lantern.json was not imported. Nothing was changed.')).toBeVisible();
  await expect(demo.getByText('site.recordLow_C: is -300, expected a number from -90 to 90')).toBeVisible();
  await expect(
    demo.getByText('system.moduleTypes[0].voc_V: is 5000, expected a number above 0 up to 1500'),
  ).toBeVisible();
  await chooseFile(demo, 'torn.lantern.json', '{"format": "true-lant');
  await expect(demo.getByText(/^line 1, column \d+: is not JSON/)).toBeVisible();
  await expect(demo.getByTestId('site-Bad')).toHaveCount(0);
});

test('@phone a file that is imported and exported again is the same, unknown members and all', async ({ demo }, {
  project,
}) => {
  const name = `Round trip ${project.name}`;
  await importCopy(demo, name, (file) => Object.assign(file, { house: { own: ['member'] } }));
  await demo.getByRole('button', { name: /^This site/ }).click();
  const download = demo.waitForEvent('download');
  await demo.getByRole('button', { name: 'Export the system file' }).click();
  const { readFileSync } = await import('node:fs');
  const saved = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as Record<string, unknown>;
  const original = JSON.parse(
    readFileSync(new URL('../demo/sites/corrach-bothy.lantern.json', import.meta.url), 'utf8'),
  ) as { site: object };
  expect(saved).toEqual({ ...original, site: { ...original.site, name }, house: { own: ['member'] } });
});

test('nothing on the other screens is hard to make out or to reach', async ({ demo }, { project }) => {
  test.setTimeout(120_000);
  await openSite(demo, 'Corrach bothy refuge');
  const site = new URL(demo.url()).pathname;
  const paths = [
    `${site}/part/cc`,
    `${site}/part/gel`,
    `${site}/add`,
    `${site}/add?kind=bank`,
    `${site}/walk`,
    `${site}/day`,
    `${site}/more`,
    `${site}/schools`,
    `${site}/history`,
    `${site}/curve/roof`,
    `${site}/plan`,
    `${site}/plan/convert`,
    '/shelf',
    '/shelf/new',
    '/quick',
    '/firm',
  ];
  // Outside a site a wide page is the phone's, centred; inside, the Line and the list stand beside it.
  expect(await troublesOn(demo, project.name === 'phone' ? paths : paths.slice(0, 3))).toEqual([]);
});

test('@phone Day and Lamp are one tap apart, remembered, and nothing on either is hard to make out', async ({
  demo,
}) => {
  const paper = () => demo.evaluate(() => document.body.style.backgroundColor);
  for (const ground of ['rgb(246, 241, 228)', 'rgb(20, 18, 13)']) {
    await expect.poll(paper).toBe(ground);
    for (const path of ['list', 'site', 'check']) {
      if (path === 'site') await openSite(demo, 'Corrach bothy refuge');
      if (path === 'check') await demo.getByRole('link', { name: /^Check/ }).click();
      await demo.waitForTimeout(200);
      expect(await hardToReach(demo), path).toEqual([]);
    }
    if (ground.startsWith('rgb(246')) {
      await demo.getByRole('button', { name: 'Lamp: dark ground' }).click();
      await demo.getByRole('button', { name: 'All sites' }).click();
    }
  }
  await demo.reload();
  await expect.poll(paper).toBe('rgb(20, 18, 13)');
});

test('@phone the app can be installed: manifest, icons and fonts come from our own address', async ({
  demo,
  request,
}) => {
  const manifest = (await (await request.get('/manifest.webmanifest')).json()) as {
    icons: { src: string }[];
    display: string;
  };
  expect(manifest.display).toBe('standalone');
  for (const { src } of manifest.icons) expect((await request.get(src)).headers()['content-type']).toBe('image/png');
  expect(await demo.evaluate(() => document.fonts.check('16px Hyperlegible'))).toBe(true);
  const elsewhere = await demo.evaluate(() =>
    performance
      .getEntriesByType('resource')
      .filter(({ name }) => !name.startsWith(location.origin) && !/^(data|blob):/.test(name))
      .map(({ name }) => name),
  );
  expect(elsewhere).toEqual([]);
});

test('@phone an address that is not there is a 404, not the app', async ({ request }) => {
  expect((await request.get('/nothing.js')).status()).toBe(404);
  expect((await request.get('/api/nothing')).status()).toBe(404);
});

test('@phone an address that leads nowhere says so in our own words, and leads back', async ({ demo }) => {
  await demo.goto('/no/such/page');
  await expect(demo.getByText('Page not found.')).toBeVisible();
  await demo.getByRole('button', { name: 'All sites' }).click();
  await expect(demo.getByLabel('Find a site')).toBeVisible();
});

test('@phone what somebody else changes shows on an open phone within two seconds, without a tap', async ({
  demo,
  browser,
  baseURL,
}) => {
  await importCopy(demo, 'Two phones');
  const id = new URL(demo.url()).pathname.split('/')[2] ?? '';
  const other = await browser.newContext({ baseURL: baseURL ?? '', viewport: { width: 390, height: 844 } });
  try {
    const page = await other.newPage();
    await page.goto('/');
    await page.getByRole('button', { name: 'Look around the demo' }).click();
    await openSite(page, 'Two phones');
    const site = (await (await other.request.get(`/api/sites/${id}`)).json()) as {
      parts: { id: string; kind: string; revision: number }[];
    };
    const row = site.parts.find(({ kind }) => kind === 'site');
    const session = (await (await other.request.get('/api/session')).json()) as { csrfToken: string };
    const changeId = crypto.randomUUID();
    const change = { changeId, partId: row!.id, baseRevision: row!.revision, set: { name: 'Two phones, renamed' } };
    await other.request.post(`/api/sites/${id}/changes`, {
      data: { changes: [{ ...change, at: new Date().toISOString() }] },
      headers: { 'x-csrf-token': session.csrfToken },
    });
    await expect(demo.getByText('Two phones, renamed').first()).toBeVisible({ timeout: 4000 });
    await expect(page.getByText('Two phones, renamed').first()).toBeVisible({ timeout: 4000 });
  } finally {
    await other.close();
  }
});
