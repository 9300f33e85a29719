// `npm run -s lantern -- VERB ...`: the command line as one bundled file, built again where its sources have changed.
import { Buffer } from 'node:buffer';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { Script } from 'node:vm';
import { CLI_BUNDLE } from './build.mjs';
import { fingerprint, stamp, stamped, WORK } from './steps.mjs';

const BUNDLE = join(WORK, 'lantern.cjs');
/** What the engine made of the bundle the last time: without it every call compiles a megabyte anew. */
const COMPILED = join(WORK, 'lantern.compiled');

const print = fingerprint(['core/src', 'cli/src', 'tools/lantern.mjs', 'tools/build.mjs', 'package-lock.json']);
if (!stamped('lantern', print) || !existsSync(BUNDLE)) {
  const { build } = await import('esbuild');
  mkdirSync(WORK, { recursive: true });
  const { outputFiles } = await build({ ...CLI_BUNDLE, write: false });
  put(BUNDLE, outputFiles[0].contents);
  put(COMPILED, '');
  stamp('lantern', print);
}

const cachedData = existsSync(COMPILED) ? readFileSync(COMPILED) : Buffer.alloc(0);
const script = new Script(`(function (require, module, exports) {${readFileSync(BUNDLE, 'utf8')}\n})`, {
  filename: BUNDLE,
  ...(cachedData.length > 0 ? { cachedData } : {}),
});
const module = { exports: {} };
script.runInThisContext()(createRequire(BUNDLE), module, module.exports);
// Kept after a run, so that what the run needed is in it.
if (cachedData.length === 0 || script.cachedDataRejected) put(COMPILED, script.createCachedData());

/** Written aside and moved, so that a second call beside this one reads all of it or the one before. */
function put(file, content) {
  const aside = `${file}.${process.pid}`;
  writeFileSync(aside, content);
  renameSync(aside, file);
}
