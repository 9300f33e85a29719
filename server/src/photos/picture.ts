import { FaultError } from '@true-lantern/core';
import sharp from 'sharp';

/** Longest side of a stored picture: enough to read a nameplate, small enough for a hut's signal. */
const LONGEST_PX = 2560;
const SMALL_PX = 320;
/** A picture of more is an attack on memory, not a nameplate. */
const MOST_PIXELS = 100e6;

/**
 * The picture upright, no larger than needed, as JPEG, with everything about place, time and camera left out (sharp
 * writes no metadata unless told to), and its thumbnail.
 * @throws FaultError where it is no picture
 */
export async function cleanPicture(bytes: Buffer): Promise<{ body: Buffer; small: Buffer }> {
  const open = () => sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' }).rotate();
  try {
    const fit = (px: number) => ({ width: px, height: px, fit: 'inside', withoutEnlargement: true }) as const;
    const body = await open().resize(fit(LONGEST_PX)).jpeg({ quality: 82, mozjpeg: true }).toBuffer();
    const small = await open().resize(fit(SMALL_PX)).jpeg({ quality: 72 }).toBuffer();
    return { body, small };
  } catch (error) {
    const message = 'is no picture that can be read, expected a JPEG, PNG or WebP';
    throw Object.assign(new FaultError([{ path: 'photo', message }]), { cause: error });
  }
}

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
    throw new FaultError([
      { path: 'voice', message: 'is no recording that can be read, expected WebM, Ogg, MP4 or WAV' },
    ]);
  return known.type;
}
