// `npm run fuzz -- verbs [FILES] [SEED]`: every question of the engine on files gone wrong; none may take 5 s, none may fall over.
import { DEMO_SHELF } from '../demo/shelf';
import { filesIn, mutated, numbers, openedOrRefused } from '../core/test/mutated-files';
import {
  aspectsOf,
  checkWithRemedies,
  convert,
  eachPart,
  flips,
  headroom,
  interim,
  partsListOf,
  layouts,
  presentModules,
  raiseVoltage,
  specify,
  systemFigures,
  wholeConversion,
  withSystem,
  applyChanges,
  type Model,
  type SystemFile,
} from '@true-lantern/core';

const MOST_MS = 5000;
const folder = 'demo/sites';
const sound = filesIn(folder).map(([, file]) => file);

const VERBS: Record<string, (model: Model) => unknown> = {
  check: checkWithRemedies,
  flips: (model) => flips(model),
  headroom: (model) => headroom(model),
  layouts: (model) => layouts(model, (presentModules(model)?.count ?? 1) + 1),
  convert(model) {
    const [best] = convert(model).options;
    if (!best) return null;
    const whole = wholeConversion(model, best, DEMO_SHELF);
    return partsListOf(
      model.system,
      withSystem(model, applyChanges(model.system, { changes: whole.changes })).system,
      [],
    );
  },
  interim,
  voltage: (model) => raiseVoltage(model, 48),
  systemFigures,
  replace: (model) =>
    eachPart(model.system).map(({ kind, part }) => aspectsOf(kind).map((aspect) => specify(model, part.id, aspect))),
};

/** Puts files gone wrong through every verb of the command line. True where each ended as the book says. */
export function fuzzVerbs(files: number, seed: number): boolean {
  const next = numbers(seed);
  const slowest = new Map(Object.keys(VERBS).map((name) => [name, { ms: 0, file: -1 }]));
  let judged = 0;
  let wrong = 0;
  for (let n = 0; n < files; n++) {
    const file = mutated(sound[n % sound.length] as SystemFile, next);
    const model = openedOrRefused(file);
    if (!model) continue;
    judged++;
    for (const [name, act] of Object.entries(VERBS)) {
      const from = performance.now();
      try {
        act(model);
      } catch (error) {
        wrong++;
        console.log(`file ${n}, ${name}: ${(error as Error).stack?.slice(0, 400)}`);
      }
      const ms = performance.now() - from;
      if (ms > (slowest.get(name)?.ms ?? 0)) slowest.set(name, { ms, file: n });
      if (ms > MOST_MS) {
        wrong++;
        console.log(`file ${n}, ${name}: ${Math.round(ms)} ms`);
      }
    }
  }
  console.log(`${files} files, ${judged} of them judged; the slowest of each:`);
  for (const [name, { ms, file }] of slowest) console.log(`  ${name}: ${Math.round(ms)} ms (file ${file})`);
  return wrong === 0;
}
