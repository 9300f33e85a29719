import { RULE_IDS } from '../ids';
import { cellsInSeries, top_V } from '../../bank/bank';
import { settingSheets } from '../../bank/charging';
import { CHEMISTRY, cellsPerBlock, familyOf, isLithium } from '../../chemistry/chemistry';
import { bearsFuse, networkOf, touches } from '../../conductors/network';
import { isFuse } from '../wires/string-own';
import { createLedger } from '../../ledger/ledger';
import { design_A } from '../../power/design';
import { partById } from '../../system/parts';
import { coldString_V, modulesOf } from '../../pv/strings';
import { bearableFuse, byCopper, fuseCures, stringFuses } from '../cures/wires';
import type { Model } from '../../system/model';
import type { Bank, PvArray, Run, Settings, System } from '../../system/schema';
import { figure } from '../../ledger/figures';
import { partName } from '../../conductors/names';
import { setTo } from '../cures/bank';
import type { Consequence, Gravity } from '../finding';
import { rule, type Case, type Cure, type Outcome, type Rule } from '../rule';
import { said } from '../../parts/said';
import { boardRules } from '../wires/boards';

/** Rules about what was found set, what may be touched, and what only eyes can tell; and those of the boards. */

/** How far a cut-off may stand off the table, V per cell; the other setpoints by their family. */
const CUTOFF_OFF_V = 0.1;

interface Setpoint {
  /** Where the value is recorded. */
  path: string;
  name: 'absorb_V' | 'float_V' | 'equalise_V' | 'comp_mV_K_cell' | 'cutoff_V';
  value: number;
}

/** Setpoints of every device that charges or cuts off, one case each. */
function setpoints({ system }: Model): Case<Setpoint>[] {
  const { bank } = system;
  if (!bank) return [];
  const lithium = isLithium(bank.chemistry);
  const noEqualise = CHEMISTRY[bank.chemistry].equalise_V === null;
  const setpoints = (subject: string, path: string, found: Settings | null | undefined, names: Setpoint['name'][]) =>
    names.flatMap((name): Case<Setpoint>[] => {
      const value = found?.[name];
      if (value === null || value === undefined) return [];
      if (name === 'float_V' && CHEMISTRY[bank.chemistry].float_V === null) return [];
      if (name === 'equalise_V' && (!noEqualise || value === 0)) return [];
      if (name === 'comp_mV_K_cell' && (!lithium || value === 0)) return [];
      return [{ subject, quantity: name, about: { path: `${path}.${name}`, name, value } }];
    });
  return settingSheets(system).flatMap(({ id, path, settings: found, charges, cutsOff }) =>
    setpoints(id, path, found, [...(charges ? CHARGING : []), ...(cutsOff ? (['cutoff_V'] as const) : [])]),
  );
}

/** What the table wants of a setpoint, V per cell. */
function wantedOf({ chemistry }: Bank, name: Setpoint['name']): number {
  const table = CHEMISTRY[chemistry];
  return name === 'absorb_V' ? table.absorb_V : name === 'float_V' ? (table.float_V ?? Number.NaN) : table.cutoff_V;
}

/** Above the volts that cells never stand: lead is spoiled by it, lithium burns. */
const aboveNever = ({ chemistry }: Bank): Consequence => (isLithium(chemistry) ? 'danger' : 'damage');

const CHARGING = ['absorb_V', 'float_V', 'equalise_V', 'comp_mV_K_cell'] as const;

