import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import QRCode from 'qrcode';
import sharp from 'sharp';
import { expect, give, hardToReach, importCopy, plateFile, test } from './demo';

const choosePictures = (page: Page, files: Parameters<typeof give>[2]) =>
  give(page, page.getByRole('button', { name: 'Choose pictures' }), files);

test('@phone a photo of a plate becomes a part: boxes on the photo, sure figures taken, the shelf fills in the rest', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'By a photo');
  await page.getByTestId('line').first().waitFor();
  const site = page.url().replace(/\/$/, '');
  await page.goto(`${site}/add`);
  await page.getByRole('button', { name: 'Photo of a plate' }).click();
  await choosePictures(page, { name: 'module.png', mimeType: 'image/png', buffer: await drawn(ON_THE_SHELF) });
  await expect(page.getByTestId('plate-lead')).toHaveText(/Solar module: \d of \d figures are sure\./, {
    timeout: 90_000,
  });
  await expect(page.getByTestId('plate-boxes').locator('rect').first()).toBeVisible();
  expect(await hardToReach(page)).toEqual([]);
  const figures = await page.getByRole('checkbox', { checked: true }).count();
  expect(figures).toBeGreaterThan(2);
  // Nobody is named without being asked.
  await expect(page.getByTestId('plate-name')).toHaveCount(0);
  await page.getByRole('button', { name: /^Use \d+ figures/ }).click();
  // The same five figures are on the firm's shelf: its name, size and weight come from there.
  await expect(page.getByTestId('plate-on-shelf')).toHaveText(/On the shelf: Tarnlight 310\./);
  await page.getByRole('button', { name: 'Use Tarnlight 310' }).click();
  await expect(page.getByTestId('plate-on-shelf')).toHaveCount(0);
  await page.getByRole('button', { name: 'Add to the Line' }).click();
  await expect(page.getByRole('heading', { name: 'Tarnlight 310' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Maximum series fuse: 15.A, datasheet/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Open-circuit voltage: 45.1.V, nameplate/ })).toBeVisible();
});

test('@phone at a part that is there, what the verdicts become is read before a figure is taken, and undone after it', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'Another controller');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/part/cc`);
  await page.getByRole('button', { name: 'Read its nameplate from a photo' }).click();
  await give(page, page.getByRole('button', { name: 'Choose a picture' }), plateFile('controller-01.jpg'));
  await expect(page.getByTestId('plate-becomes')).toContainText(/Was: /, { timeout: 90_000 });
  // Without the figure that brings it about the verdict stays.
  await page.getByTestId('plate-maxOutput_A').click();
  await page.getByTestId('plate-maxPv_V').click();
  await expect(page.getByTestId('plate-becomes')).toContainText('No verdict changes.');
  await page.getByTestId('plate-maxOutput_A').click();
  await page.getByRole('button', { name: /^Use 2 figures/ }).click();
  await expect(page.getByRole('button', { name: /: 30.A, nameplate/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /: 30.A, nameplate/ })).toHaveCount(0);
});

const ON_THE_SHELF = [
  'SOLAR MODULE',
  'Rated power Pmax     310 W',
  'Open-circuit voltage Voc   45.1 V',
  'Short-circuit current Isc   8.96 A',
  'Voltage at Pmax Vmp   36.8 V',
  'Current at Pmax Imp   8.42 A',
];
/** A plate with these lines, as a picture. */
const drawn = (lines: readonly string[]): Promise<Buffer> =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="1400" height="900"><rect width="1400" height="900" fill="#ddd"/><g font-family="DejaVu Sans" font-size="54" fill="#111">${lines
        .map((line, i) => `<text x="90" y="${130 + 120 * i}" xml:space="preserve">${line}</text>`)
        .join('')}</g></svg>`,
    ),
  )
    .png()
    .toBuffer();

