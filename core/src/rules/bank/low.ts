import { cellsInSeries } from '../../bank/bank';
import { atEnd, networkOf } from '../../conductors/network';
import { CHEMISTRY, cellsPerBlock, isLithium } from '../../chemistry/chemistry';
import { dcLoads, loadsOnOutput } from '../../power/loads';
import type { Model } from '../../system/model';
import type { Bank, Controller, Inverter, Load, Run, Switch } from '../../system/schema';
import { apart, figure } from '../../ledger/figures';
import type { Ledger } from '../../ledger/ledger';
import { bankCase, having, lithium, present } from './cases';
import { partName } from '../../conductors/names';
import { rule, type Outcome } from '../rule';

/** How deep the bank is drawn, by what lets go and by what never does; and whether something minds each cell. */

/** What lets go of the bank at a voltage: its id, where that is recorded, and the volts. */
interface Letting {
  id: string;
  path: string;
  volts: number | null;
}

const LOADS = 'loads';
/** The table's cut-off is an ordinary day's; lead stands a tenth of a volt less now and then. */
const LEAD_BELOW_V = 0.1;

const ofInverter = ({ id, settings, lowCutoff_V, minDc_V }: Inverter): Letting => {
  if (present(settings?.cutoff_V)) return { id, path: `${id}.settings.cutoff_V`, volts: settings.cutoff_V };
  if (present(lowCutoff_V)) return { id, path: `${id}.lowCutoff_V`, volts: lowCutoff_V };
  return { id, path: `${id}.minDc_V`, volts: minDc_V ?? null };
};
const ofSwitch = ({ id, lvd_V }: Switch): Letting => ({ id, path: `${id}.lvd_V`, volts: lvd_V ?? null });
const ofController = ({ id, settings }: Controller): Letting => ({
  id,
  path: `${id}.settings.lvd_V`,
  volts: settings?.lvd_V ?? null,
});

const disconnects = ({ system }: Model) => (system.switches ?? []).filter(({ kind }) => kind === 'load-disconnect');
/** Controllers whose load output something hangs on. */
const outputsInUse = ({ system }: Model) =>
  (system.controllers ?? []).filter(({ id }) => loadsOnOutput(system, id).length > 0);

const lettings = (model: Model): Letting[] => [
  ...(model.system.inverters ?? []).map(ofInverter),
  ...disconnects(model).map(ofSwitch),
  ...outputsInUse(model).map(ofController),
];

/** The runs from the bank to a DC load, its converter's among them; null where they are not recorded. */
function wayTo({ system }: Model, load: Load): Run[] | null {
  const network = networkOf(system);
  const run = (system.runs ?? []).find((one) => one.kind === 'dc-load' && network.ownEnd(one) === load.id);
  const way = run ? network.feedersOf(run) : null;
  if (run && way) return [...way, run];
  const through = (run ? network.converterOf(run)?.id : undefined) ?? load.converterId;
  const input = (system.runs ?? []).find(
    (one) => one.kind === 'converter' && atEnd(system.converters, one)?.id === through && network.side(one) === 'input',
  );
  const before = input ? network.feedersOf(input) : null;
  if (!input || !before) return null;
  return [...before, input, ...(run ? [...(network.converterOf(run)?.way ?? []), run] : [])];
}

/** Whether something lets go of a DC load before the bank is empty; `unknown` where its way is not recorded. */
function letsGo(model: Model, load: Load): boolean | 'unknown' {
  if (load.controllerId) return true;
  const way = wayTo(model, load);
  if (!way) return 'unknown';
  const opening = new Set(disconnects(model).map(({ runId }) => runId));
  return way.some(({ id }) => opening.has(id));
}

