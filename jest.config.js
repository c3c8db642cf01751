const node = (name) => ({
  displayName: name,
  testEnvironment: 'node',
  transform: { '\\.[jt]sx?$': 'babel-jest' },
  transformIgnorePatterns: ['node_modules/(?!(d3-.*|internmap|pure-rand)/)'],
});
module.exports = {
  projects: [
    { ...node('core'), testMatch: ['<rootDir>/{core,cli,demo}/**/*.test.ts'] },
    { ...node('server'), testMatch: ['<rootDir>/server/**/*.test.ts'] },
  ],
};
