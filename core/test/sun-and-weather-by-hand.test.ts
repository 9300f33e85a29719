import {
  dailyDiffuse,
  globalHours,
  hourAngle,
  MEAN_DAYS,
  monthlyDiffuse,
  normal_W_m2,
  RAD,
  solarDay,
} from '../src/sun/day';
import { estimateClimate } from '../src/sun/estimate';
import { epwHead, readEpw } from '../src/sun/epw';
import { sunPosition } from '../src/sun/position';
import { aboveTheAir_kWh_m2_d, sunHours } from '../src/sun/tilted';

/** So high that no air is left to bend the light: the standard atmosphere's formula ends there. */
const NO_AIR_M = 44_330.7;

describe('the sun of a moment, by worked examples of the books', () => {
  const EXAMPLE = Date.UTC(1992, 9, 13);
  test('Meeus, example 25.a: declination -7.78507 on 1992 October 13.0; at the pole that is the depth below the horizon', () =>
    expect(sunPosition(90, 0, EXAMPLE).zenith_deg).toBeCloseTo(90 + 7.78507, 4));
  test('Meeus, example 28.b: the equation of time is 13.709 min; so the hour angle at 30 E is -146.573', () => {
    const { zenith_deg, azimuth_deg } = sunPosition(0, 30, EXAMPLE);
    expect(zenith_deg).toBeCloseTo(145.7809, 3);
    expect(azimuth_deg).toBeCloseTo(103.9381, 3);
  });
  // Without air; from an ephemeris of full accuracy (VSOP87), 0.01 degree of longitude and the parallax allowed for.
  test.each([
    [57.2, -6.4, Date.UTC(1952, 1, 3, 15), 79.479, 214.102],
    [57.2, -6.4, Date.UTC(1975, 4, 20, 6, 30), 72.35, 80.544],
    [-35, 150, Date.UTC(2001, 10, 2, 23), 41.708, 71.89],
    [10, 100, Date.UTC(2026, 7, 15, 3), 35.551, 79.76],
    [-60, -70, Date.UTC(2048, 2, 1, 18), 54.417, 339.127],
    [40, 20, Date.UTC(2049, 11, 30, 9), 67.5, 154.478],
  ])('at %d, %d', (latitude, longitude, at, zenith, azimuth) => {
    const sun = sunPosition(latitude, longitude, at, NO_AIR_M);
    expect(Math.abs(sun.zenith_deg - zenith)).toBeLessThan(0.015);
    expect(Math.abs(sun.azimuth_deg - azimuth)).toBeLessThan(0.02);
  });
  test('refraction at sea level by Saemundsson: 28.98 at the horizon, 9.67 at 5, 1.75 at 30 degrees, in minutes of arc', () => {
    // One moment, seen from latitudes where it stands at the height that is wanted.
    const at = Date.UTC(2026, 2, 10, 14, 46);
    const lift_min = (height: number) => {
      let [low, high] = [0, 90];
      const standing = (latitude: number) => 90 - sunPosition(latitude, -40, at, NO_AIR_M).zenith_deg;
      for (let i = 0; i < 60; i++) {
        const middle = (low + high) / 2;
        if (standing(middle) > height) low = middle;
        else high = middle;
      }
      return (90 - sunPosition(low, -40, at, 0).zenith_deg - standing(low)) * 60;
    };
    expect(lift_min(0)).toBeCloseTo(28.982, 2);
    expect(lift_min(1)).toBeCloseTo(21.744, 2);
    expect(lift_min(5)).toBeCloseTo(9.674, 2);
    expect(lift_min(30)).toBeCloseTo(1.746, 2);
    expect(lift_min(-0.59)).toBeGreaterThan(30);
    expect(lift_min(-0.61)).toBe(0);
  });
  test('at 5,477 m half of the air is below (1 - .5^(1/5.25588) of 44,331 m): half the refraction', () => {
    const zenith = (elevation: number) => sunPosition(60, 0, Date.UTC(2026, 2, 20, 9), elevation).zenith_deg;
    const whole = zenith(NO_AIR_M) - zenith(0);
    expect((zenith(NO_AIR_M) - zenith(5477)) / whole).toBeCloseTo(0.5, 2);
  });
  test('before 1970 the clock of the day runs forward too', () =>
    expect(sunPosition(0, 0, Date.UTC(1960, 2, 20, 12)).zenith_deg).toBeLessThan(3));
});

