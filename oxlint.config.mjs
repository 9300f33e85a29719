// Lint, by oxlint: the compiler's own types and a hundred rules in seconds. Two plugins are written for ESLint: they run within it.
/** The rooms of the core as floors, from the ground up: an import goes down only. */
const FLOORS = [
  'numeric',
  'chemistry',
  'parts',
  'system',
  'shelf',
  'conductors',
  'ledger',
  'written',
  'sun',
  'pv',
  'bank',
  'roof',
  'power',
  'rules',
  'flips',
  'layouts',
  'headroom',
  'proposal',
  'successor',
  'year',
  'plan',
  'readings',
  'faults',
  'service',
  'plate',
  'work-order',
  'line',
  'papers',
];
const floor = (room) => `core/${room}`;

/** Places a person goes; none of them imports another: what two places share moves down. */
const PLACES = [
  'survey',
  'check',
  'plan',
  'sites',
  'shelf',
  'firm',
  'quick',
  'signin',
  'unsent',
  'year',
  'work-order',
  'visits',
  'service',
  'roof',
  'plate',
  'papers',
];
/** What one folder may import. A rule of its own for each: one list for all is read through at every import. */
const allow = (files, from, ...to) => ({
  files: [`${files}/**/*.{ts,tsx}`],
  excludeFiles: ['**/test/**'],
  rules: {
    'boundaries/dependencies': [
      'error',
      {
        default: 'disallow',
        policies: [{ from: { element: { type: from } }, allow: { to: { element: { type: to } } } }],
      },
    ],
  },
});
const ARROWS = [
  allow('core/src', 'core', 'core', ...FLOORS.map(floor)),
  ...FLOORS.map((room, i) => allow(`core/src/${room}`, floor(room), ...FLOORS.slice(0, i + 1).map(floor))),
  allow('wire/src', 'wire', 'wire', 'core'),
  // The command line reaches each room by its own door: it needs no page, and starts the quicker.
  allow('cli/src', 'cli', 'cli', 'core', ...FLOORS.map(floor)),
  allow('server/src', 'server', 'server', 'wire', 'core'),
  allow('demo', 'demo', 'demo', 'server', 'core'),
  // What runs the others from outside may look into them; none of them looks back.
  allow('tools', 'tools', 'tools', 'demo', 'server', 'cli', 'core', ...FLOORS.map(floor), 'workers', 'data'),
  allow('e2e', 'e2e', 'e2e', 'tools', 'demo', 'core'),
  allow('client/app', 'routes', 'shell', ...PLACES),
  allow('client/src/stages', 'stages', 'shell', ...PLACES),
  allow('client/src/entry', 'entry', 'entry', 'ui', 'data', 'core'),
  allow('client/src/shell', 'shell', 'shell', 'stages', 'signin', 'survey', 'line', 'ui', 'data', 'wire', 'core'),
  ...PLACES.map((place) =>
    allow(`client/src/${place}`, place, place, 'line', 'entry', 'ui', 'data', 'workers', 'wire', 'core'),
  ),
  allow('client/src/line', 'line', 'line', 'ui', 'data', 'core'),
  allow('client/src/ui', 'ui', 'ui', 'data', 'core'),
  allow('client/src/data', 'data', 'data', 'wire', 'core'),
  allow('client/src/workers', 'workers', 'workers', 'core'),
];

