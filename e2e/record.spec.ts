import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { expect, give, importCopy, pad, test } from './demo';

/** A small picture that any browser reads. */
const PICTURE = readFileSync(new URL('../client/public/icon-192.png', import.meta.url));

async function begin(page: Page, name: string) {
  await page.getByRole('button', { name: 'New site' }).click();
  await page.getByLabel('Name of the site').fill(name);
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByText('Nothing can be checked yet').first()).toBeVisible();
}
/** A field that has no answer yet, on the pad. */
async function fill(page: Page, field: string, keys: string) {
  await page.getByTestId(`field-${field}`).click();
  await pad(page, keys);
  await page.getByRole('button', { name: 'Save' }).click();
}

test('@phone a bank of sixteen and an array of twelve, each in six taps and no keystroke', async ({ demo }, {
  project,
}) => {
  await begin(demo, `Counted ${project.name}`);
  let taps = 0;
  const tap = async (target: Locator) => {
    await target.click();
    taps += 1;
  };
  const count = (what: string, n: number) => demo.getByRole('radio', { name: `${what}: ${n}`, exact: true });
  const started = Date.now();
  await tap(demo.getByRole('button', { name: 'Add a part' }));
  await tap(demo.getByTestId('kind-bank'));
  await tap(demo.getByTestId('shelf-Ostrum Gel 12-130'));
  await tap(count('Blocks in series', 4));
  await tap(count('Strings in parallel', 4));
  await expect(demo.getByTestId('total')).toContainText('16');
  await tap(demo.getByRole('button', { name: 'Add to the Line' }));
  await expect(demo.getByTestId('field-parallel')).toContainText('4');
  expect(taps).toBe(6);
  expect(Date.now() - started).toBeLessThan(60_000);

  taps = 0;
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await tap(demo.getByRole('button', { name: 'Add a part' }).last());
  await tap(demo.getByTestId('kind-arrays'));
  await tap(demo.getByTestId('shelf-Pell Clearsky 375'));
  await tap(count('Modules in series', 4));
  await tap(count('Strings in parallel', 3));
  await expect(demo.getByTestId('total')).toContainText('12');
  await tap(demo.getByRole('button', { name: 'Add to the Line' }));
  await expect(demo.getByTestId('field-strings')).toContainText('4 \u00d7 3');
  expect(taps).toBe(6);
});

