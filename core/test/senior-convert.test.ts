import { check, convert, modelOf, wholeConversion, type System, type SystemFile } from '../src/index';
import { COMMON_PACKS } from '../src/proposal/packs';
import { judgeParts } from '../src/plan/parts-after';
import { RULES, ruleOf } from '../src/rules/index';
import { withChanges } from '../src/system/model';

/** Conversions that a senior would sign, on a coach whose bank hangs on its starter battery. */

const open = (system: System) =>
  modelOf({
    format: 'true-lantern',
    version: 2,
    site: { name: 'Made up', occasion: 'motorhome', min_C: 0, max_C: 35, temperatures: {} },
    system,
  } as unknown as SystemFile);
const coach: System = {
  nominal_V: 12,
  bank: {
    id: 'bank',
    chemistry: 'agm',
    block_V: 12,
    cells: 6,
    blockCapacity_Ah: 200,
    rate_h: 20,
    series: 1,
    parallel: 2,
    age_y: 1,
    health_pct: 100,
    place: { min_C: 5, max_C: 30 },
  },
  otherBanks: [
    {
      id: 'starter',
      label: 'Starter',
      chemistry: 'flooded',
      nominal_V: 12,
      role: 'starter',
      joinedBy: 'relay',
    },
  ],
  sources: [{ id: 'alt', kind: 'alternator', rating_A: 90 }],
  inverters: [{ id: 'inv', minDc_V: 10.5, maxDc_V: 16, continuous_W: 2000, surge_W: 4000, efficiency_pct: 90 }],
  runs: [
    {
      id: 'r',
      kind: 'battery-inverter',
      from: 'bank',
      to: 'inv',
      length_m: 1.5,
      size: '35mm2',
      insulation_C: 70,
      freeAir: false,
      protection: { type: 'terminal', rating_A: 200, voltage_V: 32, dcRated: true, fromSource_m: 0.1 },
    },
  ],
  loads: [
    { id: 'fridge', label: 'Fridge', kind: 'dc', type: 'compressor', power_W: 60, hours_d: 10, overlap: 'base' },
    // A start of 7.8 kW that no inverter here gives, whatever the bank.
    {
      id: 'ac',
      label: 'Compressor',
      kind: 'ac',
      type: 'compressor',
      power_W: 1300,
      surge_W: 7800,
      hours_d: 0.5,
      inverterId: 'inv',
    },
  ],
};
const model = open(coach);
const conversion = convert(model, COMMON_PACKS);

describe('a coach with a relay between bank and starter battery', () => {
  it('is offered nothing that leaves lead and lithium joined', () => {
    expect(conversion.options.length).toBeGreaterThan(0);
    for (const { changes } of conversion.options) {
      const found = check(withChanges(model, changes));
      expect(found.filter(({ rule, verdict }) => rule === 'bank.mixed' && verdict === 'over')).toEqual([]);
    }
  });
  it('names no cable both as kept and as replaced', () => {
    const whole = wholeConversion(model, conversion.options[0]!, []);
    const touched = new Set(
      whole.steps.flatMap(({ changes }) => changes.filter(({ op }) => op !== 'add').map(({ id }) => id)),
    );
    const kept = whole.parts.filter(({ verdict }) => verdict.startsWith('keep')).map(({ id }) => id);
    expect(whole.steps.some(({ changes }) => changes.some(({ at }) => at === 'runs'))).toBe(true);
    expect(kept.filter((id) => touched.has(id))).toEqual([]);
  });
  it('is sized although nobody read what the inverter idles on, and says so', () => {
    expect(conversion.missing).toEqual([]);
    expect(conversion.assumed).toContain('inv.idle_W');
  });
  it('puts what holds the need first, whatever start the system never could give', () => {
    const [first] = conversion.options;
    expect(first!.usable_Wh).toBeGreaterThanOrEqual(conversion.proposed_Wh!);
    const enough = conversion.options.map(({ usable_Wh, smaller }) => smaller || usable_Wh >= conversion.proposed_Wh!);
    expect(enough).toEqual([...enough].sort((a, b) => Number(b) - Number(a)));
  });
  it('orders those that hold it by what they cost for their life', () => {
    const priced = COMMON_PACKS.filter(({ body }) => body.block_V === 12.8).map((pack, i) => ({
      ...pack,
      price: 400 + 300 * ((i * 7) % 5),
      currency: 'EUR',
    }));
    const { options, proposed_Wh } = convert(open({ ...coach, loads: coach.loads!.slice(0, 1) }), priced);
    const costs = options
      .filter(
        ({ usable_Wh, ownOver, smaller, spare }) =>
          usable_Wh >= proposed_Wh! && !ownOver && !smaller && (spare ?? 0) >= 0,
      )
      .map(({ wholeLife }) => wholeLife!.total);
    expect(costs.length).toBeGreaterThan(1);
    expect(costs).toEqual([...costs].sort((a, b) => a - b));
  });
});

test('a cable that any rule condemns is not kept, whatever the rule is called', () => {
  const thin = withChanges(open(coach), [
    {
      op: 'add',
      at: 'runs',
      value: { id: 'r-inv', kind: 'battery-inverter', from: 'bank', to: 'inv', length_m: 6, size: '6mm2' },
    },
  ]);
  const after = withChanges(thin, [{ op: 'set', at: 'bank', value: { chemistry: 'lfp' } }]);
  const asked = RULES.filter(({ bearsOn }) => bearsOn.includes('cable') || bearsOn.includes('fuse'));
  const finding = check(after, [ruleOf('run.drop')]).find(({ subject }) => subject === 'r-inv');
  expect(finding).toBeDefined();
  for (const { id } of asked) {
    const over = { ...finding!, rule: id, verdict: 'over' as const };
    expect([id, judgeParts(thin, after, [over]).find((one) => one.id === 'r-inv')?.verdict]).not.toEqual([id, 'keep']);
  }
});
