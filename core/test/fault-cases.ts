import { readFileSync } from 'node:fs';
import { modelOf, readSystemFile } from '../src/index';
import type { CauseCode } from '../src/faults/causes/cause';
import { faultsOf } from '../src/faults/faults';
import { makeCase, numbers } from './made-faults';

/** Run by itself, as one file: cases by code, site and seed in; what was found out. Jest would take ten times as long. */
const [folder = '', asked = '[]'] = process.argv.slice(2);
const cases = JSON.parse(asked) as [CauseCode, string, number][];
const answers = cases.map(([code, site, seed]) => {
  const model = modelOf(readSystemFile(readFileSync(`${folder}/${site}.lantern.json`, 'utf8')).file);
  const made = makeCase(model, code, numbers(seed), 10);
  if (!made) return null;
  const { ranking, next } = faultsOf(model, made.readings);
  const [first] = ranking;
  return {
    first: first && { hypothesis: first.hypothesis, subject: first.subject },
    truth: { hypothesis: code, subject: made.truth.subject },
    sum: ranking.reduce((all, { probability }) => all + probability, 0),
    leastGain: Math.min(0, ...next.map(({ gain_bits }) => gain_bits)),
  };
});
process.stdout.write(JSON.stringify(answers));
