import type { Model, Reading } from '../src/index';
import { CAUSES } from '../src/faults/causes';
import type { Candidate, CauseCode } from '../src/faults/causes/cause';
import type { Field } from '../src/faults/field';
import { onePlace, SOC_FULL, type Place } from '../src/faults/grid';
import { readable } from '../src/faults/readable';
import { createEngine } from '../src/faults/engine';
import { createPredictor } from '../src/faults/predict';
import { createLedger } from '../src/ledger/ledger';
import { design_A, impOfRun_A } from '../src/power/design';
import { continuousDischarge_A } from '../src/power/discharge';
import { CONDITIONS, type Conditions } from '../src/readings/conditions';

/** Cases with a known cause: readings as a meter would show them, with errors that the ranking knows nothing about. */

/** Numbers from a seed, evenly between 0 and 1 (mulberry32). */
export function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const normal = (random: () => number) => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
const oneOf = <T>(list: readonly T[], random: () => number): T => list[Math.floor(random() * list.length)]!;

/** A case: what was read, and what is behind it. */
export interface Made {
  truth: Candidate;
  size: number | null;
  readings: Reading[];
}

/**
 * A case of a cause at a random place and size, with so many of the readings that bear on it and as many that do not.
 * @param code null: any cause, by how often it is met
 */
export function makeCase(model: Model, code: CauseCode | null, random: () => number, most = 12): Made | null {
  const engine = createEngine(model);
  const at: Conditions = {
    ...CONDITIONS,
    irradiance_W_m2: 500 + 500 * random(),
    irradianceBy: oneOf(['cell', 'meter', 'sky'] as const, random),
    ambient_C: 5 + 20 * random(),
    cell_C: 15 + 30 * random(),
  };
  const now_A = (id: string) => engine.charging.now_A(id, { at });
  const wanted = CAUSES.filter((cause) => cause.code !== 'misread' && (code === null || cause.code === code));
  const possible = wanted
    .map((cause) => ({ cause, all: cause.candidates(model, now_A) }))
    .filter(({ all }) => all.length > 0);
  if (possible.length === 0) return null;
  let draw = random() * possible.reduce((sum, { cause }) => sum + cause.prior, 0);
  const { all } = possible.find(({ cause }) => (draw -= cause.prior) < 0) ?? possible[0]!;
  const truth = oneOf(all, random);
  const { size, state } = oneOf(truth.sizes, random);
  const soc =
    truth.soc === 'full'
      ? oneOf(SOC_FULL, random)
      : truth.soc
        ? truth.soc[0] + (truth.soc[1] - truth.soc[0]) * random()
        : 0.2 + 0.75 * random();
  const io = createLedger(model);
  const place: Place = {
    gain: Math.max(-2, Math.min(2, normal(random))),
    cell_K: 2 * normal(random),
    soc,
    ohm: 0.75 + 0.58 * random(),
    load_A: 5 * random(),
  };
  const predictor = createPredictor(engine, onePlace(place));
  const rows = readable(model, at).filter(({ licensed }) => !licensed || truth.code === 'bond-fault' || random() < 0.1);
  const fields = rows.flatMap((row) => {
    // What flows is read beside it: of a cable and of the bank.
    const run = model.system.runs?.find(({ id }) => id === row.subject);
    const current_A = run
      ? (0.3 + 0.5 * random()) * (run.kind === 'pv' ? impOfRun_A(io, run) : design_A(io, run))
      : row.subject === model.system.bank?.id && row.quantity !== 'rest_V'
        ? -(0.3 + 0.4 * random()) * continuousDischarge_A(io)
        : undefined;
    const now = current_A !== undefined && Number.isFinite(current_A) ? { ...at, current_A } : at;
    const asked = { subject: row.subject, quantity: row.quantity, position: row.position, at: now, currentKnown: true };
    const base = predictor.field(asked, {});
    const field = predictor.field(asked, state);
    return base && field ? [{ row, base, field, now }] : [];
  });
  const bears = fields.filter(({ base, field }) => tells(base, field));
  const rest = fields.filter(({ base, field }) => !tells(base, field));
  const shuffled = <T>(list: T[]) =>
    list
      .map((one) => ({ one, by: random() }))
      .sort((a, b) => a.by - b.by)
      .map(({ one }) => one);
  const taken = [...shuffled(bears).slice(0, Math.ceil(most / 2)), ...shuffled(rest)].slice(0, most);
  const readings = taken.map(({ row, field, now }, i): Reading => ({
    id: `r${i}`,
    at: '2026-11-02T10:00:00Z',
    subject: row.subject,
    quantity: row.quantity,
    value: shown(field, random),
    ...(row.position ? { position: row.position } : {}),
    conditions: {
      irradiance_W_m2: at.irradiance_W_m2,
      irradianceBy: at.irradianceBy,
      cell_C: at.cell_C,
      ambient_C: at.ambient_C,
      ...(now.current_A === undefined ? {} : { current_A: now.current_A }),
    },
  }));
  return { truth, size, readings };
}

const tells = (base: Field, field: Field) =>
  base !== field &&
  (base.scale !== field.scale ||
    Math.abs(base.mu[0]! - field.mu[0]!) > 0.5 * Math.max(base.sigma[0]!, field.sigma[0]!));

/** What the meter shows: with a normal error of the predicted size; of a bound something well within it. */
function shown({ mu, sigma, scale }: Field, random: () => number): number {
  const [m, s] = [mu[0]!, sigma[0]!];
  if (scale === 'plain') return m + s * normal(random);
  if (scale === 'ratio') return m * Math.exp(s * normal(random));
  return scale === 'most' ? m * (0.3 + 0.6 * random()) : m * (1.5 + 20 * random());
}
