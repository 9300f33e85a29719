// Runs a TypeScript tool after seeing to it that the packages are there: `node tools/run.mjs tools/bench.ts`.
import { spawnSync } from 'node:child_process';
import { DEBIAN, ensureDebian, ensurePackages, ROOT, runMain } from './steps.mjs';

runMain(async () => {
  await ensurePackages();
  const [tool, ...args] = process.argv.slice(2);
  if (tool === 'tools/shots.ts') await ensureDebian(DEBIAN.chromium);
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', tool, ...args], { cwd: ROOT, stdio: 'inherit' });
  process.exit(status ?? 1);
});
