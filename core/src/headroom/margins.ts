import { largestWhole } from '../numeric/roots';
import { createLedger } from '../ledger/ledger';
import { modulesOf, stringImp_A, stringIscBifacial_A, stringVmp_V } from '../pv/strings';
import { check } from '../rules/check';
import { ruleOf } from '../rules/index';
import { limitsOf } from '../power/conductor-limits';
import { harmed } from '../rules/cures/worse';
import type { Finding } from '../rules/finding';
import { withSystem, type Model } from '../system/model';
import type { Inverter } from '../system/schema';

/** Margins of single parts, each by itself: what the bank feeds, what it takes, what a wire carries. */
export interface PartMargins {
  /** The largest inverter, W at its rating, whose full output this bank gives for long; null where that is not known. */
  inverter_W: number | null;
  /** The largest charger, A, that may come beside what charges at the same time; null where that is not known. */
  charger_A: number | null;
  /** Watts of modules like those at its end that each cable from the modules carries; unknown ones are left out. */
  wires: { id: string; carries_W: number; has_W: number }[];
}

const MOST_W = 100_000;
const MOST_A = 5_000;
const PROBE = 'room-probe';

/** How much more each part of the system would bear, in its own unit. */
export function partMargins(model: Model, found: readonly Finding[] = check(model)): PartMargins {
  return { inverter_W: inverterMargin_W(model), charger_A: chargerMargin_A(model, found), wires: wireMargins(model) };
}

/** By the bank's own discharge, cut-off and sag aside: its rating over efficiency at the lowest volts. */
function inverterMargin_W(model: Model): number | null {
  const { system } = model;
  if (!system.bank) return null;
  const [first] = system.inverters ?? [];
  const plain: Inverter = { id: PROBE, continuous_W: 1 };
  const at = (watts: number) => {
    // In place of all that is there: the bank feeds one of this rating.
    const one: Inverter = { ...(first ?? plain), group: null, continuous_W: watts };
    const loads = (system.loads ?? []).map((load) => (load.inverterId ? { ...load, inverterId: one.id } : load));
    const changed = withSystem(model, { ...system, inverters: [one], loads });
    return check(changed, [DISCHARGE]).filter(({ quantity }) => quantity === 'continuous');
  };
  const holds = (watts: number) => at(watts).every(({ use }) => use !== null && use <= 1 + 1e-9);
  if (at(1).length === 0 || at(1).some(({ verdict }) => verdict === 'unknown')) return null;
  const most = largestWhole(holds, 1, MOST_W);
  return most === null ? MOST_W : Math.max(0, most);
}
const DISCHARGE = ruleOf('bank.discharge');

/** Beside the sun and whatever else charges on that occasion. */
function chargerMargin_A(model: Model, found: readonly Finding[]): number | null {
  const { system } = model;
  if (!system.bank) return null;
  const at = (amps: number) =>
    check(
      withSystem(model, {
        ...system,
        chargers: [...(system.chargers ?? []), { id: PROBE, kind: 'mains', max_A: amps }],
      }),
      CHARGE,
    );
  if (at(1).some(({ verdict }) => verdict === 'unknown')) return null;
  const before = found.filter(({ rule }) => CHARGE.some(({ id }) => id === rule));
  const most = largestWhole((amps) => harmed(before, at(amps)).length === 0, 1, MOST_A);
  return most === null ? MOST_A : Math.max(0, most);
}
const CHARGE = (['bank.charge-max', 'bank.cold-charge'] as const).map(ruleOf);

/** By the two tests of its ampacity: 1.5625 Isc in its column, 1.25 Isc derated. */
function wireMargins(model: Model): PartMargins['wires'] {
  const { system } = model;
  return (system.runs ?? []).flatMap((run) => {
    if (run.kind !== 'pv') return [];
    const array = system.arrays?.find(({ id }) => id === run.from || id === run.to);
    const strings = (array?.strings ?? [])
      .filter((_, i) => !run.strings || run.strings.includes(i))
      .map((string) => modulesOf(system, string));
    const [first] = strings;
    if (!first) return [];
    const io = createLedger(model);
    const { column_A, derated_A } = limitsOf(io, run);
    const isc = Math.min(column_A / PLAIN, derated_A / DESIGN);
    if (!Number.isFinite(isc)) return [];
    const watts = (modules: typeof first) => stringVmp_V(modules) * stringImp_A(modules);
    return [
      {
        id: run.id,
        carries_W: (isc / stringIscBifacial_A(first)) * watts(first),
        has_W: strings.reduce((sum, modules) => sum + watts(modules), 0),
      },
    ];
  });
}
const DESIGN = 1.25;
const PLAIN = DESIGN * DESIGN;