test('@phone a photo is taken without a signal, survives a reload, is sent, and carries no place', async ({
  demo,
  request,
}, { project }) => {
  await importCopy(demo, `Photo ${project.name}`);
  await demo.getByTestId('station-cc').click();
  await demo.route('**/attachments/**', (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  const before = await demo.getByTestId('thumbnail').count();
  await give(demo, demo.getByRole('button', { name: 'File', exact: true }), {
    name: 'plate.png',
    mimeType: 'image/png',
    buffer: PICTURE,
  });
  await expect(demo.getByTestId('thumbnail')).toHaveCount(before + 1);
  await demo.reload();
  await expect(demo.getByTestId('thumbnail').locator('img')).toHaveCount(before + 1);
  // Cut off by the reload with its answer on the way, it is sent again: then the server has it already.
  const sent = demo.waitForResponse(
    (response) => response.url().includes('/attachments/') && response.request().method() === 'PUT' && response.ok(),
    { timeout: 20_000 },
  );
  await demo.unroute('**/attachments/**');
  await demo.reload();
  const address = (await sent).url();
  const cookies = await demo.context().cookies();
  const got = await request.get(address, {
    headers: { cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; ') },
  });
  expect(got.headers()['content-type']).toBe('image/jpeg');
  expect((await got.body()).includes(Buffer.from('Exif'))).toBe(false);

  await demo.getByTestId('thumbnail').first().click();
  await expect(demo.getByTestId('viewer')).toBeVisible();
  const width = () =>
    demo
      .getByTestId('viewer')
      .locator('img')
      .first()
      .evaluate((img) => img.getBoundingClientRect().width);
  const small = await width();
  await demo.getByRole('button', { name: 'Larger' }).click();
  await expect.poll(width).toBeCloseTo(2 * small, -1);
  await demo.getByRole('button', { name: 'Remove' }).last().click();
  await expect(demo.getByTestId('thumbnail')).toHaveCount(before);
  await demo.getByTestId('undo').first().getByRole('button', { name: 'Undo' }).click();
  await expect(demo.getByTestId('thumbnail')).toHaveCount(before + 1);
});

test('@phone what is no picture, or far too large, is refused in a sentence', async ({ demo }, { project }) => {
  test.setTimeout(90_000);
  await importCopy(demo, `No photo ${project.name}`);
  await demo.getByTestId('station-cc').click();
  const file = demo.getByRole('button', { name: 'File', exact: true });
  await give(demo, file, { name: 'list.png', mimeType: 'image/png', buffer: Buffer.from('no picture at all') });
  await expect(demo.getByText('list.png is not a picture this browser can read. Nothing was attached.')).toBeVisible();
  await give(demo, file, { name: 'huge.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(26e6) });
  await expect(
    demo.getByText('huge.jpg has 26 MB; a photo may have 25 MB at most. Nothing was attached.'),
  ).toBeVisible();
  await expect(demo.getByTestId('thumbnail')).toHaveCount(0);
});

test('@phone feet and inches, a fraction, "about" and "between": stored in metres, shown as the person prefers', async ({
  demo,
}, { project }) => {
  await demo.getByRole('button', { name: 'Firm and units' }).click();
  await demo.getByRole('radio', { name: 'Cable lengths: ft' }).click();
  await demo.getByRole('radio', { name: 'Conductors: AWG' }).click();
  await demo.getByRole('button', { name: 'Back' }).click();
  await importCopy(demo, `Units ${project.name}`);
  await demo.getByTestId('cable-r-pv').click();
  await demo.getByTestId('field-length_m').click();
  for (const key of ['1', '2', 'ft', '6', 'in'])
    await demo.getByRole('dialog').getByRole('button', { name: key, exact: true }).click();
  await demo.getByRole('button', { name: 'Save' }).click();
  // 12 ft 6 in = 3.81 m
  await expect(demo.getByTestId('field-length_m')).toContainText('12.5\u00a0ft');
  await demo.getByTestId('field-size').click();
  const size = demo.getByRole('dialog');
  for (const key of ['1', '0', 'to', '1', '6', 'mm2'])
    await size.getByRole('button', { name: key, exact: true }).click();
  await expect(size.getByTestId('entry')).toHaveText('10 to 16mm\u00b2');
  await demo.getByRole('button', { name: 'Save' }).click();
  await expect(demo.getByTestId('field-size')).toContainText('10\u00a0mm\u00b2');
  await expect(demo.getByTestId('field-size')).toContainText('assumed, 10\u00a0mm\u00b2');
  const saved = demo.waitForEvent('download');
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await demo.getByRole('button', { name: /^This site/ }).click();
  await demo.getByTestId('more-export').click();
  const file = JSON.parse(readFileSync(await (await saved).path(), 'utf8')) as {
    system: { runs: { id: string; length_m: number; size: string }[] };
    evidence: Record<string, { low: string; high: string }>;
  };
  expect(file.system.runs.find(({ id }) => id === 'r-pv')).toMatchObject({ length_m: 3.81, size: '10mm2' });
  expect(file.evidence['r-pv.size']).toMatchObject({ grade: 'assumed', low: '10mm2', high: '16mm2' });
});

test('@phone two numbers that disagree ask at once', async ({ demo }, { project }) => {
  await importCopy(demo, `Doubt ${project.name}`);
  await demo.getByTestId('open-m235').last().click();
  await demo.getByTestId('field-vmp_V').click();
  await pad(demo, '16.6');
  await expect(demo.getByText(/^Two numbers disagree: it is 235 W, but 16.6 V x 6.42 A is 107 W/)).toBeVisible();
});

test('@phone the walk-round asks from the sun down, goes on after a reload, and ends with what gives out', async ({
  demo,
}, { project }) => {
  await begin(demo, `Walk ${project.name}`);
  await demo.getByRole('button', { name: 'Walk round' }).last().click();
  await expect(demo.getByRole('heading', { name: 'Which module is on the roof?' })).toBeVisible();
  await demo.getByRole('button', { name: 'Add module' }).click();
  await demo.getByTestId('shelf-Pell Clearsky 375').click();
  await demo.getByRole('button', { name: 'Add to the Line' }).click();
  await demo.goBack();
  await demo.goBack();
  await expect(demo.getByRole('heading', { name: 'How are the modules connected?' })).toBeVisible();
  for (const question of [
    'How are the modules connected?',
    'Which controller do they feed?',
    'What is the bank made of?',
  ]) {
    await expect(demo.getByRole('heading', { name: question })).toBeVisible();
    await demo.getByRole('button', { name: 'Skip (none here, or later)' }).click();
  }
  await demo.reload();
  await expect(demo.getByRole('heading', { name: 'Is there an inverter?' })).toBeVisible();
  const left = async () => Number(/\d+/.exec(await demo.getByTestId('left').innerText())?.[0] ?? 0);
  for (let i = 0; i < 6; i++) await demo.getByRole('button', { name: 'Skip (none here, or later)' }).click();
  await expect(demo.getByRole('heading', { name: 'Record low?' })).toBeVisible();
  const before = await left();
  await pad2(demo, '-20');
  await demo.getByRole('button', { name: 'Save' }).click();
  await expect.poll(left).toBe(before - 1);
});

/** As `pad`, where the pad stands in the page. */
async function pad2(page: Page, keys: string) {
  for (const key of keys) await page.getByRole('button', { name: key === '-' ? 'minus' : key, exact: true }).click();
}

test('@phone a quick check gives its verdict from five numbers and becomes a site that says what was guessed', async ({
  demo,
}) => {
  await demo.getByRole('button', { name: 'Quick check', exact: true }).click();
  await fill(demo, 'voc', '45');
  await fill(demo, 'series', '5');
  await fill(demo, 'low', '-20');
  await fill(demo, 'max', '250');
  // 5 x 45 V x (1 + 0.30 % x 45 K) = 255.4 V
  await expect(demo.getByTestId('quick-answer')).toContainText('255');
  await demo.getByRole('button', { name: 'Make it a site' }).click();
  await expect(demo.getByTestId('station-array').first()).toContainText('255 / 250 V');
  await demo.getByTestId('open-module').last().click();
  await expect(demo.getByTestId('field-isc_A')).toContainText('assumed');
});

test('@phone history says who set what, and any of it can be undone', async ({ demo }, { project }) => {
  await importCopy(demo, `History ${project.name}`);
  await demo.getByTestId('station-cc').click();
  const sent = demo.waitForResponse((response) => response.url().endsWith('/changes') && response.ok());
  await demo.getByTestId('field-maxPv_V').click();
  await pad(demo, '175');
  await demo.getByRole('radio', { name: 'measured' }).click();
  await demo.getByRole('button', { name: 'Save' }).click();
  await sent;
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await demo.getByRole('button', { name: /^This site/ }).click();
  await demo.getByTestId('more-history').click();
  const line = demo.getByTestId('past').first();
  await expect(line).toContainText('Maximum PV voltage: 150 \u2192 175 (measured)');
  await expect(line).toContainText('Isla');
  const undone = demo.waitForResponse(
    (response) => response.url().endsWith('/changes') && response.request().method() === 'POST',
  );
  await line.getByRole('button', { name: /^Undo/ }).click();
  await undone;
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await demo.getByTestId('station-cc').first().click();
  await expect(demo.getByTestId('field-maxPv_V')).toContainText('150\u00a0V');
});

test('@phone a whole site goes out as a zip with its photos and comes in again the same', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Zip ${project.name}`);
  await demo.getByTestId('station-cc').click();
  await give(demo, demo.getByRole('button', { name: 'File', exact: true }), {
    name: 'plate.png',
    mimeType: 'image/png',
    buffer: PICTURE,
  });
  await expect(demo.getByTestId('thumbnail')).toHaveCount(1);
  await demo.getByRole('link', { name: /^Survey/ }).click();
  const pack = async () => {
    await demo.getByRole('button', { name: /^This site/ }).click();
    const saved = demo.waitForEvent('download');
    await demo.getByTestId('more-export-zip').click();
    return readFileSync(await (await saved).path());
  };
  const first = await pack();
  await demo.goto('/');
  await give(demo, demo.getByRole('button', { name: 'Import a system file' }), {
    name: 'corrach.lantern.zip',
    mimeType: 'application/zip',
    buffer: first,
  });
  await expect(demo.getByTestId('line').first()).toBeVisible();
  const second = await pack();
  const [a, b] = [unzipSync(first), unzipSync(second)];
  const photos = (content: typeof a) =>
    Object.entries(content)
      .filter(([path]) => path.startsWith('attachments/'))
      .map(([, bytes]) => Buffer.from(bytes).toString('base64'))
      .sort();
  expect(photos(a)).toHaveLength(1);
  expect(photos(b)).toEqual(photos(a));
  // Ids of attachments are new where the site they came from is still there; all else is the same to the byte.
  const text = (content: typeof a) =>
    strFromU8(content['site.lantern.json']!).replace(/"id": "[0-9a-f-]{36}"/g, '"id": "?"');
  expect(text(b)).toBe(text(a));
});

test('@phone a site is put away and taken back; a template leaves readings and photos behind', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Away ${project.name}`);
  await demo.getByRole('button', { name: /^This site/ }).click();
  await demo.getByTestId('more-template').click();
  await expect(demo.getByText(`Away ${project.name} (copy)`).first()).toBeVisible();
  await demo.goto('/');
  await demo.getByTestId(`site-Away ${project.name}`).click();
  await demo.getByRole('button', { name: /^This site/ }).click();
  const gone = demo.waitForResponse((response) => response.url().endsWith('/archived') && response.ok());
  await demo.getByTestId('more-archive').click();
  await gone;
  await expect(demo.getByTestId(`site-Away ${project.name}`)).toHaveCount(0);
  await demo.getByRole('button', { name: 'Archived sites' }).click();
  await demo.getByRole('button', { name: `Restore Away ${project.name}` }).click();
  await expect(demo.getByTestId(`site-Away ${project.name}`)).toBeVisible();
});

test('@phone the shelf takes a table, and refuses one with a wrong header or a decimal comma in a sentence', async ({
  demo,
}, { project }) => {
  await demo.getByRole('button', { name: 'Shelf', exact: true }).click();
  const bring = (text: string) =>
    give(demo, demo.getByRole('button', { name: 'Import CSV or JSON' }), {
      name: 'parts.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(text),
    });
  await bring('name,volts\nx,1\n');
  await expect(demo.getByText(/line 1: has no column "part" and "label"/)).toBeVisible();
  await bring('part,label,shunt_A\nmonitor,Odd,"50,5"\n');
  await expect(
    demo.getByText('line 2, shunt_A: is "50,5", expected a number with a decimal point (50.5)'),
  ).toBeVisible();
  const name = `Brackwell Tally ${project.name}`;
  await bring(`part;label;price;currency;shunt_A\nmonitor;${name};99,5;EUR;350\n`);
  await expect(demo.getByText(/^1 part was imported/)).toBeVisible();
  await demo.getByLabel('Search the shelf').fill(`tally ${project.name}`);
  await expect(demo.getByTestId(`item-${name}`)).toContainText('99.5 EUR');
  const saved = demo.waitForEvent('download');
  await demo.getByRole('button', { name: 'Export CSV' }).click();
  expect(readFileSync(await (await saved).path(), 'utf8')).toContain(`monitor,${name},99.5,EUR`);
});

test('@phone sun and temperature: an estimate says that it is one', async ({ demo }, { project }) => {
  await importCopy(demo, `Climate ${project.name}`);
  await demo.getByTestId('open-site').last().click();
  await demo.getByTestId('field-climate').click();
  await demo.getByRole('button', { name: 'Estimate it' }).click();
  await expect(demo.getByText(/^An estimate by latitude and elevation alone, marked as assumed/)).toBeVisible();
  await demo.getByRole('button', { name: 'Save' }).click();
  await expect(demo.getByTestId('field-climate')).toContainText('assumed');
});

test('@phone what ends the visit stands at the head until it is made safe, and by whom', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Stop ${project.name}`, (file) => {
    (file as unknown as { site: { observations: Record<string, string> } }).site.observations.noSwelling = 'no';
  });
  const card = demo.getByTestId('stop-card').first();
  await expect(card).toContainText('A swollen or leaking cell');
  await card.getByRole('button', { name: 'Left off' }).click();
  await expect(card).toContainText('Left off, Isla');
});

test('@phone an answer lost on the way back is asked for again, and nothing stands twice', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Lost answer ${project.name}`);
  await demo.getByTestId('station-cc').click();
  let lost = 0;
  await demo.route('**/changes', async (route) => {
    if (route.request().method() !== 'POST' || lost > 0) return route.continue();
    lost += 1;
    // The server takes it; its answer never arrives, as when it is killed or the signal ends there.
    await route.fetch();
    await route.abort();
  });
  await fill(demo, 'maxPv_A', '41');
  const again = demo.waitForResponse(
    (response) => response.url().endsWith('/changes') && response.request().method() === 'POST' && response.ok(),
    { timeout: 15_000 },
  );
  const { results } = (await (await again).json()) as { results: { status: string }[] };
  expect(results.map(({ status }) => status)).toEqual(['duplicate']);
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await demo.getByRole('button', { name: /^This site/ }).click();
  await demo.getByTestId('more-history').click();
  await expect(demo.getByTestId('past')).toHaveCount(1);
});
