import { useMemo, type ReactNode } from 'react';
import { View } from 'react-native';
import { useRestart, useRestarts } from '../data/findings';
import { useRole } from '../data/session';
import { Button, Refused } from '../kit/parts';
import { Words } from '../kit/Words';
import { ChosenBar } from '../table/ChosenBar';
import { DataTable } from '../table/DataTable';
import type { Column } from '../table/columns';
import { useChosen } from '../table/useRows';
import { isBad, sayState, STATE_WORDS, textOf, type Shown } from './shown';
import { addressWords, clockOf, KIND_WORDS } from './words';

const keyOf = ({ endpoint }: Shown) => endpoint;
const nameOf = ({ name, label }: Shown) => `${name}: ${label}`;
const hrefOf = ({ endpoint }: Shown) => `/phones/${encodeURIComponent(endpoint)}`;

/** Every phone as a table, on a wide screen: several that owe a restart are chosen and noted at once. */
export function PhonesTable({ rows, bar }: { readonly rows: readonly Shown[]; readonly bar: ReactNode }) {
  const role = useRole();
  const restarts = useRestarts();
  const restart = useRestart();
  const { seen, choosing, chooseNone } = useChosen(rows, keyOf);
  const owed = useMemo(
    () => new Map((restarts.data?.owed ?? []).map((each) => [each.endpoint, each])),
    [restarts.data],
  );
  const columns = useMemo(
    (): readonly Column<Shown>[] => [
      { id: 'person', title: 'Whose', width: 170, value: ({ name }) => name },
      { id: 'phone', title: 'Phone', width: 170, value: ({ label }) => label },
      {
        id: 'state',
        title: 'Registration',
        width: 140,
        value: sayState,
        show: (row) => (
          <Words
            size="small"
            strong
            lines={1}
            tone={isBad(row) ? 'rust' : ['public', 'never', 'away'].includes(row.state) ? 'soft' : 'kelp'}
          >
            {STATE_WORDS[row.state]}
          </Words>
        ),
      },
      { id: 'kind', title: 'Kind', width: 150, value: ({ kind }) => KIND_WORDS[kind] },
      {
        id: 'where',
        title: 'From where',
        width: 260,
        mono: true,
        value: (row) => (row.registrations[0] ? addressWords(row.registrations[0]) : textOf(row)),
      },
      {
        id: 'since',
        title: 'Since',
        width: 120,
        mono: true,
        value: ({ registrations: [first] }) => (first ? clockOf(first.sinceMs) : ''),
      },
      {
        id: 'restart',
        title: 'Restart owed',
        width: 120,
        isExtra: owed.size === 0,
        value: ({ endpoint }) => (owed.has(endpoint) ? 'Owed' : ''),
        show: ({ endpoint }) => (
          <Words size="small" strong tone="ochre">
            {owed.has(endpoint) ? 'Owed' : ''}
          </Words>
        ),
      },
      {
        id: 'agent',
        title: 'Device says it is',
        width: 200,
        isExtra: true,
        value: ({ registrations: [first] }) => first?.userAgent ?? '',
      },
      {
        id: 'extension',
        title: 'Extension',
        width: 104,
        mono: true,
        isExtra: true,
        value: ({ extension }) => extension ?? '',
      },
    ],
    [owed],
  );
  const owing = seen.flatMap(({ endpoint }) => (owed.has(endpoint) ? [endpoint] : []));
  const act = (when: 'now' | 'tonight') =>
    restart.mutate({ endpoints: owing, when }, { onSuccess: chooseNone });
  return (
    <View style={{ flex: 1 }}>
      <DataTable
        name="registrations"
        label="Phones"
        columns={columns}
        rows={rows}
        keyOf={keyOf}
        nameOf={nameOf}
        hrefOf={hrefOf}
        scrolls
        bar={bar}
        {...(role === 'manager' ? {} : { choosing })}
      />
      <ChosenBar count={seen.length} onNone={chooseNone}>
        <Refused error={restart.error} />
        {owing.length === 0 ? (
          <Words tone="soft">None of them owes a restart.</Words>
        ) : (
          <>
            <Words tone="soft">
              {owing.length === 1 ? 'One owes a restart.' : `${owing.length} owe a restart.`}
            </Words>
            <Button label="Restarted" busy={restart.isPending} onPress={() => act('now')} />
            <Button label="Tonight at 3" busy={restart.isPending} onPress={() => act('tonight')} />
          </>
        )}
      </ChosenBar>
    </View>
  );
}
