import fc from 'fast-check';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import whelk from '../../demo/sites/whelk-bank.lantern.json';
import { applyChanges, canConvert, compare, check, convert, fit, withSystem } from '../src/index';
import { open } from './open';

const verdictOf = ({ parts }: ReturnType<typeof convert>, id: string) => parts.find((part) => part.id === id)?.verdict;

describe('Gannet Ledge, sixteen 6 V 225 Ah flooded blocks, 4 x 4, seven years old', () => {
  const model = open(gannet);
  const answer = convert(model);
  test('what must be matched, by hand', () => {
    // 4 strings x 225 Ah = 900 Ah. Seven years of six: 100 - 20 x 7/6 = 76.7 %, so 690 Ah; nominal 24 V.
    // The mean draw is far below the 20 h rate: Peukert gives its most, a tenth more: 759 Ah.
    // -2 degC in the hut: 1 + 0.008 x (-2 - 25) = 0.784. Half of it usable:
    const asIs = 24 * 900 * (1 - (0.2 * 7) / 6) * 1.1 * 0.784 * 0.5;
    expect(answer.needed_Wh).toBeCloseTo(asIs, 0);
    expect(answer.asNew_Wh).toBeCloseTo(asIs / (1 - (0.2 * 7) / 6), 0);
    expect(answer.proposed_Wh).toBe(Math.max(answer.needed_Wh ?? 0, answer.wanted_Wh ?? 0));
  });
  test('three 25.6 V 200 Ah packs carry it; every option is at this voltage and within its parallel limit', () => {
    // 3 x 200 Ah x 25.6 V = 15.4 kWh; Peukert at most a tenth more, 0.89 in the cold, 80 %: 12 kWh and less.
    expect(answer.options[0]).toMatchObject({
      block_V: 25.6,
      blockCapacity_Ah: 200,
      series: 1,
      parallel: 3,
      mass_kg: 129,
    });
    for (const { block_V, series, parallel } of answer.options) {
      expect(Math.round((block_V * series) / 25.6)).toBe(1);
      expect(parallel).toBeLessThanOrEqual(4);
    }
  });
  test('what cannot be told to stop goes, what can be set stays with new settings', () => {
    expect(verdictOf(answer, 'bank')).toBe('replace');
    expect(verdictOf(answer, 'pwm1')).toBe('replace');
    expect(verdictOf(answer, 'mains')).toBe('replace');
    expect(verdictOf(answer, 'inv')).toBe('keep-reset');
    expect(verdictOf(answer, 'mon')).toBe('keep-reset');
    expect(verdictOf(answer, 'east')).toBe('keep');
  });
  test('the gate: enough energy and current; cold cells, and what cannot be told to stop, want doing first', () => {
    const gate = Object.fromEntries(answer.gate.map(({ id, verdict }) => [id, verdict]));
    expect(gate).toMatchObject({ energy: 'holds', cells: 'holds', sources: 'tight', bus: 'over', consent: 'note' });
    expect(['tight', 'over']).toContain(gate['cells-temperature']);
    expect(answer.gate.find(({ id }) => id === 'sources')?.why).toMatch(/Pell P30/);
  });
  test('a place whose cold nobody recorded does not pass the gate', () => {
    const blind = open(
      gannet,
      (file: { system: { bank: { place: Record<string, unknown> } }; site: Record<string, unknown> }) => {
        file.system.bank.place.min_C = null;
        file.system.bank.place.space = 'outside';
        file.site.recordLow_C = null;
      },
    );
    for (const { verdict, id } of convert(blind).gate)
      if (id === 'cells-temperature') expect(verdict).not.toBe('holds');
  });
  test('strings in parallel get fuses and a bus bar; cells at -2 degC get heat', () => {
    expect(answer.parts.filter(({ verdict }) => verdict === 'add').map(({ id }) => id)).toEqual(
      expect.arrayContaining(['bus-bar', 'string-fuses', 'heating']),
    );
  });
  test('a fuse that cannot break what lithium brings is replaced', () => {
    expect(answer.parts.find(({ id }) => id === 'r-i')).toMatchObject({ verdict: 'replace' });
  });
  test('the sheet is in volts at eight cells: cut-off 24.0, restart 26.4, alarm 24.8', () => {
    const after = (setting: string) =>
      answer.settings.find((line) => line.id === 'inv' && line.setting === setting)?.after;
    expect([after('cutoff_V'), after('restart_V'), after('alarm_V')]).toEqual([24, 26.4, 24.8]);
    expect(answer.settings.some(({ id }) => id === 'pwm1')).toBe(false);
  });
  test('an option is a proposal that the format takes, and it leaves nothing of the lead bank behind', () => {
    const after = applyChanges(model.system, { changes: answer.options[0]?.changes ?? [] });
    expect(after.bank).toMatchObject({ chemistry: 'lfp', parallel: 3, health_pct: 100, age_y: 0 });
    expect(after.bank).not.toHaveProperty('internal_mohm');
    const { cured } = compare(check(model), withSystem(model, after));
    expect(cured.map(({ rule }) => rule)).toContain('bank.sharing');
  });
});

