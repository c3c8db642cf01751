const { availableParallelism } = require('node:os');

module.exports = {
  // A bound for hung tests; nothing is asserted by time.
  testTimeout: 120_000,
  // Many of them wait, for databases that go and come and for calls in real time: one more than there are cores.
  maxWorkers: availableParallelism() + 1,
  projects: [
    {
      displayName: 'code',
      testEnvironment: 'node',
      runner: '<rootDir>/bin/jest-plain.mjs',
      setupFilesAfterEnv: ['<rootDir>/bin/jest-plain-setup.mjs'],
      testMatch: ['<rootDir>/{core,cli,demo,ui,server,standins}/**/*.test.ts'],
    },
    {
      preset: 'jest-expo/ios',
      displayName: 'ui',
      testMatch: ['<rootDir>/ui/**/*.test.tsx'],
      // The application has icons of its own, and no icon font.
      moduleNameMapper: {
        '^(@expo/vector-icons|@react-native-vector-icons|react-native-vector-icons)(/.*)?$':
          '<rootDir>/ui/tests/noIcons.tsx',
      },
    },
  ],
};
