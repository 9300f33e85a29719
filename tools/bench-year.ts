import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Model } from '@true-lantern/core';
import { runYear } from '@true-lantern/core/year/loop';
import { yearPlan } from '@true-lantern/core/year/setup';
import { emptyGiven, emptyRun, SUM_COUNT } from '@true-lantern/core/year/run';
import { sunSeen } from '@true-lantern/core/sun/sky';
import { Sky } from '@true-lantern/core/year/sky-to-bus';
import { climateOf, seededWeather } from '@true-lantern/core/sun/weather';
import { YearSimulator } from '@true-lantern/core/year/year';

/**
 * What a year costs: ours against a plain C program of the same loop in one run, 200 years on one core, and whether the
 * thousandth costs what the first one did.
 */
export function benchYear(model: Model, name: string): [what: string, measured: string, target: string][] {
  const climate = climateOf(model);
  const plan = yearPlan(model, climate);
  const weather = seededWeather(climate, 1).year(0);
  const sky = new Sky(plan);
  const given = emptyGiven();
  const start = emptyRun(plan);
  const run = emptyRun(plan);
  const one = () => {
    sky.write(weather, given);
    start.store_Wh = plan.bank.capacity_Wh;
    start.off = false;
    start.generating = false;
    runYear(plan, given, start);
    run.store_Wh = start.store_Wh;
    run.off = start.off;
    run.generating = start.generating;
    runYear(plan, given, run, null, start);
  };
  const each = (count: number, act: () => void) => {
    const from = performance.now();
    for (let i = 0; i < count; i++) act();
    return (performance.now() - from) / count;
  };
  each(60, one);
  const ours = Math.min(each(100, one), each(100, one), each(100, one));
  const rows: [string, string, string][] = [];
  const plainC = inC();
  rows.push(
    plainC === null
      ? [`one year of ${name}, sky once, bank twice`, `${ours.toFixed(2)} ms`, 'no gcc here: not compared with C']
      : [
          `one year of ${name}, sky once, bank twice (${(ours / plainC.ms).toFixed(2)} x a plain C program, totals ${plainC.off} apart)`,
          `${ours.toFixed(2)} ms`,
          'within 1.5 x',
        ],
  );
  const from = performance.now();
  const simulator = new YearSimulator(model, { kind: 'seeded', seed: 1 });
  for (let i = 0; i < 200; i++) simulator.year(i);
  rows.push([
    `200 seeded years of ${name} on one core, from nothing`,
    `${(performance.now() - from).toFixed(0)} ms`,
    'under 1 s',
  ]);
  const many = new YearSimulator(model, { kind: 'seeded', seed: 2 });
  let at = 0;
  const next = () => void many.year(at++);
  const first = each(100, next);
  each(800, next);
  const last = each(100, next);
  rows.push([
    `a year among the last of 1,000 (${(last / first).toFixed(2)} x the first)`,
    `${last.toFixed(2)} ms`,
    'flat',
  ]);
  return rows;

  /** The same in C; null where there is no compiler. */
  function inC(): { ms: number; off: string } | null {
    if (spawnSync('gcc', ['--version']).status !== 0) return null;
    const folder = mkdtempSync(join(tmpdir(), 'year-'));
    try {
      const binary = join(folder, 'year');
      execFileSync('gcc', ['-O2', '-o', binary, join(import.meta.dirname, 'year.c'), '-lm']);
      writeFileSync(join(folder, 'plan'), new Uint8Array(planned().buffer));
      const result = JSON.parse(execFileSync(binary, [join(folder, 'plan'), '300'], { encoding: 'utf8' })) as {
        ms: number;
        totals: number[];
      };
      one();
      const sums = Array.from({ length: SUM_COUNT }, (_, i) =>
        Array.from({ length: 12 }, (_, month) => run.sums[month * SUM_COUNT + i] ?? 0).reduce((a, b) => a + b, 0),
      );
      const off = Math.max(
        ...sums.map((sum, i) => Math.abs(sum - (result.totals[i] ?? 0)) / Math.max(1, Math.abs(sum))),
      );
      return { ms: result.ms, off: `${(100 * off).toExponential(0)} %` };
    } finally {
      rmSync(folder, { recursive: true });
    }
  }

  function planned(): Float64Array {
    const { demand, bank, generator } = plan;
    const flat: number[] = [];
    const put = (...values: ArrayLike<number>[]) => values.forEach((list) => flat.push(...Array.from(list)));
    const n = (value: number | boolean) => flat.push(Number(value));
    put(weather.ghi, weather.dhi, weather.temp_C, weather.up, weather.north, weather.east, weather.normal_W_m2);
    put(sunSeen(weather, plan.horizon), given.engine_W, given.driving, given.factor, given.most_A);
    const members = plan.groups.flatMap((group, g) => group.members.map((member) => ({ ...member, g })));
    n(plan.float_V);
    n(plan.groups.length);
    n(plan.arrays.length);
    n(members.length);
    put(
      plan.groups.map(({ most_W }) => most_W),
      members.map(({ g }) => g),
      members.map(({ cable_ohm }) => cable_ohm),
    );
    plan.arrays.forEach((array, i) => {
      const { tilt_deg, azimuth_deg, heat_K_m2_W, cable_ohm, vmp_V, efficiency, table } = array;
      put([tilt_deg, azimuth_deg, heat_K_m2_W, cable_ohm, vmp_V, efficiency]);
      n(members.findIndex((member) => member.arrays.includes(i)));
      put(table.watts);
    });
    n(demand.priorities.length);
    put(demand.bank_W, demand.carriedBank_W, demand.carried_W);
    put([
      demand.idle_W,
      demand.self_W,
      bank.capacity_Wh,
      bank.efficiency,
      bank.absorb_V,
      bank.tail_A,
      bank.largest_A,
      bank.selfDischarge,
    ]);
    put([bank.depth, bank.cut, bank.restart]);
    n(bank.lithium);
    n(bank.protectedFromCold);
    n(generator !== null);
    put([generator?.rated_W ?? 0, generator?.start ?? 0, generator?.stop ?? 0]);
    n(generator?.autoStart ?? false);
    put(generator?.quiet ?? new Uint8Array(24));
    n(generator?.chargers.length ?? 0);
    put(
      generator?.chargers.map(({ most_W }) => most_W) ?? [],
      generator?.chargers.map(({ efficiency }) => efficiency) ?? [],
    );
    put(plan.occupied.map(Number));
    return Float64Array.from(flat);
  }
}
