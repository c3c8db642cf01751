// Turns TypeScript into what Node runs for the tests: many times as quick as Babel, and what comes out is the code that
// stands in the sources, not one for older browsers, so that the heavy tests run at the speed of the application.
/* global __filename */
const { createHash } = require('node:crypto');
const { readFileSync } = require('node:fs');
const { transformSync, version } = require('esbuild');

const OPTIONS = {
  format: 'cjs',
  target: 'node20',
  sourcemap: 'inline',
  sourcesContent: false,
  jsx: 'automatic',
  // What is imported only when it is needed is required then: in the tests modules are Jest's.
  supported: { 'dynamic-import': false },
};
const own = readFileSync(__filename);

module.exports = {
  getCacheKey: (source, path) =>
    createHash('sha256').update(own).update(version).update(path).update(source).digest('hex'),
  process: (source, path) => ({
    code: transformSync(source, {
      ...OPTIONS,
      loader: path.endsWith('x') ? 'tsx' : path.endsWith('.ts') ? 'ts' : 'js',
      sourcefile: path,
    }).code,
  }),
};
