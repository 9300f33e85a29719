import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { faultsOf, modelOf, readSystemFile, type Model } from '@true-lantern/core';
import { MADE_UP } from '../core/src/faults/made-up';
import { makeCase, numbers } from '../core/test/made-faults';

/**
 * `npm run calibrate -- [cases] [from]`: how often a likeliest cause of such a chance is the true one, over made-up cases on
 * the demo's sites, the reference systems and the systems to practise on (docs/faults.md has the figures). Numbers from
 * 50,000 on are never tuned on.
 */

const [count = 2000, from = 50_000] = process.argv.slice(2).map(Number);
const FOLDERS = ['demo/sites', 'docs/format/reference'];

const models: Model[] = [
  ...FOLDERS.flatMap((folder) =>
    readdirSync(folder)
      .filter((name) => name.endsWith('.lantern.json'))
      .map((name) => modelOf(readSystemFile(readFileSync(join(folder, name), 'utf8')).file)),
  ),
  ...MADE_UP.map((file) => modelOf(file)),
];

/** Of what was said with about so much: how often, how often it was so, and the sum of what was said. */
interface Bin {
  cases: number;
  hits: number;
  said: number;
}
const bins = Array.from({ length: 10 }, (): Bin => ({ cases: 0, hits: 0, said: 0 }));
const tally = { cases: 0, first: 0, three: 0, threeSaid: 0, sound: 0, soundSeen: 0, brier: 0, ms: 0 };

for (let i = 0; tally.cases < count; i++) {
  const model = models[i % models.length];
  const made = model ? makeCase(model, null, numbers(from + i)) : null;
  if (!model || !made) continue;
  const began = performance.now();
  const { ranking } = faultsOf(model, made.readings, { chancesOnly: true });
  tally.ms += performance.now() - began;
  const isTrue = ({ hypothesis, subject, position }: (typeof ranking)[number]) =>
    hypothesis === made.truth.code &&
    subject === made.truth.subject &&
    JSON.stringify(position ?? null) === JSON.stringify(made.truth.position ?? null);
  const at = ranking.findIndex((one) => isTrue(one));
  const [best] = ranking;
  if (!best) continue;
  tally.cases += 1;
  if (at === 0) tally.first += 1;
  if (at >= 0 && at < 3) tally.three += 1;
  // What the ranking itself says of its first three: more than that nobody could be right by these readings.
  tally.threeSaid += ranking.slice(0, 3).reduce((sum, { probability }) => sum + probability, 0);
  if (made.truth.code === 'nothing-wrong') {
    tally.sound += 1;
    if (at === 0) tally.soundSeen += 1;
  }
  tally.brier += (best.probability - (at === 0 ? 1 : 0)) ** 2;
  const bin = bins[Math.min(9, Math.floor(10 * best.probability))];
  if (!bin) continue;
  bin.cases += 1;
  bin.hits += at === 0 ? 1 : 0;
  bin.said += best.probability;
  if (tally.cases % 250 === 0) console.error(`${tally.cases} of ${count}`);
}

const pct = (part: number, whole: number) => (whole > 0 ? `${((100 * part) / whole).toFixed(1)} %` : '-');
const { cases, first, three, threeSaid, sound, soundSeen, brier, ms } = tally;
console.log(`${cases} cases on ${models.length} systems, ${(ms / cases).toFixed(0)} ms each`);
console.log(
  `true cause first in ${pct(first, cases)}, among three in ${pct(three, cases)} (said: ${pct(threeSaid, cases)}); sound recognised in ${pct(soundSeen, sound)} of ${sound}; Brier ${(brier / cases).toFixed(3)}`,
);
for (const { cases: all, hits, said } of bins)
  if (all > 0) console.log(`said ${pct(said, all)} in ${all} cases: so in ${pct(hits, all)}`);
