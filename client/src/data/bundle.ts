import {
  faultAt as fault,
  readSystemFile,
  writeSystemFile,
  type Attachment,
  type SystemFile,
} from '@true-lantern/core/base';
import { strFromU8, unzip, zip, type Unzipped, type Zippable } from 'fflate';
import { bytesOf, sendBytes } from './attachments';
import { keepBlob } from './blobs';
import { newId } from './ids';
import { enqueueSite } from './outbox';
import type { OpenSite } from './site';

/** A whole job in one zip of open formats: the system file, and beside it the photos and spoken notes. */

const SYSTEM_FILE = 'site.lantern.json';
const FOLDER = 'attachments';
const MOST_UNPACKED = 400e6;
/** The same content gives the same bytes: no clock in the zip. 1980 is the earliest that the format holds. */
const EPOCH = new Date(1980, 0, 2);

const ENDINGS: Record<string, string> = {
  'image/jpeg': 'jpg',
  'audio/webm': 'webm',
  'audio/ogg': 'ogg',
  'audio/mp4': 'm4a',
  'audio/wav': 'wav',
};
const pathOf = ({ id, type }: Pick<Attachment, 'id' | 'type'>) => `${FOLDER}/${id}.${ENDINGS[type ?? ''] ?? 'bin'}`;

/** @returns the zip, and how many attachments could not be had without a signal */
export async function packSite(site: OpenSite): Promise<{ blob: Blob; lacking: number }> {
  const files: Zippable = { [SYSTEM_FILE]: new TextEncoder().encode(writeSystemFile(site.file)) };
  let lacking = 0;
  for (const attachment of site.file.attachments ?? [])
    try {
      const blob = await bytesOf(site.id, attachment.id, 'whole');
      // Pictures and sound are packed already.
      files[pathOf(attachment)] = [new Uint8Array(await blob.arrayBuffer()), { level: 0 }];
    } catch {
      lacking += 1;
    }
  const bytes = await new Promise<Uint8Array<ArrayBuffer>>((resolve, reject) =>
    zip(files, { mtime: EPOCH }, (error, data) => (error ? reject(error) : resolve(data))),
  );
  return { blob: new Blob([bytes], { type: 'application/zip' }), lacking };
}

/**
 * Takes a zip made by `packSite` as a new site; nothing is taken by halves. Attachments get ids of their own where
 * the site they came from still has them.
 * @throws FaultError
 */
export async function takeBundle(file: Blob): Promise<string> {
  const content = await unpacked(new Uint8Array(await file.arrayBuffer()));
  const text = content[SYSTEM_FILE];
  if (!text) throw fault(SYSTEM_FILE, 'is missing, expected a zip that was exported here');
  const { file: system } = readSystemFile(strFromU8(text));
  const found = (system.attachments ?? []).map((attachment) => ({ attachment, bytes: content[pathOf(attachment)] }));
  const fresh = new Map(found.map(({ attachment }) => [attachment.id, newId()]));
  for (const { attachment, bytes } of found)
    if (bytes)
      await keepBlob(
        fresh.get(attachment.id) ?? attachment.id,
        new Blob([new Uint8Array(bytes)], { type: attachment.type ?? 'image/jpeg' }),
      );
  const attachments = found.map(({ attachment }) => ({ ...attachment, id: fresh.get(attachment.id) ?? attachment.id }));
  const siteId = enqueueSite({ ...system, ...(attachments.length > 0 ? { attachments } : {}) });
  for (const { attachment, bytes } of found) if (bytes) sendBytes(siteId, fresh.get(attachment.id) ?? attachment.id);
  return siteId;
}

async function unpacked(bytes: Uint8Array): Promise<Unzipped> {
  let total = 0;
  return new Promise((resolve, reject) =>
    unzip(
      bytes,
      {
        filter({ originalSize }) {
          total += originalSize;
          // A bomb is not unpacked to see how large it is.
          return total <= MOST_UNPACKED;
        },
      },
      (error, content) => {
        if (error) reject(fault('zip', `cannot be unpacked (${error.message}), expected a zip`));
        // Half of the photos would be a site that has lost the others without a word.
        else if (total > MOST_UNPACKED)
          reject(fault('zip', `unpacks to ${Math.ceil(total / 1e6)} MB, expected ${MOST_UNPACKED / 1e6} MB at most`));
        else resolve(content);
      },
    ),
  );
}

/** The same system without what belongs to one place and time: for the next hut like it. */
export function templateOf({ site, readings, attachments, proposals, ...rest }: SystemFile, name: string): SystemFile {
  void readings;
  void attachments;
  const { observations, ...place } = site;
  void observations;
  return { ...rest, site: { ...place, name }, ...(proposals?.length ? { proposals } : {}) };
}