const settings = rule<Setpoint>({
  id: 'settings',
  title: 'Settings as found',
  consequence: 'life',
  gravity: 1,
  bearsOn: ['charge'],
  cases: setpoints,
  evaluate(io, { path, name, value }): Outcome {
    const { bank } = io.model.system;
    if (!bank) return { verdict: 'holds' };
    io.see(path, value);
    if (name === 'equalise_V' || name === 'comp_mV_K_cell') {
      io.work(
        name === 'equalise_V'
          ? `equalising at ${figure(value)} V on ${said(bank.chemistry)}`
          : `compensation of ${figure(value)} mV/K on ${said(bank.chemistry)}`,
      );
      const perCell = name === 'equalise_V' ? value / cellsInSeries(io, bank) : 0;
      const harms = perCell > CHEMISTRY[bank.chemistry].neverAbove_V + 1e-9;
      if (harms)
        io.work(
          `${figure(perCell)} V a cell, above ${figure(CHEMISTRY[bank.chemistry].neverAbove_V)} V, where it does damage`,
        );
      return { verdict: 'over', consequence: harms ? aboveNever(bank) : 'life' };
    }
    const table = CHEMISTRY[bank.chemistry];
    const cells = cellsInSeries(io, bank);
    const wanted = wantedOf(bank, name);
    const perCell = value / cells;
    const limit = name === 'cutoff_V' ? CUTOFF_OFF_V : familyOf(bank.chemistry).setpointOff_V;
    io.work(`${figure(value)} V / ${cells} cells = ${figure(perCell)} V; the table says ${figure(wanted)} V`);
    const harmful = name !== 'cutoff_V' && perCell > table.neverAbove_V + 1e-9;
    if (harmful) io.work(`above ${figure(table.neverAbove_V)} V a cell, where it does damage`);
    return {
      ratio: { demand: Math.abs(perCell - wanted), limit, unit: 'V/cell', sense: 'max', tightAbove: 0.4 },
      consequence: harmful ? aboveNever(bank) : 'life',
    };
  },
  sentence({ quantity, subject, verdict, demand }, model) {
    const who = partName(model, subject);
    if (verdict === 'unknown') return `Whether the settings of ${who} suit the bank is not known yet.`;
    if (quantity === 'equalise_V') return 'Equalising is on, for a bank that must not be equalised.';
    if (quantity === 'comp_mV_K_cell') return 'Temperature compensation is on, for lithium.';
    const word = quantity === 'absorb_V' ? 'Absorb' : quantity === 'float_V' ? 'Float' : 'Cut-off';
    const { bank } = model.system;
    const found = setpoints(model).find((one) => one.subject === subject && one.quantity === quantity)?.about;
    const cells = bank ? (cellsPerBlock(bank).cells ?? Number.NaN) * bank.series : Number.NaN;
    if (!bank || !found || Number.isNaN(cells)) return `${word} of ${who} differs from the table.`;
    const off = found.value - cells * wantedOf(bank, found.name);
    // Said in volts at this bank, and which way: that is what is turned.
    return Math.abs(off) < 0.005 * cells || (demand ?? 0) < 1e-6
      ? `${word} of ${who} matches the table.`
      : `${word} of ${who} is ${figure(Math.abs(off), 2)} V too ${off > 0 ? 'high' : 'low'} for this bank.`;
  },
  remedies(model, { path, name }, _) {
    const { bank } = model.system;
    const sheet = path.slice(0, path.lastIndexOf('.'));
    const off = name === 'equalise_V' || name === 'comp_mV_K_cell';
    return bank ? setTo(model, sheet, name, off ? 0 : wantedOf(bank, name)) : [];
  },
  needs: 'Needs a device that can be set for this bank.',
});

const touch = rule<PvArray | Bank>({
  id: 'dc.touch',
  title: 'Dangerous voltage',
  consequence: 'danger',
  bearsOn: ['place'],
  cautions: ['panelsLive', 'bankAmps'],
  cases: ({ system }) =>
    [...(system.arrays ?? []), ...(system.bank ? [system.bank] : [])].map((of) => ({ subject: of.id, about: of })),
  evaluate(io, part) {
    if (!('strings' in part)) return top_V(io, part) > 60 ? { verdict: 'note' } : null;
    const volts = Math.max(...part.strings.map((string) => coldString_V(io, modulesOf(io.model.system, string))));
    return volts > 120 ? { verdict: 'note' } : null;
  },
  sentence: ({ subject }, { system }) =>
    `Above ${subject === system.bank?.id ? '60 V on the bus' : '120 V in the cold'}: needs covers, a two-pole isolator and a label.`,
});

/** What only eyes can tell: how it is asked (yes is the good answer), and the sentence for a no. */
export const OBSERVED: Record<string, { label: string; no: string; advice?: 'note' }> = {
  mainFuse: { label: 'Main fuse', no: 'No main fuse.' },
  pvIsolator: { label: 'Isolator for the array', no: 'No isolator for the array.' },
  batteryIsolator: { label: 'Isolator for the bank', no: 'No isolator for the bank.' },
  acIsolator: { label: 'Isolator on the AC side', no: 'No isolator on the AC side.' },
  oneNeutralBond: { label: 'One neutral bond, and only one', no: 'Two neutral bonds, or none.' },
  rcdOnSockets: {
    label: 'Residual-current device on the sockets',
    no: 'The sockets have no residual-current device (RCD).',
  },
  plugsOfOneMake: { label: 'PV plugs of one make', no: 'PV plugs of different makes are joined.' },
  framesBonded: { label: 'Frames bonded', no: 'Frames are not bonded.' },
  batteryRestrained: { label: 'Bank restrained', no: 'The bank is not restrained.' },
  terminalsCapped: { label: 'Terminals capped', no: 'Terminals have no caps.' },
  noSparkByVents: { label: 'Nothing that can spark near the vents', no: 'Something that can spark is near the vents.' },
  noSwelling: { label: 'No cell swollen', no: 'A swollen cell.' },
  noLeak: { label: 'No cell leaking', no: 'A leaking cell.' },
  noCharring: { label: 'Nothing charred', no: 'A charred part.' },
  noMeltedPlug: { label: 'No plug melted', no: 'A melted plug.' },
  neverMixedChemistry: { label: 'Lead and lithium never connected', no: 'Lead and lithium are connected.' },
  noCentreTap: {
    label: 'No load tapped from part of the bank',
    no: 'A load is tapped from part of the bank.',
  },
  surgeArrester: { label: 'Surge arrester', no: 'No surge arrester.', advice: 'note' },
  gasDetector: { label: 'Gas detector', no: 'No gas detector.', advice: 'note' },
  smokeDetector: { label: 'Smoke detector', no: 'No smoke detector.', advice: 'note' },
};

