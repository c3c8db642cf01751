const node = (name) => ({
  displayName: name,
  testEnvironment: 'node',
  transform: { '\\.[jt]sx?$': '<rootDir>/bin/jest-esbuild.cjs' },
  transformIgnorePatterns: ['node_modules/(?!(d3-[a-z-]+|internmap|@opentelemetry/otlp-exporter-base)/)'],
});
module.exports = {
  // A bound for hung tests; nothing is asserted by time.
  testTimeout: 120_000,
  maxWorkers: '100%',
  projects: [
    { ...node('core'), testMatch: ['<rootDir>/{core,cli,demo,ui}/**/*.test.ts'] },
    { ...node('server'), testMatch: ['<rootDir>/server/**/*.test.ts'] },
    { ...node('standins'), testMatch: ['<rootDir>/standins/**/*.test.ts'] },
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
