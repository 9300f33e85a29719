import type { Feed } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import { freeId, nextPosition } from './parts';
import { removeRow, rowNamed } from './rows';
import type { OpenSite } from './site';

/** Devices that the server asks (Modbus TCP): part of the survey, so written and undone like any other. */

/** Saves a device, new or as it was. */
export function saveDevice(site: OpenSite, device: Omit<Feed, 'id'>, id: string | null): void {
  const row = rowNamed(site, 'feed', id);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: { ...device } });
  else
    enqueue(site.id, {
      partId: newId(),
      baseRevision: 0,
      create: { kind: 'feed', position: nextPosition(site, 'feed') },
      set: { id: freeId(site, 'device'), ...device },
    });
}

/** Removes a device. @returns what brings it back */
export const removeDevice = (site: OpenSite, id: string): (() => void) => removeRow(site, rowNamed(site, 'feed', id));
