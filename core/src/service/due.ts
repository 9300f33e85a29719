import { codeUnits } from '../rules/finding';
import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { dateOf } from './days';
import { dutiesOf } from './duties';
import type { Dated, Duty, DutyKey } from './duty';
import { pastOf, type Past } from './past';
import { seasonal } from './seasons';

/** What a site needs done, and when (docs/service.md). Planning values: a maker's manual overrides each of them. */

/** One thing that is due. */
export interface Due {
  key: DutyKey;
  what: string;
  subject: string;
  every_d: number;
  /** When it was last done. */
  last?: string;
  due: string;
  overdue_d: number;
  /** Work for which the law asks for a licence. */
  licensed?: true;
  why: string;
}

/**
 * What is due on a day, and within some days after it, the longest overdue first.
 * @param on the day it is asked, and to which the past is known
 * @param within days ahead
 */
export function dueOf(file: SystemFile, on: number, within = 30): Due[] {
  const past = pastOf(file, on);
  const model = modelOf(file);
  const plain = dutiesOf(model, past).map((duty): Dated => ({ ...duty, day: dayDue(duty, past) }));
  return [...plain, ...seasonal(model.site, past, on + within)]
    .filter(({ day }) => day <= on + within)
    .map(({ key, what, subject, every_d, last, day, licensed, why }): Due => ({
      key,
      what,
      subject,
      every_d,
      ...(last === null ? {} : { last: dateOf(last) }),
      due: dateOf(day),
      overdue_d: Math.max(0, on - day),
      ...(licensed ? { licensed: true as const } : {}),
      why,
    }))
    .sort((a, b) => codeUnits(a.due, b.due) || codeUnits(a.key, b.key) || codeUnits(a.subject, b.subject));
}

const dayDue = ({ last, due, every_d }: Duty, { since }: Past): number =>
  due ?? (last === null ? since : last + every_d);
