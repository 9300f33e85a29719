import { defineConfig } from 'eslint/config';
import expo from 'eslint-config-expo/flat.js';
import boundaries from 'eslint-plugin-boundaries';
import jsdoc from 'eslint-plugin-jsdoc';

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
  'prove',
  'faults',
  'service',
  'plate',
  'work',
  'line',
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
  'work',
  'prove',
  'service',
  'roof',
  'plate',
];
/** What one folder may import. A rule of its own for each: one list for all is read through at every import. */
const allow = (files, from, ...to) => ({
  files: [`${files}/**/*.{ts,tsx}`],
  ignores: ['**/test/**'],
  plugins: { boundaries },
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
  allow('client/src/entry', 'entry', 'entry', 'kit', 'data', 'core'),
  allow('client/src/shell', 'shell', 'shell', 'stages', 'signin', 'survey', 'line', 'kit', 'data', 'wire', 'core'),
  ...PLACES.map((place) =>
    allow(`client/src/${place}`, place, place, 'line', 'entry', 'kit', 'data', 'workers', 'wire', 'core'),
  ),
  allow('client/src/line', 'line', 'line', 'kit', 'data', 'core'),
  allow('client/src/kit', 'kit', 'kit', 'data', 'core'),
  allow('client/src/data', 'data', 'data', 'wire', 'core'),
  allow('client/src/workers', 'workers', 'workers', 'core'),
];

/** Rules of the React compiler and of JSX: elsewhere there is neither, and asking takes a third of the whole lint. */
const REACT_RULES = [
  ...new Set(expo.flatMap(({ rules }) => Object.keys(rules ?? {})).filter((rule) => /^react(-hooks)?\//.test(rule))),
];

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
    files: ['{core,wire,cli,server,demo,tools,e2e}/**/*.{ts,mjs,cjs}'],
    rules: Object.fromEntries(REACT_RULES.map((rule) => [rule, 'off'])),
  },
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/ban-ts-comment': 'error',
      // The compiler knows every import; the rule cannot read TypeScript's extensionless paths of the core.
      'import/no-unresolved': 'off',
      // The compiler knows what a namespace holds, too; the rule took half of the whole lint.
      'import/namespace': 'off',
      'import/no-named-as-default-member': 'off',
      // Reads every file that is imported once more, to warn of a name that the compiler tells apart.
      'import/no-named-as-default': 'off',
      // Arrow functions passed as props are plain here; React's compiler rules find what matters.
      'react/display-name': 'off',
    },
  },
  {
    files: ['{core,wire,cli,client,server,demo,tools,e2e}/**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      // A promise that nobody waits for fails where nobody looks.
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      // A promise where a plain answer is expected is always true, and its failure is nobody's. Handlers of events are let off:
      // what they start reports for itself.
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
    },
  },
  {
    // What is of any type passes every question of the compiler. Tests hold made-up answers against what they expect.
    files: ['{core,wire,cli,client,server,demo,tools,e2e}/**/*.{ts,tsx}'],
    ignores: ['**/test/**'],
    rules: {
      '@typescript-eslint/no-unsafe-argument': 'error',
      '@typescript-eslint/no-unsafe-assignment': 'error',
      '@typescript-eslint/no-unsafe-call': 'error',
      '@typescript-eslint/no-unsafe-member-access': 'error',
      '@typescript-eslint/no-unsafe-return': 'error',
    },
  },
  {
    // A function is one idea, a file one subject: where they grow beyond this there is a second one in them.
    files: ['{core,wire,cli,server,client}/src/**/*.{ts,tsx}'],
    rules: { 'max-lines-per-function': ['error', { max: 80 }], 'max-lines': ['error', { max: 350 }] },
  },
  {
    // What others may use says in a line what it is, with its units. A type that is read off a schema is described where
    // the schema is; a route is nothing but the screen that it shows.
    files: ['{core,wire,cli,server,client,demo,tools}/**/*.{ts,tsx}'],
    ignores: ['core/src/index.ts', 'core/src/base.ts', 'client/app/**', '**/test/**'],
    plugins: { jsdoc },
    rules: {
      'jsdoc/require-jsdoc': [
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
    files: ['{core,wire,cli,client,server,demo,tools,e2e}/**/*.{ts,tsx}'],
    ignores: ['**/test/**'],
    plugins: { boundaries },
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
        { type: 'kit', pattern: 'client/src/kit' },
        { type: 'data', pattern: 'client/src/data' },
        { type: 'workers', pattern: 'client/src/workers' },
      ],
    },
  },
  ...ARROWS,
]);
