import type { InferType } from 'yup';
import {
  exactly,
  flag,
  list,
  num,
  oneOf,
  optionalPart,
  part,
  positive,
  record,
  requiredNum,
  requiredText,
  requiredWhole,
  text,
  celsius,
} from './fields';
import { asked, hidden } from './words';

/** The place itself, and the system's one figure that is no part. */

/** Where a system stands: its climate, its people, its money. */
export const siteSchema = part({
  name: asked('Name', requiredText('the name of the site')),
  recordLow_C: asked('Record low', celsius()),
  recordHigh_C: asked('Record high', celsius()),
  elevation_m: asked('Elevation', num(-500, 9000)),
  latitude_deg: asked('Latitude', num(-90, 90)),
  longitude_deg: asked('Longitude', num(-180, 180)),
  kind: asked('What it is', text()),
  livingSpace: asked('People sleep here', flag()),
  occupiedMonths: asked('Occupied in', list(requiredWhole(1, 12)), { entry: 'months' }),
  climate: asked(
    'Sun and temperature by month',
    optionalPart({
      globalHorizontal_kWh_m2_d: exactly(requiredNum(0, 15), 12),
      meanTemp_C: exactly(requiredNum(-90, 90), 12),
    }),
    { entry: 'climate', unit: '' },
  ),
  horizon: asked('Horizon', list(part({ azimuth_deg: requiredNum(0, 360), elevation_deg: requiredNum(-90, 90) })), {
    entry: 'horizon',
    hint: 'what shades the array',
  }),
  layup_d: asked('Unattended for', num(0, 10_000)),
  since: asked('In service since', text()),
  observations: hidden('answered one by one in the walk-round', record(oneOf(['yes', 'no', 'cannot-see']))),
  /** Current costs, against which a proposal is weighed. */
  money: hidden(
    'asked on the screen of money',
    optionalPart({
      currency: text(),
      horizon_y: num(1, 50),
      generator_h_y: num(0, 8784),
      fuel_L_h: num(0, 1000),
      fuelPrice_L: num(0, 1e6),
      wear_h: num(0, 1e6),
      bill_month: num(0, 1e7),
    }),
  ),
  stopCard: hidden(
    'settled on the stop card',
    record(part({ state: oneOf(['made-safe', 'left-off', 'refused']), by: text(), at: text(), partId: text() })),
  ),
});
export type Site = InferType<typeof siteSchema>;

/** The volts that a system is called by. */
export const nominalSchema = part({ nominal_V: asked('System voltage', positive(1500)) });
