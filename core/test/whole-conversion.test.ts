import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import seal from '../../demo/sites/seal-sound.lantern.json';
import { DEMO_SHELF } from '../../demo/shelf';
import {
  applyChanges,
  check,
  convert,
  optionOfCount,
  overOf,
  remediesOf,
  specify,
  wholeConversion,
  withSystem,
  type Model,
} from '../src/index';
import { find, hut } from './hut';
import { open } from './open';

/** The conversion that is saved is the conversion that was judged: nothing that it needs is left off the list. */

const packs = DEMO_SHELF.filter(({ kind, body }) => kind === 'bank' && body.chemistry === 'lfp');

function converted(model: Model, skip: string[] = []) {
  const answer = convert(model, packs);
  const option = answer.options[0]!;
  const whole = wholeConversion(model, option, DEMO_SHELF, new Set(skip));
  return { answer, option, whole, after: withSystem(model, applyChanges(model.system, { changes: whole.changes })) };
}

describe.each([
  ['Corrach', open(corrach)],
  ['Gannet Ledge', open(gannet)],
  ['Seal Sound', open(seal)],
])('%s', (_, model) => {
  const { answer, whole, after } = converted(model);
  test('every part that was judged to be replaced, added or taken out is so in what is saved', () => {
    for (const { id, verdict } of answer.parts) {
      if (id === model.system.bank?.id || id === 'ventilation') continue;
      if (verdict === 'add' && id !== 'bus-bar') expect(whole.steps.map((step) => step.id)).toContain(id);
      const before = [...(model.system.controllers ?? []), ...(model.system.chargers ?? [])].find(
        (one) => one.id === id,
      );
      const now = [...(after.system.controllers ?? []), ...(after.system.chargers ?? [])].find((one) => one.id === id);
      if (before && verdict === 'replace') expect(now?.label).not.toBe(before.label);
      if (before && verdict === 'remove') expect(now).toBeUndefined();
      const run = model.system.runs?.find((one) => one.id === id);
      if (run && verdict === 'replace')
        expect(
          overOf(check(after)).filter(({ subject, consequence }) => subject === id && consequence === 'danger'),
        ).toEqual([]);
    }
    const { bank } = after.system;
    if ((bank?.parallel ?? 1) > 1) {
      expect(bank?.tapping).toBe('busbar');
      expect(bank?.stringFuse?.rating_A).toBeGreaterThan(0);
      expect(bank?.link?.size).toBeTruthy();
    }
  });
  test('what is left over no part of ours could cure', () => {
    const findings = check(after);
    for (const finding of overOf(findings)) {
      const byPart = remediesOf(after, finding, findings).filter(({ changes }) =>
        changes.every(
          ({ at, value }) =>
            at !== 'loads' &&
            !(at === 'arrays' && 'strings' in (value as object)) &&
            !(at === 'bank' && 'parallel' in (value as object)),
        ),
      );
      expect([finding.rule, finding.subject, byPart.map(({ title }) => title)]).toEqual([
        finding.rule,
        finding.subject,
        [],
      ]);
    }
  });
  test('each step has its reason, and one that is left out is not in what is saved', () => {
    for (const { why, title } of whole.steps) expect([title, why.length > 20]).toEqual([title, true]);
    const [first] = whole.steps;
    const without = converted(model, [first!.id]).whole;
    expect(without.steps.find(({ id }) => id === first!.id)?.taken).toBe(false);
    // Nothing of it is left but what the next step asks for by itself.
    const kept = without.steps.filter(({ taken }) => taken).flatMap(({ changes }) => changes);
    expect(kept.filter((change) => first!.changes.includes(change))).toEqual([]);
  });
});

test('two of these: as many as the customer says, judged as any other', () => {
  const model = open(gannet);
  const pack = packs.find(({ label }) => label === 'Pell Cell 24-200')!;
  const two = optionOfCount(model, pack, 2)!;
  const three = optionOfCount(model, pack, 3)!;
  expect([two.series, two.parallel, two.mass_kg]).toEqual([1, 2, 86]);
  expect(two.usable_Wh).toBeLessThan(three.usable_Wh);
  expect(
    optionOfCount(
      model,
      packs.find(({ label }) => label === 'Pell Rack 48-100')!,
      1,
    ),
  ).toBeNull();
});

test('a smaller bank is offered where the use allows, after those that match, and says that it is', () => {
  // The old bank is four times what two days of use want.
  const model = open(gannet, (file: { schools: Record<string, unknown>; system: { loads: { hours_d: number }[] } }) => {
    file.schools.autonomy_d = 1;
    for (const load of file.system.loads) load.hours_d /= 2;
  });
  const { options, needed_Wh, wanted_Wh } = convert(model, packs);
  const smaller = options.filter((option) => option.smaller);
  expect(smaller.length).toBeGreaterThan(0);
  for (const option of smaller) {
    expect(option.usable_Wh).toBeLessThan(needed_Wh!);
    expect(option.usable_Wh).toBeGreaterThanOrEqual(wanted_Wh!);
    expect(option.limits[0]).toMatch(/the present bank stores \d+ Wh/);
  }
});

