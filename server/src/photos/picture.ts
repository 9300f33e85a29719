import { FaultError } from '@true-lantern/core';
import sharp, { type Sharp } from 'sharp';

/** Longest side of a stored picture: enough to read a nameplate, small enough for a hut's signal. */
const LONGEST_PX = 2560;
const SMALL_PX = 320;
/** A picture of more is an attack on memory, not a nameplate: 50 million pixels are 150 MB when they are unpacked. */
const MOST_PIXELS = 50e6;

// One picture at a time in each thread, and nothing kept of the last: memory is what a small server has least of.
sharp.cache(false);
sharp.concurrency(1);

/** By the first bytes, whatever it says of itself. No SVG: it is a program, and takes as long as its writer likes. */
const PICTURES: { bytes: (number | null)[] }[] = [
  { bytes: [0xff, 0xd8, 0xff] },
  { bytes: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { bytes: [0x52, 0x49, 0x46, 0x46, null, null, null, null, 0x57, 0x45, 0x42, 0x50] },
];
const isPicture = (given: Buffer) =>
  PICTURES.some(({ bytes }) => bytes.every((byte, i) => byte === null || given[i] === byte));

const unread = (path: string) => ({ path, message: 'is not a readable picture, expected a JPEG, PNG or WebP' });

/** A picture by its first bytes and its size, worked on. @throws FaultError where it is no picture, or has too many pixels */
async function worked<T>(bytes: Buffer, path: string, act: (open: () => Sharp) => Promise<T>): Promise<T> {
  if (!isPicture(bytes)) throw new FaultError([unread(path)]);
  try {
    // The head of the file says how large it is, before anything of it is unpacked.
    const { width = 0, height = 0, pages = 1 } = await sharp(bytes, { limitInputPixels: false }).metadata();
    if (width * height * pages > MOST_PIXELS)
      throw new FaultError([
        { path, message: `has ${width} x ${height} pixels, expected ${MOST_PIXELS / 1e6} million at most` },
      ]);
    return await act(() => sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' }).rotate());
  } catch (error) {
    if (error instanceof FaultError) throw error;
    throw Object.assign(new FaultError([unread(path)]), { cause: error });
  }
}
const fit = (px: number) => ({ width: px, height: px, fit: 'inside', withoutEnlargement: true }) as const;

/**
 * The picture upright, no larger than needed, as JPEG, with everything about place, time and camera left out (sharp
 * writes no metadata unless told to), and its thumbnail.
 * @throws FaultError where it is no picture, or has too many pixels
 */
export const cleanPicture = (bytes: Buffer): Promise<{ body: Buffer; small: Buffer }> =>
  worked(bytes, 'photo', async (open) => {
    const body = await open().resize(fit(LONGEST_PX)).jpeg({ quality: 82, mozjpeg: true }).toBuffer();
    const small = await sharp(body).resize(fit(SMALL_PX)).jpeg({ quality: 72 }).toBuffer();
    return { body, small };
  });

const LOGO_PX = 480;
/** A logo for the head of a paper, drawn anew, what is clear in it kept so: a data address. @throws FaultError */
export const cleanLogo = (bytes: Buffer): Promise<string> =>
  worked(bytes, 'logo', async (open) => {
    const png = await open().resize(fit(LOGO_PX)).png({ compressionLevel: 9 }).toBuffer();
    return `data:image/png;base64,${png.toString('base64')}`;
  });

const SOUNDS: { type: string; at: number; bytes: number[] }[] = [
  { type: 'audio/webm', at: 0, bytes: [0x1a, 0x45, 0xdf, 0xa3] },
  { type: 'audio/ogg', at: 0, bytes: [0x4f, 0x67, 0x67, 0x53] },
  { type: 'audio/mp4', at: 4, bytes: [0x66, 0x74, 0x79, 0x70] },
  { type: 'audio/wav', at: 0, bytes: [0x52, 0x49, 0x46, 0x46] },
];

/** The type of a spoken note by its first bytes, whatever it says of itself. @throws FaultError */
export function soundType(bytes: Buffer): string {
  const known = SOUNDS.find(({ at, bytes: mark }) => mark.every((byte, i) => bytes[at + i] === byte));
  if (!known)
    throw new FaultError([{ path: 'voice', message: 'is not a readable recording, expected WebM, Ogg, MP4 or WAV' }]);
  return known.type;
}
