import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { coldString_V, modulesOf } from '../pv/strings';
import { CAUTIONS } from '../rules/cautions';
import type { Model } from '../system/model';
import type { PvArray, System } from '../system/schema';
import { LIGHT_ERROR, type Conditions } from './conditions';
import type { FiguresAt } from './figures-at';
import type { Quantity } from './quantities';
import { CLAMP, dim, VOLTMETER, type Row } from './row';
import { likeStrings, stringOpening } from './string-opening';
import type { ArrayAt, ControllerAt } from './sun-at';

/** Rows of practice D about arrays and the controllers behind them. */

/** Insulation is tested at 250 V below 120 V open in the cold, else at 500 V. */
const TOUCH_V = 120;

/** What an array should read under this sun: its strings, itself, its insulation. */
export function arrayRows(
  model: Model,
  array: PvArray,
  figures: FiguresAt,
  at: Conditions,
  wants: (quantity: Quantity) => boolean,
): Row[] {
  const found = figures.arrays.get(array.id);
  if (!found) return [];
  const rows = stringRows(model.system, array, found, at, wants('stringImp_A'));
  if (wants('arrayVmp_V') && found.vmp_V !== null)
    rows.push({
      subject: array.id,
      quantity: 'arrayVmp_V',
      expected: found.vmp_V,
      below: 0.03 * found.vmp_V,
      above: 0.03 * found.vmp_V,
      from: (other) => other.arrays.get(array.id)?.vmp_V ?? undefined,
      cannotTell: dim(at),
      how: 'at the array\u2019s terminals, with the controller working and the bank taking all it gives',
      tool: VOLTMETER,
      minutes: 2,
      cautions: LIVE,
    });
  rows.push(...insulationRows(model, array));
  return rows;
}

const LIVE = [CAUTIONS.panelsLive];

/** String by string: open, shorted and, where it is wanted, at work. */
function stringRows(system: System, array: PvArray, found: ArrayAt, at: Conditions, atWorkToo: boolean): Row[] {
  const light = LIGHT_ERROR[at.irradianceBy];
  return found.strings.flatMap((string, s): Row[] => {
    const from = (member: 'voc_V' | 'isc_A' | 'imp_A') => (other: FiguresAt) =>
      other.arrays.get(array.id)?.strings[s]?.[member];
    const like = likeStrings(array, s).length > 0;
    const { open, breaks } = stringOpening(system, array, s);
    const common = { subject: array.id, position: { string: s }, cannotTell: dim(at), minutes: 3, cautions: LIVE };
    const atWork = (imp_A: number): Row => ({
      ...common,
      quantity: 'stringImp_A',
      expected: imp_A,
      below: light * imp_A,
      above: light * imp_A,
      from: from('imp_A'),
      how: `clamp on string ${s + 1} with the controller working and the bank taking all it gives${like ? '; strings like it within 3 % of each other' : ''}`,
      tool: CLAMP,
    });
    return [
      {
        ...common,
        quantity: 'stringVoc_V',
        expected: string.voc_V,
        below: 0.03 * string.voc_V,
        above: 0.03 * string.voc_V,
        from: from('voc_V'),
        how: `string ${s + 1} alone, ${open}; positive to negative${like ? '; strings like it within 1 % of each other' : ''}`,
        tool: VOLTMETER,
        rule: 'pv.cold-voltage',
      },
      {
        ...common,
        quantity: 'stringIsc_A',
        expected: string.isc_A,
        below: light * string.isc_A,
        above: light * string.isc_A,
        from: from('isc_A'),
        how: `string ${s + 1} shorted ${breaks ? `behind its ${breaks}, which makes and breaks the short` : 'through a load-break isolator of your own, never by its plugs'}${like ? '; strings like it within 3 % of each other, whatever the light' : ''}`,
        tool: CLAMP,
      },
      ...(atWorkToo ? [atWork(string.imp_A)] : []),
    ];
  });
}

/** Both poles to the frame, at volts by what the strings reach in the cold; none where those are not known. */
function insulationRows(model: Model, array: PvArray): Row[] {
  const io = createLedger(model);
  const cold_V = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(model.system, string))));
  const touchable = cold_V < TOUCH_V;
  if (!Number.isFinite(cold_V)) return [];
  return [
    {
      subject: array.id,
      quantity: 'insulation_Mohm',
      expected: touchable ? 0.5 : 1,
      below: 0,
      above: 0,
      bound: 'least',
      how: `both poles joined, to the frame, at ${touchable ? 250 : 500} V, controllers and arresters disconnected`,
      tool: 'insulation tester',
      minutes: 10,
      cautions: LIVE,
      licensed: true,
    },
  ];
}

const BINDING: Readonly<Record<ControllerAt['binds'], string>> = {
  array: 'the array is the limit',
  limit: 'the controller is the limit: its array voltage rises',
  bank: 'the bank takes no more: this is normal',
};

/** What controllers should read, in and out. */
export function controllerRows({ system }: Model, figures: FiguresAt, at: Conditions): Row[] {
  return [...figures.controllers].flatMap(([id, found]): Row[] => {
    const light = LIGHT_ERROR[at.irradianceBy];
    const from = (member: 'pv_V' | 'pv_A' | 'out_A') => (other: FiguresAt) => other.controllers.get(id)?.[member];
    const how = `array ${figure(found.array_A)} A, limit ${figure(found.limit_A)} A, bank ${figure(found.bank_A)} A: ${BINDING[found.binds]}`;
    const common = { subject: id, cannotTell: dim(at), minutes: 2, cautions: [CAUTIONS.panelsLive] };
    const pwm = system.controllers?.find((one) => one.id === id)?.type === 'pwm';
    // A pwm that holds back chops its current: its volts swing between the bank's and the open array's.
    const chopped =
      pwm && found.binds !== 'array' && 'a PWM controller that holds back chops its current: a meter shows the average';
    return [
      {
        ...common,
        cannotTell: dim(at) || chopped,
        quantity: 'pv_V',
        expected: found.pv_V,
        below: 0.03 * found.pv_V,
        above: 0.03 * found.pv_V,
        from: from('pv_V'),
        how: `at its PV terminals; ${how}`,
        tool: VOLTMETER,
      },
      {
        ...common,
        quantity: 'pv_A',
        expected: found.pv_A,
        below: Math.max(0.08, light) * found.pv_A,
        above: Math.max(0.08, light) * found.pv_A,
        from: from('pv_A'),
        how: `clamp on its PV cable; ${how}`,
        tool: CLAMP,
      },
      {
        ...common,
        quantity: 'out_A',
        expected: found.out_A,
        below: 0.08 * found.out_A,
        above: 0.08 * found.out_A,
        from: from('out_A'),
        how: `clamp on its output; ${how}`,
        tool: CLAMP,
        rule: 'pv.output-current',
      },
    ];
  });
}
