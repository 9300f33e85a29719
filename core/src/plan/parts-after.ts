import type { RuleId } from '../rules/ids';
import { CONVERSION, isLithium, serves, takes } from '../chemistry/chemistry';
import { sentenceOf } from '../rules/check';
import type { Finding } from '../rules/finding';
import { ruleOf } from '../rules/index';
import type { BearsOn } from '../rules/rule';
import type { Model } from '../system/model';
import type { Charger, Controller, Inverter, Load, OtherBank } from '../system/schema';

/** What becomes of a part when the bank becomes lithium. */
export interface PartVerdict {
  id: string;
  verdict: 'keep' | 'keep-reset' | 'reconfigure' | 'replace' | 'add' | 'remove';
  why: string;
}

/** Findings of the changed system, asked part by part. */
interface Asked {
  after: Model;
  /** The worst finding of a part that is over, of the rules named. */
  over(id: string, ...rules: RuleId[]): Finding | undefined;
  /** The same, of any rule whose verdict follows from that: rules yet to be written included. */
  overBy(id: string, what: BearsOn): Finding | undefined;
  why(finding: Finding): string;
}

/** Every part judged on the changed system by its findings, worst first, and by what Practice, A, says of its kind. */
export function judgeParts(before: Model, after: Model, findings: readonly Finding[]): PartVerdict[] {
  const worst = (id: string, wanted: (rule: RuleId) => boolean) =>
    findings.find(({ subject, rule, verdict }) => subject === id && verdict === 'over' && wanted(rule));
  const asked: Asked = {
    after,
    over: (id, ...rules) => worst(id, (rule) => rules.includes(rule)),
    overBy: (id, what) => worst(id, (rule) => ruleOf(rule).bearsOn.includes(what)),
    why: (finding) => sentenceOf(after, finding),
  };
  const { system } = after;
  const { bank, monitor } = system;
  return [
    ...(bank ? [judged(bank.id, 'replace', 'Lead goes, with its weighed receipt; lithium comes.')] : []),
    ...(system.arrays ?? []).map(({ id }) => judged(id, 'keep', 'The modules are not affected.')),
    ...(system.controllers ?? []).map((one) => controllerAfter(asked, one)),
    ...(system.inverters ?? []).map((one) => inverterAfter(asked, one)),
    ...(system.chargers ?? []).map(chargerAfter),
    ...(system.sources ?? []).map(({ id }) =>
      judged(id, 'keep', 'Full charging current for hours: check its heat and load.'),
    ),
    ...(system.converters ?? []).map(({ id }) =>
      judged(id, 'keep', 'Its input takes the new voltage, as far as recorded.'),
    ),
    ...(system.distribution ?? []).map(({ id }) => {
      const finding = asked.over(id, 'distribution.slots', 'distribution.rating');
      return finding ? judged(id, 'replace', asked.why(finding)) : judged(id, 'keep', 'Ways and rating are enough.');
    }),
    ...(monitor ? [monitorAfter(asked, monitor.id)] : []),
    ...(system.runs ?? []).map(({ id }) => runAfter(asked, id)),
    ...(system.loads ?? []).map((one) => loadAfter(asked, one)),
    ...(system.otherBanks ?? []).map(otherBankAfter),
    ...atTheBank(before, after),
    ...elsewhere(after),
  ];
}

/** A verdict in one line. */
export const judged = (id: string, verdict: PartVerdict['verdict'], why: string): PartVerdict => ({ id, verdict, why });

function controllerAfter({ over, why }: Asked, { id, type, profiles }: Controller): PartVerdict {
  const window = over(id, 'controller.voltage');
  if (window) return judged(id, 'replace', why(window));
  if (!profiles)
    return judged(
      id,
      'replace',
      'Its profiles are not recorded. It stays only if it has a lithium profile or adjustable voltages.',
    );
  if (serves(profiles, CONVERSION))
    return judged(id, 'keep-reset', 'Has a profile for lithium iron: set it, equalise off.');
  if (type === 'pwm')
    return judged(id, 'replace', 'A PWM controller without a lithium profile cannot be told to stop.');
  if (profiles.includes('custom'))
    return judged(id, 'keep-reset', 'Its voltages can be set: absorption, float, equalise off, compensation 0.');
  return judged(id, 'replace', 'Has no lithium profile and no adjustable voltages.');
}

function inverterAfter({ over, why }: Asked, { id, charger }: Inverter): PartVerdict {
  const window = over(id, 'inverter.voltage-window');
  if (window) return judged(id, 'replace', why(window));
  const sag = over(id, 'system.sag');
  if (sag) return judged(id, 'reconfigure', `${why(sag)} Cables first.`);
  const fixed = charger?.max_A && !takes(charger.profiles, CONVERSION);
  return judged(
    id,
    'keep-reset',
    fixed
      ? 'New cut-off and reconnect. Its charger has no lithium profile: switch the charger off.'
      : 'New cut-off, reconnect and alarm.',
  );
}

