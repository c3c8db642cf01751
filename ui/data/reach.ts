import { wrap, type Remote } from 'comlink';
import type { ReachWorker } from './reach.worker';

const open = () => wrap<ReachWorker>(newWorker());
const newWorker = () => new Worker(new URL('./reach.worker.ts', window.location.href));

const started = new Map<string, Remote<ReachWorker>>();

/** A worker for one kind of work, begun when it is first needed; what it is asked goes one after another. */
export function reachWorker(kind: 'week' | 'promises'): Remote<ReachWorker> {
  const before = started.get(kind);
  if (before) return before;
  const worker = open();
  started.set(kind, worker);
  return worker;
}

/** A worker for one long piece of work, which can be ended in the middle. */
export function ownWorker(): { readonly worker: Remote<ReachWorker>; readonly end: () => void } {
  const thread = newWorker();
  return { worker: wrap<ReachWorker>(thread), end: () => thread.terminate() };
}