/** Where what eyes can tell is graver than shock and gas. */
const OBSERVED_GRAVITY: Record<string, Gravity> = {
  noSwelling: 1,
  noLeak: 1,
  neverMixedChemistry: 1,
  mainFuse: 2,
  noCharring: 2,
  noMeltedPlug: 2,
};

/** What each wants that was answered with no. */
const OBSERVED_NEEDS: Record<string, string> = {
  mainFuse: "Needs a fuse at the bank's post before anything else. Keep it off until then.",
  pvIsolator: 'Needs a load-break isolator for the array, both poles, rated for DC at the cold voltage.',
  batteryIsolator: 'Needs an isolator for the bank, rated for DC, within reach.',
  acIsolator: 'Needs an isolator on the AC side, by a licensed person.',
  oneNeutralBond: 'Needs a licensed person: one bond, at the source, in every mode. Keep it off until then.',
  rcdOnSockets: 'Needs an RCD before the sockets, fitted by a licensed person.',
  plugsOfOneMake: 'Needs both halves of each mixed plug replaced with one make, with the array covered or isolated.',
  framesBonded: "Needs the frames bonded to the site's earth.",
  batteryRestrained: 'Needs straps or a frame to hold the bank in place.',
  terminalsCapped: 'Needs caps on all live posts.',
  noSparkByVents: 'Needs relays, breakers, fuses and inverters moved away from the vents.',
  noSwelling: 'Needs the bank taken out of use: no charging, no load. Move it outside if that is safe.',
  noLeak: 'Needs the bank taken out of use. Wear gloves and goggles, have neutraliser ready, then find the leak.',
  noCharring: 'Needs that part switched off until you know what overheated it.',
  noMeltedPlug: 'Needs that string isolated, both halves of the plug replaced and the other plugs checked.',
  neverMixedChemistry: 'Needs lead and lithium separated, each with its own charger. Keep it off until then.',
  noCentreTap: 'Needs that load moved to a converter across the whole bank.',
};

/** What a proposal can fit so that eyes will see it: the answer is set with it. */
const answered = (name: string, cures: readonly Cure[]): Cure[] =>
  cures.map((cure) => ({
    ...cure,
    changes: [...cure.changes, { op: 'set' as const, at: 'site', value: { observations: { [name]: 'yes' } } }],
  }));
const postRuns = ({ system }: Model): Run[] =>
  (system.runs ?? []).filter((run) => bearsFuse(run) && touches(run, system.bank?.id));
const isolated = (system: System, runs: readonly Run[]) =>
  (system.switches ?? []).some(({ kind, runId }) => kind === 'isolator' && runs.some(({ id }) => id === runId));
/** An isolator on a run: for its volts and current, both poles. */
const isolatorOn = (model: Model, run: Run, volts: number, label: string): Cure => {
  const amps = design_A(createLedger(model), run);
  const rating_A = Number.isFinite(amps) ? (ISOLATOR_A.find((sold) => sold >= amps - 1e-9) ?? null) : null;
  return {
    title: `${label}${rating_A ? ` of ${rating_A} A` : ''}`,
    detail: `load-break, both poles, for DC at ${Math.ceil(volts)} V; within reach`,
    changes: [
      {
        op: 'add',
        at: 'switches',
        value: {
          id: freePartId(model.system, `isolator-${run.id}`),
          label,
          kind: 'isolator',
          runId: run.id,
          poles: 2,
          voltage_V: Math.ceil(volts),
          dcRated: true,
          polarised: false,
          ...(rating_A ? { rating_A } : {}),
        },
      },
    ],
  };
};
const ISOLATOR_A = [16, 20, 25, 32, 40, 63, 80, 100, 125, 160, 200, 250, 300, 400, 500, 600];
const freePartId = (system: System, wanted: string): string => {
  let id = wanted;
  for (let n = 2; partById(system, id); n++) id = `${wanted}-${n}`;
  return id;
};

