const { transformSync } = require('esbuild');

/** TypeScript and ESM to what Jest runs; types are the compiler's business. */
module.exports = {
  process(source, path) {
    const { code, map } = transformSync(source, {
      loader: path.endsWith('.json') ? 'json' : 'ts',
      format: 'cjs',
      target: 'node20',
      sourcemap: 'external',
      sourcefile: path,
    });
    return { code, map };
  },
};
