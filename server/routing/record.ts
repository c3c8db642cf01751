import { listDifference } from '../../core/formats';
import type { NumberList } from '../../core/estate';
import type { NewRecord } from '../record';

/**
 * What the record keeps of a list that was added, replaced or removed. Of a replaced one it keeps the numbers that went
 * and those that came, not the whole list twice: put back into what is there then, they undo the change.
 * @throws if there is neither a list before nor after
 */
export function listRecord(
  before: NumberList | null,
  after: NumberList | null,
): Pick<NewRecord, 'kind' | 'subject' | 'detail' | 'before' | 'after'> {
  const list = after ?? before;
  if (!list) throw new Error('no list');
  const { id, name } = list;
  if (!before) return { kind: 'list-added', subject: name, detail: counted(list.numbers), after: list };
  if (!after) return { kind: 'list-removed', subject: name, detail: counted(list.numbers), before: list };
  const { added, removed } = listDifference(before.numbers, after.numbers);
  return {
    kind: 'list-replaced',
    subject: name,
    detail: `${counted(after.numbers)}: ${added.length} new, ${removed.length} gone`,
    before: { id, name: before.name, numbers: removed },
    after: { id, name, numbers: added },
  };
}

const counted = ({ length }: readonly string[]): string =>
  length === 1 ? 'one number' : `${length} numbers`;
