import type { RecordLine } from '../../api/people';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { andList } from '../../core/estate';
import { sayBoth, sayWhere } from '../../core/changes/slate';
import { Sheet } from '../kit/Sheet';
import { useIsWide } from '../kit/theme';
import { DataTable } from '../table/DataTable';
import type { Column } from '../table/columns';
import { useOpenRow } from '../table/useRows';
import { RecordRow } from './RecordRow';
import { sayKind } from './recordWords';

const keyOf = ({ id }: RecordLine) => String(id);
const nameOf = ({ subject }: RecordLine) => subject;
const whenOf = ({ at }: RecordLine) => DateTime.fromISO(at).setLocale('en').toFormat('ccc d LLL, HH:mm:ss');

function whatOf({ slate, subject, detail, changes }: RecordLine): string {
  if (slate) return `Of ${andList(slate.names)}${slate.changes > slate.names.length ? ' and others' : ''}`;
  const [first] = changes;
  if (!first) return detail === subject ? '' : detail;
  const said = `${sayWhere(first)}: ${sayBoth(first)}`;
  return changes.length > 1 ? `${said}, and ${changes.length - 1} more` : said;
}

const COLUMNS: readonly Column<RecordLine>[] = [
  { id: 'at', title: 'When', width: 180, mono: true, value: whenOf },
  { id: 'who', title: 'Who', width: 110, value: ({ who }) => who },
  {
    id: 'kind',
    title: 'Did',
    width: 170,
    value: ({ kind, slate }) => (slate ? 'put live the slate' : sayKind(kind).replace(/:$/, '')),
  },
  {
    id: 'subject',
    title: 'Of whom or what',
    width: 190,
    value: ({ subject, slate }) => (slate ? slate.name : subject),
  },
  { id: 'what', title: 'What changed', width: 380, value: whatOf },
  { id: 'why', title: 'Why', width: 200, isExtra: true, value: ({ why }) => why ?? '' },
];

/** Entries of the record: a list on a phone; on a wide screen a table, each opens with all of it and its undoing. */
export function RecordEntries({
  entries,
  canTakeBack,
  bar,
}: {
  readonly entries: readonly RecordLine[];
  readonly canTakeBack: boolean;
  readonly bar: ReactNode;
}) {
  const wide = useIsWide();
  const { shown, open, close } = useOpenRow(entries, keyOf);
  if (!wide)
    return (
      <View role="list">
        {entries.map((entry) => (
          <RecordRow key={entry.id} entry={entry} canTakeBack={canTakeBack} />
        ))}
      </View>
    );
  return (
    <>
      <DataTable
        name="record"
        label="Record"
        columns={COLUMNS}
        rows={entries}
        keyOf={keyOf}
        nameOf={nameOf}
        onOpen={open}
        inOrder
        bar={bar}
      />
      {shown ? (
        <Sheet title="Entry of the record" open onClose={close}>
          <View role="list">
            <RecordRow entry={shown} canTakeBack={canTakeBack} />
          </View>
        </Sheet>
      ) : null}
    </>
  );
}
