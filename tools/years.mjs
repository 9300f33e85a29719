// `npm run -s years -- FOLDER`: bundles the tool first, since a thread of its own takes no TypeScript.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePackages, ROOT, runMain, WORK } from './steps.mjs';

runMain(async () => {
  await ensurePackages();
  const { build } = await import('esbuild');
  const outfile = join(WORK, 'years.mjs');
  await build({
    entryPoints: [join(ROOT, 'tools/years.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // A package's own modules before what it makes for older loaders, which cannot be bundled.
    mainFields: ['module', 'main'],
    logLevel: 'warning',
  });
  const { status } = spawnSync(process.execPath, [outfile, ...process.argv.slice(2)], { stdio: 'inherit' });
  process.exit(status ?? 1);
});
