import { readFileSync } from 'node:fs';
import type { SystemFile } from '@true-lantern/core';
import sharp from 'sharp';
import { chooseFile, expect, give, hardToReach, importCopy, test } from './demo';

test('what fits stands first; modules are placed, moved by thumb and by keys, and too near is said and undone', async ({
  demo: page,
}, { project }) => {
  // The search for the ninth takes what its clock gives it, and beside other tests longer.
  test.slow();
  await importCopy(page, `Roof ${project.name}`);
  await page.getByTestId('line').first().waitFor();
  const site = page.url().replace(/\/$/, '');
  await page.goto(`${site}/roof`);
  await expect(page.getByTestId('roof-lead')).toHaveText(
    'Eight fit. Nine do not: 180\u00a0mm short on the right. Move the stove flue and nine fit.',
    { timeout: 60_000 },
  );
  await page.getByRole('button', { name: 'Place 3 modules like that' }).click();
  await expect(page.getByTestId('placed-2')).toContainText('right');
  const before = await page.getByTestId('placed-1').innerText();
  // Dragged far over the edge it lies there, in the second ink, until that is taken back.
  const drawing = page.getByTestId('roof-drawing');
  await drawing.scrollIntoViewIfNeeded();
  const box = (await drawing.boundingBox())!;
  const [x, y] = [box.x + (62 * box.width) / 374, box.y + box.height * 0.7];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 30, y, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByRole('alert').filter({ hasText: 'Module 1' })).toContainText('too near the edge');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('placed-1')).toHaveText(before.replace(/\n/g, ''));
  // By keys: the same module a centimetre to the right is too near its neighbour.
  await page.getByTestId('placed-1').click();
  await page.getByRole('button', { name: 'Right', exact: true }).click();
  await expect(page.getByTestId('placed-1')).toContainText('10\u00a0mm too near module 2');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.reload();
  await expect(page.getByTestId('placed-1')).toHaveText(before.replace(/\n/g, ''), { timeout: 20_000 });
  await page.getByText('Shadows').click();
  await expect(page.getByTestId('roof-sun')).toContainText('The sun');
  expect(await hardToReach(page)).toEqual([]);
});

test('@phone a roof is measured by tape: two figures, a corner, an obstacle; what is no length is said', async ({
  demo: page,
}) => {
  await importCopy(page, 'Roof by tape', (file) => {
    delete (file as unknown as { system: { roofs?: unknown } }).system.roofs;
  });
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/roof`);
  await page.getByLabel('Across, mm').fill('3200');
  await page.getByLabel('Back to front, mm').fill('abc');
  await expect(page.getByText('Not a length')).toBeVisible();
  await page.getByLabel('Back to front, mm').fill('2000');
  await page.getByRole('button', { name: 'Draw the roof' }).click();
  await expect(page.getByTestId('roof-lead')).toContainText('Three fit.', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Add a vent, hatch, aerial ...' }).click();
  await page.getByTestId('obstacle-entry').getByText('hatch', { exact: true }).click();
  await page.getByLabel('Middle, from the left, mm').fill('1600');
  await page.getByLabel('Middle, from behind, mm').fill('1000');
  await page.getByLabel('Width, mm').fill('500');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByTestId('roof-lead')).toContainText('Two fit.', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('roof-lead')).toContainText('Three fit.', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Cut a corner' }).click();
  await page.getByLabel('Cut across, mm').fill('4000');
  await page.getByLabel('Cut along, mm').fill('500');
  await expect(page.getByText('This corner cannot be cut like that.')).toBeVisible();
});

test('@phone a page for the customer is made, opens without signing in, and ends', async ({ demo: page, browser }, {
  project,
}) => {
  await importCopy(page, `Handed over ${project.name}`);
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/handover`);
  await expect(page.getByTestId('handover-page')).toContainText('In an emergency', { timeout: 20_000 });
  await page.getByLabel('Whom to call, and when').fill('Call us, 0555 0100');
  await page.getByRole('button', { name: 'Make the page' }).click();
  const told = await page.getByTestId('handover-address').innerText();
  expect(await hardToReach(page)).toEqual([]);
  const path = new URL(/http\S+/.exec(told)![0]).pathname;
  const stranger = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await stranger.goto(path);
  await expect(stranger.getByText('Call us, 0555 0100')).toBeVisible();
  expect(await hardToReach(stranger)).toEqual([]);
  await page.getByRole('button', { name: /^End the page/ }).click();
  await expect(page.getByText('Shared pages')).toBeHidden();
  expect((await stranger.goto(path))!.status()).toBe(404);
  await expect(stranger.getByText('This page has ended').first()).toBeVisible();
  await stranger.context().close();
});

test('@phone what is due over all sites leads to the site, and a calendar can follow it', async ({ demo: page }) => {
  await page.getByRole('button', { name: 'Due, all sites' }).click();
  await expect(page.getByTestId('firm-due-lead')).toContainText(/\d+ jobs? at \d+ sites?/);
  await page.getByRole('button', { name: 'Create an address' }).click();
  await expect(page.getByTestId('calendar-address')).toContainText('.ics');
  expect(await hardToReach(page)).toEqual([]);
  await page.getByRole('button', { name: 'Turn off the address' }).click();
  await expect(page.getByText('Your calendar program can follow')).toBeVisible();
  await page.getByRole('button', { name: 'Due at Gannet Ledge bird observatory' }).click();
  await expect(page.getByTestId('due-lead')).toBeVisible();
});

