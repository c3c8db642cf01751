import type { DeskSaving } from '../../core/desks';
import type { Estate } from '../../core/estate';
import { workerPool } from '../base';

export interface SavingsTask {
  readonly estate: Pick<Estate, 'people' | 'schedules' | 'desks' | 'devices'>;
  readonly site: string;
  readonly fromMs: number;
  readonly toMs: number;
  readonly chance: number;
}

/** A site with thousands of people takes a while: dozens of weeks are gone through. */
const LIMITS = { withinMs: 120_000, memoryMib: 512 };
const pool = workerPool<SavingsTask, readonly DeskSaving[]>('server/desks/worker.ts', LIMITS);

/** What moving a shift or a share would save at a site. Of the estate only what it rests on is passed on. */
export const savingsInPool = ({ estate, ...task }: SavingsTask): Promise<readonly DeskSaving[]> => {
  const { people, schedules, desks = [], devices = [] } = estate;
  const rostered = people.filter(({ roster = [] }) => roster.some(({ site }) => site === task.site));
  return pool.run({ ...task, estate: { people: rostered, schedules, desks, devices } });
};
