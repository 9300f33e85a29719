import { cellsInSeries, fullCell_V } from '../bank/bank';
import { sagBank_ohm } from '../bank/resistance';
import { restCell_V } from '../bank/rest';
import { createLedger } from '../ledger/ledger';
import { floatCell_V } from '../chemistry/chemistry';
import type { Quantity } from '../readings/quantities';
import { HOURS_Y } from '../sun/calendar';
import { climateOf, meanWeather } from '../sun/weather';
import type { Model } from '../system/model';
import { emptyTrace, YearSimulator } from '../year/year';

/** A system that speaks without being there: the site's own model in its mean year (docs/live.md). */

/** What it says of one moment. */
export interface Said {
  subject: string;
  quantity: Quantity;
  value: number;
}
/** A joint that has gone bad: milliohms in a cable of the bank. */
export interface StandInFault {
  run: string;
  mohm: number;
}

/**
 * @returns what the system's own instruments would show at a moment (ms since 1970, UTC)
 * @throws FaultError that names what the year lacks
 */
export function standIn(model: Model, fault: StandInFault | null = null): (at: number) => Said[] {
  const { bank, controllers } = model.system;
  const year = new YearSimulator(model, { kind: 'mean' });
  const trace = emptyTrace();
  year.year(0, trace);
  const sun_W = year.available_W;
  const { temp_C } = meanWeather(climateOf(model));
  const io = createLedger(model);
  const cells = bank ? cellsInSeries(io, bank) : 0;
  const bank_ohm = bank ? sagBank_ohm(io, bank, false) : 0;
  const full_V = bank ? fullCell_V(io, bank) : 0;
  const float_V = bank ? cells * floatCell_V(bank.chemistry) : 1;
  const between = (hours: Float64Array, place: number) => {
    const [from, part] = [Math.floor(place), place % 1];
    return (1 - part) * (hours[from % HOURS_Y] ?? 0) + part * (hours[(from + 1) % HOURS_Y] ?? 0);
  };
  return (at) => {
    const begin = Date.UTC(new Date(at).getUTCFullYear(), 0, 1);
    const place = ((at - begin) / 3_600_000) % HOURS_Y;
    const soc = between(trace.soc, place);
    const watts = between(sun_W, place);
    const drawn_W = between(trace.served_W, place);
    // Into a full bank goes no more than what is drawn.
    const into_W = soc > 0.995 ? Math.min(watts, drawn_W) : watts;
    const net_A = (into_W - drawn_W) / float_V;
    const said: Said[] = [];
    if (bank) {
      const rest_V = cells * restCell_V(bank.chemistry, soc, full_V);
      said.push(
        { subject: bank.id, quantity: 'head_soc', value: soc },
        { subject: bank.id, quantity: 'head_A', value: net_A },
        { subject: bank.id, quantity: 'load_V', value: rest_V + net_A * (Number.isFinite(bank_ohm) ? bank_ohm : 0) },
        { subject: bank.id, quantity: 'temp_C', value: between(temp_C, place) },
      );
    }
    const [first] = controllers ?? [];
    if (first) said.push({ subject: first.id, quantity: 'out_A', value: into_W / float_V });
    if (fault) said.push({ subject: fault.run, quantity: 'drop_V', value: (Math.abs(net_A) * fault.mohm) / 1000 });
    return said;
  };
}
