import { faultAt as fault, FaultError } from '@true-lantern/core/system/faults';
import { chosenReadings } from '@true-lantern/core/faults/placed';
import { COMPLAINTS, type Complaint } from '@true-lantern/core/faults/causes/cause';
import { faultsOf } from '@true-lantern/core/faults/faults';
import { practice, type Level } from '@true-lantern/core/faults/practice';
import { wholeOf } from './flags';
import { modelOf } from '@true-lantern/core/system/model';
import type { SystemFile } from '@true-lantern/core/system/schema';

/** The verbs of Service: what readings say of a system. */

const isComplaint = (name: string): name is Complaint => Object.hasOwn(COMPLAINTS, name);

/** `lantern faults`. @throws FaultError for a visit that is not there, or a moment that is none */
export function faultsVerb(file: SystemFile, flags: Readonly<Partial<Record<string, string>>>) {
  const { visit, since, complaint } = flags;
  const found = visit === undefined ? null : (file.visits ?? []).find(({ id }) => id === visit);
  const readings = chosenReadings(file, { visit, since });
  if (visit !== undefined && !found && readings.length === 0)
    throw fault('--visit', `is "${visit}", expected the id of a visit in this file`);
  if (since !== undefined && Number.isNaN(Date.parse(since)))
    throw fault('--since', `is "${since}", expected a moment like 2026-05-04T09:10:00Z`);
  if (complaint !== undefined && !isComplaint(complaint))
    throw fault('--complaint', `is "${complaint}", expected one of ${Object.keys(COMPLAINTS).join(', ')}`);
  const faults = faultsOf(modelOf(file), readings, {
    visit: found ?? null,
    ...(complaint === undefined ? {} : { complaint }),
  });
  if (!(faults.ranking.reduce((sum, { probability }) => sum + probability, 0) > 0.999))
    throw new FaultError([{ path: 'readings', message: 'cannot be weighed, expected figures that a meter can show' }]);
  return faults;
}

/** `lantern practice`: a hidden fault, as far as it has been read. @throws FaultError for a level or a seed that is none */
export function practiceVerb(file: SystemFile, flags: Readonly<Partial<Record<string, string>>>) {
  if (flags.seed === undefined)
    throw fault('--seed', 'is missing, expected a whole number: the same one hides the same fault');
  const level = LEVELS[wholeOf('level', flags.level, 1, 1, 4) - 1] ?? 1;
  return practice(modelOf(file), {
    seed: wholeOf('seed', flags.seed, 1, 0, 2 ** 31 - 1),
    level,
    read: (flags.read ?? '').split('\n').filter(Boolean),
    answer: flags.answer ?? null,
  });
}
const LEVELS: readonly Level[] = [1, 2, 3, 4];
