import { aboveTheAir_kWh_m2_d } from '../src/sun/tilted';
import { estimateClimate, FaultError, readEpw, sunPosition } from '../src/index';

/** A made-up year: so much sun at noon hours of each month, so warm. */
function epw(sunAt: (month: number) => number, warmAt: (month: number, hour: number) => number, hours = 8760): string {
  const head = [
    'LOCATION,Skerrow,-,-,made-up,000000,57.2,-6.4,0.0,30.0',
    ...Array.from({ length: 7 }, (_, i) => `HEADER ${i}`),
  ];
  const days = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
  const lines = days.flatMap((count, m) =>
    Array.from({ length: count * 24 }, (_, i) => {
      const hour = i % 24;
      const cells = new Array<string | number>(35).fill(0);
      cells.splice(0, 5, 2001, m + 1, Math.floor(i / 24) + 1, hour + 1, 60);
      cells[6] = warmAt(m + 1, hour);
      cells[13] = hour >= 10 && hour < 14 ? sunAt(m + 1) : 0;
      return cells.join(',');
    }),
  );
  return [...head, ...lines.slice(0, hours)].join('\r\n');
}
const faultOf = (text: string) => {
  try {
    readEpw(text);
  } catch (error) {
    if (error instanceof FaultError) return `${error.faults[0]?.path}: ${error.faults[0]?.message}`;
    throw error;
  }
  return null;
};

describe('a weather file', () => {
  test('four hours of 500 W/m2 a day are 2 kWh/m2 a day; the means and ends of temperature are those of its hours', () => {
    const climate = readEpw(
      epw(
        (month) => month * 100,
        (month, hour) => (hour < 12 ? -month : month),
      ),
    );
    expect(climate).toMatchObject({ place: 'Skerrow', latitude_deg: 57.2, longitude_deg: -6.4, elevation_m: 30 });
    expect(climate.globalHorizontal_kWh_m2_d[4]).toBe(2);
    expect(climate.meanTemp_C).toEqual(new Array(12).fill(0));
    expect([climate.low_C, climate.high_C]).toEqual([-12, 12]);
  });
  test('hours marked as not measured do not count', () => {
    const climate = readEpw(
      epw(
        (month) => (month === 6 ? 9999 : 250),
        () => 5,
      ),
    );
    // June has light only in hours that were not measured, the rest of its hours are dark.
    expect(climate.globalHorizontal_kWh_m2_d[5]).toBe(0);
    expect(climate.globalHorizontal_kWh_m2_d[0]).toBe(1);
  });
  test('what is no weather file, or half of one, says where', () => {
    expect(faultOf('part,label\n1,2')).toMatch(/^line 1: does not begin with LOCATION/);
    expect(faultOf('LOCATION,x')).toMatch(/^line 1: has no latitude/);
    expect(
      faultOf(
        epw(
          () => 100,
          () => 5,
          5000,
        ),
      ),
    ).toMatch(/^file: holds 5000 hours/);
    expect(
      faultOf(
        epw(
          () => Number.NaN,
          () => 5,
        ).replaceAll('NaN', ''),
      ),
    ).toMatch(/^line 19: lacks temperature or sun/);
  });
});

describe('a climate by latitude', () => {
  test('above the air at 43 degrees north on the 15th of April: 33.8 MJ/m2 (Duffie and Beckman, example 1.10.1)', () => {
    expect(aboveTheAir_kWh_m2_d(43, 4)).toBeCloseTo(33.8 / 3.6, 1);
  });
  test('summer is bright and warm in the half of the world where it is', () => {
    const north = estimateClimate(57);
    const south = estimateClimate(-35);
    expect(north.globalHorizontal_kWh_m2_d[5]).toBeGreaterThan(4);
    expect(north.globalHorizontal_kWh_m2_d[11]).toBeLessThan(1);
    expect(south.meanTemp_C[0]).toBeGreaterThan(south.meanTemp_C[6] ?? 99);
  });
  test('a thousand metres up it is 6.5 K colder, and the design low lies below every month', () => {
    const [low, high] = [estimateClimate(46), estimateClimate(46, 1000)];
    expect((low.meanTemp_C[0] ?? 0) - (high.meanTemp_C[0] ?? 0)).toBeCloseTo(6.5, 0);
    for (const lat of [-80, -40, 0, 40, 80]) {
      const { recordLow_C, recordHigh_C, meanTemp_C } = estimateClimate(lat, 300);
      expect(recordLow_C).toBeLessThan(Math.min(...meanTemp_C) - 10);
      expect(recordHigh_C).toBeGreaterThan(Math.max(...meanTemp_C) + 10);
    }
  });
  test('it is dark in the polar night', () => {
    expect(estimateClimate(80).globalHorizontal_kWh_m2_d[11]).toBe(0);
  });
});

describe('where the sun stands', () => {
  test('the reference of the solar position algorithm: 2003-10-17 19:30:30 UT, zenith 50.111, azimuth 194.340', () => {
    const { zenith_deg, azimuth_deg } = sunPosition(39.742476, -105.1786, Date.UTC(2003, 9, 17, 19, 30, 30), 1830.14);
    expect(Math.abs(zenith_deg - 50.111)).toBeLessThan(0.05);
    expect(Math.abs(azimuth_deg - 194.34)).toBeLessThan(0.05);
  });
  test('overhead at noon on the tropic at midsummer; in the south at noon north of it, in the north south of it', () => {
    const noon = Date.UTC(2026, 5, 21, 12, 2);
    expect(sunPosition(23.44, 0, noon).zenith_deg).toBeLessThan(0.5);
    expect(Math.abs(sunPosition(57, 0, noon).azimuth_deg - 180)).toBeLessThan(1.5);
    const south = sunPosition(-35, 0, noon).azimuth_deg;
    expect(Math.min(south, 360 - south)).toBeLessThan(1.5);
  });
  test('at midnight in the polar summer it is up, in the polar winter it is not', () => {
    expect(sunPosition(80, 0, Date.UTC(2026, 5, 21)).zenith_deg).toBeLessThan(90);
    expect(sunPosition(80, 0, Date.UTC(2026, 11, 21, 12)).zenith_deg).toBeGreaterThan(90);
  });
});
