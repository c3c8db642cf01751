import { dbConfig, dbEnv } from '.';

const of = (HOSTLER_DB_HOST: string, more: Readonly<Record<string, string>> = {}) =>
  dbConfig({ HOSTLER_DB_HOST, ...more });

test.each([
  ['db.example', 'db.example', 3306, undefined],
  ['db.example:3307', 'db.example', 3307, undefined],
  ['::1', '::1', 3306, undefined],
  ['[::1]:3307', '::1', 3307, undefined],
  [
    '10.0.0.1, 10.0.0.2:3307,,[::1]:3308 ',
    '10.0.0.1',
    3306,
    [
      { host: '10.0.0.1', port: 3306 },
      { host: '10.0.0.2', port: 3307 },
      { host: '::1', port: 3308 },
    ],
  ],
] as const)('%j is read as a host, or the nodes of a cluster', (given, host, port, hosts) => {
  expect(of(given)).toMatchObject({ host, port });
  expect(of(given).hosts).toEqual(hosts);
});

test('the port that is named by itself is that of every node without one', () => {
  expect(of('10.0.0.1,10.0.0.2:3307', { HOSTLER_DB_PORT: '3310' }).hosts).toEqual([
    { host: '10.0.0.1', port: 3310 },
    { host: '10.0.0.2', port: 3307 },
  ]);
});

test('another process is told of the same nodes', () => {
  const config = of('10.0.0.1,[fe80::1]:3307', { HOSTLER_DB_USER: 'u', HOSTLER_DB_PASSWORD: 'p' });
  expect(dbConfig(dbEnv(config))).toEqual(config);
});