function chargerAfter({ id, kind, profiles, onInverterOutput, externallyRegulated }: Charger): PartVerdict {
  if (onInverterOutput)
    return judged(id, 'remove', 'Plugged into the inverter of its own bank, it only drains the bank.');
  if (kind === 'alternator-direct')
    return externallyRegulated
      ? judged(id, 'keep-reset', 'Only with battery sensors and a signal to the field before the contactor opens.')
      : judged(
          id,
          'replace',
          'Lithium can burn out an alternator: charge through a DC-DC charger, fused at both ends.',
        );
  if (takes(profiles, CONVERSION)) return judged(id, 'keep-reset', 'Set for the bank: absorption, float, no equalise.');
  return judged(id, 'replace', 'Charging stages for lead: fixed or unknown voltages, perhaps a desulphation pulse.');
}

const otherBankAfter = ({ id, chemistry, joinedBy }: OtherBank): PartVerdict =>
  isLithium(chemistry) || !joinedBy || joinedBy === 'none' || joinedBy === 'dc-dc'
    ? judged(id, 'keep', 'Stays on its own fuse and its own charger.')
    : judged(
        id,
        'reconfigure',
        `Connected by a ${joinedBy}: lithium would keep it closed and push current into lead. Remove it; use a DC-DC charger.`,
      );

function runAfter({ overBy, why }: Asked, id: string): PartVerdict {
  const cable = overBy(id, 'cable');
  if (cable?.consequence === 'danger') return judged(id, 'replace', `The cable: ${why(cable)}`);
  const fuse = overBy(id, 'fuse');
  if (fuse) return judged(id, 'replace', `The protection: ${why(fuse)}`);
  return cable
    ? judged(id, 'reconfigure', why(cable))
    : judged(id, 'keep', 'Carries the new currents; its fuse interrupts the new fault current.');
}

function loadAfter({ over, why }: Asked, { id, kind }: Load): PartVerdict {
  const window = over(id, 'load.window');
  if (window) return judged(id, 'reconfigure', `${why(window)} Fit a voltage stabiliser.`);
  return judged(id, 'keep', kind === 'dc' ? 'Takes the charging voltage, as far as recorded.' : 'Behind the inverter.');
}

function monitorAfter({ over, why }: Asked, id: string): PartVerdict {
  const shunt = over(id, 'monitor.shunt');
  return shunt
    ? judged(id, 'replace', why(shunt))
    : judged(
        id,
        'keep-reset',
        'Capacity, charged volts, tail 4 %, efficiency 99 %, Peukert 1.03; synchronise when full.',
      );
}

/** What the new bank wants around it: bars and fuses for its strings, its vent, warmth. */
function atTheBank(before: Model, after: Model): PartVerdict[] {
  const { bank, otherBanks } = after.system;
  if (!bank) return [];
  const added: PartVerdict[] = [];
  if (bank.parallel > 1) {
    if (before.system.bank?.tapping !== 'busbar')
      added.push(judged('bus-bar', 'add', 'Equal leads from every string to one busbar.'));
    added.push(
      judged(
        'string-fuses',
        'add',
        `A fuse in each of the ${bank.parallel} strings: the others feed a fault in any one.`,
      ),
    );
  }
  const { space, ventArea_cm2, min_C: coldest } = bank.place ?? {};
  if (space === 'vented-box' || space === 'sealed-vented-box' || ventArea_cm2) {
    const leadStays = (otherBanks ?? []).some(({ chemistry }) => !isLithium(chemistry));
    added.push(
      judged(
        'ventilation',
        leadStays ? 'keep' : 'reconfigure',
        leadStays
          ? 'Lead stays in the building, so its vent stays too.'
          : 'Lithium iron gives off no gas in use. The vent may be made smaller against the cold, never sealed. Fit a detector.',
      ),
    );
  }
  if (!bank.heated && coldest !== null && coldest !== undefined && coldest < 5)
    added.push(
      judged(
        'heating',
        'add',
        `${coldest} degC at the cells: insulate and heat from the charging side, or move the bank.`,
      ),
    );
  return added;
}

/** What the other parts want beside them: inverters a way to fill their capacitors, the bank a counter. */
function elsewhere({ system: { inverters, monitor } }: Model): PartVerdict[] {
  const precharge = (inverters ?? [])
    .filter(({ continuous_W, precharge: there }) => continuous_W > 1000 && !there)
    .map(({ id }) =>
      judged(`${id}-precharge`, 'add', 'Pre-charge its capacitors through a resistor before closing the main switch.'),
    );
  return monitor
    ? precharge
    : [
        ...precharge,
        judged('shunt', 'add', 'Voltage tells little about a lithium bank\u2019s charge: a shunt counts it.'),
      ];
}