describe('what a successor is asked', () => {
  const line = (model: Model, id: string, field: string, label?: RegExp) =>
    specify(model, id)?.lines.find((one) => one.field === field && (!label || label.test(one.label)));

  test('a fuse, with its own resistance in the way: the largest that a far fault still blows', () => {
    const model = hut((system) => {
      system.loads = [{ id: 'l', label: 'Lamp', kind: 'dc', power_W: 24, hours_d: 3 }];
      system.runs = [
        {
          id: 'r',
          kind: 'dc-load',
          from: 'b',
          to: 'l',
          length_m: 10,
          size: '2.5mm2',
          protection: { type: 'blade', rating_A: 15, voltage_V: 32, fromSource_m: 0.05 },
        },
      ];
    });
    const most = specify(model, 'r', 'fuse')!.lines.find(({ label }) => /far fault/.test(label))!.value as number;
    const at = (rating_A: number) =>
      find(
        withSystem(
          model,
          applyChanges(model.system, {
            changes: [{ op: 'set', at: 'runs', id: 'r', value: { protection: { rating_A } } }],
          }),
        ),
        'run.far-fault',
      )?.verdict;
    expect(at(most)).toBe('holds');
    // The next that is sold is not.
    expect(at([1, 2, 3, 5, 6, 7.5, 10, 12, 15, 16, 20, 25, 30, 32, 35, 40].find((amps) => amps > most)!)).not.toBe(
      'holds',
    );
  });
  test('a relay to lead is asked as the DC-DC charger that it must become, with the volts of the vehicle', () => {
    const van = hut((system) => {
      system.bank = { ...system.bank!, chemistry: 'lfp', block_V: 12.8, maxCharge_A: 100 };
      system.otherBanks = [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'relay' }];
      system.sources = [{ id: 'engine', kind: 'alternator', rating_A: 120, nominal_V: 12, hours_d: 1 }];
    });
    const spec = specify(van, 'start')!;
    expect(spec.shelf).toBe('chargers');
    expect(line(van, 'start', 'kind')?.words).toEqual(['dc-dc']);
    expect(line(van, 'start', 'input_V')?.words).toContain('12');
    // .6 x 120 A less 25 A is 47 A at the input; at 14.2 V, 88 %: 12 V in for 35 A out is the next size's end: 30 A.
    const most = line(van, 'start', 'max_A', /most/)!;
    const input = (amps: number) => (amps * 14.2) / (12 * 0.88);
    expect(input(most.value as number)).toBeLessThanOrEqual(47);
    expect(input(40)).toBeGreaterThan(47);
    expect(spec.lines.some(({ rule }) => rule === 'run.both-ends')).toBe(true);
  });
  test('a true sine, unless every load is known to be content without', () => {
    const model = (needsSine: boolean | undefined) =>
      hut((system) => {
        system.inverters = [{ id: 'i', waveform: 'modified', continuous_W: 500 }];
        system.loads = [{ id: 'l', label: 'Radio', kind: 'ac', power_W: 30, hours_d: 2, needsSine }];
      });
    expect(line(model(undefined), 'i', 'waveform')?.words).toEqual(['sine']);
    expect(line(model(true), 'i', 'waveform')?.words).toEqual(['sine']);
    expect(line(model(false), 'i', 'waveform')?.words).toEqual(['sine', 'modified']);
  });
  test("another charger's fault hides no candidate: it is said, and the line is not a must", () => {
    // 200 Ah flooded takes 40 A; the other charger alone brings 60 A.
    const model = hut((system) => {
      system.controllers = [];
      system.arrays = [];
      system.chargers = [
        { id: 'mine', kind: 'mains', max_A: 20, profiles: ['flooded'] },
        { id: 'other', kind: 'mains', max_A: 60, profiles: ['flooded'] },
      ];
    });
    const most = line(model, 'mine', 'max_A', /most/)!;
    expect(most.must).toBe(false);
    expect(most.why.join(' ')).toMatch(/other chargers alone are too much/);
  });
  test('a charger is made for the volts of this bank, and an inverter-charger for what the inlet gives', () => {
    const model = hut((system) => {
      system.chargers = [{ id: 'mine', kind: 'mains', max_A: 20 }];
      system.sources = [
        { id: 'shore', kind: 'inlet', inlet_A: 10 },
        { id: 'gen', kind: 'generator', power_W: 2000 },
      ];
      system.inverters = [{ id: 'i', continuous_W: 500, charger: { max_A: 30 } }];
    });
    expect(line(model, 'mine', 'output_V')?.words).toEqual(['12']);
    // .8 x 2000 W / 230 V is 6.96 A: 6.5 A in half amperes.
    expect(line(model, 'i', 'inputLimit_A')?.value).toBe(6.5);
  });
});
