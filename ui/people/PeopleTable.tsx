import { useMemo, useState, type ReactNode } from 'react';
import { View } from 'react-native';
import type { PeopleList, PersonSummary } from '../../api/people';
import type { ManyChange } from '../../core/editing';
import { useCanEdit } from '../data/session';
import { ManySheet } from '../edit/ManySheet';
import { Button, Choice, ReachMark } from '../kit/parts';
import { Words } from '../kit/Words';
import { ChosenBar } from '../table/ChosenBar';
import { DataTable } from '../table/DataTable';
import type { Column } from '../table/columns';
import { useChosen } from '../table/useRows';

/** The worst first. */
const RANK = { lost: 0, 'at-risk': 1, reached: 2 } as const;
const keyOf = ({ id }: PersonSummary) => id;
const nameOf = ({ name }: PersonSummary) => name;
const hrefOf = ({ id }: PersonSummary) => `/people/${encodeURIComponent(id)}`;

/** Everybody as a table, on a wide screen: several are chosen and given a status, a permission or a template at once. */
export function PeopleTable({
  rows,
  list,
  bar,
}: {
  readonly rows: readonly PersonSummary[];
  readonly list: PeopleList;
  readonly bar: ReactNode;
}) {
  const canEdit = useCanEdit();
  const { seen, choosing, chooseNone } = useChosen(rows, keyOf);
  const [setting, setSetting] = useState<ManyChange['kind'] | null>(null);
  const columns = useMemo((): readonly Column<PersonSummary>[] => {
    const names = (each: readonly { readonly id: string; readonly name: string }[]) =>
      new Map(each.map(({ id, name }) => [id, name]));
    const [statuses, permissions, templates] = [
      names(list.statuses),
      names(list.permissions),
      names(list.templates),
    ];
    return [
      { id: 'name', title: 'Name', width: 200, value: nameOf },
      { id: 'extension', title: 'Extension', width: 104, mono: true, value: ({ extension }) => extension },
      {
        id: 'reach',
        title: 'Reached now',
        width: 136,
        value: ({ reach }) => RANK[reach],
        show: ({ reach }) => <ReachMark state={reach} />,
      },
      { id: 'status', title: 'Status', width: 120, value: ({ status }) => statuses.get(status) ?? status },
      {
        id: 'permission',
        title: 'Permission',
        width: 150,
        value: ({ permission }) => permissions.get(permission) ?? permission,
      },
      {
        id: 'template',
        title: 'Template',
        width: 150,
        value: ({ template }) => (template === undefined ? '' : (templates.get(template) ?? template)),
      },
      { id: 'phones', title: 'Phones', width: 88, mono: true, value: ({ phones }) => phones },
      {
        id: 'numbers',
        title: 'Numbers',
        width: 340,
        mono: true,
        isExtra: true,
        value: ({ numbers }) => numbers.join('  '),
      },
    ];
  }, [list]);
  return (
    <View style={{ flex: 1 }}>
      <DataTable
        name="people"
        label="People"
        columns={columns}
        rows={rows}
        keyOf={keyOf}
        nameOf={nameOf}
        hrefOf={hrefOf}
        scrolls
        bar={bar}
        {...(canEdit ? { choosing } : {})}
      />
      <ChosenBar count={seen.length} onNone={chooseNone}>
        <Button label="Set status" onPress={() => setSetting('status')} />
        <Button label="Set permission" onPress={() => setSetting('permission')} />
        <Button label="Start from a template" onPress={() => setSetting('template')} />
      </ChosenBar>
      {setting ? (
        <SetMany kind={setting} people={seen.map(keyOf)} list={list} onClose={() => setSetting(null)} />
      ) : null}
    </View>
  );
}

const WORDS: Record<ManyChange['kind'], { readonly title: string; readonly missing: string }> = {
  status: { title: 'Set status', missing: 'Choose a status first' },
  permission: { title: 'Set permission', missing: 'Choose a permission first' },
  template: { title: 'Start from a template', missing: 'Choose a template first' },
};

/** What is set for those who were chosen. */
function SetMany({
  kind,
  people,
  list,
  onClose,
}: {
  readonly kind: ManyChange['kind'];
  readonly people: readonly string[];
  readonly list: PeopleList;
  readonly onClose: () => void;
}) {
  const [to, setTo] = useState<string | null>(null);
  // Kept as they were chosen, though the list changes once it is done.
  const [whom] = useState(people);
  const options = { status: list.statuses, permission: list.permissions, template: list.templates }[kind];
  const { title, missing } = WORDS[kind];
  return (
    <ManySheet
      title={whom.length === 1 ? `${title} for one person` : `${title} for ${whom.length} people`}
      people={whom}
      change={to === null ? null : { kind, to }}
      missing={missing}
      otherwise="Choose another"
      onClose={onClose}
    >
      {options.length === 0 ? (
        <Words tone="soft">There is none yet.</Words>
      ) : (
        <Choice
          label={{ status: 'Status', permission: 'Permission', template: 'Template' }[kind]}
          value={to}
          options={options.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setTo}
        />
      )}
    </ManySheet>
  );
}
