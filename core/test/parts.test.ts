import { RULE_IDS } from '../src/rules/ids';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  applyChanges,
  eachPart,
  FIELDS,
  hiddenFields,
  KIND_ORDER,
  KINDS,
  partsListOf,
  RULES,
  ruleIds,
  shelfFields,
  specify,
  splitPath,
  swapChanges,
  systemFaults,
  typicalOf,
  type PartKind,
  type System,
} from '../src/index';
import { belongsTo, keptOnShelf, staysBehind, tellsParts } from '../src/parts/lists';
import { unitOf } from '../src/parts/field-list';
import { siteless } from '../src/shelf/item';
import { hut, part } from './hut';

describe('a kind is described once', () => {
  interface Described {
    type: string;
    fields?: Record<string, Described>;
  }
  const leaves = ({ fields }: Described, path = ''): string[] =>
    Object.entries(fields ?? {}).flatMap(([name, member]) =>
      member.fields && Object.keys(member.fields).length > 0 ? leaves(member, `${path}${name}.`) : [`${path}${name}`],
    );
  test.each(KIND_ORDER)('every leaf of %s is in the editor, or hidden with the reason', (kind) => {
    const all = leaves(KINDS[kind].schema.describe());
    const shown = FIELDS[kind].map(({ path }) => path);
    const hidden = hiddenFields(kind).map(({ path }) => path);
    expect([...shown, ...hidden].sort()).toEqual([...all].sort());
    expect(new Set(FIELDS[kind].map(({ label }) => label)).size).toBe(shown.length);
    for (const { why } of hiddenFields(kind)) expect(why.length).toBeGreaterThan(10);
  });
  test.each(KIND_ORDER)('%s: words, a noun, a stem; references lead to kinds there are', (kind) => {
    const { word, noun, stem } = KINDS[kind];
    expect(word).toMatch(/^[A-Z][a-z, ]+$/);
    expect(noun).toMatch(/^(an?|another) /);
    expect(stem).toMatch(/^[a-z-]+$/);
    for (const { refersTo } of FIELDS[kind])
      for (const other of refersTo ?? []) expect(Object.keys(KINDS)).toContain(other);
  });
  test('stems are one a kind', () =>
    expect(new Set(KIND_ORDER.map((kind) => KINDS[kind].stem)).size).toBe(KIND_ORDER.length));
  test('what is required is asked first', () => {
    for (const kind of KIND_ORDER)
      for (const { required, first, path } of FIELDS[kind]) if (required) expect([path, first]).toEqual([path, true]);
  });
  test('the names carry the units', () =>
    expect(
      [
        'maxPv_V',
        'settings.comp_mV_K_cell',
        'betaVoc_pct_C',
        'efficiency_pct',
        'internal_mohm',
        'blockCapacity_Ah',
        'maxPv_W.24',
        'winterHours_d',
        'layup_d',
        'place.min_C',
        'place.ventArea_cm2',
        'block.mass_kg',
        'length_m',
        'length_mm',
        'fullDensity_kg_L',
        'protection.lowTrip_V_cell',
        'continuous_VA',
        'peak_s',
        'age_y',
        'rate_h',
        'ageSpread_months',
        'tilt_deg',
        'absorb_min',
        'quantity',
      ].map(unitOf),
    ).toEqual([
      'V',
      'mV/K cell',
      '%/K',
      '%',
      'mohm',
      'Ah',
      'W',
      'h',
      'd',
      'degC',
      'cm2',
      'kg',
      'm',
      'mm',
      'kg/L',
      'V',
      'VA',
      's',
      'y',
      'h',
      'months',
      'deg',
      'min',
      '',
    ]));
  test('typical values of a new part', () => {
    expect(typicalOf('moduleTypes')).toEqual({ betaVoc_pct_C: -0.3, alphaIsc_pct_C: 0.05, noct_C: 45 });
    expect(typicalOf('arrays')).toEqual({ mounting: 'raised' });
    // Whether a controller limits its own output is read, never filled in: a pwm passes what its array gives.
    expect(typicalOf('controllers')).toEqual({});
  });
});

