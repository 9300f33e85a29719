import { CHEMISTRIES, type Chemistry } from '../chemistry/chemistry';
import {
  amps,
  celsius,
  flag,
  list,
  metres,
  millimetres,
  num,
  oneOf,
  optionalPart,
  requiredOneOf,
  requiredText,
  text,
  volts,
} from './fields';
import { asked, first, group, hidden, type Notable } from './words';

/** Members that several kinds of part share. */

/** Charging profiles that a device may offer: a chemistry’s own, or custom voltages. */
export const PROFILES: [Chemistry | 'custom', ...(Chemistry | 'custom')[]] = [...CHEMISTRIES, 'custom'];
/** Types of fuse and breaker of the format; none is an answer too. */
export const PROTECTION_TYPES = [
  'none',
  'blade',
  'strip',
  'terminal',
  'class-t',
  'nh',
  'pv',
  'breaker',
  'thermal-breaker',
] as const;

/** The id of a part in the file. */
export const id = () => hidden('made by the app', requiredText('an id: a short text, unique in the file'));
/** The label of a part, as people call it. */
export const name = () => first('Name', text());
/** Free text about one part, and the largest conductor and the bolt that a device's terminals take. */
export const notes = () => asked('Notes', text(), { belongs: 'place' });
/** What a device's terminals take: conductor in mm2, stud in mm. */
export const terminals = () =>
  optionalPart({
    max_mm2: asked('Terminals take up to', num(0, 5000), { unit: 'mm2' }),
    stud_mm: asked('Stud', millimetres()),
  });

/** What a device's settings are for: charging, letting go of loads, or both. */
type Purpose = 'both' | 'charging' | 'letting go';

/** Settings as found on a device that charges or cuts off; what it cannot have is not asked for. */
export const settings = (purpose: Purpose = 'both', suffix = '') => {
  const charging = <S extends Notable>(label: string, schema: S) =>
    purpose === 'letting go' ? hidden('it does not charge on its own: see its charger', schema) : asked(label, schema);
  const lettingGo = <S extends Notable>(label: string, schema: S) =>
    purpose === 'charging' ? hidden('it has no cut-off of its own: see the inverter', schema) : asked(label, schema);
  return group(
    { belongs: 'setting', suffix },
    optionalPart({
      absorb_V: charging('Absorption voltage, as set', volts()),
      absorb_min: charging('Absorption time', num(0, 100_000)),
      tail_A: charging('Tail current', amps()),
      float_V: charging('Float voltage, as set', volts()),
      equalise_V: charging('Equalise, as set (0 is off)', volts()),
      equaliseEvery_d: charging('Equalise every', num(0, 10_000)),
      comp_mV_K_cell: charging('Compensation', num(-50, 50)),
      maxCharge_A: charging('Charge limit, as set', amps()),
      lowTempCut_C: charging('Low-temperature cut-off', celsius()),
      cutoff_V: lettingGo('Cut-off, as set', volts()),
      restart_V: lettingGo('Reconnect, as set', volts()),
      alarm_V: lettingGo('Alarm, as set', volts()),
      lvd_V: lettingGo('Load disconnect, as set', volts()),
      reconnect_V: lettingGo('Load reconnect, as set', volts()),
      firmware: asked('Firmware', text()),
    }),
  );
};

/** Charging profiles that a device offers. */
export const profiles = (label = 'Charging profiles') => asked(label, list(requiredOneOf(PROFILES)));

/** A fuse or breaker on a cable, at the end nearer the bank; `suffix` tells the one at the other end. */
export const protection = (suffix = '') =>
  group(
    { belongs: 'fitting', suffix, later: suffix !== '' },
    optionalPart({
      type: first('Fuse or breaker', oneOf(PROTECTION_TYPES)),
      rating_A: first('Rating', amps()),
      voltage_V: asked('DC voltage rating', volts()),
      interrupt_A: asked('Breaking capacity', num(0, 1e6)),
      fromSource_m: asked('Distance from the source', metres()),
      dcRated: asked('Rated for DC', flag()),
      polarised: asked('Polarised', flag()),
    }),
  );
