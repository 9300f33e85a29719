import { arrayCurve } from '../src/pv/array-curve';
import { groupsOf, type Standing } from '../src/pv/curve';
import { fit, lit } from '../src/pv/diode';
import { sharing } from '../src/bank/resistance';
import { createLedger } from '../src/ledger/ledger';
import { spice } from './spice';
import type { Model, ModuleType } from '../src/index';

/** Made-up modules of four kinds: 36, 60 and 72 cells, half-cut. */
const M100 = module({ id: 'm100', pmax_W: 100, voc_V: 22.3, isc_A: 5.86, vmp_V: 18.4, imp_A: 5.44, cells: 36 });
const M250 = module({
  id: 'm250',
  pmax_W: 250,
  voc_V: 37.6,
  isc_A: 8.75,
  vmp_V: 30.6,
  imp_A: 8.17,
  cells: 60,
  betaVoc_pct_C: -0.33,
});
const M310 = module({ id: 'm310', pmax_W: 310, voc_V: 45.1, isc_A: 8.96, vmp_V: 36.8, imp_A: 8.42, cells: 72 });
const M405 = module({
  id: 'm405',
  pmax_W: 405,
  voc_V: 37.1,
  isc_A: 13.85,
  vmp_V: 31.2,
  imp_A: 12.98,
  cells: 108,
  halfCut: true,
  betaVoc_pct_C: -0.27,
});

function module(plate: Partial<ModuleType> & { id: string }): ModuleType {
  return { betaVoc_pct_C: -0.3, alphaIsc_pct_C: 0.05, ...plate } as ModuleType;
}
const at = (of: ModuleType, light = 1, cell_C = 25): Standing => ({
  module: of,
  irradiance_W_m2: 1000 * light,
  cell_C,
});
const row = (of: ModuleType, lights: number[], cell_C = 25) => lights.map((light) => at(of, light, cell_C));

const KELVIN = 273.15;
const K_PER_Q = 8.617333262e-5;

/** Every cell group as a source, a diode, a shunt and a series resistance, with its bypass diode across. */
function netlist(strings: Standing[][], cell_C: number): string[] {
  const vt = K_PER_Q * (cell_C + KELVIN);
  const lines = [`.options temp=${cell_C} tnom=${cell_C} gmin=1e-14 reltol=1e-6 abstol=1e-10 itl1=500 itl2=200`];
  const bypass_A = 10 / Math.expm1(0.5 / (K_PER_Q * 298.15));
  lines.push(`.model by d(is=${bypass_A} n=1)`);
  strings.forEach((string, s) => {
    const groups = string.flatMap((standing) => {
      const one = lit(fit(standing.module), standing.irradiance_W_m2, standing.cell_C);
      return Array.from({ length: groupsOf(standing.module) }, () => ({ one, count: groupsOf(standing.module) }));
    });
    groups.forEach(({ one, count }, g) => {
      const name = `${s}_${g}`;
      const minus = g === 0 ? '0' : `n${s}_${g - 1}`;
      const plus = g === groups.length - 1 ? 'top' : `n${s}_${g}`;
      lines.push(
        `i${name} ${minus} j${name} ${one.light_A}`,
        `.model d${name} d(is=${one.saturation_A} n=${one.a_V / count / vt})`,
        `d${name} j${name} ${minus} d${name}`,
        `rp${name} j${name} ${minus} ${1 / (one.shunt_S * count)}`,
        `rs${name} j${name} ${plus} ${Math.max(1e-9, one.series_ohm / count)}`,
        `db${name} ${minus} ${plus} by`,
      );
    });
  });
  return lines;
}

