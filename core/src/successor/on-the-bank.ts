import { cellsInSeries, top_V } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { sizeWords } from '../conductors/sizes';
import { figure, round } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { down, up, type SpecInputs } from './in-its-place';
import { line, type SpecLine } from './line';
import { said } from '../parts/said';

/** What is required of anything connected to the bank: its voltage, its profile, its cables. */

/** The bank's volts, from its cut-off to the highest on the bus, inside a device's window. */
export function windowLines(inputs: SpecInputs, min: string, max: string): SpecLine[] {
  const { bank } = inputs.model.system;
  const sensed = inputs.kind === 'controllers' && bank && !isLithium(bank.chemistry);
  // The sensor that lead wants lifts the volts in the cold: the new one is asked to stand that too.
  const io = createLedger(sensed ? inputs.put({ temperatureSensor: true }) : inputs.model);
  const rule = inputs.kind === 'inverters' ? 'inverter.voltage-window' : 'controller.voltage';
  if (!bank) io.miss('bank');
  const top = bank ? top_V(io, bank) : Number.NaN;
  const low = createLedger(inputs.model);
  if (!bank) low.miss('bank');
  const bottom = bank ? cellsInSeries(low, bank) * CHEMISTRY[bank.chemistry].cutoff_V : Number.NaN;
  const missing = [...io.missing].sort();
  const known = (value: number) => (Number.isFinite(value) ? value : null);
  return [
    line({
      field: max,
      label: 'Battery voltage, up to',
      test: 'least',
      value: known(up(top, 0.1)),
      exact: known(top),
      unit: 'V',
      rule,
      why: [...io.working],
      missing,
      assumed: [...io.assumed].sort(),
    }),
    line({
      field: min,
      label: 'Battery voltage, down to',
      test: 'most',
      value: known(down(bottom, 0.1)),
      exact: known(bottom),
      unit: 'V',
      rule,
      why: [`the bank's cut-off under load: ${figure(bottom)} V`],
      missing: [...low.missing].sort(),
      assumed: [...low.assumed].sort(),
    }),
  ];
}

/** Charging profiles that suit the bank; custom voltages suit any. */
export function profileLine(inputs: SpecInputs, field: string): SpecLine | null {
  const { bank } = inputs.model.system;
  if (!bank) return null;
  const words = [bank.chemistry, ...CHEMISTRY[bank.chemistry].servedBy, 'custom'];
  const cells = cellsInSeries(createLedger(inputs.model), bank);
  const absorb = round(cells * CHEMISTRY[bank.chemistry].absorb_V);
  return line({
    field,
    label: 'Charging profile',
    test: 'includes',
    value: words.join(' or '),
    words,
    rule:
      inputs.kind === 'inverters'
        ? 'inverter.profile'
        : inputs.kind === 'chargers'
          ? 'charger.profile'
          : 'controller.profile',
    why: [`the bank is ${said(bank.chemistry)}; adjustable voltages must reach ${absorb} V with equalising off`],
  });
}

/** "Terminals take 16 mm2": the cables that are to go in. */
export function terminalsLabel({ model, part }: SpecInputs): string {
  const sizes = (model.system.runs ?? [])
    .filter(({ from, to }) => from === part.id || to === part.id)
    .map(({ size }) => sizeWords(size));
  return sizes.length > 0 ? `Terminals take ${[...new Set(sizes)].join(' and ')}` : 'Terminals take the cables';
}