const deepDischarge = rule<Bank>({
  id: 'bank.deep-discharge',
  letOff: 'the power goes off sooner on an ordinary day; the cells are not harmed',
  title: 'Low-voltage cut-off',
  consequence: 'life',
  bearsOn: ['bank'],
  cases: (model) =>
    bankCase(model).flatMap(({ subject, about }) => [
      ...lettings(model).map(({ id }) => ({ subject, about, quantity: id })),
      ...(dcLoads(model.system).some((load) => letsGo(model, load) !== true)
        ? [{ subject, about, quantity: LOADS }]
        : []),
    ]),
  evaluate(io, bank, quantity) {
    const consequence = isLithium(bank.chemistry) ? 'damage' : 'life';
    if (quantity === LOADS) return { ...loadsOutcome(io, bank), consequence };
    const letting = lettings(io.model).find(({ id }) => id === quantity);
    if (!letting) return null;
    const table = CHEMISTRY[bank.chemistry];
    const volts = io.need(letting.path, letting.volts);
    const cells = cellsInSeries(io, bank);
    const demand = volts / cells;
    const wanted = table.cutoff_V - (isLithium(bank.chemistry) ? 0 : LEAD_BELOW_V);
    io.work(`cut-off ${figure(volts)} V / ${cells} cells = ${figure(demand)} V a cell`);
    io.work(`needed ${figure(wanted)} V a cell; empty at ${figure(table.empty_V)} V`);
    const guarded = isLithium(bank.chemistry) && Boolean(bank.protection);
    const base = { demand, unit: 'V/cell', sense: 'min', tightAbove: 1 } as const;
    if (!guarded && demand < table.empty_V * (1 - 1e-9))
      return { ratio: { ...base, limit: table.empty_V }, consequence };
    return { ratio: { ...base, limit: wanted, softened: true }, consequence };
  },
  sentence({ demand, limit, verdict, quantity }, model) {
    if (quantity === LOADS)
      return verdict === 'unknown'
        ? 'Nobody has checked whether anything cuts off the DC loads before the bank is empty.'
        : 'Nothing cuts off the DC loads: they drain the bank until it is empty.';
    const who = partName(model, quantity ?? '');
    if (verdict === 'unknown') return `The cut-off voltage of ${who} is not recorded.`;
    const { there, allowed } = apart(demand, limit);
    return verdict === 'holds'
      ? `${who} cuts off at ${there} V a cell, early enough.`
      : `${who} cuts off at ${there} V a cell; it should be ${allowed} V.`;
  },
  remedies(model, bank, { quantity }) {
    const per = cellsPerBlock(bank).cells;
    const inverter = (model.system.inverters ?? []).find(({ id }) => id === quantity);
    const device = inverter
      ? 'inverters'
      : disconnects(model).some(({ id }) => id === quantity)
        ? 'switches'
        : 'controllers';
    if (per === null || quantity === LOADS || !quantity) return [];
    // A plain PWM regulator cuts off at a fixed voltage and has no menu.
    const controller = (model.system.controllers ?? []).find(({ id }) => id === quantity);
    if (controller?.type === 'pwm' && !controller.profiles?.includes('custom')) return [];
    const volts = Math.ceil(bank.series * per * CHEMISTRY[bank.chemistry].cutoff_V * 10 - 1e-9) / 10;
    // Only what has such a setting: an inverter whose cut-off was never found set may have none.
    if (inverter && !inverter.settings) return [];
    return [
      {
        title: `Set the cut-off to ${volts} V`,
        detail: 'a setting; read it back',
        changes: [
          {
            op: 'set',
            at: device,
            id: quantity,
            value:
              device === 'switches' ? { lvd_V: volts } : { settings: { [inverter ? 'cutoff_V' : 'lvd_V']: volts } },
          },
        ],
      },
    ];
  },
  needs: ({ quantity }) =>
    quantity === LOADS
      ? 'Needs a low-voltage disconnect before the DC loads, or somebody who turns them off in time.'
      : 'Needs a device whose cut-off can be set, or a low-voltage disconnect before it.',
});

function loadsOutcome(io: Ledger, bank: Bank): Outcome {
  const { site } = io.model;
  const answers = dcLoads(io.model.system).map((load) => ({ load, lets: letsGo(io.model, load) }));
  const never = answers.filter(({ lets }) => lets === false);
  const unseen = answers.filter(({ lets }) => lets === 'unknown');
  if (never.length > 0) io.work(`no cut-off for: ${never.map(({ load }) => load.label).join(', ')}`);
  else for (const { load } of unseen) io.miss(`${load.id}.run`);
  const leftAlone = io.or('site.layup_d', site.layup_d, 0) > 0;
  const guarded = isLithium(bank.chemistry) ? Boolean(bank.protection) : !leftAlone;
  if (guarded)
    io.work(isLithium(bank.chemistry) ? 'in the end its own protection opens' : 'somebody is there to notice');
  return { verdict: guarded ? 'tight' : 'over' };
}

const cells = rule<Bank>({
  id: 'bank.cells',
  title: 'Cell monitoring',
  consequence: 'damage',
  gravity: 1,
  bearsOn: ['bank'],
  cautions: ['salvaged', 'coldLithium'],
  cases: having((bank) => lithium(bank) && (guardsSingly(bank) || present(bank.protection?.cells))),
  evaluate(io, bank) {
    const perBlock = cellsPerBlock(bank).cells;
    if (guardsSingly(bank) && !bank.protection) {
      io.work(`${bank.salvaged ? 'salvaged modules' : 'single cells'} with nothing that monitors each cell`);
      return { verdict: 'over', consequence: 'danger' };
    }
    const guarded = bank.protection?.cells;
    if (present(guarded)) {
      const block = io.need(`${bank.id}.cells`, perBlock);
      io.work(
        `protection for ${guarded} cells; a block has ${figure(block)}, the string ${figure(block * bank.series)}`,
      );
      if (guarded !== block && guarded !== block * bank.series) return { verdict: 'over' };
    }
    if (guardsSingly(bank) && !io.flag(`${bank.id}.balancer`, bank.balancer)) {
      io.work('no balancer');
      return { verdict: 'tight' };
    }
    return { verdict: 'holds' };
  },
  sentence({ verdict, working }) {
    if (verdict === 'unknown') return 'The number of cells in a block is not recorded.';
    if (verdict === 'holds') return 'The protection monitors each cell.';
    if (verdict === 'tight') return 'These cells have no balancer.';
    return working.some((line) => line.startsWith('protection for'))
      ? 'The protection is for a different number of cells.'
      : 'Nothing monitors each cell of this bank.';
  },
  needs:
    'Needs a battery management system for these cells that monitors each of them and disconnects; with a balancer.',
});
/** Cells that came without a protection of their own. */
const guardsSingly = (bank: Bank) => Boolean(bank.salvaged) || cellsPerBlock(bank).cells === 1;

/** Rules of how deep a bank is drawn. */
export const bankLowRules = [deepDischarge, cells];
