import type { TollReport } from '../../core/assurance/checks';
import type { Dialling, E164, Estate } from '../../core/estate';
import type { ReadNumberList } from '../../core/formats';
import {
  analyseAndTry,
  type Analysis,
  type AnalyseOptions,
  type RouteTable,
  type TableImpact,
} from '../../core/routes';
import { workerPool } from '../base';

export interface ListTask {
  readonly text: string;
  readonly dialling: Dialling;
  readonly field: string | undefined;
}
export interface AnalysisTask {
  readonly table: RouteTable;
  readonly options: AnalyseOptions;
}

export interface GuardTask {
  readonly estate: Estate;
  readonly table: RouteTable | null;
  readonly fromMs: number;
  readonly premium: readonly E164[] | undefined;
}
/** Two tables whose calls are compared. */
export interface TablesTask {
  readonly before: RouteTable;
  readonly after: RouteTable;
  readonly fromMs: number;
}
export type RoutingTask = ListTask | AnalysisTask | GuardTask | TablesTask;

const pool = workerPool<RoutingTask, ReadNumberList | Analysis | TollReport | TableImpact>(
  'server/routing/worker.ts',
);

export const readListInPool = (task: ListTask): Promise<ReadNumberList> =>
  pool.run(task) as Promise<ReadNumberList>;
export const compareInPool = (task: TablesTask, signal?: AbortSignal): Promise<TableImpact> =>
  pool.run(task, signal) as Promise<TableImpact>;
/** Tables up to this size are analysed at once: to start a thread for them would take longer. */
const SMALL = { routes: 60, numbers: 5000 };
/** Whether a digit map goes on after a position that repeats: what it can tell apart may then grow without measure. */
const tangles = (map: string): boolean => /\.[^|)]/.test(map);

export const analyseInPool = async (task: AnalysisTask): Promise<Analysis> => {
  const { routes, lists } = task.table;
  const numbers = lists.reduce((sum, list) => sum + list.numbers.length, 0);
  return routes.length <= SMALL.routes &&
    numbers <= SMALL.numbers &&
    !task.table.routes.some(({ when }) => tangles(when.dialled?.map ?? ''))
    ? analyseAndTry(task.table, task.options)
    : ((await pool.run(task)) as Analysis);
};
/** Where premium numbers of a country begin, once it has been worked out. */
const premium = new Map<string, readonly E164[]>();

export async function guardInPool(task: Omit<GuardTask, 'premium'>): Promise<TollReport> {
  const { country } = task.estate.dialling;
  const report = (await pool.run({ ...task, premium: premium.get(country) })) as TollReport;
  premium.set(country, report.premium);
  return report;
}
