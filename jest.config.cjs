const node = (name) => ({
  displayName: name,
  rootDir: __dirname,
  testMatch: [`<rootDir>/${name}/test/**/*.test.ts`],
  testEnvironment: 'node',
  // What commands make is no source.
  modulePathIgnorePatterns: ['<rootDir>/.lantern/', '/dist/'],
  transform: { '\\.(ts|mjs)$': '<rootDir>/tools/jest-esbuild.cjs' },
  moduleNameMapper: {
    '^@true-lantern/wire$': '<rootDir>/wire/src/index.ts',
    '^@true-lantern/core$': '<rootDir>/core/src/index.ts',
    '^@true-lantern/core/(.*)$': '<rootDir>/core/src/$1.ts',
  },
});

module.exports = {
  // Two workers and a linter on two cores: what takes a second alone may take ten beside them. Speed is the bench's affair.
  testTimeout: 30_000,
  projects: [node('core'), node('cli'), { ...node('server') }, '<rootDir>/client'],
};
