import { createHash, timingSafeEqual } from 'node:crypto';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';
import { runningTasks } from '../base';
import type { Services } from '../http';
import { readJobs } from './jobs';

/** The question for long work is asked no oftener, however often the metrics are. */
const ASK_JOBS_MS = 5000;
/** Seconds; an answer of an interface is good under a twentieth. */
const BUCKETS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30];

export interface Metrics {
  /** A request that was answered. @param route its path as a pattern, never as it was asked: that would have no end */
  readonly answered: (method: string, route: string, status: number, seconds: number) => void;
  readonly begun: () => void;
  readonly ended: () => void;
  /** All of it in the text format of Prometheus. */
  readonly text: () => Promise<string>;
  readonly contentType: string;
  /** Whether somebody has the word that metrics are given for; never where none is set. */
  readonly mayAsk: (authorization: string | undefined) => boolean;
}

const same = (a: string, b: string): boolean =>
  timingSafeEqual(createHash('sha256').update(a).digest(), createHash('sha256').update(b).digest());

/** Counts what a server does. Names by the conventions of Prometheus: base units, `_total` for counters. */
export function openMetrics(services: Services, token = process.env.HOSTLER_METRICS_TOKEN): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  const registers = [registry];
  const requests = new Counter({
    name: 'hostler_http_requests_total',
    help: 'Requests that were answered',
    labelNames: ['method', 'route', 'status'],
    registers,
  });
  const seconds = new Histogram({
    name: 'hostler_http_request_duration_seconds',
    help: 'How long requests took',
    labelNames: ['method', 'route'],
    buckets: BUCKETS,
    registers,
  });
  const inWork = new Gauge({
    name: 'hostler_http_requests_in_progress',
    help: 'Requests that are worked on',
    registers,
  });
  const gauge = (name: string, help: string, value: () => number) =>
    new Gauge({
      name,
      help,
      registers,
      collect() {
        this.set(value());
      },
    });
  gauge('hostler_database_up', 'Whether the database answers', () => (services.db.health().ok ? 1 : 0));
  gauge(
    'hostler_database_connections',
    'Connections of the pool that are open',
    () => services.db.pool().open,
  );
  gauge(
    'hostler_database_connections_free',
    'Connections of the pool that nobody uses',
    () => services.db.pool().free,
  );
  gauge('hostler_database_waiting', 'Requests that wait for a connection', () => services.db.pool().waiting);
  gauge('hostler_event_streams', 'Pages that follow what happens', () => services.streams.count());
  gauge(
    'hostler_registrations',
    'Phones registered at this server’s phone system',
    () => services.phones.registrations().length,
  );
  gauge('hostler_calls_in_progress', 'Calls that are going on', () => services.calls().size);
  new Gauge({
    name: 'hostler_worker_tasks',
    help: 'Heavy computation in threads: under way and waiting',
    labelNames: ['script', 'state'],
    registers,
    collect() {
      this.reset();
      for (const { script, running, waiting } of runningTasks()) {
        this.set({ script, state: 'running' }, running);
        this.set({ script, state: 'waiting' }, waiting);
      }
    },
  });
  let asked: { readonly atMs: number; readonly counts: ReadonlyMap<string, number> } | null = null;
  new Gauge({
    name: 'hostler_jobs',
    help: 'Long work by kind and state, over all servers',
    labelNames: ['kind', 'state'],
    registers,
    async collect() {
      if (!asked || Date.now() - asked.atMs > ASK_JOBS_MS) {
        const found = await readJobs(services.db).catch(() => null);
        if (!found) return;
        const counts = new Map<string, number>();
        for (const { kind, state } of found)
          counts.set(`${kind} ${state}`, (counts.get(`${kind} ${state}`) ?? 0) + 1);
        asked = { atMs: Date.now(), counts };
      }
      this.reset();
      for (const [key, count] of asked.counts) {
        const [kind = '', state = ''] = key.split(' ');
        this.set({ kind, state }, count);
      }
    },
  });
  return {
    answered: (method, route, status, took) => {
      requests.inc({ method, route, status: String(status) });
      seconds.observe({ method, route }, took);
    },
    begun: () => inWork.inc(),
    ended: () => inWork.dec(),
    text: () => registry.metrics(),
    contentType: registry.contentType,
    mayAsk: (authorization) => {
      const given = /^Bearer (.+)$/.exec(authorization ?? '')?.[1];
      return Boolean(token) && given !== undefined && same(given, token ?? '');
    },
  };
}
