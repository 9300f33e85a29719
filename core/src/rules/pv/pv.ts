import { emf_V } from '../../bank/bank';
import { limitsItself, missLooseArrays, outputGroups, push_A, type OutputGroup } from '../../pv/controllers';
import { namePlateDoubts } from '../../pv/nameplate';
import {
  BIFACIAL_GAIN,
  coldString_V,
  hotString_V,
  modulesOf,
  modulesOfArray,
  pmaxOf_W,
  stringIsc_A,
  stringIscBifacial_A,
} from '../../pv/strings';
import { restrung } from '../../pv/restring';
import { arraysOf, type Model } from '../../system/model';
import type { Controller, ModuleType, PvArray } from '../../system/schema';
import { exceeds } from '../finding';
import { apart, figure, round } from '../../ledger/figures';
import { rule, type Cure, type Case } from '../rule';
import type { Ledger } from '../../ledger/ledger';
import { CONTROLLER_OUTPUT_A, CONTROLLER_PV_A, CONTROLLER_PV_V, sizeSold } from '../cures/sold';
import { partName } from '../../conductors/names';

/** Every array is a case. */
export const arrayCases = (model: Model): Case<PvArray>[] =>
  (model.system.arrays ?? []).map((array) => ({ subject: array.id, about: array }));
/** Controllers that have an array; one without has nothing to judge. */
const controllerCases = (model: Model): Case<Controller>[] =>
  (model.system.controllers ?? [])
    .filter(({ id }) => arraysOf(model.system, id).length > 0)
    .map((controller) => ({ subject: controller.id, about: controller }));
const groupCases = (model: Model): Case<OutputGroup>[] =>
  outputGroups(model.system)
    .filter(({ arrays }) => arrays.length > 0)
    .map((group) => ({ subject: group.first.id, about: group }));

/** The controller that an array feeds; noted as missing where none is named. */
export function controllerOf(io: Ledger, array: PvArray): Controller | null {
  const found = (io.model.system.controllers ?? []).find(({ id }) => id === array.controllerId) ?? null;
  if (!found) io.miss(`${array.id}.controllerId`);
  return found;
}

const setController = (id: string, value: Record<string, unknown>) => [
  { op: 'set' as const, at: 'controllers', id, value },
];

const nameplate = rule<ModuleType>({
  id: 'pv.nameplate',
  title: 'Nameplate figures',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) => (model.system.moduleTypes ?? []).map((module) => ({ subject: module.id, about: module })),
  evaluate(io, module) {
    const doubts = namePlateDoubts(module);
    if (doubts.length === 0) return null;
    for (const doubt of doubts) io.work(doubt);
    return { verdict: 'note' };
  },
  sentence: () => 'The nameplate figures contradict each other. Copied wrong?',
});

/** Ref: IEC 62548 on the maximum array voltage; the coldest dawn on an open string. */
const coldVoltage = rule<PvArray>({
  id: 'pv.cold-voltage',
  title: 'Open-circuit voltage (Voc) in the cold',
  consequence: 'damage',
  bearsOn: ['strings'],
  school: 'coldVoltage',
  cautions: ['panelsLive'],
  cases: (model) =>
    arrayCases(model).flatMap(({ subject, about }) => [
      { subject, about, quantity: 'controller' },
      ...(modulesOfArray(model.system, about).some(({ maxSystem_V }) => maxSystem_V)
        ? [{ subject, about, quantity: 'modules' }]
        : []),
    ]),
  evaluate(io, array, quantity) {
    const demand = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(io.model.system, string))));
    let limit: number;
    if (quantity === 'modules') {
      const stated = modulesOfArray(io.model.system, array).flatMap(({ id, maxSystem_V }) =>
        maxSystem_V ? [io.need(`${id}.maxSystem_V`, maxSystem_V)] : [],
      );
      limit = Math.min(...stated);
    } else {
      const controller = controllerOf(io, array);
      limit = controller ? io.need(`${controller.id}.maxPv_V`, controller.maxPv_V) : Number.NaN;
    }
    io.work(`${figure(demand)} V against ${figure(limit)} V`);
    return { ratio: { demand, limit, unit: 'V', sense: 'max', tightAbove: 0.95 } };
  },
  sentence({ demand, limit, quantity, verdict }) {
    const { there, allowed } = apart(demand, limit);
    const into =
      quantity === 'modules' ? `these modules are rated for ${allowed} V` : `this controller is rated for ${allowed} V`;
    if (verdict === 'unknown') return 'The array voltage on the coldest morning is not known yet.';
    return `On the coldest morning the string reaches ${there} V; ${into}.`;
  },
  remedies(model, array, { demand, quantity }) {
    const controller = (model.system.controllers ?? []).find(({ id }) => id === array.controllerId);
    const cures: Cure[] = restrung(model.system, array, 'shorter');
    const size = quantity === 'controller' && demand ? sizeSold(CONTROLLER_PV_V, demand / 0.95) : undefined;
    // What is pwm joins array and bank: a higher input alone would not make those volts of use.
    if (controller && size)
      cures.push({
        title: `Controller for ${size} V or more`,
        detail: `${round(controller.maxOutput_A)} A, strings and cable stay`,
        changes: setController(controller.id, {
          maxPv_V: size,
          ...(controller.type === 'pwm' ? { type: 'mppt' } : {}),
        }),
      });
    return cures;
  },
});

