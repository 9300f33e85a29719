import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { FaultError, faultLine } from '@true-lantern/core/system/faults';
import { isPicture } from '../src/picture-path';
import { pictureVerb } from '../src/picture';

const plate = join(__dirname, '../../docs/format/reference/plates/controller-01.jpg');
const folder = mkdtempSync(join(tmpdir(), 'plates-'));
const values = async (path: string) =>
  Object.fromEntries((await pictureVerb(path, undefined)).fields.map(({ field, value }) => [field, value]));
const refusal = (path: string, kind?: string) =>
  pictureVerb(path, kind).then(
    () => 'taken',
    (error: FaultError) => error.faults.map(faultLine).join(),
  );

test('a photo of a plate: its figures, each sure; turned, and light on dark, the same', async () => {
  const truth = { type: 'mppt', maxPv_V: 150, maxOutput_A: 30 };
  const read = await pictureVerb(plate, undefined);
  expect(read.kind).toBe('controller');
  expect(read.fields.every(({ sure }) => sure)).toBe(true);
  expect(await values(plate)).toEqual(truth);
  const turned = join(folder, 'turned.png');
  await sharp(plate).rotate(4, { background: '#bbb' }).toFile(turned);
  expect(await values(turned)).toEqual(truth);
  const dark = join(folder, 'dark.png');
  await sharp(plate).negate({ alpha: false }).toFile(dark);
  expect(await values(dark)).toEqual(truth);
}, 120_000);

test('a window brighter and larger than the plate is no plate: the whole picture is read', async () => {
  const beside = join(folder, 'window.png');
  const { width = 0, height = 0 } = await sharp(plate).metadata();
  await sharp({ create: { width: width * 2 + 80, height: height + 80, channels: 3, background: '#6f6f6f' } })
    .composite([
      {
        input: { create: { width: Math.round(width * 0.96), height: height + 30, channels: 3, background: '#ffffff' } },
        left: width + 60,
        top: 25,
      },
      { input: await sharp(plate).toBuffer(), left: 10, top: 40 },
    ])
    .png()
    .toFile(beside);
  expect(await values(beside)).toEqual({ type: 'mppt', maxPv_V: 150, maxOutput_A: 30 });
}, 120_000);

test('what is no picture, blank, too large or of a phone\u2019s own kind is told in a sentence', async () => {
  const broken = join(folder, 'broken.jpg');
  writeFileSync(broken, 'no picture at all');
  expect(await refusal(broken)).toContain('cannot be read as a picture');
  const blank = join(folder, 'blank.png');
  await sharp({ create: { width: 600, height: 400, channels: 3, background: '#ddd' } })
    .png()
    .toFile(blank);
  expect(await refusal(blank)).toContain('shows no text');
  expect(await refusal(join(folder, 'photo.heic'))).toContain('is a HEIC picture');
  const huge = join(folder, 'huge.png');
  await sharp({ create: { width: 8000, height: 5100, channels: 3, background: '#ddd' } })
    .png()
    .toFile(huge);
  expect(await refusal(huge)).toMatch(/40 megapixels|cannot be read as a picture/);
  expect(await refusal(blank, 'teapot')).toContain('--kind: is "teapot"');
}, 120_000);

test('text is text, whatever is not is a picture, and what is not there is for the reader of text', () => {
  expect([isPicture('plate.txt'), isPicture(plate), isPicture(join(folder, 'nothing.jpg'))]).toEqual([
    false,
    true,
    false,
  ]);
});
