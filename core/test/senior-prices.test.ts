import harbour from '../../demo/sites/harbour-workshop.lantern.json';
import { check, priced, remediesOf, type Remedy } from '../src/index';
import { simulateYears } from '../src/year/year';
import { withChanges, withSystem } from '../src/system/model';
import { open } from './open';

/** A cap has nothing to buy and is not free: a senior says what it costs in a year. */

const model = open(harbour);
const [controller] = model.system.controllers ?? [];
const cap = (amps: number): Remedy => ({
  title: `Set to ${amps} A`,
  detail: 'a setting',
  changes: [{ op: 'set', at: 'controllers', id: controller!.id, value: { settings: { maxCharge_A: amps } } }],
  limits: 'charge',
});
const year = (of = model) => simulateYears(of, { kind: 'mean' }).years[0]!.totals;

describe('a cure that holds charging back', () => {
  it('says what it costs by a year with it and one without', () => {
    const remedy = cap(1);
    const less = Math.round(year().harvest_kWh - year(withChanges(model, remedy.changes)).harvest_kWh);
    expect(less).toBeGreaterThan(1);
    const [told] = priced(model, [remedy]);
    if (told) expect(told.detail).toContain(`${less} kWh less solar energy`);
  });
  it('costs nothing where the cap is never reached, and that is said', () => {
    expect(priced(model, [cap(500)])[0]?.detail).toBe('a setting; in an average year it costs no energy');
  });
  it('is not offered where energy is short already and it darkens more', () => {
    const hungry = withSystem(model, {
      ...model.system,
      loads: [
        ...(model.system.loads ?? []),
        { id: 'more', label: 'More', kind: 'dc', type: 'resistive', power_W: 300, hours_d: 24, overlap: 'base' },
      ],
    });
    expect(year(hungry).unserved_kWh).toBeGreaterThan(1);
    expect(priced(hungry, [cap(1)])).toEqual([]);
    // What limits nothing stays, whatever the year says.
    const { limits: _, ...plain } = cap(1);
    expect(priced(hungry, [plain])).toEqual([plain]);
  });
  it('of a site without figures for a year says that its price is not known', () => {
    const blank = { ...model, site: { ...model.site, climate: null } };
    expect(priced(blank, [cap(1)])[0]?.detail).toMatch(/is not known/);
  });
  it('stands after every other, and never for what is only close to its limit because something lets it off', () => {
    for (const finding of check(model)) {
      const found = remediesOf(model, finding, check(model));
      const first = found.findIndex(({ limits }) => limits);
      if (first >= 0) expect(found.slice(first).every(({ limits }) => limits)).toBe(true);
      if (finding.verdict === 'tight' && (finding.use ?? 0) > 1 + 1e-6) expect(first).toBe(-1);
    }
  });
});