const startVoltage = rule<PvArray>({
  id: 'pv.start-voltage',
  title: 'Array voltage when hot',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) =>
    arrayCases(model).filter(({ about }) => {
      const controller = (model.system.controllers ?? []).find(({ id }) => id === about.controllerId);
      return controller?.type === 'mppt';
    }),
  evaluate(io, array) {
    const controller = controllerOf(io, array);
    const demand = Math.min(
      ...array.strings.map((string) => hotString_V(io, array, modulesOf(io.model.system, string))),
    );
    const { bank } = io.model.system;
    if (!bank) io.miss('bank');
    const emf = bank ? emf_V(io, bank) : Number.NaN;
    const above = controller ? io.or(`${controller.id}.startAbove_V`, controller.startAbove_V, 5) : Number.NaN;
    io.work(`needs ${figure(emf)} + ${figure(above)} = ${figure(emf + above)} V, has ${figure(demand)} V`);
    return { ratio: { demand, limit: emf + above, unit: 'V', sense: 'min', tightAbove: 0.95 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'Whether the hot array can start the controller is not known yet.'
      : `On the hottest day the array reaches ${apart(demand, limit).there} V; the controller needs ${apart(demand, limit).allowed} V to start.`,
  remedies: ({ system }, array) => restrung(system, array, 'longer'),
});

const inputCurrent = rule<Controller>({
  id: 'pv.input-current',
  title: 'Short-circuit current into the controller',
  consequence: 'damage',
  bearsOn: ['strings'],
  cautions: ['panelsLive'],
  cases: controllerCases,
  evaluate(io, controller) {
    let demand = 0;
    missLooseArrays(io);
    for (const array of arraysOf(io.model.system, controller.id))
      for (const string of array.strings) {
        const modules = modulesOf(io.model.system, string);
        const isc = stringIscBifacial_A(modules);
        if (isc > stringIsc_A(modules)) io.work(`bifacial: Isc x ${BIFACIAL_GAIN}`);
        io.work(`string of ${partName(io.model, array.id)}: Isc ${figure(isc)} A`);
        demand += isc;
      }
    const limit = io.need(`${controller.id}.maxPv_A`, controller.maxPv_A);
    io.work(`sum ${figure(demand)} A against ${figure(limit)} A`);
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? "The controller's maximum input current is not recorded."
      : `The array can deliver ${apart(demand, limit).there} A; this input is rated for ${apart(demand, limit).allowed} A.`,
  remedies(model, controller, { demand }) {
    const size = demand ? sizeSold(CONTROLLER_PV_A, demand / 0.8) : undefined;
    return [
      ...arraysOf(model.system, controller.id).flatMap((array) => restrung(model.system, array, 'longer')),
      ...(size
        ? [
            {
              title: `Controller with an input of ${size} A or more`,
              detail: 'strings stay',
              changes: setController(controller.id, { maxPv_A: size }),
            },
          ]
        : []),
    ];
  },
});

const OUTPUT_MARGIN = 1.25;
/** Up to so many times its rating a controller that limits itself loses hardly anything in a year; planning value. */
const CLIPS_LITTLE = 1.15;

const outputCurrent = rule<OutputGroup>({
  id: 'pv.output-current',
  letOff: 'the controller limits itself to its rating, which this standard allows',
  title: 'Controller output current',
  consequence: 'loss',
  bearsOn: ['strings', 'charge'],
  school: 'controllerOutput',
  cases: groupCases,
  evaluate(io, group) {
    const { first } = group;
    const school = io.school('controllerOutput');
    const push = push_A(io, group);
    const demand = school === 'margin' ? OUTPUT_MARGIN * push : push;
    if (school === 'margin') io.work(`with margin: 1.25 x ${figure(push)} A = ${figure(demand)} A`);
    const limit = io.need(`${first.id}.maxOutput_A`, first.maxOutput_A);
    const limits = limitsItself(io, first);
    if (limits && demand > limit)
      io.work(
        `the controller limits itself to ${figure(limit)} A: ${figure(100 * (1 - limit / push))} % clipped at full sun`,
      );
    io.work(`${figure(demand)} A against ${figure(limit)} A`);
    const clipsLittle = !exceeds(demand / limit, CLIPS_LITTLE);
    return {
      ratio: {
        demand,
        limit,
        unit: 'A',
        sense: 'max',
        tightAbove: 0.95,
        softened: limits && (school === 'clip' || (school === 'plain' && clipsLittle)),
      },
      consequence: limits ? 'loss' : 'damage',
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'How much the controller must deliver is not known yet.'
      : `The array can deliver ${apart(demand, limit).there} A; this controller is rated for ${apart(demand, limit).allowed} A.`,
  remedies({ system }, { first, arrays }, { demand }) {
    const size = demand ? sizeSold(CONTROLLER_OUTPUT_A, demand / 0.95) : undefined;
    return [
      ...(size
        ? [
            {
              title: `Controller for ${size} A or more`,
              detail: 'check its cable and fuse too',
              changes: setController(first.id, { maxOutput_A: size, limitsOutput: true }),
            },
          ]
        : []),
      ...arrays.flatMap((array) => restrung(system, array, 'fewer')),
    ];
  },
});

const power = rule<OutputGroup>({
  id: 'pv.power',
  letOff: 'the controller limits itself to its rating',
  title: 'Array power on this controller',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) =>
    groupCases(model).filter(({ about }) =>
      Object.values(about.first.maxPv_W ?? {}).some((watts) => typeof watts === 'number'),
    ),
  evaluate(io, { first, arrays }) {
    missLooseArrays(io);
    const demand = pmaxOf_W(io.model.system, arrays);
    const nominal = io.need('system.nominal_V', io.model.system.nominal_V);
    const byVolts = first.maxPv_W as Record<string, number | null | undefined>;
    const limit = Number.isNaN(nominal) ? nominal : io.need(`${first.id}.maxPv_W.${nominal}`, byVolts[String(nominal)]);
    io.work(`${figure(demand)} W of modules; at ${figure(nominal)} V the controller takes ${figure(limit)} W`);
    return {
      ratio: {
        demand,
        limit,
        unit: 'W',
        sense: 'max',
        tightAbove: 0.95,
        softened: limitsItself(io, first),
      },
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? "The controller's maximum PV power at this voltage is not recorded."
      : `The array has ${apart(demand, limit).there} W; this controller takes ${apart(demand, limit).allowed} W.`,
  remedies: ({ system }, { first, arrays }, { demand }) => [
    ...(demand && system.nominal_V
      ? [
          {
            title: `Controller for ${figure(Math.ceil(demand / 0.95 / 10) * 10)} W at ${system.nominal_V} V or more`,
            detail: 'strings stay; its cable and fuse were checked with it',
            changes: setController(first.id, {
              maxPv_W: { [String(system.nominal_V)]: Math.ceil(demand / 0.95 / 10) * 10 },
            }),
          },
        ]
      : []),
    ...arrays.flatMap((array) => restrung(system, array, 'fewer')),
  ],
});

/** Rules of an array on its controller. */
export const pvRules = [nameplate, coldVoltage, startVoltage, inputCurrent, outputCurrent, power];
