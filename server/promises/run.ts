import { sliceFor } from '../../core/editing';
import { promisesFor } from '../../core/assurance/promises';
import type { Services } from '../http';
import { proveInPool } from './pool';
import { beginRun, endRun, noteResult, runState } from './queries';

/** How many people are with the worker threads at once. */
const AT_A_TIME = 6;

/**
 * Begins to go through all promises of everybody. The work goes on by itself; its state is in the database, where
 * any server can read it or have it cancelled.
 * @returns the run's id
 */
export async function proveEverybody(services: Services): Promise<{ id: number; ended: Promise<void> }> {
  const live = await services.store.current();
  const { people } = live.estate;
  const id = await beginRun(services.db, live.revision, people.length);
  const fromMs = services.now().getTime();
  const work = async (): Promise<void> => {
    let next = 0;
    let cancelled = false;
    const one = async () => {
      while (next < people.length && !cancelled) {
        const person = people[next]!;
        next += 1;
        const kept = promisesFor(live.estate.promises, person.id);
        const ran = await proveInPool({
          slice: sliceFor(live.estate, live.finder, person.id),
          person: person.id,
          promises: kept.map(({ promise }) => promise),
          scope: { spread: 0, fromMs, everyStatus: false },
        });
        const broken = ran.proofs.flatMap((proof, i) =>
          proof.broken ? [{ id: kept[i]!.id, why: proof.broken.why }] : [],
        );
        await noteResult(services.db, id, person.id, ran, broken);
        cancelled ||= (await runState(services.db, id)) !== 'running';
      }
    };
    try {
      await Promise.all(Array.from({ length: AT_A_TIME }, one));
      if (!cancelled) await endRun(services.db, id, 'done');
    } catch {
      await endRun(services.db, id, 'failed').catch(() => undefined);
    }
  };
  return { id, ended: work() };
}
