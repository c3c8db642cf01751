// Front doors and circles of folders are looked at by bin/architecture.mjs. Imports go one way: app → ui → core, server → core, standins → core, cli → core and server; the server starts stand-ins. Core knows nobody.
const only = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: `^${from}/` },
  to: {
    path: '^(api|app|ui|server|cli|demo|core|standins|e2e|bin)/',
    pathNot: to.map((each) => `^${each}[/.]`),
  },
});

const TESTS = '(\\.test\\.tsx?$|/tests?/|^server/attack/)';

module.exports = {
  forbidden: [
    only('core-alone', 'core', ['core']),
    only('api-on-core', 'api', ['api', 'core']),
    only('ui-on-core', 'ui', ['ui', 'api', 'core']),
    only('app-on-ui', 'app', ['app', 'ui', 'core']),
    // What sets the demo up may make its calls up: they end at the day it is set up on.
    only('server-on-core', 'server', ['server', 'api', 'core', 'standins', 'demo/calls']),
    only('standins-on-core', 'standins', ['standins', 'core']),
    only('demo-on-core', 'demo', ['demo', 'core']),
    only('cli-on-core-and-server', 'cli', ['cli', 'core', 'server']),
    {
      name: 'core-is-pure',
      comment: 'Core has no interface, Node or I/O code.',
      severity: 'error',
      from: { path: '^core/', pathNot: TESTS },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-has-no-interface',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: 'node_modules/(react|react-native|react-dom|expo|express|mysql2)(/|$)' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.json'] },
  },
};
