import { faultAt as fault, FaultError } from '@true-lantern/core/system/faults';
import { chosenReadings } from '@true-lantern/core/faults/placed';
import { COMPLAINTS, type Complaint } from '@true-lantern/core/faults/causes/cause';
import { faultsOf } from '@true-lantern/core/faults/faults';
import { practice, type Level } from '@true-lantern/core/faults/practice';
import { chargeNow } from '@true-lantern/core/service/charge-now';
import { dayFrom } from '@true-lantern/core/service/days';
import { dueOf } from '@true-lantern/core/service/due';
import { aheadOf } from '@true-lantern/core/service/ahead';
import { trendsOf } from '@true-lantern/core/service/trends';
import { modelInState } from '@true-lantern/core/system/states';
import { figureOf, wholeOf } from './flags';
import { modelOf } from '@true-lantern/core/system/model';
import type { SystemFile } from '@true-lantern/core/system/schema';

/** The verbs of Service: what readings say of a system. */

const isComplaint = (name: string): name is Complaint => Object.hasOwn(COMPLAINTS, name);

/** `lantern faults`. @throws FaultError for a visit that is not there, or a moment that is none */
export function faultsVerb(file: SystemFile, flags: Flags) {
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
export function practiceVerb(file: SystemFile, flags: Flags) {
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

type Flags = Readonly<Partial<Record<string, string>>>;

/** A day that a call must name, or may. @throws FaultError where it is none */
function dayOfFlag(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const day = dayFrom(text);
  if (day === null) throw fault('--on', `is "${text}", expected a day like 2026-05-04`);
  return day;
}

function requiredDay(text: string | undefined): number {
  const day = dayOfFlag(text);
  if (day === undefined) throw fault('--on', 'is missing, expected a day like 2026-05-04');
  return day;
}

/** `lantern trends`: where every series of readings goes. @throws FaultError for a day that is none */
export const trendsVerb = (file: SystemFile, { on }: Flags) => ({ trends: trendsOf(file, dayOfFlag(on)) });

/** `lantern due`: what is due by a day. @throws FaultError for a day that is none or missing */
export const dueVerb = (file: SystemFile, { on, days }: Flags) => ({
  due: dueOf(file, requiredDay(on), wholeOf('days', days, 30, 0, 3650)),
});

/**
 * `lantern ahead`: the days to come from a state of charge.
 * @throws FaultError for a call that cannot be, and where neither the call nor a reading tells the state of charge
 */
export function aheadVerb(file: SystemFile, { on, soc, days, seed, draws, proposal, state }: Flags) {
  const day = requiredDay(on);
  const read = soc === undefined ? chargeNow(file, day)?.soc : figureOf('soc', soc, 1, 0, 1);
  if (read === undefined)
    throw fault('soc', 'is unknown: no reading of the last two days tells it, expected --soc 0 to 1');
  const model = modelOf(file, proposal);
  return aheadOf(state === undefined ? model : modelInState(model, state), {
    on: day,
    soc: read,
    days: wholeOf('days', days, 7, 1, 366),
    seed: wholeOf('seed', seed, 1, 0, 2 ** 31 - 1),
    draws: wholeOf('draws', draws, 200, 1, 10_000),
  });
}
