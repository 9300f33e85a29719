import type { RuleId } from '../rules/ids';
import { cellsPerBlock, CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { place_min_C } from '../bank/bank';
import { firstHolding } from '../numeric/roots';
import { freshBank } from '../bank/fresh';
import { boxOf } from '../proposal/fit';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import type { Bank } from '../system/schema';
import { findingsOf, leastOf, pathsOf, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';

/** How blocks of a successor are to be joined. */
export interface Grouping {
  series: number;
  parallel: number;
}

/** Ah that a search begins from; it doubles as long as that is not enough. */
const FIRST_AH = 1;
const MOST_AH = 10_000;
const CLOSE_AH = 0.1;

/**
 * What each block of a new bank must be, in a grouping (as it is, where none is named) and of the same chemistry: a new
 * bank as a whole, since one new block among old ones ages with them (Practice, B).
 */
export function batterySpec(inputs: SpecInputs<'bank'>, grouping?: Grouping): SpecLine[] {
  const { model } = inputs;
  const part = inputs.part;
  const { series, parallel } = grouping ?? part;
  const lithium = isLithium(part.chemistry);
  const fresh = { ...freshBank(series, parallel, part.link), internal_mohm: null };
  const ask = (field: string, label: string, unit: string, rule: RuleId, quantity?: string) =>
    leastOf(inputs, {
      field,
      label,
      unit,
      rules: [rule],
      subjects: [part.id],
      ideal: fresh,
      sold: 5,
      ...(quantity ? { quantity } : {}),
    });
  const volts = (model.system.nominal_V ?? part.series * part.block_V) / series;
  const lines: (SpecLine | null)[] = [
    line({
      field: 'chemistry',
      label: 'Chemistry',
      test: 'one-of',
      value: part.chemistry,
      words: [part.chemistry],
      why: ['settings and profiles here are for it; another chemistry is a conversion'],
    }),
    voltsLine(part, volts, series),
    ...capacityLines(inputs, fresh),
    // Lead without a figure of its own is judged by its capacity.
    withMust(ask('maxCharge_A', 'Charge current', 'A', 'bank.charge-max'), lithium),
    lithium ? ask('maxDischarge_A', 'Discharge current, continuous', 'A', 'bank.discharge', 'continuous') : null,
    lithium ? ask('peakDischarge_A', 'Discharge current, peak', 'A', 'bank.surge', 'current') : null,
    lithium ? secondsLine(inputs) : null,
    lithium && parallel > 1
      ? countLine('maxParallel', 'Strings allowed in parallel', parallel, 'bank.parallel-count')
      : null,
    lithium && series > 1 ? countLine('maxSeries', 'Blocks allowed in series', series, 'bank.series-count') : null,
    coldLine(inputs),
    massLine(part, series * parallel),
    boxOf(part.place)
      ? {
          ...eyes(`${series * parallel} of them fit the space, with 10 mm around each`, 'see the fit'),
          must: false,
        }
      : null,
  ];
  const count = series * parallel;
  lines.push(
    eyes(
      count > 1 ? `All ${count} of one make, model and age` : 'Made less than 6 months ago',
      'one weak block ages the rest',
    ),
    eyes('Terminals in the same order, lugs of the same hole', 'leads that are too short get stretched and break'),
  );
  if (!lithium) lines.push(eyes('Vent and caps as the place needs', 'hydrogen; acid'));
  return lines.filter((one) => one !== null);
}

function voltsLine(part: Bank, volts: number, series: number): SpecLine {
  const cells = cellsPerBlock(part).cells;
  const sameCells = series === part.series ? cells : null;
  // Lithium labels stand a little above the step they serve: 12.8 for 12.
  const sold = volts * (CHEMISTRY[part.chemistry].step12_V / 12);
  const words = [volts, sold, part.block_V].map((each) => String(Math.round(each * 10) / 10));
  return line({
    field: 'block_V',
    label: 'Voltage of a block',
    test: 'one-of',
    value: sameCells === null ? (words[1] ?? String(volts)) : String(part.block_V),
    words: [...new Set(words)],
    unit: 'V',
    rule: 'bank.voltage',
    why: [`${series} in series${sameCells ? `, ${sameCells} cells each: count them` : ''}`],
  });
}

/** The least Ah with the days wanted in hand, and for lead the most that the chargers still fill. */
function capacityLines(inputs: SpecInputs<'bank'>, fresh: Record<string, unknown>): (SpecLine | null)[] {
  const rules: RuleId[] = ['bank.autonomy', 'bank.discharge', 'bank.charge-max'];
  const at = (ah: number) =>
    findingsOf(
      inputs.put({ ...fresh, maxCharge_A: null, maxDischarge_A: null, blockCapacity_Ah: ah }),
      leadAcid(inputs) ? rules : ['bank.autonomy'],
    );
  const start = at(FIRST_AH);
  const missing = pathsOf(start, 'missing');
  const base = { field: 'blockCapacity_Ah', unit: 'Ah' } as const;
  if (missing.length > 0)
    return [
      line({
        ...base,
        label: 'Capacity at 20 h, at least',
        test: 'least',
        value: null,
        why: [],
        rule: 'bank.autonomy',
        missing,
      }),
    ];
  const holds = (ah: number) => at(ah).every(({ verdict }) => verdict === 'holds');
  let high = FIRST_AH;
  while (high < MOST_AH && !holds(high)) high *= 2;
  const least = firstHolding(holds, high / 2, high, CLOSE_AH);
  const decides = at(least - CLOSE_AH).find(({ verdict }) => verdict !== 'holds');
  const [charge] = findingsOf(inputs.put({ ...fresh, blockCapacity_Ah: 100 }), ['bank.charge-min']);
  const most = charge?.demand && charge.limit ? (100 * charge.demand * (charge.tightAbove ?? 1)) / charge.limit : null;
  return [
    line({
      ...base,
      label: 'Capacity at 20 h, at least',
      test: 'least',
      value: high >= MOST_AH ? null : up(least, 5),
      exact: high >= MOST_AH ? null : least,
      rule: decides?.rule ?? 'bank.autonomy',
      why: decides?.working ?? ['nothing here needs more'],
      assumed: decides?.assumed ?? [],
      missing: high >= MOST_AH ? [`${inputs.part.id}.blockCapacity_Ah`] : [],
    }),
    most
      ? line({
          ...base,
          label: 'Capacity at 20 h, at most',
          test: 'most',
          value: Math.floor(most / 5) * 5,
          exact: most,
          rule: 'bank.charge-min',
          why: charge?.working ?? [],
          assumed: charge?.assumed ?? [],
          must: false,
        })
      : null,
  ];
}

const withMust = (spec: SpecLine | null, must: boolean) => spec && { ...spec, must };
const leadAcid = (inputs: SpecInputs<'bank'>) => !isLithium(inputs.part.chemistry);

function secondsLine({ model }: SpecInputs): SpecLine | null {
  const seconds = Math.max(0, ...(model.system.inverters ?? []).map(({ surge_s }) => surge_s ?? 0));
  if (seconds === 0) return null;
  return line({
    field: 'peak_s',
    label: 'for at least',
    test: 'least',
    value: seconds,
    exact: seconds,
    unit: 's',
    rule: 'bank.surge',
    why: [`the inverter's surge lasts ${figure(seconds)} s`],
  });
}

const countLine = (field: string, label: string, count: number, rule: RuleId): SpecLine =>
  line({
    field,
    label,
    test: 'least',
    value: count,
    exact: count,
    rule,
    why: ['in series each protection switch sees the whole bank voltage; unknown means not allowed'],
  });

function coldLine({ model, part: bank }: SpecInputs<'bank'>): SpecLine | null {
  if (!isLithium(bank.chemistry) || bank.heated) return null;
  const io = createLedger(model);
  const coldest = place_min_C(io, bank);
  const missing = [...io.missing];
  if (missing.length === 0 && coldest >= 5) return null;
  return line({
    field: 'lowTemperatureProtection',
    label: 'Stops charging in the cold (tested)',
    test: 'true',
    value: null,
    rule: 'bank.low-temperature',
    why: [`${figure(coldest)} degC at the cells; never charged below ${CHEMISTRY[bank.chemistry].lowestCharge_C} degC`],
    missing,
  });
}

function massLine({ place }: Bank, count: number): SpecLine | null {
  const bears = place?.maxMass_kg;
  return bears
    ? line({
        field: 'block.mass_kg',
        label: 'Mass of each',
        test: 'most',
        value: Math.floor(bears / count),
        exact: bears / count,
        unit: 'kg',
        why: [`the floor carries ${figure(bears)} kg; ${count} of them are on it`],
      })
    : null;
}