describe('the sun of a day, by Duffie and Beckman', () => {
  test('Klein’s mean days, counted from the first of January', () =>
    expect(MEAN_DAYS).toEqual([17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344]));
  test('above the air 1,412 W/m2 at the turn of the year, 1,322 in early July', () => {
    expect(normal_W_m2(1)).toBeCloseTo(1367 * 1.033, 0);
    expect(normal_W_m2(183)).toBeCloseTo(1367 * 0.967, 0);
  });
  test('example 1.6.1: declination -14 on 13 February; sunset at 43 N by -tan phi tan delta', () => {
    const day = solarDay(43, 44);
    expect(Math.asin(day.sinDelta) / RAD).toBeCloseTo(-13.95, 1);
    expect(Math.cos(day.sunset)).toBeCloseTo(Math.tan(43 * RAD) * Math.tan(13.95 * RAD), 2);
  });
  test.each([
    [0.2, 0.96285, 0.96117],
    [0.5, 0.56884, 0.60828],
    [0.7, 0.16407, 0.23571],
    [0.714, 0.14364, 0.20682],
    [0.716, 0.143, 0.20267],
    [0.723, 0.143, 0.175],
  ])('Erbs by the day, clearness %d: %d in the short day, %d in the long', (k, short, long) => {
    expect(dailyDiffuse(k, 81.3 * RAD)).toBeCloseTo(short, 3);
    expect(dailyDiffuse(k, 81.5 * RAD)).toBeCloseTo(long, 3);
  });
  test.each([
    [0.3, 0.64231, 0.66366],
    [0.5, 0.39113, 0.42913],
    [0.8, 0.12982, 0.15433],
    [0.1, 0.64231, 0.66366],
    [0.9, 0.12982, 0.15433],
  ])('Erbs by the month, clearness %d: %d and %d, held within .3 and .8', (k, short, long) => {
    expect(monthlyDiffuse(k, 81.3 * RAD)).toBeCloseTo(short, 4);
    expect(monthlyDiffuse(k, 81.5 * RAD)).toBeCloseTo(long, 4);
  });
  test('the middle of the hour after noon stands at 7.5 degrees, of the first at -172.5', () => {
    expect(hourAngle(12) / RAD).toBeCloseTo(7.5, 9);
    expect(hourAngle(0) / RAD).toBeCloseTo(-172.5, 9);
  });
  test('a and b at sunset angles of 60, 90 and 120 degrees', () =>
    expect([60, 90, 120].flatMap((degrees) => globalHours(degrees * RAD)).map((x) => Number(x.toFixed(4)))).toEqual([
      0.409, 0.6609, 0.6598, 0.4226, 0.8434, 0.2481,
    ]));
  test('on a level plane falls what falls on the level, whatever its azimuth', () => {
    for (const month of [1, 6, 12])
      expect(sunHours({ latitude_deg: 45, tilt_deg: 0, azimuth_deg: 77 }, month, 2)).toBeCloseTo(2, 2);
  });
  test('a wall lit from the ground alone: a fifth of the level, half of it seen, and half of the sky', () => {
    // Facing away from the sun in December at 60 N no beam meets it; overcast: all is diffuse but Erbs' least share.
    const wall = sunHours({ latitude_deg: 60, tilt_deg: 90, azimuth_deg: 0 }, 12, 0.1);
    expect(wall).toBeGreaterThan(0.1 * 0.2 * 0.5 + 0.1 * 0.6 * 0.5 * 0.5);
    expect(wall).toBeLessThan(0.1 * 0.2 * 0.5 + 0.1 * 0.8 * 0.5);
  });
  test('no light: none; the polar night: none', () => {
    expect(sunHours({ latitude_deg: 45, tilt_deg: 30, azimuth_deg: 180 }, 6, 0)).toBe(0);
    expect(sunHours({ latitude_deg: 80, tilt_deg: 30, azimuth_deg: 180 }, 12, 1)).toBe(0);
  });
});

