import { PLATE_CALL, plateVerb } from './plate';
import { lines, printedAs, refused, type Answer } from './answer';
import { roofVerb } from './roof';
import { aheadVerb, dueVerb, faultsVerb, practiceVerb, trendsVerb } from './service';
import { checkWithRemedies, neededFor } from '@true-lantern/core/rules/cures/remedies';
import { sharing } from '@true-lantern/core/bank/resistance';
import { convert } from '@true-lantern/core/plan/convert';
import { wholeConversion } from '@true-lantern/core/plan/whole';
import { interim } from '@true-lantern/core/plan/interim';
import { raiseVoltage } from '@true-lantern/core/plan/voltage';
import { aspectsOf, specify } from '@true-lantern/core/successor/specify';
import { followed } from '@true-lantern/core/successor/follow';
import { siteless } from '@true-lantern/core/shelf/item';
import { eachPart } from '@true-lantern/core/system/parts';
import { headroom } from '@true-lantern/core/headroom/headroom';
import { layouts } from '@true-lantern/core/layouts/layouts';
import { MOST_MODULES, poolOf } from '@true-lantern/core/layouts/pool';
import { sunPosition } from '@true-lantern/core/sun/position';
import { priced } from '@true-lantern/core/year/priced';
import { flips } from '@true-lantern/core/flips/flips';
import { arrayCurve } from '@true-lantern/core/pv/array-curve';
import { groupsApart } from '@true-lantern/core/pv/curve';
import { modulesOf } from '@true-lantern/core/pv/strings';
import { createLedger } from '@true-lantern/core/ledger/ledger';
import type { Finding } from '@true-lantern/core/rules/finding';
import { faultAt as fault } from '@true-lantern/core/system/faults';
import { modelOf, type Model } from '@true-lantern/core/system/model';
import { modelInState } from '@true-lantern/core/system/states';
import { expectedTests } from '@true-lantern/core/readings/expect';
import { CONDITIONS } from '@true-lantern/core/readings/conditions';
import { workOf } from '@true-lantern/core/work-order/work';
import { emptyTrace, simulateYears, YearSimulator } from '@true-lantern/core/year/year';
import { type Verb, shades, MOST_YEARS, wholeOf, weatherOf, figureOf, parse } from './flags';
import { load } from './load';
import { hoursTable } from './hours-table';

/** The controller that a flag names. @throws FaultError where there is none */
function controllerNamed(model: Model, flag: string, id: string | undefined) {
  const found = model.system.controllers?.find((one) => one.id === id);
  if (id !== undefined && !found) throw fault(flag, `is "${id}", expected the id of a controller in this file`);
  return found;
}