const ARRAYS: [name: string, strings: Standing[][], cell_C: number][] = [
  ['one module', [row(M310, [1])], 25],
  ['three in series, hot', [row(M310, [1, 1, 1], 62)], 62],
  ['two strings of two, cold', [row(M250, [1, 1], -20), row(M250, [1, 1], -20)], -20],
  ['four strings of two, dim', Array.from({ length: 4 }, () => row(M100, [0.2, 0.2])), 25],
  ['half-cut, two strings of three', [row(M405, [1, 1, 1], 45), row(M405, [1, 1, 1], 45)], 45],
  ['one of three shaded', [row(M310, [1, 0.3, 1])], 25],
  ['two of four shaded unlike', [row(M250, [1, 0.6, 0.15, 1], 50)], 50],
  ['one module dark', [row(M310, [1, 0, 1], 40)], 40],
  ['a shaded string beside a bright one', [row(M250, [1, 1, 1]), row(M250, [1, 0.3, 0.3])], 25],
  [
    'three by four, shade walking',
    [row(M310, [1, 0.3, 1], 45), row(M310, [1, 1, 1], 45), row(M310, [1, 1, 0.05], 45), row(M310, [1, 1, 1], 45)],
    45,
  ],
  ['unlike modules in one string', [[at(M310), at(M250), at(M310)]], 25],
  [
    'unlike strings side by side',
    [
      [at(M310), at(M310)],
      [at(M250), at(M250)],
    ],
    25,
  ],
  ['a short string beside a long one takes current in', [[at(M250), at(M250)], [at(M250)]], 25],
];

describe.each(ARRAYS)('%s, against a circuit simulator', (_, strings, cell_C) => {
  const curve = arrayCurve(strings);
  const open = curve.points.at(-1)?.v ?? 0;
  const points = spice(netlist(strings, cell_C).concat('vt top 0 0'), [
    `dc vt 0 ${open} ${open / 200}`,
    'wrdata out.txt i(vt)',
  ]);
  test('agrees within a hundredth of Isc everywhere', () => {
    const isc = Math.max(...points.map(([, i = 0]) => Math.abs(i)));
    expect(points.length).toBeGreaterThan(190);
    const worst = Math.max(...points.map(([v = 0, i = 0]) => Math.abs(curve.currentAt(v) - i)));
    expect(worst / isc).toBeLessThan(0.002);
  });
  test('its best point is the simulator\u2019s', () => {
    const best = Math.max(...points.map(([v = 0, i = 0]) => v * i));
    expect(curve.best.p / best).toBeGreaterThan(0.9995);
    expect(curve.best.p / best).toBeLessThan(1.003);
  });
});

/** Sixteen 6 V blocks of 225 Ah as four strings of four, joined by 0.3 m of 35 mm2. */
const bankOf = (tapping: string, parallel: number) => ({
  site: { name: 'x' },
  schools: {},
  evidence: {},
  system: {
    bank: {
      id: 'b',
      chemistry: 'flooded',
      block_V: 6,
      blockCapacity_Ah: 225,
      series: 4,
      parallel,
      tapping,
      link: { length_m: 0.3, size: '35mm2' },
    },
  },
});

describe('sharing between battery strings, against a circuit simulator', () => {
  // By hand: 3 cells x 0.12 / 225 = 1.6 mohm a block; a link 0.3 m x 0.554 mohm/m x 1.1179 at 50 degC, and its two lugs 0.10.
  const link = 0.3 * 0.554e-3 * (1 + 0.00393 * 30) + 0.1e-3;
  const string = 4 * 1.6e-3 + 3 * link;
  test.each([
    ['same-end', 2],
    ['same-end', 4],
    ['opposite-ends', 3],
    ['opposite-ends', 4],
    ['busbar', 4],
  ] as const)('%s, %d strings', (tapping, parallel) => {
    const net = Array.from({ length: parallel }, (_, i) => [
      `v${i} p${i} x${i} 24`,
      `r${i} x${i} m${i} ${string}`,
      ...(i === 0
        ? []
        : [
            `rp${i} p${i - 1} p${i} ${tapping === 'busbar' ? 1e-9 : link}`,
            `rm${i} m${i - 1} m${i} ${tapping === 'busbar' ? 1e-9 : link}`,
          ]),
    ]).flat();
    const end = tapping === 'opposite-ends' ? parallel - 1 : 0;
    const points = spice(net.concat(`iload p0 m${end} 100`, 'rg m0 0 1e-6'), [
      'dc iload 100 200 100',
      `wrdata out.txt ${Array.from({ length: parallel }, (_, i) => `i(v${i})`).join(' ')}`,
    ]);
    const [, ...simulated] = points[0] ?? [];
    const model = bankOf(tapping, parallel) as unknown as Model;
    const io = createLedger(model);
    const { shares, worst } = sharing(io, model.system.bank!);
    expect(shares).toHaveLength(parallel);
    shares.forEach((share, i) => expect(share).toBeCloseTo(Math.abs(simulated[i] ?? 0) / 100, 5));
    expect(worst).toBeCloseTo((Math.max(...simulated.map(Math.abs)) / 100) * parallel, 4);
  });
});
