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
  /** What the question is about, in a line. */
  about: string;
  /** Each with what it means and where it is usual. */
  choices: readonly (readonly [value: string | number, word: string, says: string])[];
  /** What stands where nobody chose; null: the table of the chemistry. */
  book: string | number | null;
}

/** Where practitioners differ: the answers, and the book's own. */
export const SCHOOLS: readonly School[] = [
  {
    path: 'controllerOutput',
    label: 'Controller output current',
    about: 'How much current a charge controller must be rated for.',
    book: 'plain',
    choices: [
      [
        'plain',
        'no margin',
        'Array power divided by battery voltage. Usual with controllers that limit their own output.',
      ],
      ['margin', '25 % margin', '25 % above that, for bright cloud edges and cold. Usual in codes for buildings.'],
      [
        'clip',
        'clipping allowed',
        'A smaller controller that limits itself; some energy is lost at noon. Usual where winter yield counts.',
      ],
    ],
  },
  {
    path: 'coldVoltage',
    label: 'Cold voltage',
    about: 'How the array voltage on the coldest morning is calculated.',
    book: 'coefficient',
    choices: [
      [
        'coefficient',
        'coefficient',
        "From the module's own coefficient and the record low. Usual where the data sheet is at hand.",
      ],
      ['bands', 'bands', 'From a table by temperature band. Usual in codes, and where no coefficient is known.'],
    ],
  },
  {
    path: 'conductor',
    label: 'Conductor basis',
    about: 'Which table of cable ratings applies.',
    book: 'building',
    choices: [
      ['building', 'building', 'Cable ratings for fixed wiring in buildings; sizes in AWG.'],
      ['vehicle', 'vehicle', 'Cable ratings for boats, vans and caravans: fine-stranded, hotter insulation.'],
      ['metric', 'metric', 'Cable ratings for metric sizes in mm2. Usual outside North America.'],
    ],
  },
  {
    path: 'leadDepth',
    label: 'Usable depth, lead',
    about: 'How far a lead-acid bank may be discharged every day.',
    book: 0.5,
    choices: [
      [0.3, '30 %', 'Longest life. Usual where the site is hard to reach.'],
      [0.5, '50 %', 'The usual balance of life and cost.'],
      [0.8, '80 %', 'Shortest life. Only for cells made for deep cycling.'],
    ],
  },
  {
    path: 'lithiumDepth',
    label: 'Usable depth, lithium',
    about: 'How far a lithium bank may be discharged every day.',
    book: 0.8,
    choices: [
      [0.8, '80 %', 'Longest life. Usual for daily use.'],
      [0.9, '90 %', 'A common choice of pack makers.'],
      [1, '100 %', 'All of the rated capacity. Leaves no reserve.'],
    ],
  },
  {
    path: 'chargeMin',
    label: 'Minimum charge current',
    about: 'How much current the strongest charger should deliver, as a share of capacity.',
    book: null,
    choices: [
      ['C10', 'C/10', 'A tenth of the capacity. Usual for lead that must be filled in a day.'],
      ['C20', 'C/20', 'A twentieth. The least that fills lead at all; usual in sunny places.'],
    ],
  },
  {
    path: 'drop_pct.pv',
    label: 'Voltage drop, PV',
    about: 'Voltage drop allowed between array and controller.',
    book: 3,
    choices: [
      [2, '2 %', 'Strict. Usual for long roof cables.'],
      [3, '3 %', 'The usual limit.'],
    ],
  },
  {
    path: 'drop_pct.battery',
    label: 'Voltage drop, battery',
    about: 'Voltage drop allowed between bank, controller and inverter.',
    book: 2,
    choices: [
      [1, '1 %', 'Strict. Usual for inverters on 12 V.'],
      [2, '2 %', 'The usual limit.'],
      [3, '3 %', 'Loose. Charging and starting suffer.'],
    ],
  },
  {
    path: 'drop_pct.dc',
    label: 'Voltage drop, DC loads',
    about: 'Voltage drop allowed to DC loads.',
    book: 3,
    choices: [
      [3, '3 %', 'The usual limit for lights and electronics.'],
      [5, '5 %', 'Loose. For heaters and pumps.'],
    ],
  },
  {
    path: 'sourceEnd_m',
    label: 'Distance of a fuse from its source',
    about: 'How far from its source a fuse may be.',
    book: 0.18,
    choices: [
      [0, 'at the post', 'On the battery post itself. Usual for lithium.'],
      [0.18, '0.18 m', 'Within 0.18 m (7 in). Usual on boats and in vehicles.'],
      [0.45, '0.45 m', 'Within 0.45 m (18 in). Allowed in some codes for protected cables.'],
    ],
  },
  {
    path: 'ageSpread_months',
    label: 'Age difference within a bank',
    about: 'How much the blocks of one bank may differ in age.',
    book: 6,
    choices: [
      [0, 'all of one age', 'Never mixed. The advice of most battery makers.'],
      [6, '6 months', 'Up to six months apart. The usual limit.'],
      [12, '12 months', 'Up to a year apart. Only for banks that are used lightly.'],
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