const VERBS: Record<string, Verb> = {
  validate: {
    usage: 'lantern validate FILE',
    flags: [],
    run([path], _, warn) {
      load(path, warn);
      return undefined;
    },
  },
  check: {
    usage: 'lantern check FILE [--proposal ID] [--state ID]',
    flags: ['proposal', 'state'],
    run([path], { proposal, state }, warn) {
      const model = modelOf(load(path, warn), proposal);
      const judged = state === undefined ? model : modelInState(model, state);
      return {
        findings: checkWithRemedies(judged).map((finding) =>
          printed(judged, { ...finding, remedies: priced(judged, finding.remedies) }),
        ),
      };
    },
  },
  curve: {
    usage:
      'lantern curve FILE ARRAY_ID|CONTROLLER_ID [--proposal ID] [--irradiance 1000] [--cell 25] [--shade STRING.MODULE=0.3,...] [--unshaded]',
    flags: ['proposal', 'irradiance', 'cell', 'shade'],
    switches: ['unshaded'],
    run([path, id], flags, warn) {
      const { system } = modelOf(load(path, warn), flags.proposal);
      // Of a controller all its strings together: they share one input.
      const arrays = (system.arrays ?? []).filter(
        (one) => one.id === id || (one.controllerId && one.controllerId === id),
      );
      if (arrays.length === 0)
        throw fault('ARRAY_ID', `is "${id}", expected the id of an array, or of a controller with one, in this file`);
      const strings = arrays.flatMap((array) =>
        array.strings.map((string, s) => ({ modules: modulesOf(system, string), noted: array.shade?.[s] })),
      );
      const irradiance = figureOf('irradiance', flags.irradiance, 1000, 0, 2000);
      const cell_C = figureOf('cell', flags.cell, 25, -90, 120);
      const shade = shades(
        flags.shade,
        strings.map(({ modules }) => modules),
      );
      const { points, maxima, best } = arrayCurve(
        strings.map(({ modules, noted }, s) =>
          modules.flatMap((module, m) => {
            const asked = shade.get(`${s}.${m}`);
            const light = asked?.light ?? (flags.unshaded === undefined ? (noted?.[m] ?? 1) : 1);
            const standing = { module, cell_C, irradiance_W_m2: irradiance * light };
            if (!asked?.groups.length) return [standing];
            return groupsApart(
              standing,
              Array.from(asked.groups, (share?: number) => (share === undefined ? undefined : irradiance * share)),
            );
          }),
        ),
      );
      return { points, maxima, best };
    },
  },
  flips: {
    usage: 'lantern flips FILE',
    flags: [],
    run([path], _, warn) {
      return { flips: flips(modelOf(load(path, warn))) };
    },
  },
  headroom: {
    usage: 'lantern headroom FILE [--proposal ID]',
    flags: ['proposal'],
    run([path], { proposal }, warn) {
      return headroom(modelOf(load(path, warn), proposal));
    },
  },
  layouts: {
    usage: 'lantern layouts FILE [--modules N] [--proposal ID] [--one-more CONTROLLER_ID] [--larger CONTROLLER_ID]',
    flags: ['modules', 'proposal', 'one-more', 'larger'],
    run([path], flags, warn) {
      const model = modelOf(load(path, warn), flags.proposal);
      const total =
        flags.modules === undefined ? poolOf(model).length : figureOf('modules', flags.modules, 1, 1, MOST_MODULES);
      if (!Number.isInteger(total)) throw fault('--modules', `is "${flags.modules}", expected a whole number`);
      const again = controllerNamed(model, '--one-more', flags['one-more']);
      const larger = controllerNamed(model, '--larger', flags.larger);
      const offered = again
        ? [
            {
              kind: 'controllers' as const,
              label: again.label ?? again.id,
              body: siteless('controllers', { ...again }),
            },
          ]
        : [];
      const found = layouts(model, total, offered, undefined, larger?.id);
      if (!found) throw fault('system', 'has no modules or no controllers, expected both');
      return {
        layouts: found.map(({ controllers, unused, fuses, changes, verdict, why }) => ({
          controllers,
          unused,
          fuses,
          changes,
          verdict,
          why,
        })),
      };
    },
  },
  convert: {
    usage: 'lantern convert FILE',
    flags: [],
    run([path], _, warn) {
      const model = modelOf(load(path, warn));
      const { missing, ...conversion } = convert(model);
      const [lacking] = missing;
      if (lacking) throw fault(lacking, 'is unknown, expected a value: without it the present bank cannot be matched');
      const [best] = conversion.options;
      // Every part that the first option needs, as a proposal would hold it; without a shelf, parts to be chosen.
      const whole = best ? wholeConversion(model, best, []) : null;
      return whole ? { ...conversion, parts: whole.parts, steps: whole.steps, changes: whole.changes } : conversion;
    },
  },
  replace: {
    usage: 'lantern replace FILE PART_ID [--aspect part|cable|fuse|module] [--proposal ID]',
    flags: ['aspect', 'proposal'],
    run([path, id], { aspect, proposal }, warn) {
      const model = modelOf(load(path, warn), proposal);
      const placed = eachPart(model.system).find(({ part }) => part.id === id);
      const aspects = placed ? aspectsOf(placed.kind) : [];
      if (aspects.length === 0) throw fault('PART_ID', `is "${id}", expected the id of a part that can be replaced`);
      const wanted = aspects.find((each) => aspect === undefined || each === aspect);
      if (!wanted) throw fault('--aspect', `is "${aspect}", expected ${aspects.join(' or ')}`);
      const spec = specify(model, id ?? '', wanted);
      return spec && { ...spec, ...followed(model, spec) };
    },
  },
  interim: {
    usage: 'lantern interim FILE [--proposal ID]',
    flags: ['proposal'],
    run([path], { proposal }, warn) {
      const { limits, off, findOut, left, cured } = interim(modelOf(load(path, warn), proposal));
      const named = ({ rule, subject, quantity }: Finding) => ({ rule, subject, quantity });
      return {
        limits,
        off,
        findOut: findOut.map(({ finding, text, fields }) => ({ ...named(finding), text, fields })),
        left: left.map(({ finding, text }) => ({ ...named(finding), text })),
        cured: cured.map(named),
      };
    },
  },
  voltage: {
    usage: 'lantern voltage FILE VOLTS',
    flags: [],
    run([path, volts], _, warn) {
      const to_V = figureOf('VOLTS', volts, 48, 12, 96);
      const raised = raiseVoltage(modelOf(load(path, warn)), to_V);
      if (!raised) throw fault('VOLTS', `is ${to_V}, expected more than the system's own, and a bank`);
      return raised;
    },
  },
  year: {
    usage: 'lantern year FILE [--proposal ID] [--state ID] [--weather mean|FILE.epw] [--seed 1] [--years 1] [--hours]',
    flags: ['proposal', 'state', 'weather', 'seed', 'years'],
    switches: ['hours'],
    run([path], { proposal, state, weather, seed, years, hours }, warn) {
      const model = modelOf(load(path, warn), proposal);
      const judged = state === undefined ? model : modelInState(model, state);
      const count = wholeOf('years', years, 1, 1, MOST_YEARS);
      const choice = weatherOf(weather, wholeOf('seed', seed, 1, 0, 2 ** 31 - 1));
      if (hours === undefined) return simulateYears(judged, choice, count);
      const simulator = new YearSimulator(judged, choice);
      const trace = emptyTrace();
      simulator.year(count - 1, trace);
      return hoursTable(trace, simulator.available_W);
    },
  },
  work: {
    usage: 'lantern work FILE --proposal ID',
    flags: ['proposal'],
    run([path], { proposal }, warn) {
      if (proposal === undefined) throw fault('--proposal', 'is missing, expected the id of a proposal in this file');
      const file = load(path, warn);
      return workOf(modelOf(file), modelOf(file, proposal));
    },
  },
  expect: {
    usage:
      'lantern expect FILE [--proposal ID] [--irradiance 800] [--cell C] [--ambient 20] [--soc .8] [--share .5] [--load-A 0] [--meter-pct .5]',
    flags: ['proposal', 'irradiance', 'cell', 'ambient', 'soc', 'share', 'load-A', 'meter-pct'],
    run([path], flags, warn) {
      const model = modelOf(load(path, warn), flags.proposal);
      const { tests } = expectedTests(model, {
        irradiance_W_m2: figureOf('irradiance', flags.irradiance, CONDITIONS.irradiance_W_m2, 0, 2000),
        cell_C: flags.cell === undefined ? null : figureOf('cell', flags.cell, 25, -90, 120),
        ambient_C: figureOf('ambient', flags.ambient, CONDITIONS.ambient_C, -90, 90),
        soc: figureOf('soc', flags.soc, CONDITIONS.soc, 0, 1),
        share: figureOf('share', flags.share, CONDITIONS.share, 0, 2),
        load_A: figureOf('load-A', flags['load-A'], CONDITIONS.load_A, -10_000, 10_000),
        meter_pct: figureOf('meter-pct', flags['meter-pct'], CONDITIONS.meter_pct, 0, 100),
      });
      return { tests };
    },
  },
  faults: {
    usage: 'lantern faults FILE [--visit ID] [--since ISO] [--complaint NAME]',
    flags: ['visit', 'since', 'complaint'],
    run: ([path], flags, warn) => faultsVerb(load(path, warn), flags),
  },
  practice: {
    usage: 'lantern practice FILE --seed N --level 1..4 [--read SUBJECT.QUANTITY ...] [--answer CODE@SUBJECT]',
    flags: ['seed', 'level', 'answer'],
    lists: ['read'],
    run: ([path], flags, warn) => practiceVerb(load(path, warn), flags),
  },
  trends: {
    usage: 'lantern trends FILE [--on DATE]',
    flags: ['on'],
    run: ([path], flags, warn) => trendsVerb(load(path, warn), flags),
  },
  due: {
    usage: 'lantern due FILE --on DATE [--days 30]',
    flags: ['on', 'days'],
    run: ([path], flags, warn) => dueVerb(load(path, warn), flags),
  },
  ahead: {
    usage: 'lantern ahead FILE --on DATE [--soc .55] [--days 7] [--seed 1] [--draws 200] [--proposal ID] [--state ID]',
    flags: ['on', 'soc', 'days', 'seed', 'draws', 'proposal', 'state'],
    run: ([path], flags, warn) => aheadVerb(load(path, warn), flags),
  },
  roof: {
    usage: 'lantern roof FILE [--roof ID] [--module TYPE] [--state ID] [--proposal ID] [--heading DEG]',
    flags: ['roof', 'module', 'state', 'proposal', 'heading'],
    run: ([path], flags, warn) => roofVerb(load(path, warn), flags, warn),
  },
  plate: {
    ...PLATE_CALL,
    run: ([path], { kind }) => plateVerb(path, kind),
  },
  sun: {
    usage: 'lantern sun LAT LON UTC [--elevation M]',
    flags: ['elevation'],
    run([lat, lon, utc], flags) {
      const latitude_deg = figureOf('LAT', lat, 0, -90, 90);
      const longitude_deg = figureOf('LON', lon, 0, -180, 180);
      // A moment without a zone is taken as what it is called: UTC.
      const text = /(Z|[+-]\d\d:?\d\d)$/i.test(utc ?? '') ? (utc ?? '') : `${utc}Z`;
      const at_ms = Date.parse(text);
      if (Number.isNaN(at_ms)) throw fault('UTC', `is "${utc}", expected a moment like 2026-05-04T09:10:00Z`);
      return sunPosition(latitude_deg, longitude_deg, at_ms, figureOf('elevation', flags.elevation, 0, -500, 9000));
    },
  },
  sharing: {
    usage: 'lantern sharing FILE [--current 100]',
    flags: ['current'],
    run([path], flags, warn) {
      const model = modelOf(load(path, warn));
      const { bank } = model.system;
      if (!bank) throw fault('system.bank', 'is missing, expected a bank');
      const current = figureOf('current', flags.current, 100, -100_000, 100_000);
      const io = createLedger(model);
      const { shares, worst } = sharing(io, bank);
      const [lacking] = io.missing;
      if (lacking) throw fault(lacking, 'is unknown, expected a value: without it nothing can be said of the shares');
      return { strings: shares.map((share, index) => ({ index, current_A: share * current, share })), worst };
    },
  },
};

/** One call of `lantern`; never throws for what a person can mend. */
export function run(argv: string[]): Answer {
  const warnings: string[] = [];
  try {
    const [name, ...rest] = argv;
    const verb = name !== undefined && Object.hasOwn(VERBS, name) ? VERBS[name] : undefined;
    if (!verb)
      throw fault('call', `is ${name ? `"${name}"` : 'empty'}, expected one of ${Object.keys(VERBS).join(', ')}`);
    const { args, flags } = parse(verb, rest);
    const value = verb.run(args, flags, (line) => warnings.push(line));
    return { code: 0, out: printedAs(value), err: lines(warnings) };
  } catch (error) {
    return refused(error);
  }
}

/** A finding as the open format has it; where nothing that is offered cures it, what would be needed. */
function printed(model: Model, found: Finding) {
  const { tightAbove, ...finding } = found;
  void tightAbove;
  return found.verdict === 'over' && found.remedies.length === 0
    ? { ...finding, needed: neededFor(model, found) }
    : finding;
}
