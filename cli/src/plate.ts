import { statSync } from 'node:fs';
import { faultAt as fault } from '@true-lantern/core/system/faults';
import { PLATE_KINDS, type PlateKind } from '@true-lantern/core/plate/labels';
import { readPlate, type Plate } from '@true-lantern/core/plate/plate';
import { textOf } from './flags';

/** How the verb is called, of a text or a picture. */
export const PLATE_CALL = { usage: 'lantern plate IMAGE|TEXT [--kind KIND]', flags: ['kind'] };

/** A plate's text is a page at most. */
const MOST_BYTES = 200_000;

const isKind = (name: string): name is PlateKind => (PLATE_KINDS as readonly string[]).includes(name);

/** The kind that a call names, or none. @throws FaultError for one that is none */
export function kindFlag(kind: string | undefined): PlateKind | undefined {
  if (kind === undefined) return undefined;
  if (!isKind(kind)) throw fault('--kind', `is "${kind}", expected one of ${PLATE_KINDS.join(', ')}`);
  return kind;
}

/** `lantern plate TEXT.txt`: a plate that was typed. @throws FaultError for a file that holds no text of a plate */
export function plateVerb(path: string | undefined, kind: string | undefined): Plate {
  const wanted = kindFlag(kind);
  const text = textOf(path, 'a text file with the lines of a plate');
  if (path && statSync(path).size > MOST_BYTES)
    throw fault(path, 'is larger than 200 kB, expected the lines of a plate');
  if (text.includes('\0') || text.includes('\ufffd'))
    throw fault(path ?? 'file', 'is no text, expected the lines of a plate, or a picture that ends in .jpg or .png');
  if (text.trim() === '') throw fault(path ?? 'file', 'is empty, expected the lines of a plate');
  return plateOf(
    text.split(/\r?\n/).map((line) => ({ text: line })),
    wanted,
    path,
  );
}

/** Lines as a plate. @throws FaultError where no kind of part speaks from them */
export function plateOf(
  lines: readonly { text: string; confidence?: number }[],
  kind: PlateKind | undefined,
  path: string | undefined,
): Plate {
  const plate = readPlate(lines, kind);
  if (plate.kind === null)
    throw fault(
      path ?? 'file',
      'does not read like a nameplate, expected one of a module, controller, battery, inverter, charger or source',
    );
  return plate;
}
