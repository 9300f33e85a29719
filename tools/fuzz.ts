// `npm run fuzz -- [FILES] [SEED]`: as many files gone wrong as wanted, through the same test as in `npm test`; `verbs`: every question.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { fuzzVerbs } from './fuzz-verbs';

const words = process.argv.slice(2);
const verbs = words[0] === 'verbs';
const [files = verbs ? '500' : '20000', seed = String(Date.now() % 1e9)] = verbs ? words.slice(1) : words;
console.log(`${files} files of seed ${seed}`);
if (verbs) process.exit(fuzzVerbs(Number(files), Number(seed)) ? 0 : 1);
const { status } = spawnSync(
  'npx',
  ['--no-install', 'jest', '--selectProjects', 'core', '--testTimeout', '3600000', 'core/test/mutated-files.test.ts'],
  {
    cwd: join(import.meta.dirname, '..'),
    stdio: 'inherit',
    env: { ...process.env, FUZZ_FILES: files, FUZZ_SEED: seed },
  },
);
process.exit(status ?? 1);
