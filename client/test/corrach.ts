import { checkSystemFile, toRows, type PartRow, type SystemFile } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { openSite, type OpenSite } from '../src/data/site';

/** The bothy of the demo, opened as the app would, with rows named by their kind and order. */
export function openCorrach(change: (file: SystemFile) => void = () => undefined): OpenSite {
  const file = structuredClone(corrach) as unknown as SystemFile;
  change(file);
  let n = 0;
  return openSite(
    'site',
    toRows(checkSystemFile(file).file, () => `00000000-0000-4000-8000-${String(n++).padStart(12, '0')}`),
  );
}

/** A line of the server's list, at revision 3 and with nothing worked out. */
export const summary = (id: string, more: object = {}) => ({
  id,
  name: id,
  updatedAt: '',
  revision: 3,
  headline: null,
  ...more,
});
/** A site as the server sends it. */
export const siteRows = (id: string, parts: PartRow[], revision = 3) => ({ ...summary(id), revision, parts });