describe('what a field belongs to', () => {
  const belong = (kind: PartKind, ...paths: string[]) => paths.map((path) => belongsTo(kind, path));
  test('plates, state, fittings, settings, place, links', () => {
    expect(belong('bank', 'chemistry', 'age_y', 'heated', 'place.min_C', 'tapping', 'link.size', 'series')).toEqual([
      'plate',
      'state',
      'fitting',
      'place',
      'link',
      'link',
      'link',
    ]);
    expect(
      belong(
        'inverters',
        'continuous_W',
        'precharge',
        'settings.cutoff_V',
        'charger.settings.absorb_V',
        'charger.max_A',
        'feeds',
      ),
    ).toEqual(['plate', 'fitting', 'setting', 'setting', 'plate', 'place']);
    expect(belong('runs', 'size', 'length_m', 'protection.rating_A', 'from', 'ambient_C')).toEqual([
      'plate',
      'place',
      'fitting',
      'link',
      'place',
    ]);
    expect(belong('arrays', 'shade', 'strings', 'madeUp')).toEqual(['place', 'link', 'plate']);
  });
  test('another setting is not another part; another rating is', () => {
    expect([
      tellsParts('controllers', 'settings.absorb_V'),
      tellsParts('controllers', 'maxPv_V'),
      tellsParts('bank', 'age_y'),
      tellsParts('bank', 'label'),
    ]).toEqual([false, true, true, false]);
  });
  test('at a replacement the place, the joints and the settings stay', () =>
    expect([
      staysBehind('bank', 'place.space'),
      staysBehind('inverters', 'settings.cutoff_V'),
      staysBehind('inverters', 'transfer'),
      staysBehind('inverters', 'surge_W'),
      staysBehind('chargers', 'onInverterOutput'),
    ]).toEqual([true, true, true, false, true]));
  test('the shelf keeps what is printed', () => {
    expect([
      keptOnShelf('bank', 'age_y'),
      keptOnShelf('bank', 'maxCharge_A'),
      keptOnShelf('controllers', 'settings.absorb_V'),
      keptOnShelf('loads', 'inverterId'),
    ]).toEqual([false, true, false, false]);
    expect(
      siteless('inverters', {
        id: 'x',
        label: 'y',
        continuous_W: 5,
        feeds: 'building',
        settings: { cutoff_V: 11 },
        charger: { max_A: 20, settings: { absorb_V: 14 } },
        custom: 1,
      }),
    ).toEqual({ continuous_W: 5, charger: { max_A: 20 }, custom: 1 });
    expect(shelfFields('bank').map(({ path }) => path)).not.toContain('series');
    expect(shelfFields('fuse').map(({ path, required }) => [path, required])).toEqual([
      ['type', true],
      ['rating_A', true],
      ['voltage_V', false],
      ['interrupt_A', false],
    ]);
  });
  test('a charger that is only set anew is not bought anew', () => {
    const before = hut(
      (system) =>
        (system.inverters = [{ id: 'inv', continuous_W: 500, charger: { max_A: 20, settings: { absorb_V: 14.6 } } }]),
    ).system;
    const set = (value: object) =>
      applyChanges(before, { changes: [{ op: 'set', at: 'inverters', id: 'inv', value }] });
    expect(
      partsListOf(before, set({ charger: { settings: { absorb_V: 14.2 } } }), []).lines.map(({ what }) => what),
    ).toEqual(['set']);
    expect(partsListOf(before, set({ charger: { max_A: 40 } }), []).lines.map(({ what }) => what)).toEqual([
      'buy',
      'out',
    ]);
  });
  test('a new charger stands where the old one was plugged in', () => {
    const model = hut(
      (system) =>
        (system.chargers = [
          {
            id: 'mc',
            kind: 'mains',
            max_A: 10,
            onInverterOutput: true,
            settings: { absorb_V: 14.4 },
            powerFactor: 0.6,
          },
        ]),
    );
    const spec = specify(model, 'mc');
    const changes = spec ? swapChanges(model, spec, { kind: 'mains', max_A: 40 }, 'New') : [];
    expect(applyChanges(model.system, { changes }).chargers?.[0]).toEqual({
      id: 'mc',
      label: 'New',
      kind: 'mains',
      max_A: 40,
      onInverterOutput: true,
      settings: { absorb_V: 14.4 },
    });
  });
});

