import { resolve } from 'node:path';
import type { RowDataPacket } from 'mysql2/promise';
import type { ServerPage } from '../../api/server';
import { ROLES } from '../base';
import { dayOf, limitsReached } from '../calls';
import type { Route, Services } from '../http';
import { readAuthorities } from '../provisioning';
import { certificateAlerts, clockAlert, diskAlert, jobAlerts, limitAlerts, serverAlerts } from './alerts';
import { readJobs } from './jobs';
import { readRuns } from './runs';

/** Where records of calls wait to be taken in. */
const VAR = resolve(__dirname, '../../var');
const MIB = 1 << 20;

async function pageOf({ db, store, now, phones, streams, calls, tls, self }: Services): Promise<ServerPage> {
  const asked = process.hrtime.bigint();
  const [[row]] = await db.query<RowDataPacket[]>('SELECT VERSION() AS version, UTC_TIMESTAMP(3) AS now');
  const roundTripMs = Number(process.hrtime.bigint() - asked) / 1e6;
  const nowMs = Date.now();
  const [servers, jobs, authorities, disk] = [
    await readRuns(db, self.run),
    await readJobs(db),
    await readAuthorities(db),
    await diskAlert(self.spool ?? VAR),
  ];
  const live = await store.current();
  const reached = await limitsReached(db, dayOf(live, now()).toJSDate());
  const databaseMs = (row!.now as Date).getTime();
  const clock = clockAlert(nowMs - roundTripMs / 2 - databaseMs);
  return {
    servers,
    jobs,
    alerts: [
      ...(disk ? [disk] : []),
      ...(clock ? [clock] : []),
      ...serverAlerts(servers, databaseMs),
      ...jobAlerts(jobs),
      ...limitAlerts(reached),
      ...certificateAlerts(tls()?.cert ?? null, authorities, nowMs),
    ],
    database: { version: String(row!.version), roundTripMs: Math.round(roundTripMs * 10) / 10 },
    memoryMib: Math.round(process.memoryUsage().rss / MIB),
    streams: streams.count(),
    phoneSystem: phones.place() === null ? null : phones.runsHere() ? 'here' : 'elsewhere',
    registrations: phones.registrations().length,
    calls: calls().size,
  };
}

export const watchRoutes: readonly Route[] = [
  {
    /** What the servers are doing, and what should be seen to. */
    method: 'GET',
    path: '/api/server',
    roles: ROLES,
    handle: async ({ services }) => ({ body: await pageOf(services) }),
  },
];