describe('a climate by latitude, row by row', () => {
  /** Our own table: degrees from the equator, mean of the year, half the swing, clearness, its swing. */
  test.each([
    [0, 27, 1, 0.5, 0],
    [10, 26, 2.5, 0.53, 0],
    [20, 25, 4, 0.56, 0.01],
    [30, 20, 7, 0.56, 0.03],
    [40, 14, 9, 0.5, 0.05],
    [50, 9, 9, 0.42, 0.052],
    [60, 3, 10, 0.4, 0.054],
    [70, -7, 14, 0.4067, 0.056],
    [90, -22, 16, 0.42, 0.06],
  ])('at %d degrees: %d degC, +-%d K', (latitude, mean, swing, clearness, clearer) => {
    const { meanTemp_C, globalHorizontal_kWh_m2_d } = estimateClimate(latitude);
    expect(meanTemp_C.reduce((sum, value) => sum + value, 0) / 12).toBeCloseTo(mean, 1);
    // The year's warmest is 7.3 months in: July stands 0.3 months before it, January 0.3 months before the coldest.
    const half = ((meanTemp_C[6] ?? 0) - (meanTemp_C[0] ?? 0)) / 2;
    expect(Math.abs(half - swing * Math.cos(0.05 * Math.PI))).toBeLessThan(0.11);
    const june = (globalHorizontal_kWh_m2_d[5] ?? 0) / aboveTheAir_kWh_m2_d(latitude, 6);
    expect(Math.abs(june - clearness - clearer * Math.cos((0.7 / 6) * Math.PI))).toBeLessThan(0.006);
  });
  test('the design low is 20 K below the coldest month and the high 16 K above the warmest, in whole degrees', () => {
    const { recordLow_C, recordHigh_C, meanTemp_C } = estimateClimate(50);
    expect(recordLow_C).toBe(Math.floor(Math.min(...meanTemp_C) - 20));
    expect(recordHigh_C).toBe(Math.ceil(Math.max(...meanTemp_C) + 16));
  });
  test('south of the equator July is the winter', () => {
    const [north, south] = [estimateClimate(40), estimateClimate(-40)];
    expect(south.meanTemp_C[0]).toBe(north.meanTemp_C[6]);
  });
});

describe('a weather file, at its edges', () => {
  const head = (place: string, latitude = '57.2', longitude = '-6.4', elevation = '30.0') =>
    `LOCATION,${place},-,-,made-up,000000,${latitude},${longitude},0.0,${elevation}`;
  const fault = (text: string) => {
    try {
      epwHead(text);
      return null;
    } catch (error) {
      return (error as Error).message;
    }
  };
  test('a latitude, longitude or elevation beyond the earth is refused, the last on it is not', () => {
    expect(epwHead(head('Skerrow', '-90', '180', '9999'))).toMatchObject({ latitude_deg: -90, longitude_deg: 180 });
    expect(fault(head('Skerrow', '91'))).toMatch(/latitude/);
    expect(fault(head('Skerrow', '-90.1'))).toMatch(/latitude/);
    expect(fault(head('Skerrow', '57', '181'))).toMatch(/longitude/);
    expect(fault(head('Skerrow', '57', '-181'))).toMatch(/longitude/);
    expect(fault(head('Skerrow', '57', '-6', '10000'))).toMatch(/elevation/);
    expect(fault(head('Skerrow', ' '))).toMatch(/latitude/);
  });
  const hour = (month: number, light: number | string, warm: number | string) => {
    const cells = new Array<string | number>(35).fill(0);
    cells[1] = month;
    cells[6] = warm;
    cells[13] = light;
    return cells.join(',');
  };
  const year = (change: (lines: string[]) => void, light = 100) => {
    const days = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
    const hours = days.flatMap((count, m) => Array.from({ length: count * 24 }, () => hour(m + 1, light, 10)));
    change(hours);
    return [head('Skerrow'), ...new Array<string>(7).fill('HEADER'), ...hours].join('\n');
  };
  test('9998 is light and 9999 is none; 99.8 degC is warmth and 99.9 is none', () => {
    const one = readEpw(year((lines) => (lines[0] = hour(1, 9998, 99.8))));
    expect(one.globalHorizontal_kWh_m2_d[0]).toBeCloseTo(2.4 + ((9998 - 100) / 744) * 0.024, 2);
    expect(one.high_C).toBe(99.8);
    const none = readEpw(year((lines) => (lines[0] = hour(1, 9999, 99.9))));
    expect(none.globalHorizontal_kWh_m2_d[0]).toBe(2.4);
    expect([none.low_C, none.high_C]).toEqual([10, 10]);
  });
  test('a month without any sun or warmth measured is no year', () => {
    const without = (light: number, warm: number) =>
      year((lines) => lines.forEach((line, i) => line.startsWith('0,3,') && (lines[i] = hour(3, light, warm))));
    expect(() => readEpw(without(9999, 10))).toThrow(/whole year/);
    expect(() => readEpw(without(100, 99.9))).toThrow(/whole year/);
    expect(() => readEpw(without(0, 10))).not.toThrow();
  });
  test('month 0 and month 13 are none; an hour short is no year', () => {
    expect(() => readEpw(year((lines) => (lines[5] = hour(0, 1, 1))))).toThrow(/line 14/);
    expect(() => readEpw(year((lines) => (lines[5] = hour(13, 1, 1))))).toThrow(/no month/);
    expect(() => readEpw(year((lines) => void lines.pop()))).toThrow(/8759/);
    expect(() => readEpw(year((lines) => (lines[7] = hour(1, '', 1))))).toThrow(/lacks/);
    expect(() => readEpw(year((lines) => (lines[7] = hour(1, 1, ''))))).toThrow(/lacks/);
  });
});
