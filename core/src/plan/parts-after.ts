import { CONVERSION, isLithium, serves, takes } from '../chemistry/chemistry';
import { sentenceOf } from '../rules/check';
import type { Finding } from '../rules/finding';
import { ruleOf } from '../rules/index';
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
  over(id: string, ...rules: string[]): Finding | undefined;
  /** The same, of any rule about its fuse. */
  overFuse(id: string): Finding | undefined;
  why(finding: Finding): string;
}

/** Every part judged on the changed system by its findings, worst first, and by what Practice, A, says of its kind. */
export function judgeParts(before: Model, after: Model, findings: readonly Finding[]): PartVerdict[] {
  const worst = (id: string, wanted: (rule: string) => boolean) =>
    findings.find(({ subject, rule, verdict }) => subject === id && verdict === 'over' && wanted(rule));
  const asked: Asked = {
    after,
    over: (id, ...rules) => worst(id, (rule) => rules.includes(rule)),
    overFuse: (id) => worst(id, (rule) => ruleOf(rule).bearsOn.includes('fuse')),
    why: (finding) => sentenceOf(after, finding),
  };
  const { system } = after;
  const { bank, monitor } = system;
  return [
    ...(bank ? [judged(bank.id, 'replace', 'Lead goes, with its weighed receipt; lithium comes.')] : []),
    ...(system.arrays ?? []).map(({ id }) => judged(id, 'keep', 'The modules do not see the bank.')),
    ...(system.controllers ?? []).map((one) => controllerAfter(asked, one)),
    ...(system.inverters ?? []).map((one) => inverterAfter(asked, one)),
    ...(system.chargers ?? []).map(chargerAfter),
    ...(system.sources ?? []).map(({ id }) =>
      judged(id, 'keep', 'Full charging amps for hours: check its heat and its load.'),
    ),
    ...(system.converters ?? []).map(({ id }) =>
      judged(id, 'keep', 'Its input stands the new volts, as far as recorded.'),
    ),
    ...(system.distribution ?? []).map(({ id }) => {
      const finding = asked.over(id, 'distribution.slots', 'distribution.rating');
      return finding ? judged(id, 'replace', asked.why(finding)) : judged(id, 'keep', 'Slots and rating suffice.');
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
      'Its profiles were not read; it stays only if it has one for lithium or its own volts.',
    );
  if (serves(profiles, CONVERSION))
    return judged(id, 'keep-reset', 'Has a profile for lithium iron: set it, equalise off.');
  if (type === 'pwm')
    return judged(id, 'replace', 'A PWM controller without a lithium profile cannot be told to stop.');
  if (profiles.includes('custom'))
    return judged(id, 'keep-reset', 'Its own volts can be set: absorb, float, equalise off, compensation 0.');
  return judged(id, 'replace', 'Has no profile for lithium and none of its own to set.');
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
      ? 'New cut-off and restart; its charger has no profile for lithium: switch the charger off.'
      : 'New cut-off, restart and alarm.',
  );
}

function chargerAfter({ id, kind, profiles, onInverterOutput, externallyRegulated }: Charger): PartVerdict {
  if (onInverterOutput)
    return judged(id, 'remove', 'Plugged into the inverter that its bank feeds, it only drains the bank.');
  if (kind === 'alternator-direct')
    return externallyRegulated
      ? judged(id, 'keep-reset', 'Only with battery sensors and a signal to the field before the contactor opens.')
      : judged(
          id,
          'replace',
          'Lithium takes all an alternator gives until it burns: through a DC-DC charger, fused at both ends.',
        );
  if (takes(profiles, CONVERSION)) return judged(id, 'keep-reset', 'Set to the bank: absorb, float, no equalise.');
  return judged(id, 'replace', 'Stages made for lead: fixed or unknown volts, perhaps a desulphation pulse.');
}

const otherBankAfter = ({ id, chemistry, joinedBy }: OtherBank): PartVerdict =>
  isLithium(chemistry) || !joinedBy || joinedBy === 'none' || joinedBy === 'dc-dc'
    ? judged(id, 'keep', 'Stays on its own fuse and its own charger.')
    : judged(
        id,
        'reconfigure',
        `Joined by a ${joinedBy}: lithium would hold it shut and push current into lead. Take that out; a DC-DC charger instead.`,
      );

function runAfter({ over, overFuse, why }: Asked, id: string): PartVerdict {
  const hot = over(id, 'run.ampacity');
  if (hot) return judged(id, 'replace', `The cable: ${why(hot)}`);
  const fuse = overFuse(id);
  if (fuse) return judged(id, 'replace', `The protection: ${why(fuse)}`);
  const sense = over(id, 'run.charge-sense', 'run.drop');
  return sense
    ? judged(id, 'reconfigure', why(sense))
    : judged(id, 'keep', 'Carries the new currents, and its fuse breaks the new fault.');
}

function loadAfter({ over, why }: Asked, { id, kind }: Load): PartVerdict {
  const window = over(id, 'load.window');
  if (window) return judged(id, 'reconfigure', `${why(window)} A stabiliser before it.`);
  return judged(id, 'keep', kind === 'dc' ? 'Stands the charging volts, as far as recorded.' : 'Behind the inverter.');
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
      added.push(judged('bus-bar', 'add', 'Equal leads from every string to one bus bar.'));
    added.push(
      judged('string-fuses', 'add', `A fuse in each of the ${bank.parallel} strings: the others feed a fault in one.`),
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
          ? 'Lead stays in the building: its vent stays too.'
          : 'Lithium iron gives off no gas in use: against the cold the vent may be made small, never sealed; a detector instead.',
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
      judged(`${id}-precharge`, 'add', 'Its capacitors are charged through a resistor before the main switch closes.'),
    );
  return monitor
    ? precharge
    : [...precharge, judged('shunt', 'add', 'Volts say nothing of a lithium bank\u2019s charge: a shunt counts it.')];
}
