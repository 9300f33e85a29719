import type { InferType } from 'yup';
import { CHEMISTRIES } from '../chemistry/chemistry';
import { id, name, notes, protection, terminals } from './common';
import {
  amps,
  celsius,
  count,
  flag,
  list,
  metres,
  millimetres,
  num,
  oneOf,
  optionalPart,
  part,
  positive,
  requiredNum,
  requiredOneOf,
  requiredPositive,
  requiredText,
  requiredWhole,
  sizeText,
  text,
  whole,
} from './fields';
import { inLine, kind } from './kind';
import { said } from './said';
import { asked, first, group, hidden } from './words';

/** One cell of any chemistry has more. */
const LEAST_BLOCK_V = 1.2;

/** Where a bank stands, for its gas. */
export const SPACES = ['living', 'sealed-vented-box', 'vented-box', 'outside', 'outbuilding'] as const;

/** Where a bay is reached from. */
export const BAY_OPENS = ['front', 'above'] as const;

/** How a block lies that does not stand upright: its width up, or its length. */
export const BLOCK_LIES = ['side', 'end'] as const;

/** The one bank of a system: blocks in series and strings. */
export const bank = kind({
  single: true,
  word: 'Bank',
  noun: 'a bank',
  stem: 'bank',
  question: 'What is the bank made of?',
  shelf: { onSite: { series: 1, parallel: 1 } },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    chemistry: asked('Chemistry', requiredOneOf(CHEMISTRIES)),
    block_V: asked('Voltage of one block', requiredNum(LEAST_BLOCK_V, 1500)),
    blockCapacity_Ah: asked('Capacity of one block', requiredPositive(100_000)),
    series: asked('Blocks in series', requiredWhole(1, 64), { belongs: 'link' }),
    parallel: asked('Strings in parallel', requiredWhole(1, 64), { belongs: 'link' }),
    rate_h: asked('Capacity rated at', positive(1000)),
    cells: asked('Cells in a block', whole(1, 1000)),
    age_y: first('Age', num(0, 100), { belongs: 'state' }),
    health_pct: asked('Health', positive(100), { belongs: 'state' }),
    ageSpread_months: asked('Age difference, oldest to newest', num(0, 1200), { belongs: 'state' }),
    mixedChemistry: asked('Mixed chemistries', flag(), { belongs: 'state' }),
    maxCharge_A: asked('Maximum charge current, a block', amps()),
    maxDischarge_A: asked('Maximum discharge current, a block', amps()),
    peakDischarge_A: asked('Peak discharge current, a block', amps()),
    peak_s: asked('Peak duration', num(0, 100_000)),
    internal_mohm: asked('Resistance, a block', num(0, 10_000)),
    maxSeries: asked('Maximum in series', count()),
    maxParallel: asked('Maximum in parallel', count()),
    tapping: asked('Tapped', oneOf(['same-end', 'opposite-ends', 'busbar']), { belongs: 'link' }),
    link: group(
      { belongs: 'link' },
      optionalPart({
        length_m: asked('Link between blocks, one-way length', metres()),
        size: asked('Link size', sizeText().nullable().optional()),
      }),
    ),
    fusedStrings: asked('Each string has a fuse', flag(), { belongs: 'link' }),
    stringFuse: protection(', at the post of each string'),
    balancer: asked('Balancer', flag(), { belongs: 'fitting' }),
    chargeLimited: asked('Bank limits its own charge current', flag(), { belongs: 'fitting' }),
    lowTemperatureProtection: asked('Stops charging when cold', flag()),
    heated: asked('Heated', flag(), { belongs: 'fitting' }),
    salvaged: asked('Salvaged', flag(), { belongs: 'state' }),
    fullDensity_kg_L: asked('Specific gravity when full', num(1, 1.5)),
    protection: optionalPart({
      cells: asked('Protection: number of cells in series', whole(1, 1000)),
      lowTrip_V_cell: asked('Protection low trip, a cell', num(0, 10)),
      highTrip_V_cell: asked('Protection high trip, a cell', num(0, 10)),
      alarmLine: asked('Alarm line', flag()),
      comms: asked('Communication', text()),
      wake: asked('Wakes up by', text()),
    }),
    place: group(
      { belongs: 'place' },
      optionalPart({
        space: asked('Installed in', oneOf(SPACES)),
        min_C: asked('Lowest temperature there', celsius()),
        max_C: asked('Highest temperature there', celsius()),
        ventArea_cm2: asked('Area of one vent', num(0, 1e6)),
        length_mm: asked('Bay length', millimetres()),
        width_mm: asked('Bay width', millimetres()),
        height_mm: asked('Bay height', millimetres()),
        maxMass_kg: asked('Floor carries', num(0, 1e6)),
        opens: asked('Bay opens', oneOf(BAY_OPENS)),
      }),
    ),
    stands: hidden(
      'arranged in the drawing of the bay',
      list(
        part({
          partId: requiredText('the id of the bank or of an inverter'),
          x_mm: requiredNum(-1e5, 1e5),
          y_mm: requiredNum(-1e5, 1e5),
          turned: flag(),
          lies: oneOf(BLOCK_LIES),
        }),
      ),
    ),
    block: optionalPart({
      length_mm: asked('Block length', millimetres()),
      width_mm: asked('Block width', millimetres()),
      height_mm: asked('Block height', millimetres()),
      mass_kg: asked('Block mass', num(0, 100_000)),
    }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact({ chemistry, block_V, blockCapacity_Ah, series, parallel, age_y }, _, { amount }) {
    const grouped = series > 1 && parallel > 1 ? `${series} \u00d7 ${parallel}` : String(series * parallel);
    return inLine(
      `${grouped} \u00d7 ${amount(block_V, 'V')} ${amount(blockCapacity_Ah, 'Ah')} ${said(chemistry)}`,
      amount(age_y || null, 'y'),
    );
  },
  line: { at: 'bank' },
});
export type Bank = InferType<typeof bank.schema>;
