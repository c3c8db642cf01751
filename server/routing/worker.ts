import { tollGuard } from '../../core/assurance/checks';
import { readNumberList } from '../../core/formats';
import { analyseAndTry, tableImpact } from '../../core/routes';
import type { RoutingTask } from './pool';

/** Long lists are read, and tables analysed and compared, beside the server. */
export = (task: RoutingTask) =>
  'text' in task
    ? readNumberList(task.text, task.dialling, task.field)
    : 'estate' in task
      ? tollGuard(task.estate, task.table, task.fromMs, task.premium)
      : 'before' in task
        ? tableImpact(task.before, task.after, task.fromMs)
        : analyseAndTry(task.table, task.options);
