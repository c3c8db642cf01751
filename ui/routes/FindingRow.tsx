import type { TableBody } from '../../api/routing';
import { andList } from '../../core/estate';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { RouteFinding, RouteNames, TableMend } from '../../core/routes';

import { space } from '../kit/theme';
import { Button } from '../kit/parts';
import { Words } from '../kit/Words';

export const WEIGHTS = { fault: 'Fault', risk: 'Risk', note: 'Note' } as const;

/** What a mend would do, as the label of its button; null: it is not made in the table. */
export function sayMend(mend: TableMend, { routes }: TableBody, names: RouteNames): string | null {
  const name = (id: string) => routes.find((route) => route.id === id)?.name ?? id;
  switch (mend.kind) {
    case 'move':
      return `Move it above ${name(mend.before)}`;
    case 'remove':
      return 'Remove it';
    case 'rewrite':
      return [
        mend.rewrite.drop > 0
          ? `Take the first ${mend.rewrite.drop > 1 ? `${mend.rewrite.drop} ` : ''}off`
          : '',
        mend.rewrite.prepend === '' ? '' : `put ${mend.rewrite.prepend} before`,
      ]
        .filter(Boolean)
        .join(', ')
        .replace(/^p/, 'P');
    case 'from':
      return mend.from.length === 0
        ? 'Take no calls'
        : mend.from.length > 2
          ? 'Leave out calls that come back'
          : `Only calls from ${andList(mend.from.map(names.peer))}`;
    case 'number':
      return null;
  }
}

/** One finding with its example to play and its mend to take. */
export function FindingRow({
  finding,
  table,
  names,
  onShow,
  onMend,
}: {
  readonly finding: RouteFinding;
  readonly table: TableBody;
  readonly names: RouteNames;
  readonly onShow: (finding: RouteFinding) => void;
  readonly onMend: ((mend: TableMend) => void) | null;
}) {
  const { weight, says, call, mend } = finding;
  const label = mend ? sayMend(mend, table, names) : null;
  return (
    <View role="listitem" style={{ gap: space(1), paddingVertical: space(1) }}>
      <Words size="small">
        <Words size="small" strong tone={{ fault: 'rust', risk: 'ochre', note: 'soft' }[weight] as 'rust'}>
          {`${WEIGHTS[weight]}: `}
        </Words>
        {showNumbersIn(says)}
      </Words>
      {call || (label && onMend) ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {call ? <Button icon="play" label="Show the call" onPress={() => onShow(finding)} /> : null}
          {mend && label && onMend ? <Button label={label} onPress={() => onMend(mend)} /> : null}
        </View>
      ) : null}
    </View>
  );
}