test('@phone what is no picture, a HEIC, a blank sheet: a sentence, and nothing is filled in', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'No plate');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/plate`);
  await choosePictures(page, { name: 'a.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture at all') });
  await expect(page.getByTestId('plate-trouble')).toContainText('not a picture');
  await choosePictures(page, { name: 'a.heic', mimeType: 'image/heic', buffer: Buffer.from('x') });
  await expect(page.getByTestId('plate-trouble')).toContainText('most compatible');
  const blank = await page.evaluate(async () => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [600, 400];
    const pen = canvas.getContext('2d')!;
    pen.fillStyle = '#eee';
    pen.fillRect(0, 0, 600, 400);
    return canvas.toDataURL('image/png').split(',')[1]!;
  });
  await choosePictures(page, { name: 'blank.png', mimeType: 'image/png', buffer: Buffer.from(blank, 'base64') });
  await expect(page.getByTestId('plate-trouble')).toContainText('No text was found', { timeout: 90_000 });
  await expect(page.getByTestId('plate-lead')).toBeHidden();
});

test('@phone corners by thumb and by keys; several plates one after another; a code gives the serial number', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'Three plates');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/plate`);
  await choosePictures(page, [
    plateFile('controller-01.jpg'),
    await withCode(page, 'controller-01.jpg', 'SN: KX-20418'),
  ]);
  await expect(page.getByTestId('plate-lead')).toContainText('Charge controller', { timeout: 90_000 });
  await expect(page.getByText('1 of 2 plates still to be read.')).toBeVisible();
  await page.getByRole('button', { name: 'Set the four corners' }).click();
  const picture = await page.getByTestId('corners').boundingBox();
  const corner = page.getByRole('slider', { name: /^Upper left/ });
  const place = () => corner.getAttribute('aria-valuetext');
  const before = await place();
  await corner.focus();
  await page.keyboard.press('ArrowLeft');
  const nudged = await place();
  expect(nudged).not.toBe(before);
  const [x = 0, y = 0] = (nudged?.match(/\d+/g) ?? []).map(Number);
  const scale = picture!.width / 2000;
  await page.mouse.move(picture!.x + x * scale, picture!.y + y * scale);
  await page.mouse.down();
  await page.mouse.move(picture!.x + x * scale - 6, picture!.y + y * scale - 6, { steps: 4 });
  await page.mouse.up();
  expect(await place()).not.toBe(nudged);
  expect(await hardToReach(page)).toEqual([]);
  await page.getByRole('button', { name: 'Read the plate' }).click();
  await expect(page.getByTestId('plate-lead')).toHaveText(/Charge controller: \d of \d/, { timeout: 90_000 });
  await expect(page.getByRole('checkbox', { name: 'Name: Pellworth MPPT 150 | 30' })).not.toBeChecked();
  await page.getByTestId('plate-name').click();
  await page.getByRole('button', { name: /^Use \d+ figures/ }).click();
  await page.getByRole('button', { name: 'Add to the Line' }).click();
  // The second plate follows by itself, with its code.
  await page.getByRole('button', { name: 'Read the next plate' }).click();
  await expect(page.getByTestId('plate-serial')).toContainText('Serial number: KX-20418', { timeout: 90_000 });
  await page.getByRole('button', { name: /^Use \d+ figures/ }).click();
  await page.getByRole('button', { name: 'Add to the Line' }).click();
  await expect(page.getByText('Serial number KX-20418').first()).toBeVisible();
  // The first stands on the Line by the name that was agreed to.
  await page.goto(page.url().replace(/\/(?:part|plate).*$/, ''));
  await expect(page.getByText('Pellworth MPPT 150 | 30').first()).toBeVisible();
});

/** A plate with a QR code stuck on the wall beside it. */
async function withCode(page: Page, name: string, text: string) {
  const code = await QRCode.toDataURL(text, { width: 170, margin: 2 });
  const photo = `data:image/jpeg;base64,${readFileSync(plateFile(name)).toString('base64')}`;
  const bytes = await page.evaluate(
    async ([under, over]) => {
      const [picture, stuck] = await Promise.all(
        [under, over].map(async (source) => {
          const image = new Image();
          image.src = source!;
          await image.decode();
          return image;
        }),
      );
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [picture!.width, picture!.height + 200];
      const pen = canvas.getContext('2d')!;
      pen.fillStyle = '#777';
      pen.fillRect(0, 0, canvas.width, canvas.height);
      pen.drawImage(picture!, 0, 0);
      pen.drawImage(stuck!, 20, picture!.height + 15);
      return canvas.toDataURL('image/png').split(',')[1]!;
    },
    [photo, code],
  );
  const path = join(mkdtempSync(join(tmpdir(), 'plate-')), 'with-code.png');
  writeFileSync(path, Buffer.from(bytes, 'base64'));
  return path;
}
