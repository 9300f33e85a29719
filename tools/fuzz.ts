// `npm run fuzz -- [FILES] [SEED]`: as many files gone wrong as wanted, through the same test as in `npm test`.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

const [files = '20000', seed = String(Date.now() % 1e9)] = process.argv.slice(2);
console.log(`${files} files of seed ${seed}`);
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
