// `npm run release`: one archive with the server, the web app and the command line, and no packages of development.
import { cpSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { CLI_BUNDLE, ensureBuilt, SERVER, WEB_ROOT } from './build.mjs';
import { ensurePackages, must, ROOT, runMain, say, WORK } from './steps.mjs';

const json = (path) => JSON.parse(readFileSync(join(ROOT, path), 'utf8'));

runMain(async () => {
  await ensurePackages();
  await ensureBuilt();
  const { version, license, engines } = json('package.json');
  const name = `true-lantern-${version}-${process.platform}-${process.arch}`;
  const folder = join(WORK, 'release', name);
  rmSync(join(WORK, 'release'), { recursive: true, force: true });
  mkdirSync(join(folder, 'server'), { recursive: true });
  for (const file of ['main.mjs', 'worker.mjs']) cpSync(join(SERVER, '..', file), join(folder, 'server', file));
  cpSync(WEB_ROOT, join(folder, 'web'), { recursive: true });
  cpSync(join(ROOT, 'tools', 'release-start.mjs'), join(folder, 'start.mjs'));
  for (const file of ['LICENSE', 'CHANGELOG.md', 'SECURITY.md', '.env.example', 'docs/server.md', 'docs/glossary.md'])
    cpSync(join(ROOT, file), join(folder, file.replace('docs/', '')));
  const { build } = await import('esbuild');
  await build({ ...CLI_BUNDLE, outfile: join(folder, 'lantern.cjs') });
  // The command line reads the plates of photos with packages of its own.
  const dependencies = { ...json('cli/package.json').dependencies, ...json('server/package.json').dependencies };
  const ours = (name) => name.startsWith('@true-lantern/');
  await build({
    entryPoints: [join(ROOT, 'tools/backup.ts')],
    outfile: join(folder, 'tools', 'backup.mjs'),
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    mainFields: ['module', 'main'],
    external: Object.keys(dependencies).filter((name) => !ours(name)),
    logLevel: 'error',
  });
  writeFileSync(
    join(folder, 'package.json'),
    `${JSON.stringify(
      {
        name: 'true-lantern',
        version,
        private: true,
        license,
        engines,
        type: 'module',
        scripts: {
          start: 'node start.mjs',
          backup: 'node tools/backup.mjs backup',
          restore: 'node tools/backup.mjs restore',
          lantern: 'node lantern.cjs',
        },
        // Our own packages are in the bundles; the others as they were tested, to the last digit.
        dependencies: Object.fromEntries(Object.entries(dependencies).filter(([name]) => !ours(name))),
      },
      null,
      2,
    )}\n`,
  );
  say('Fetching the packages that the server runs on ...');
  must('npm', ['install', '--omit=dev', '--no-audit', '--no-fund'], {
    what: 'Fetching the packages of the release',
    cwd: folder,
    log: 'release.log',
  });
  must('tar', ['-czf', `${name}.tar.gz`, name], { what: 'Packing the release', cwd: join(WORK, 'release') });
  const archive = join(WORK, 'release', `${name}.tar.gz`);
  say(`${archive} (${Math.round(statSync(archive).size / 1e6)} MB): unpack, write .env, npm start.`);
});
