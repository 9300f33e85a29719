import { readdirSync, readFileSync } from 'node:fs';
import {
  check,
  checkSystemFile,
  eachPart,
  keyOf,
  modelOf,
  specify,
  systemSchema,
  type Finding,
  type Model,
  type System,
  type SpecLine,
} from '../src/index';

/** Every leaf of a part by its path. */
const leaves = (value: unknown, path: (string | number)[] = []): (string | number)[][] =>
  value !== null && typeof value === 'object'
    ? Object.entries(value).flatMap(([key, inner]) =>
        leaves(inner, [...path, Array.isArray(value) ? Number(key) : key]),
      )
    : [path];

function without(system: System, path: (string | number)[]): System {
  const copy = structuredClone(system);
  let at = copy as unknown as Record<string | number, unknown>;
  for (const step of path.slice(0, -1)) at = at[step] as Record<string | number, unknown>;
  at[path.at(-1) ?? ''] = null;
  return copy;
}

const folder = new URL('../../demo/sites/', `file://${__filename}`);
const sites = readdirSync(folder).filter((name) => name.endsWith('.lantern.json'));

/**
 * The rule of safety: what is not known never makes a verdict better without saying so. A finding that was over and
 * holds without some field rests on a default, and names it; or the field said that a danger was there at all.
 */
test.each(sites)('%s: no number that is taken away turns over into holds in silence', (name) => {
  const { file } = checkSystemFile(JSON.parse(readFileSync(new URL(name, folder), 'utf8')));
  const model = modelOf(file);
  const before = new Map(check(model).map((finding) => [keyOf(finding), finding]));
  const silent: string[] = [];
  for (const path of leaves(model.system)) {
    const system = without(model.system, path);
    if (!systemSchema.isValidSync(system, { strict: true })) continue;
    const changed: Model = { ...model, system };
    for (const finding of check(changed)) {
      const was = before.get(keyOf(finding));
      if (was?.verdict === 'over' && finding.verdict === 'holds' && !newlyAssumed(was, finding))
        silent.push(`${path.join('.')}: ${keyOf(finding)}`);
    }
  }
  expect(silent).toEqual([]);
});

const newlyAssumed = (was: Finding, now: Finding) => now.assumed.some((path) => !was.assumed.includes(path));

/**
 * The same of a specification: what is not known never asks less of a successor without naming the guess. Wattage that
 * a load asks for is the load's own affair: a load nobody counted asks for nothing.
 */
const LEAD = sites.filter((name) => /^(corrach|gannet)/.test(name));
test.each(LEAD)('%s: no number that is taken away asks less of a successor in silence', (name) => {
  const { file } = checkSystemFile(JSON.parse(readFileSync(new URL(name, folder), 'utf8')));
  const model = modelOf(file);
  const parts = eachPart(model.system).filter(
    ({ kind }) => kind === 'controllers' || kind === 'inverters' || kind === 'monitor',
  );
  const least = (of: Model, id: string) =>
    new Map(
      (specify(of, id)?.lines ?? [])
        .filter(({ test: kind, exact, field }) => kind === 'least' && exact !== null && field !== 'surge_s')
        .map((line): [string, SpecLine] => [`${line.field} ${line.rule}`, line]),
    );
  const before = new Map(parts.map(({ part }) => [part.id, least(model, part.id)]));
  const silent: string[] = [];
  for (const path of leaves(model.system)) {
    // What a part is, is not among what its successor is asked; loads and ends are what the asking is about.
    if (path[0] === 'loads' || path.at(-1) === 'controllerId') continue;
    const system = without(model.system, path);
    if (!systemSchema.isValidSync(system, { strict: true })) continue;
    for (const [id, lines] of before) {
      const now = least({ ...model, system }, id);
      for (const [key, was] of lines) {
        const line = now.get(key);
        // A line that is gone or cannot be said is no laxer line.
        if (!line || line.missing.length > 0 || (line.exact ?? 0) >= (was.exact ?? 0) * 0.999) continue;
        if (line.assumed.some((each) => !was.assumed.includes(each))) continue;
        silent.push(`${path.join('.')}: ${id} ${key}`);
      }
    }
  }
  expect(silent).toEqual([]);
});
