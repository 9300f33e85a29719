import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { aheadOf, dayFrom, fleetSite, modelOf, winterDays, type SystemFile } from '../src/index';

const file = JSON.parse(
  readFileSync(join(__dirname, '../../demo/sites/corrach-bothy.lantern.json'), 'utf8'),
) as SystemFile;
const day = (text: string) => dayFrom(text)!;
const ON = day('2026-12-01');

describe('a firm’s sites', () => {
  test.each([
    ['2026-12-01', 56, 121],
    ['2027-03-31', 56, 1],
    ['2027-04-01', 56, 366],
    ['2026-07-01', -41, 92],
    ['2026-12-01', -41, 304],
    ['2026-12-01', null, 121],
  ])('from %s at latitude %s it is %d days to the last of winter, both counted', (on, latitude, days) => {
    expect(winterDays(day(on), latitude)).toBe(days);
  });
  test('nobody read the charge: 80 % is assumed, and said to be', () => {
    expect(fleetSite(file, ON, 'week', 20)).toMatchObject({ soc: 0.8, assumed: true, days: 7 });
  });
  test('a charge that was read yesterday is the one it begins with', () => {
    const bank = file.system.bank!;
    const read: SystemFile = {
      ...file,
      readings: [
        {
          id: 'r1',
          at: '2026-11-30T18:00:00Z',
          subject: bank.id,
          quantity: 'rest_V',
          value: 12.2 * bank.series,
          conditions: { rested_h: 5 },
        },
      ],
    };
    const found = fleetSite(read, ON, 'week', 50);
    expect(found.assumed).toBe(false);
    expect(found.soc).toBeLessThan(0.7);
    const { dark, cures } = aheadOf(modelOf(read), { on: ON, soc: found.soc, days: 7, draws: 50 });
    expect(found).toMatchObject({ dark, cures });
    // With less in the bank it goes dark no less often.
    expect(dark).toBeGreaterThanOrEqual(fleetSite(file, ON, 'week', 50).dark!);
  });
  test('a winter is at least as likely to bring a power cut as its first week', () => {
    const [week, winter] = (['week', 'winter'] as const).map((span) => fleetSite(file, ON, span, 40));
    expect(winter!.days).toBe(121);
    expect(winter!.dark!).toBeGreaterThanOrEqual(week!.dark!);
  });
  test('what the year lacks is named, and nothing is claimed', () => {
    const { latitude_deg: _, ...site } = file.site;
    const found = fleetSite({ ...file, site }, ON, 'week', 5);
    expect(found.dark).toBeNull();
    expect(found.missing).toContain('site.latitude_deg');
  });
});
