import type { Attachment, LogEntry, PartRow } from '@true-lantern/core/base';
import { useEffect, useState } from 'react';
import { getAttachment } from './api';
import { keepBlob, readBlob } from './blobs';
import { newId } from './ids';
import { noteTrouble } from './trouble';
import { enqueue, enqueueRequest } from './outbox';
import { nextPosition } from './parts';
import { removeRow } from './rows';
import type { OpenSite } from './site';

/** Photos and spoken notes: made here, kept here until they are sent, and afterwards so that they open anywhere. */

const MOST_BYTES = 25e6;
const LONGEST_PX = 2560;
const SMALL_PX = 320;

/** The photos and notes of a part or an entry, in their order. @param also others, by their ids */
export const attachmentsOf = (site: OpenSite, subject: string, also: readonly string[] = []): PartRow[] =>
  site.rows
    .filter(({ kind, body }) => kind === 'attachment' && (body.subject === subject || also.includes(String(body.id))))
    .sort((a, b) => a.position - b.position);

/** How many photos and notes each entry of a log has, for a list that is drawn often: the rows are gone through once. */
export function attachmentCounter(site: OpenSite): (entry: Pick<LogEntry, 'id' | 'attachments'>) => number {
  const subjects = new Map(
    site.rows.flatMap(({ kind, body }) => (kind === 'attachment' ? [[String(body.id), body.subject] as const] : [])),
  );
  const own = new Map<unknown, number>();
  for (const subject of subjects.values()) own.set(subject, (own.get(subject) ?? 0) + 1);
  return ({ id, attachments }) =>
    (own.get(id) ?? 0) + (attachments ?? []).filter((one) => subjects.has(one) && subjects.get(one) !== id).length;
}

/**
 * Attaches a picture to a part. Resolves to a sentence where it cannot be taken, else to null.
 * @param id of the photo, where something else will name it
 */
export async function addPhoto(
  site: OpenSite,
  subject: string,
  file: Blob & { name?: string },
  id = newId(),
): Promise<string | null> {
  const name = file.name ?? 'The picture';
  if (file.size > MOST_BYTES)
    return `${name} has ${Math.round(file.size / 1e6)} MB; a photo may have 25 MB at most. Nothing was attached.`;
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch {
    return `${name} is not a picture this browser can read. Nothing was attached.`;
  }
  try {
    // Drawn anew, so that the place where it was taken never leaves the device; the server does the same again.
    await keepBlob(id, await drawn(bitmap, LONGEST_PX, 0.85));
    await keepBlob(`${id} small`, await drawn(bitmap, SMALL_PX, 0.75));
  } catch (error) {
    return notKept(name, error);
  } finally {
    bitmap.close();
  }
  attach(site, { id, kind: 'photo', subject, type: 'image/jpeg' });
  return null;
}

/** Attaches a spoken note. Resolves to a sentence where the device cannot keep it, else to null. */
export async function addVoice(site: OpenSite, subject: string, sound: Blob): Promise<string | null> {
  const id = newId();
  const type = sound.type.split(';')[0] || 'audio/webm';
  try {
    await keepBlob(id, new Blob([sound], { type }));
  } catch (error) {
    return notKept('The note', error);
  }
  attach(site, { id, kind: 'voice', subject, type });
  return null;
}

/** Said at once: what the device has no room for would be gone with the page. */
function notKept(name: string, error: unknown): string {
  console.warn(name, error);
  return `${name} could not be saved: this device is full or blocks storage. Nothing was attached.`;
}

function attach(site: OpenSite, body: Omit<Attachment, 'at' | 'note'>) {
  enqueue(site.id, {
    partId: body.id,
    baseRevision: 0,
    create: { kind: 'attachment', position: nextPosition(site, 'attachment') },
    set: { ...body, at: new Date().toISOString() },
  });
  sendBytes(site.id, body.id);
}

/** Hands bytes that are kept under this id to the outbox. */
export const sendBytes = (siteId: string, id: string) =>
  enqueueRequest(siteId, {
    key: `attachment ${id}`,
    method: 'PUT',
    path: `/sites/${siteId}/attachments/${id}`,
    blob: id,
  });

/** Takes an attachment away; returns the undo. */
export const removeAttachment = (site: OpenSite, row: PartRow): (() => void) => removeRow(site, row);

/** The bytes, from this device or else from the server. @throws NoSignal, ApiError */
export async function bytesOf(siteId: string, id: string, size: 'small' | 'whole'): Promise<Blob> {
  const key = size === 'small' ? `${id} small` : id;
  const kept = await readBlob(key);
  if (kept) return kept;
  const fetched = await getAttachment(siteId, id, size);
  await keepBlob(key, fetched).catch((error: unknown) =>
    noteTrouble('A photo could not be stored on this device. It is loaded again each time.', error),
  );
  return fetched;
}

/** An address for the picture or the sound, while the component lives; null until it has come, or why it has not. */
export function useAttachment(
  siteId: string,
  id: string,
  size: 'small' | 'whole',
): { url: string | null; trouble: string | null } {
  const [state, setState] = useState<{ url: string | null; trouble: string | null }>({ url: null, trouble: null });
  useEffect(() => {
    let url: string | null = null;
    let gone = false;
    bytesOf(siteId, id, size)
      .then((blob) => {
        if (gone) return;
        url = URL.createObjectURL(blob);
        setState({ url, trouble: null });
      })
      .catch(
        () => !gone && setState({ url: null, trouble: 'Not on this device. It will load when you have a signal.' }),
      );
    return () => {
      gone = true;
      if (url) URL.revokeObjectURL(url);
    };
  }, [siteId, id, size]);
  return state;
}

async function drawn(bitmap: ImageBitmap, longest: number, quality: number): Promise<Blob> {
  const scale = Math.min(1, longest / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(bitmap.width * scale));
  canvas.height = Math.max(1, Math.round(bitmap.height * scale));
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be shown.'))),
      'image/jpeg',
      quality,
    ),
  );
}
