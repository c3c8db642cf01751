import { useMemo, type ReactNode } from 'react';
import type { CheckWords, Finding } from '../../api/findings';
import { showNumbersIn } from '../../core/calls/dialling';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { DataTable } from '../table/DataTable';
import type { Column } from '../table/columns';
import { useOpenRow } from '../table/useRows';
import { FoundRow, TONES, WEIGHTS } from './FoundRow';

const RANK = { fault: 0, risk: 1, note: 2 } as const;
const keyOf = ({ key }: Finding) => key;
const nameOf = ({ subject }: Finding) => subject.name;

/** Findings as a table, on a wide screen; each opens with what shows it and what mends it. */
export function FindingsTable({
  rows,
  checks,
  bar,
}: {
  readonly rows: readonly Finding[];
  readonly checks: ReadonlyMap<string, CheckWords>;
  readonly bar: ReactNode;
}) {
  const { shown, open, close } = useOpenRow(rows, keyOf);
  const columns = useMemo(
    (): readonly Column<Finding>[] => [
      { id: 'subject', title: 'Of whom or what', width: 190, value: nameOf },
      {
        id: 'weight',
        title: 'Weight',
        width: 88,
        value: ({ weight }) => RANK[weight],
        show: ({ weight }) => (
          <Words size="small" strong tone={TONES[weight]}>
            {WEIGHTS[weight]}
          </Words>
        ),
      },
      { id: 'check', title: 'What', width: 230, value: ({ check }) => checks.get(check)?.title ?? check },
      { id: 'says', title: 'Found', width: 420, value: ({ says }) => showNumbersIn(says) },
      { id: 'mend', title: 'Mend', width: 200, isExtra: true, value: ({ mend }) => mend ?? '' },
      {
        id: 'assignee',
        title: 'Assigned to',
        width: 120,
        isExtra: true,
        value: ({ mark }) => mark?.assignee ?? '',
      },
    ],
    [checks],
  );
  return (
    <>
      <DataTable
        name="findings"
        label="Findings"
        columns={columns}
        rows={rows}
        keyOf={keyOf}
        nameOf={nameOf}
        bar={bar}
        onOpen={open}
      />
      {shown ? (
        <Sheet title={shown.subject.name} open onClose={close}>
          <FoundRow finding={shown} check={checks.get(shown.check)} atOnce />
        </Sheet>
      ) : null}
    </>
  );
}
