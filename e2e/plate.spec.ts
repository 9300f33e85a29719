import { fileURLToPath } from 'node:url';
import { expect, hardToReach, importCopy, test } from './demo';

const plate = (name: string) => fileURLToPath(new URL(`../docs/format/reference/plates/${name}`, import.meta.url));

test('@phone a photo of a plate becomes a part: boxes on the photo, sure figures taken, the photo kept', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'By a photo');
  await page.getByTestId('line').first().waitFor();
  const site = page.url().replace(/\/$/, '');
  await page.goto(`${site}/add`);
  await page.getByRole('button', { name: 'Photo of a plate' }).click();
  const choosing = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  await (await choosing).setFiles(plate('controller-01.jpg'));
  await expect(page.getByTestId('plate-lead')).toHaveText(/Charge controller: \d of \d figures are sure\./, {
    timeout: 90_000,
  });
  await expect(page.getByTestId('plate-boxes').locator('rect').first()).toBeVisible();
  expect(await hardToReach(page)).toEqual([]);
  const figures = await page.getByRole('checkbox', { checked: true }).count();
  expect(figures).toBeGreaterThan(2);
  await page.getByRole('button', { name: /^Use \d+ figures/ }).click();
  await expect(page.getByText('Add to the Line')).toBeVisible();
});

test('@phone what is no picture, a HEIC, a blank sheet: a sentence, and nothing is filled in', async ({
  demo: page,
}) => {
  test.slow();
  await importCopy(page, 'No plate');
  await page.getByTestId('line').first().waitFor();
  await page.goto(`${page.url().replace(/\/$/, '')}/plate`);
  const give = async (file: { name: string; mimeType: string; buffer: Buffer }) => {
    const choosing = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Choose a picture' }).click();
    await (await choosing).setFiles(file);
  };
  await give({ name: 'a.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture at all') });
  await expect(page.getByTestId('plate-trouble')).toContainText('not a picture');
  await give({ name: 'a.heic', mimeType: 'image/heic', buffer: Buffer.from('x') });
  await expect(page.getByTestId('plate-trouble')).toContainText('most compatible');
  const blank = await page.evaluate(async () => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [600, 400];
    const pen = canvas.getContext('2d')!;
    pen.fillStyle = '#eee';
    pen.fillRect(0, 0, 600, 400);
    return canvas.toDataURL('image/png').split(',')[1]!;
  });
  await give({ name: 'blank.png', mimeType: 'image/png', buffer: Buffer.from(blank, 'base64') });
  await expect(page.getByTestId('plate-trouble')).toContainText('No text was found', { timeout: 90_000 });
  await expect(page.getByTestId('plate-lead')).toBeHidden();
});