describe('references', () => {
  const faults = (change: (system: System) => void) =>
    systemFaults(hut(change).system).map(({ path, message }) => `${path} ${message}`);
  test('each leads to a part of its kind', () => {
    expect(faults(() => undefined)).toEqual([]);
    expect(faults((system) => (part.array(system).controllerId = 'b'))).toEqual([
      'system.arrays[0].controllerId is "b", expected the id of a controller in this system',
    ]);
    expect(faults((system) => (part.array(system).strings = [['m'], ['m', 'x']]))).toEqual([
      'system.arrays[0].strings[1][1] is "x", expected the id of a module type in this system',
    ]);
    expect(
      faults(
        (system) => (system.runs = [{ id: 'r', kind: 'dc-load', length_m: 1, size: '6mm2', from: 'b', to: 'nowhere' }]),
      ),
    ).toEqual(['system.runs[0].to is "nowhere", expected the id of a part in this system']);
    expect(faults((system) => (system.distribution = [{ id: 'box', circuits: ['c'] }]))).toEqual([
      'system.distribution[0].circuits[0] is "c", expected the id of a run in this system',
    ]);
    expect(
      faults(
        (system) => (system.loads = [{ id: 'l', label: 'L', kind: 'ac', power_W: 1, hours_d: 1, inverterId: 'c' }]),
      ),
    ).toEqual(['system.loads[0].inverterId is "c", expected the id of an inverter in this system']);
  });
  test('a string that an array does not have', () =>
    expect(
      faults(
        (system) =>
          (system.runs = [{ id: 'r', kind: 'pv', length_m: 1, size: '6mm2', from: 'a', to: 'c', strings: [0, 1] }]),
      ),
    ).toEqual(['system.runs[0].strings[1] is 1, expected a string of that array, 0 to 0']));
  test('ids are one a part', () =>
    expect(faults((system) => (part.controller(system).id = 'a')).some((fault) => fault.includes('is "a" again'))).toBe(
      true,
    ));
});

describe('paths of evidence', () => {
  const known = (id: string) => ['inv', 'inv.2', 'b'].includes(id);
  test.each([
    ['inv.idle_W', 'inv', 'idle_W'],
    ['inv.2.idle_W', 'inv.2', 'idle_W'],
    ['inv.settings.cutoff_V', 'inv', 'settings.cutoff_V'],
    ['inv.3.idle_W', 'inv', '3.idle_W'],
    ['site.recordLow_C', 'site', 'recordLow_C'],
    ['schools.drop_pct.pv', 'schools', 'drop_pct.pv'],
  ])('%s is of %s', (path, partId, field) => expect(splitPath(path, known)).toEqual({ partId, field }));
  test.each(['x.y', 'inv', 'inv.', '.idle_W', ''])('%p names nothing', (path) =>
    expect(splitPath(path, known)).toBeNull(),
  );
});

describe('the rule book', () => {
  test('the names that the compiler knows are the rules that there are', () =>
    expect([...RULE_IDS].sort()).toEqual([...ruleIds()].sort()));
  test('ids are one a rule', () => expect(new Set(ruleIds()).size).toBe(RULES.length));
});

test('every part of the demo sites has a fact in a line', () => {
  const folder = join(__dirname, '../../demo/sites');
  const write = {
    amount: (value: number | null | undefined, unit: string) => (value == null ? null : `${value} ${unit}`),
    size: (size: string) => size,
  };
  for (const file of readdirSync(folder)) {
    const { system } = JSON.parse(readFileSync(join(folder, file), 'utf8')) as { system: System };
    for (const placed of eachPart(system)) {
      const fact = (KINDS[placed.kind].fact as (p: object, among: object, how: typeof write) => string)(
        placed.part,
        system,
        write,
      );
      expect(fact).not.toMatch(/null|undefined|NaN/);
      expect(fact.length).toBeGreaterThan(3);
    }
  }
});
