const preset = require('jest-expo/jest-preset');

const [first, ...rest] = preset.transformIgnorePatterns;

module.exports = {
  displayName: 'client',
  preset: 'jest-expo',
  testMatch: ['<rootDir>/test/**/*.test.ts?(x)'],
  transform: {
    // Our own core has nothing that Babel is needed for, and is the larger half of what a test loads.
    '[/\\\\](?:core|wire)[/\\\\]src[/\\\\].*\\.ts$': '<rootDir>/../tools/jest-esbuild.cjs',
    ...preset.transform,
    '\\.mjs$': 'babel-jest',
  },
  transformIgnorePatterns: [
    first.replace(
      'standard-navigation',
      'standard-navigation|nativewind|react-native-css-interop|lucide-react-native|idb-keyval|d3-geo|d3-array|internmap',
    ),
    ...rest,
  ],
  moduleNameMapper: {
    '\\.css$': '<rootDir>/test/empty.js',
    '^@true-lantern/wire$': '<rootDir>/../wire/src/index.ts',
    '^@true-lantern/core/(.*)$': '<rootDir>/../core/src/$1.ts',
    '^@true-lantern/core$': '<rootDir>/../core/src/index.ts',
  },
  setupFiles: ['<rootDir>/test/setup.js'],
};