const OBSERVED_CURES: Record<string, (model: Model) => Cure[]> = {
  mainFuse(model) {
    const bare = postRuns(model).filter(({ protection }) => protection?.type === 'none');
    const [only] = bare;
    return bare.length === 1 && only
      ? answered('mainFuse', [...fuseCures(model, only), ...byCopper(model, only), ...bearableFuse(model, only)])
      : answered(
          'mainFuse',
          stringFuses(model).map(({ eases: _, ...cure }) => cure),
        );
  },
  batteryIsolator(model) {
    const runs = postRuns(model);
    const [only] = runs;
    const { bank } = model.system;
    if (!bank || !only || runs.length > 1 || isolated(model.system, runs)) return [];
    return answered('batteryIsolator', [isolatorOn(model, only, top_V(createLedger(model), bank), 'Bank isolator')]);
  },
  pvIsolator(model) {
    const runs = (model.system.runs ?? []).filter(
      (run) => run.kind === 'pv' && (model.system.controllers ?? []).some(({ id }) => touches(run, id)),
    );
    const [only] = runs;
    const array = only && (model.system.arrays ?? []).find(({ id }) => touches(only, id));
    if (!only || !array || runs.length > 1 || isolated(model.system, runs)) return [];
    const io = createLedger(model);
    const volts = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(model.system, string))));
    return Number.isFinite(volts) ? answered('pvIsolator', [isolatorOn(model, only, volts, 'PV isolator')]) : [];
  },
  neverMixedChemistry: ({ system }) =>
    (system.otherBanks ?? []).some(({ joinedBy }) => joinedBy && joinedBy !== 'none' && joinedBy !== 'dc-dc')
      ? answered('neverMixedChemistry', [
          {
            title: 'Separate the batteries: a DC-DC charger instead of the direct connection',
            detail: 'remove the relay, diode or switch; each bank has its own fuse and charger',
            changes: (system.otherBanks ?? [])
              .filter(({ joinedBy }) => joinedBy && joinedBy !== 'none' && joinedBy !== 'dc-dc')
              .map(({ id }) => ({ op: 'set' as const, at: 'otherBanks', id, value: { joinedBy: 'dc-dc' } })),
          },
        ])
      : [],
};

/** Paths of what is recorded against a good answer; none where nothing is. */
const CONTRADICTED: Record<string, (model: Model) => string[]> = {
  mainFuse({ system }) {
    const { bank } = system;
    const network = networkOf(system);
    const here = (system.runs ?? []).filter(
      (run) => bearsFuse(run) && touches(run, bank?.id) && network.feedersOf(run) !== null,
    );
    const none = here.filter(({ protection }) => protection?.type === 'none');
    const breaker = (system.switches ?? []).some(
      ({ kind, runId }) => kind === 'breaker' && here.some(({ id }) => id === runId),
    );
    const fused = bank?.fusedStrings === true || isFuse(bank?.stringFuse) || breaker;
    return here.length > 0 && none.length === here.length && !fused
      ? none.map(({ id }) => `${id}.protection.type`)
      : [];
  },
  neverMixedChemistry: ({ system: { bank } }) => (bank?.mixedChemistry ? [`${bank.id}.mixedChemistry`] : []),
};

/** The questions by their places in the rule book. */
const OBSERVED_IDS = RULE_IDS.flatMap((id) => {
  const [family, name] = id.split('.');
  return family === 'observed' && name ? [{ id, name }] : [];
});

const observed = Object.entries(OBSERVED).flatMap(([name, { label, no, advice }]): Rule<unknown>[] =>
  OBSERVED_IDS.filter((one) => one.name === name).map(({ id }) =>
    rule<string | null>({
      id,
      title: 'Seen on site',
      consequence: 'danger',
      gravity: OBSERVED_GRAVITY[name] ?? 3,
      bearsOn: ['place'],
      curedByLimit: false,
      cases: ({ site }) => {
        const answer = site.observations?.[name] ?? null;
        // Advice speaks only where the answer is no.
        return advice && answer !== 'no' ? [] : [{ subject: 'site', about: answer }];
      },
      evaluate(io, answer) {
        if (answer !== 'yes' && answer !== 'no') io.miss(`site.observations.${name}`);
        // Seen, and recorded otherwise: one of the two is wrong, and nobody knows which.
        const against = answer === 'yes' ? (CONTRADICTED[name]?.(io.model) ?? []) : [];
        for (const path of against) io.miss(path);
        if (against.length > 0) io.work('what was seen contradicts what is recorded');
        return { verdict: answer === 'yes' ? 'holds' : (advice ?? 'over') };
      },
      sentence: ({ verdict }) =>
        verdict === 'holds' ? `${label}.` : verdict === 'unknown' ? `${label}: not checked yet.` : no,
      ...(OBSERVED_CURES[name] ? { remedies: OBSERVED_CURES[name] } : {}),
      needs: OBSERVED_NEEDS[name] ?? 'Needs to be put right on site and checked again.',
    }),
  ),
);

/** Rules of boards, the monitor, settings, and of what only eyes can tell. */
export const siteRules: Rule<unknown>[] = [...boardRules, settings, touch, ...observed];
