import { View } from 'react-native';
import { sayBoth, sayValue, sayWhere, type ToldChange } from '../../core/changes/slate';
import { Words } from '../kit/Words';

const SHOWN = 8;
/** One of several in a list that comes or goes: which is said beside it. */
const isOne = ({ path, before, after }: ToldChange): boolean =>
  path.endsWith(']') &&
  typeof (before ?? after) === 'string' &&
  (before === undefined || after === undefined);

/** Settings that change, each with what it was and what it becomes. */
export function ChangeLines({
  changes,
  more = 0,
}: {
  readonly changes: readonly ToldChange[];
  readonly more?: number;
}) {
  const hidden = Math.max(0, changes.length - SHOWN) + more;
  return (
    <View style={{ gap: 2 }}>
      {changes.slice(0, SHOWN).map((change) => (
        <Words key={change.path} size="small">
          <Words size="small" tone="soft">{`${sayWhere(change)}: `}</Words>
          {isOne(change)
            ? sayValue(change.before ?? change.after, change.path, undefined, change.names)
            : sayBoth(change)}
        </Words>
      ))}
      {hidden > 0 ? <Words size="small" tone="soft">{`and ${hidden} more`}</Words> : null}
    </View>
  );
}
