/** Every setting that is taken from the environment, and what it sets. */
export const SETTINGS: Readonly<Record<string, string>> = {
  HOSTLER_PORT: 'port of the application, on loopback (4680)',
  HOSTLER_TLS_PORT: 'port of the service that phones fetch their settings from (the port and one)',
  HOSTLER_HOSTNAME: 'name under which a proxy is called',
  HOSTLER_BEHIND_PROXY: '1: the far end is who a proxy on this machine says it is',
  HOSTLER_SECURE_COOKIE: '1: the session’s cookie goes over TLS only',
  HOSTLER_LOG: 'how much is logged: debug, info, warn, error',
  HOSTLER_METRICS_TOKEN: 'word for which metrics are given to a monitoring system',
  HOSTLER_TRACES_URL: 'collector that traces of requests are delivered to (OTLP over HTTP)',
  HOSTLER_DB_SOCKET: 'socket of the database',
  HOSTLER_DB_HOST: 'host of the database; of a cluster its nodes, with commas between them',
  HOSTLER_DB_PORT: 'port of the database, where the host does not name one (3306)',
  HOSTLER_DB_NAME: 'name of the database',
  HOSTLER_DB_USER: 'account that reads and writes',
  HOSTLER_DB_PASSWORD: 'its password',
  HOSTLER_DB_OWNER: 'account that makes tables',
  HOSTLER_DB_OWNER_PASSWORD: 'its password',
  HOSTLER_DB_KEEPER: 'account that keeps records of calls',
  HOSTLER_DB_KEEPER_PASSWORD: 'its password',
  HOSTLER_KEY_FILE: 'file of the keys that secrets are sealed with',
  HOSTLER_SPOOL: 'folder in which records of calls wait to be taken in',
  HOSTLER_KEEP_DAYS: 'days for which records of calls are kept',
  HOSTLER_ACCOUNTS_FILE: 'file that the first accounts are written to',
  HOSTLER_EMPTY: '1: set-up begins with nothing in the place of the demo',
  HOSTLER_DEMO_PASSWORD: 'one password for all demo accounts',
  HOSTLER_EFFECT_MS: 'how long the effect of a change is computed before it is said how far it came',
  HOSTLER_SIP_PORT: 'port of the stand-in phone system (0: any)',
  HOSTLER_TURN_PORT: 'port of the stand-in relay (0: any)',
  HOSTLER_TURN_URLS: 'an own relay for the check of lines',
  HOSTLER_TURN_SECRET: 'its shared secret',
  HOSTLER_NOW: 'the moment that the demo plays at',
  HOSTLER_SCRIPTS: 'folder of bundled scripts, for tests',
  HOSTLER_RUNS: 'how many random cases tests go through',
  HOSTLER_BENCH_CALLS: 'how many calls the bench goes through',
  HOSTLER_OUTER_NAMESPACE: 'namespace that tests of networks were begun in',
};

/** How far two words are from each other: letters put in, left out, changed. */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i += 1) {
    const next = [i];
    for (let j = 1; j <= b.length; j += 1)
      next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
    row = next;
  }
  return row[b.length]!;
}
const NEAR = 4;

/** Names of the environment that look like settings and are none, each with the one that may be meant. */
export const unknownSettings = (
  env: Readonly<Record<string, string | undefined>>,
): readonly { readonly name: string; readonly meant: string | null }[] =>
  Object.keys(env)
    .filter((name) => name.startsWith('HOSTLER_') && !Object.hasOwn(SETTINGS, name))
    .map((name) => {
      const [best] = Object.keys(SETTINGS)
        .map((each) => [each, distance(each, name)] as const)
        .sort((a, b) => a[1] - b[1]);
      return { name, meant: best && best[1] <= NEAR ? best[0] : null };
    });
