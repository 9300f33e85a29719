import { memberAt, setMember } from '../system/members';
import type { Model } from '../system/model';
import { conductorDefault } from '../ledger/ledger';
import type { Schools, Site } from '../system/schema';
import { check } from './check';
import { keyOf, type Finding } from './finding';
import { ruleOf } from './index';

/** A question on which practitioners disagree, and the answers that are held. */
export interface School {
  /** Where the answer stands in `schools`. */
  path: string;
  label: string;
  choices: readonly (readonly [value: string | number, word: string])[];
  /** What stands where nobody chose; null: the table of the chemistry. */
  book: string | number | null;
}

/** Where practitioners differ: the answers, and the book's own. */
export const SCHOOLS: readonly School[] = [
  {
    path: 'controllerOutput',
    label: 'Controller output',
    book: 'plain',
    choices: [
      ['plain', 'watts / volts'],
      ['margin', 'the same x 1.25'],
      ['clip', 'clipping allowed'],
    ],
  },
  {
    path: 'coldVoltage',
    label: 'Cold voltage',
    book: 'coefficient',
    choices: [
      ['coefficient', 'coefficient'],
      ['bands', 'bands'],
    ],
  },
  {
    path: 'conductor',
    label: 'Conductor basis',
    book: 'building',
    choices: [
      ['building', 'building'],
      ['vehicle', 'vehicle'],
      ['metric', 'metric'],
    ],
  },
  {
    path: 'leadDepth',
    label: 'Usable depth, lead',
    book: 0.5,
    choices: [
      [0.3, '30 %'],
      [0.5, '50 %'],
      [0.8, '80 %'],
    ],
  },
  {
    path: 'lithiumDepth',
    label: 'Usable depth, lithium',
    book: 0.8,
    choices: [
      [0.8, '80 %'],
      [0.9, '90 %'],
      [1, '100 %'],
    ],
  },
  {
    path: 'chargeMin',
    label: 'Smallest charge',
    book: null,
    choices: [
      ['C10', 'C/10'],
      ['C20', 'C/20'],
    ],
  },
  {
    path: 'drop_pct.pv',
    label: 'Drop, PV',
    book: 3,
    choices: [
      [2, '2 %'],
      [3, '3 %'],
    ],
  },
  {
    path: 'drop_pct.battery',
    label: 'Drop, battery',
    book: 2,
    choices: [
      [1, '1 %'],
      [2, '2 %'],
      [3, '3 %'],
    ],
  },
  {
    path: 'drop_pct.dc',
    label: 'Drop, DC loads',
    book: 3,
    choices: [
      [3, '3 %'],
      [5, '5 %'],
    ],
  },
  {
    path: 'sourceEnd_m',
    label: 'Fuse from the source',
    book: 0.18,
    choices: [
      [0, 'at the post'],
      [0.18, '0.18 m'],
      [0.45, '0.45 m'],
    ],
  },
  {
    path: 'ageSpread_months',
    label: 'Ages within a bank',
    book: 6,
    choices: [
      [0, 'never apart'],
      [6, '6 months'],
      [12, '12 months'],
    ],
  },
];

/** The question by whose answer a finding was judged; null where there is none. */
export function schoolOf(model: Model, finding: Finding): School | null {
  if (finding.school === undefined) return null;
  const { school } = ruleOf(finding.rule);
  const path = typeof school === 'function' ? school(model, finding) : school;
  return SCHOOLS.find((other) => other.path === path) ?? null;
}

/** The answer that stands: as chosen, else the book's for this site; null for the table. */
export const answerOf = (schools: Schools, { path, book }: School, site?: Site): unknown =>
  memberAt(schools, path) ?? (path === 'conductor' && site ? conductorDefault(site) : book);

/** The same finding as another school would judge it; null where that school does not ask. */
export function underSchool(model: Model, finding: Finding, { path }: School, value: string | number): Finding | null {
  const schools = structuredClone(model.schools);
  setMember(schools, path, value);
  const all = check({ ...model, schools }, [ruleOf(finding.rule)]);
  return all.find((other) => keyOf(other) === keyOf(finding)) ?? null;
}
