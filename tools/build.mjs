import { copyFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { fingerprint, mustInTime, ROOT, say, stamp, stamped } from './steps.mjs';

export const WEB_ROOT = join(ROOT, 'client', 'dist');
export const SERVER = join(ROOT, 'server', 'dist', 'main.mjs');
export const DEMO = join(ROOT, 'server', 'dist', 'demo.mjs');

/** The made-up people's address and password: given to a server that is started as the demo, and to no other. */
export const SIGN_IN = join(ROOT, 'demo', 'sign-in.json');

/** The command line as one file: what `npm run lantern` keeps compiled, and what a release ships. */
export const CLI_BUNDLE = {
  entryPoints: [join(ROOT, 'cli/src/main.ts')],
  bundle: true,
  minifySyntax: true,
  minifyWhitespace: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  // jsonc-parser's "main" is UMD and asks for its files at run time.
  mainFields: ['module', 'main'],
  // Loaded only for a picture, and by `require`: the bundle runs as a script of its own.
  external: ['sharp', 'tesseract.js'],
  supported: { 'dynamic-import': false },
  logLevel: 'error',
};

/** Builds the web app and the server when their sources have changed. */
export async function ensureBuilt() {
  await buildServer();
  await buildWeb();
}

async function buildServer() {
  const print = fingerprint([
    'core/src',
    'wire/src',
    'server/src',
    'server/package.json',
    'demo',
    'tools/build.mjs',
    'package-lock.json',
  ]);
  if (stamped('server', print) && existsSync(SERVER) && existsSync(DEMO)) return;
  const { build } = await import('esbuild');
  const { dependencies } = JSON.parse(readFileSync(join(ROOT, 'server', 'package.json'), 'utf8'));
  await build({
    entryPoints: {
      main: join(ROOT, 'server/src/main.ts'),
      worker: join(ROOT, 'server/src/threads/worker.ts'),
      demo: join(ROOT, 'demo/load.ts'),
    },
    outdir: join(ROOT, 'server/dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    // jsonc-parser's "main" is UMD and asks for its files at run time.
    mainFields: ['module', 'main'],
    loader: { '.json': 'json' },
    // Our own core is bundled; packages stay what they are.
    external: Object.keys(dependencies).filter((name) => !name.startsWith('@true-lantern/')),
    logLevel: 'error',
  });
  stamp('server', print);
}

/**
 * What reads the words of a photo: fetched once, when somebody takes one, and kept on the device from then on. One of the
 * three cores is taken, by what the processor can.
 */
function shipReader() {
  const to = join(WEB_ROOT, 'reader');
  mkdirSync(to, { recursive: true });
  const from = (...path) => join(ROOT, 'node_modules', ...path);
  copyFileSync(from('tesseract.js', 'dist', 'worker.min.js'), join(to, 'worker.min.js'));
  for (const core of ['lstm', 'simd-lstm', 'relaxedsimd-lstm'])
    copyFileSync(
      from('tesseract.js-core', `tesseract-core-${core}.wasm.js`),
      join(to, `tesseract-core-${core}.wasm.js`),
    );
  copyFileSync(
    from('@tesseract.js-data', 'eng', '4.0.0_best_int', 'eng.traineddata.gz'),
    join(to, 'eng.traineddata.gz'),
  );
}

/** The coasts of the world (Natural Earth 1:50m, public domain), fetched once a map is looked at. */
function shipMap() {
  mkdirSync(join(WEB_ROOT, 'map'), { recursive: true });
  copyFileSync(join(ROOT, 'node_modules', 'world-atlas', 'land-50m.json'), join(WEB_ROOT, 'map', 'land.json'));
}

async function buildWeb() {
  const print = fingerprint([
    'core/src',
    'wire/src',
    'client',
    'tools/build.mjs',
    'tools/precache.mjs',
    'package-lock.json',
  ]);
  if (stamped('web', print) && existsSync(join(WEB_ROOT, 'index.html'))) return;
  say('Building the web app (one to three minutes at first) ...');
  // Left to itself the bundler works in one process alone on a machine of two cores.
  const workers = String(availableParallelism());
  await mustInTime('npx', ['--no-install', 'expo', 'export', '-p', 'web', '--max-workers', workers], {
    what: 'Building the web app',
    cwd: join(ROOT, 'client'),
    log: 'expo-export.log',
    env: { CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' },
  });
  shipReader();
  shipMap();
  const { precache } = await import('./precache.mjs');
  await precache(WEB_ROOT);
  stamp('web', print);
}