test('@phone an obstacle that can be moved is tried away: nothing is changed by it; the roof is printed to mark out', async ({
  demo: page,
}) => {
  await page.getByTestId('site-Ringlet camper van').click();
  await page.getByTestId('line').first().waitFor();
  const site = page.url().replace(/\/$/, '');
  await page.goto(`${site}/roof`);
  const lead = page.getByTestId('roof-lead');
  const found = 'Three fit. Four do not: 150\u00a0mm short ahead. Move the aerial and four fit.';
  await expect(lead).toHaveText(found, { timeout: 20_000 });
  await page.getByRole('checkbox', { name: 'Aerial' }).click();
  await expect(lead).toContainText('Four fit.', { timeout: 20_000 });
  await page.getByRole('checkbox', { name: 'Aerial' }).click();
  await expect(lead).toHaveText(found, { timeout: 20_000 });
  await page.getByRole('button', { name: 'Print for marking out' }).click();
  // From the corner of the van's roof: 60 mm in, 1,060 mm along.
  const paper = page.getByTestId('paper-roof');
  await expect(paper).toContainText('Van roof: marking out', { timeout: 20_000 });
  await expect(paper).toContainText('1060\u00a0mm');
  await expect(paper.getByRole('img', { name: 'The roof from above' })).toBeVisible();
});

test('@phone modules of two sizes are laid by watts; a photo lies under the drawing, and is taken away again', async ({
  demo: page,
}) => {
  const name = 'Two sizes on a roof';
  const file = JSON.parse(
    readFileSync(new URL('../demo/sites/ringlet-van.lantern.json', import.meta.url), 'utf8'),
  ) as SystemFile;
  const { system } = file;
  file.site.name = name;
  system.moduleTypes!.push({
    ...system.moduleTypes![0]!,
    id: 't50',
    label: 'Tarnlight 50',
    pmax_W: 50,
    isc_A: 3,
    imp_A: 2.7,
    length_mm: 670,
    width_mm: 540,
  });
  system.arrays![0]!.strings = [['t160', 't160'], ['t50']];
  system.roofs![0]!.placed = [];
  await chooseFile(page, `${name}.lantern.json`, JSON.stringify(file));
  await expect(page.getByTestId('line').first()).toBeVisible();
  await page.goto(`${page.url().replace(/\/$/, '')}/roof`);
  await expect(page.getByTestId('several-sizes')).toContainText('2 of 2 Tarnlight 160, 1 of 1 Tarnlight 50', {
    timeout: 30_000,
  });
  await page.getByRole('button', { name: 'Place 3 modules of several sizes' }).click();
  await expect(page.getByTestId('placed-2')).toContainText('right');
  await expect(page.getByText('too near')).toHaveCount(0);

  const picture = await sharp({ create: { width: 400, height: 300, channels: 3, background: '#8a9' } })
    .jpeg()
    .toBuffer();
  await give(page, page.getByRole('button', { name: 'Put a photo under the drawing' }), {
    name: 'roof.jpg',
    mimeType: 'image/jpeg',
    buffer: picture,
  });
  await expect(page.getByText('Put each corner on a corner of the roof')).toBeVisible();
  expect(await hardToReach(page)).toEqual([]);
  await page.getByRole('button', { name: 'Lay it under the drawing' }).click();
  await expect(page.getByTestId('underlay')).toBeVisible();
  // It is there the next time, and out of sight in one tap without being lost.
  await page.reload();
  await expect(page.getByTestId('underlay')).toBeVisible({ timeout: 20_000 });
  await page.getByText('Photo under the drawing').click();
  await expect(page.getByTestId('underlay')).toHaveCount(0);
  await page.getByText('Remove the photo').click();
  await expect(page.getByRole('button', { name: 'Put a photo under the drawing' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Remove the photo')).toBeVisible();
});

test('@phone the bay: the inverter is moved beside the bank by thumb and in steps, what stands badly is said, undone again', async ({
  demo: page,
}) => {
  test.slow();
  const van = JSON.parse(
    readFileSync(new URL('../demo/sites/ringlet-van.lantern.json', import.meta.url), 'utf8'),
  ) as SystemFile;
  await chooseFile(page, 'Seat box.lantern.json', JSON.stringify({ ...van, site: { ...van.site, name: 'Seat box' } }));
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/part/li`);
  const bay = page.getByTestId('bay-above');
  await bay.scrollIntoViewIfNeeded();
  await expect(page.getByTestId('bay-wrong')).toHaveCount(0);
  const { x, y, width } = (await bay.boundingBox())!;
  // 276 px are 1,010 mm; the inverter stands at the right wall, at the back.
  const mm = (value: number) => (value * (width - 64)) / 1010;
  await page.mouse.move(x + mm(800), y + 26 + mm(150));
  await page.mouse.down();
  await page.mouse.move(x + mm(600), y + 26 + mm(150), { steps: 6 });
  await expect(page.getByTestId('bay-wrong')).toContainText(/^Block 1 is .* too near Ostrum 1000 sine\.$/);
  await page.mouse.up();
  await expect(page.getByTestId('bay-wrong')).toHaveText(/^Block 1 is .* too near Ostrum 1000 sine\.$/);
  expect(await hardToReach(page)).toEqual([]);
  await page.getByTestId('bay-moves').getByText('Ostrum 1000 sine').click();
  for (let i = 0; i < 18; i++) await page.getByRole('button', { name: 'Right', exact: true }).click();
  await expect(page.getByTestId('bay-wrong')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Arrange anew' }).click();
  await expect(page.getByRole('button', { name: 'Arrange anew' })).toHaveCount(0);
  await expect(page.getByTestId('bay-wrong')).toHaveCount(0);
});
