const { createHash } = require('node:crypto');
const { readFileSync } = require('node:fs');
const { transformSync, version } = require('esbuild');

// A test runs in a context of its own, where each mention of a global asks that context for it: `Math.exp` in an inner
// loop costs several times what it costs in the application. Each file takes these once instead. Clocks are not among
// them, since tests replace those.
const TAKEN = [
  'Array',
  'Boolean',
  'Error',
  'Float32Array',
  'Float64Array',
  'Infinity',
  'Int32Array',
  'JSON',
  'Map',
  'Math',
  'NaN',
  'Number',
  'Object',
  'Set',
  'String',
  'Uint8Array',
  'WeakMap',
];
const banner = `var ${TAKEN.map((name) => `${name} = globalThis.${name}`).join(', ')};`;
const self = readFileSync(require.resolve('./jest-esbuild.cjs'), 'utf8');

/** TypeScript and ESM to what Jest runs; types are the compiler's business. */
module.exports = {
  getCacheKey(source, path) {
    return createHash('sha256').update(`${version}\0${self}\0${path}\0${source}`).digest('hex').slice(0, 32);
  },
  process(source, path) {
    const { code, map } = transformSync(source, {
      loader: path.endsWith('.json') ? 'json' : 'ts',
      format: 'cjs',
      target: 'node20',
      sourcemap: 'external',
      sourcefile: path,
      // What is loaded late is loaded by `require`: a test's context has no other way.
      supported: { 'dynamic-import': false },
      banner,
    });
    return { code, map };
  },
};