describe('the refuge', () => {
  test('what must be matched, by hand: two 12 V gel blocks in parallel at -6 degC', () => {
    const model = open(corrach);
    const { blockCapacity_Ah, parallel, age_y, place } = model.system.bank!;
    const { needed_Wh, asNew_Wh, wanted_Wh } = convert(model);
    // Gel lasts eight years on the shelf: 20 % lost over them, so four years leave 90 % of 220 Ah = 198 Ah. Three days are
    // wanted, so a day draws a third of that sum; at that current 198 Ah last (198 / (20 I))^0.13 longer, a tenth more at
    // most. Cold takes 0.8 % a degree below 25; half of what is left is used; 2 V a cell, six of them.
    const usable = (health: number) => {
      const amphours = blockCapacity_Ah * parallel * health;
      const amps = (wanted_Wh ?? 0) / 3 / 24 / 12;
      const slow = Math.min(1.1, (amphours / (20 * amps)) ** 0.13);
      return 12 * amphours * slow * (1 + 0.008 * ((place?.min_C ?? 0) - 25)) * 0.5;
    };
    expect(needed_Wh).toBeCloseTo(usable(1 - (0.2 * (age_y ?? 0)) / 8), 6);
    expect(asNew_Wh).toBeCloseTo(usable(1), 6);
  });
  test('the counter is set too: 20 % alarm, charged at 14.0 V, four per cent tail', () => {
    const mon = convert(open(corrach)).settings.filter(({ id }) => id === 'mon');
    const after = Object.fromEntries(mon.map(({ setting, after: value }) => [setting, value]));
    expect(after).toMatchObject({ charged_V: 14, tail_pct: 4, chargeEfficiency_pct: 99, alarm_pct: 20 });
  });
  test('a controller with volts of its own is set: 14.2, 13.5, equalise off, compensation 0, no charge below 5 degC', () => {
    const answer = convert(open(corrach));
    expect(verdictOf(answer, 'cc')).toBe('keep-reset');
    const cc = Object.fromEntries(
      answer.settings.filter(({ id }) => id === 'cc').map(({ setting, after }) => [setting, after]),
    );
    expect(cc).toMatchObject({ absorb_V: 14.2, float_V: 13.5, equalise_V: 0, comp_mV_K_cell: 0, lowTempCut_C: 5 });
  });
  test('a cold cut is set only on what has a sensor, or was found with one set', () => {
    const cut = (temperatureSensor: boolean, lowTempCut_C?: number) =>
      convert(
        open(corrach, (file: { system: { controllers: Record<string, unknown>[] } }) => {
          Object.assign(file.system.controllers[0]!, { temperatureSensor, settings: { lowTempCut_C } });
        }),
      ).settings.some(({ id, setting }) => id === 'cc' && setting === 'lowTempCut_C');
    expect(cut(true)).toBe(true);
    expect(cut(false)).toBe(false);
    expect(cut(false, 0)).toBe(true);
  });
  test('a place that is too small rules out what does not go in', () => {
    for (const option of convert(open(corrach)).options)
      if (option.spare !== null && option.spare < 0) expect(option.verdict).toBe('over');
  });
  test('a charger on the inverter goes; an alternator straight on the bank gets a DC-DC charger; a relay to lead comes out', () => {
    const model = open(corrach, (file: { system: Record<string, unknown> }) => {
      file.system.chargers = [
        { id: 'loop', kind: 'mains', max_A: 20, onInverterOutput: true },
        { id: 'alt', kind: 'alternator-direct', max_A: 60 },
        { id: 'fine', kind: 'mains', max_A: 20, profiles: ['lfp'] },
      ];
      file.system.otherBanks = [
        { id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'relay' },
      ];
    });
    const answer = convert(model);
    expect(['loop', 'alt', 'fine', 'start'].map((id) => verdictOf(answer, id))).toEqual([
      'remove',
      'replace',
      'keep-reset',
      'reconfigure',
    ]);
  });
  test('an idle draw that nobody read is taken at 1 % of its watts and 5 W, and that is said', () => {
    const without = open(corrach, (file: { system: { inverters: Record<string, unknown>[] } }) => {
      file.system.inverters[0]!.idle_W = null;
    });
    const stated = open(corrach, (file: { system: { inverters: Record<string, unknown>[] } }) => {
      const [inverter] = file.system.inverters;
      inverter!.idle_W = 0.01 * (inverter!.continuous_W as number) + 5;
    });
    const answer = convert(without);
    expect(answer.needed_Wh).toBeCloseTo(convert(stated).needed_Wh ?? Number.NaN, 6);
    expect(answer).toMatchObject({ missing: [], assumed: expect.arrayContaining(['inv.idle_W']) as string[] });
    expect(convert(stated).assumed).not.toContain('inv.idle_W');
  });
});

test('a lithium bank is not converted', () => expect(canConvert(open(whelk))).toBe(false));

describe('batteries in a bay', () => {
  const block = { length_mm: 330, width_mm: 170, height_mm: 220 };
  test('by hand: 700 x 400 x 260 takes 2 x 2 upright', () => {
    // 2 x 330 + 3 x 10 = 690 <= 700; 2 x 170 + 3 x 10 = 370 <= 400; 220 + 10 <= 260
    expect(fit({ length_mm: 700, width_mm: 400, height_mm: 260 }, block, false)).toMatchObject({ count: 4 });
  });
  test('in a low bay lead does not stand, and a sealed pack lies', () => {
    const low = { length_mm: 700, width_mm: 500, height_mm: 190 };
    expect(fit(low, block, false).count).toBe(0);
    expect(fit(low, block, true).count).toBeGreaterThan(0);
  });
  test('a larger bay never takes fewer', () => {
    const side = fc.integer({ min: 100, max: 2000 });
    const box = fc.record({ length_mm: side, width_mm: side, height_mm: side });
    fc.assert(
      fc.property(box, box, fc.nat(500), fc.nat(500), fc.nat(500), fc.boolean(), (bay, item, a, b, c, lie) => {
        const larger = { length_mm: bay.length_mm + a, width_mm: bay.width_mm + b, height_mm: bay.height_mm + c };
        expect(fit(larger, item, lie).count).toBeGreaterThanOrEqual(fit(bay, item, lie).count);
      }),
    );
  });
});
