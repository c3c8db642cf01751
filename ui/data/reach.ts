import { wrap, type Remote } from 'comlink';
import type { ReachWorker } from './reach.worker';

const started = new Map<string, Remote<ReachWorker>>();

/** A worker for one kind of work, begun when it is first needed; what it is asked goes one after another. */
export function reachWorker(kind: 'week' | 'promises'): Remote<ReachWorker> {
  const before = started.get(kind);
  if (before) return before;
  const worker = wrap<ReachWorker>(new Worker(new URL('./reach.worker.ts', window.location.href)));
  started.set(kind, worker);
  return worker;
}
