import { networkOf } from '../conductors/network';
import { resistance_ohm_m, WARM_C } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import { design_A, impOfRun_A } from '../power/design';
import { inverterGroups } from '../power/groups';
import { controllers_W, low_V } from '../power/loads';
import { bankAt, type BankAt } from './bank-at';
import { acceptance_A, arrayAt, controllersAt, type ArrayAt, type ControllerAt, type Kept } from './sun-at';
import { cellsInSeries } from '../bank/bank';
import { chargingDevices, charger_A, type ChargingDevice } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { volts_V } from '../power/under-load';
import { drawn_W, wayToInverter_ohm } from '../rules/devices/sag';
import { devices_ohm, runBothWays_ohm } from '../rules/wires/run-limits';
import { wiredArrays, type Model } from '../system/model';
import type { Bank, PvArray, Run } from '../system/schema';
import type { Conditions } from './conditions';
import { chargerAlone_A, postsAt, wayOf } from './moment';

/** Everything that the model says of one moment. What cannot be said is NaN or absent, with what is missing. */
export interface FiguresAt {
  arrays: Map<string, ArrayAt>;
  readonly controllers: Map<string, ControllerAt>;
  bank: BankAt | null;
  runs: Map<string, RunAt>;
  inverters: Map<string, InverterAt>;
  /** A into the bank from what is not the sun. */
  chargers: Map<string, ChargerAt>;
  parasitic_A: number;
  /** By what each figure is known, `subject`: paths that nobody has read. */
  missing: Map<string, string[]>;
}
/** What an inverter draws without load, A, and its DC volts at the hardest start and where it lets go. */
export interface InverterAt {
  idle_A: number;
  minDc_V: number | null;
  cutoff_V: number | null;
}
/** What a charger gives, A: the least of its rating as set, what bank and loads take, and what its volts push in. */
export interface ChargerAt {
  out_A: number;
  most_A: number;
  takes_A: number;
  volts_A: number;
}
/** A cable while it is read. */
export interface RunAt {
  /** A that flow while it is read, and that as a share of its design. */
  amps: number;
  share: number;
  drop_V: number;
  /** Of that the conductor alone, V: its length is what is known least. */
  cable_V: number;
}

/**
 * @param kept from one call to the next, where only some of the conditions change
 * @param only about one part, for whoever asks nothing else: the others are not worked out
 */
export function figuresAt(model: Model, at: Conditions, kept: Kept = new Map(), only: string | null = null): FiguresAt {
  const { system } = model;
  const asked = ({ id }: { id: string }) => only === null || id === only;
  const missing = new Map<string, string[]>();
  /** Works one subject out, and keeps what it lacked. */
  const about = <T>(subject: string, work: (io: ReturnType<typeof createLedger>) => T): T => {
    const io = createLedger(model);
    const value = work(io);
    if (io.missing.size > 0) missing.set(subject, [...(missing.get(subject) ?? []), ...io.missing]);
    return value;
  };
  const wired = wiredArrays(system).filter(asked);
  const { bank } = system;
  const now = bank ? about(bank.id, (io) => bankAt(io, bank, at)) : null;
  let driven: FiguresAt['controllers'] | null = null;
  // The dearest of all: curves behind cables, only where somebody asks.
  const controllersNow = () =>
    (driven ??= new Map(
      [...about('controllers', (io) => controllersAt(io, at, kept))].map(([{ id }, value]) => [id, value]),
    ));
  return {
    arrays: new Map(
      wired.map((array: PvArray) => [
        array.id,
        about(array.id, (io) =>
          arrayAt(io, array, at, () => controllersNow().get(array.controllerId ?? '')?.volts ?? null, kept),
        ),
      ]),
    ),
    get controllers() {
      return controllersNow();
    },
    bank: now,
    runs: new Map(
      (system.runs ?? [])
        .filter((run) => asked(run) && !networkOf(system).isBatteryLink(run))
        .map((run) => [run.id, about(run.id, (io) => runAt(io, run, at))]),
    ),
    inverters: new Map(
      inverterGroups(system).flatMap(({ first, members }) =>
        members.filter(asked).map((inverter) => [
          inverter.id,
          about(inverter.id, (io) => {
            const rest_V = now?.rest_V ?? Number.NaN;
            const way = wayToInverter_ohm(io, first);
            // Of a group the first stands for all: it is there that the start is felt.
            const starts = inverter === first && way !== null && now !== null;
            const read = inverter.settings?.cutoff_V ?? inverter.lowCutoff_V;
            return {
              idle_A: io.need(`${inverter.id}.idle_W`, inverter.idle_W) / rest_V,
              minDc_V: starts ? volts_V(rest_V, now.resistance_ohm + way, drawn_W(io, inverter, 'surge')) : Number.NaN,
              cutoff_V: read === null || read === undefined ? null : low_V(io, inverter),
            };
          }),
        ]),
      ),
    ),
    chargers: new Map(
      chargingDevices(system).flatMap((device) =>
        device.at === 'chargers' && bank && asked(device)
          ? [[device.id, about(device.id, (io) => chargerAt(io, device, bank, at))]]
          : [],
      ),
    ),
    parasitic_A: now ? about('site', (io) => controllers_W(io)) / now.rest_V : Number.NaN,
    missing,
  };
}

/** What a charger by itself gives just now: by its plate, by what the bank takes, by the volts it is set to. */
function chargerAt(io: ReturnType<typeof createLedger>, device: ChargingDevice, bank: Bank, at: Conditions) {
  const most_A = charger_A(io, device);
  const takes_A = acceptance_A(io, bank, at.soc, at.ambient_C) + at.load_A;
  const absorb_V = io.or(
    `${device.path}.settings.absorb_V`,
    device.settings?.absorb_V,
    cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V,
  );
  const { own_ohm } = wayOf(io, 'charger', device.id);
  const volts_A = chargerAlone_A(postsAt(io, bank, at), own_ohm, absorb_V);
  return { most_A, takes_A, volts_A, out_A: Math.min(most_A, takes_A, volts_A) };
}

function runAt(io: ReturnType<typeof createLedger>, run: Run, { share: given, current_A }: Conditions): RunAt {
  const design = run.kind === 'pv' ? impOfRun_A(io, run) : design_A(io, run);
  const amps = current_A === undefined ? given * design : Math.abs(current_A);
  const share = current_A === undefined ? given : amps / design;
  const ohm = runBothWays_ohm(io, run, WARM_C, true) + devices_ohm(io, run);
  const cable = (2 * run.length_m * resistance_ohm_m(run.size, run.material ?? 'copper', WARM_C)) / (run.perPole ?? 1);
  return { amps, share, drop_V: amps * ohm, cable_V: amps * cable };
}