/** @see https://oxc.rs for the rules. */
export default {
  plugins: ['eslint', 'typescript', 'import', 'react', 'oxc'],
  jsPlugins: [{ name: 'docs', specifier: 'eslint-plugin-jsdoc' }, 'eslint-plugin-boundaries'],
  categories: { correctness: 'error' },
  options: { typeAware: true },
  ignorePatterns: [
    '**/dist/**',
    '.lantern/**',
    'coverage/**',
    'client/.expo/**',
    'client/*.config.js',
    'test-results/**',
    'client/public/workers/**',
  ],
  settings: {
    'import/resolver': {
      typescript: { project: ['tsconfig.json', 'client/tsconfig.json'], noWarnOnMultipleProjects: true },
    },
    'boundaries/elements': [
      ...FLOORS.map((room) => ({ type: floor(room), pattern: `core/src/${room}` })),
      // The doors to all of them.
      { type: 'core', pattern: 'core/src' },
      { type: 'wire', pattern: 'wire/src' },
      { type: 'cli', pattern: 'cli/src' },
      { type: 'server', pattern: 'server/src' },
      { type: 'demo', pattern: 'demo' },
      { type: 'tools', pattern: 'tools' },
      { type: 'e2e', pattern: 'e2e' },
      { type: 'routes', pattern: 'client/app' },
      { type: 'shell', pattern: 'client/src/shell' },
      { type: 'stages', pattern: 'client/src/stages' },
      ...PLACES.map((place) => ({ type: place, pattern: `client/src/${place}` })),
      { type: 'line', pattern: 'client/src/line' },
      { type: 'entry', pattern: 'client/src/entry' },
      { type: 'ui', pattern: 'client/src/ui' },
      { type: 'data', pattern: 'client/src/data' },
      { type: 'workers', pattern: 'client/src/workers' },
    ],
  },
  rules: {
    'eslint/eqeqeq': ['error', 'smart'],
    'eslint/no-var': 'error',
    'eslint/no-unused-vars': ['error', { args: 'none', ignoreRestSiblings: true, caughtErrors: 'all' }],
    'import/first': 'error',
    'import/no-duplicates': 'error',
    // Type-only circles are circles, too.
    'import/no-cycle': ['error', { ignoreTypes: false }],
    'typescript/array-type': 'error',
    'typescript/ban-ts-comment': 'error',
    'typescript/consistent-type-assertions': ['error', { assertionStyle: 'as', objectLiteralTypeAssertions: 'allow' }],
    'typescript/no-explicit-any': 'error',
    'typescript/no-useless-constructor': 'off',
    // A promise that nobody waits for fails where nobody looks.
    'typescript/no-floating-promises': 'error',
    // A promise where a plain answer is expected is always true, and its failure is nobody's. Handlers of events are let off:
    // what they start reports for itself.
    'typescript/no-misused-promises': ['error', { checksVoidReturn: false }],
    'typescript/no-unnecessary-type-assertion': 'error',
    'typescript/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
    // Functions here are arrows and do not know a `this`.
    'typescript/unbound-method': 'off',
    // What is unknown here is a figure or a word of the file's schema.
    'typescript/no-base-to-string': 'off',
    'typescript/require-array-sort-compare': ['error', { ignoreStringArrays: true }],
    // Does not know that what is looked up in a list may not be there (noUncheckedIndexedAccess).
    'typescript/no-useless-default-assignment': 'off',
    // Letters are taken one by one on purpose: signs of a plate, widths of type.
    'typescript/no-misused-spread': 'off',
  },
  overrides: [
    {
      // What is of any type passes every question of the compiler. Tests hold made-up answers against what they expect.
      files: ['{core,wire,cli,client,server,demo,tools,e2e}/**/*.{ts,tsx}'],
      excludeFiles: ['**/test/**'],
      rules: {
        'typescript/no-unsafe-argument': 'error',
        'typescript/no-unsafe-assignment': 'error',
        'typescript/no-unsafe-call': 'error',
        'typescript/no-unsafe-member-access': 'error',
        'typescript/no-unsafe-return': 'error',
      },
    },
    {
      // A function is one idea, a file one subject: where they grow beyond this there is a second one in them.
      files: ['{core,wire,cli,server,client}/src/**/*.{ts,tsx}'],
      rules: { 'eslint/max-lines-per-function': ['error', { max: 80 }], 'eslint/max-lines': ['error', { max: 350 }] },
    },
    {
      // What others may use says in a line what it is, with its units. A type that is read off a schema is described where
      // the schema is; a route is nothing but the screen that it shows.
      files: ['{core,wire,cli,server,client,demo,tools}/**/*.{ts,tsx}'],
      excludeFiles: ['core/src/index.ts', 'core/src/base.ts', 'core/src/pictures.ts', 'client/app/**', '**/test/**'],
      rules: {
        'docs/require-jsdoc': [
          'error',
          {
            enableFixer: false,
            require: { FunctionDeclaration: false },
            contexts: [
              'ExportNamedDeclaration[declaration.type=/^(FunctionDeclaration|VariableDeclaration|ClassDeclaration|TSInterfaceDeclaration)$/]',
            ],
          },
        ],
      },
    },
    {
      // Rules of the React compiler: what breaks one is left as it is written, and drawn anew at each change.
      files: ['client/{src,app}/**/*.{ts,tsx}'],
      rules: Object.fromEntries(
        [
          'rules-of-hooks',
          'exhaustive-deps',
          'static-components',
          'use-memo',
          'preserve-manual-memoization',
          'incompatible-library',
          'immutability',
          'globals',
          'refs',
          'set-state-in-effect',
          'error-boundaries',
          'purity',
          'set-state-in-render',
          'unsupported-syntax',
          'no-unescaped-entities',
          'no-unknown-property',
          'jsx-no-comment-textnodes',
        ].map((rule) => [`react/${rule}`, 'error']),
      ),
    },
    { files: ['**/test/**'], rules: { 'typescript/require-array-sort-compare': 'off' } },
    ...ARROWS,
  ],
};
