import { defineConfig } from 'eslint/config';
import expo from 'eslint-config-expo/flat.js';
import boundaries from 'eslint-plugin-boundaries';

/** Places a person goes; none of them imports another: what two places share moves down. */
const PLACES = ['survey', 'check', 'plan', 'sites', 'shelf', 'firm', 'quick', 'signin'];
const allow = (from, ...to) => ({
  from: { element: { type: from } },
  allow: { to: to.map((type) => ({ element: { type } })) },
});

export default defineConfig([
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.lantern/**',
      'coverage/**',
      'client/.expo/**',
      'client/*.config.js',
      'test-results/**',
    ],
  },
  expo,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/ban-ts-comment': 'error',
      // The compiler knows every import; the rule cannot read TypeScript's extensionless paths of the core.
      'import/no-unresolved': 'off',
      // Arrow functions passed as props are plain here; React's compiler rules find what matters.
      'react/display-name': 'off',
    },
  },
  {
    files: ['**/*.cjs', 'client/test/*.js'],
    languageOptions: { globals: { __dirname: 'readonly', jest: 'readonly', module: 'writable', require: 'readonly' } },
  },
  // fast-check is written `fc.integer()` everywhere, its own manual included.
  { files: ['**/test/**'], rules: { 'import/no-named-as-default-member': 'off' } },
  {
    files: ['client/src/shell/Root.tsx'],
    // Metro turns a required font file into an asset; there is no import for it.
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
  {
    files: ['{core,cli,client,server,demo}/**/*.{ts,tsx}'],
    ignores: ['**/test/**'],
    plugins: { boundaries },
    settings: {
      'import/resolver': {
        typescript: { project: ['tsconfig.json', 'client/tsconfig.json'], noWarnOnMultipleProjects: true },
      },
      'boundaries/elements': [
        { type: 'core', pattern: 'core/src' },
        { type: 'cli', pattern: 'cli/src' },
        { type: 'server', pattern: 'server/src' },
        { type: 'demo', pattern: 'demo' },
        { type: 'routes', pattern: 'client/app' },
        { type: 'shell', pattern: 'client/src/shell' },
        ...PLACES.map((place) => ({ type: place, pattern: `client/src/${place}` })),
        { type: 'line', pattern: 'client/src/line' },
        { type: 'entry', pattern: 'client/src/entry' },
        { type: 'kit', pattern: 'client/src/kit' },
        { type: 'data', pattern: 'client/src/data' },
        { type: 'workers', pattern: 'client/src/workers' },
      ],
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            allow('core', 'core'),
            allow('cli', 'cli', 'core'),
            allow('server', 'server', 'core', 'demo'),
            allow('demo', 'demo', 'server', 'core'),
            allow('routes', 'shell', ...PLACES),
            allow('entry', 'entry', 'kit', 'data', 'core'),
            allow('shell', 'shell', 'signin', 'survey', 'line', 'kit', 'data', 'core'),
            ...PLACES.map((place) => allow(place, place, 'line', 'entry', 'kit', 'data', 'workers', 'core')),
            allow('line', 'line', 'kit', 'data', 'core'),
            allow('kit', 'kit', 'data', 'core'),
            allow('data', 'data', 'core'),
            allow('workers', 'workers', 'core'),
          ],
        },
      ],
    },
  },
]);
