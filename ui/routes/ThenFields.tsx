import type { TableBody } from '../../api/routing';
import { View } from 'react-native';
import { CAUSES } from '../../core/routes';
import type { Branch, RouteThen } from '../../core/estate';

import { space } from '../kit/theme';
import { Button, Choice } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { RewriteFields } from './RewriteFields';
import { PeerTicks } from './PeerTicks';
import { without } from './without';

const peersOf = ({ peers }: TableBody) => peers.map(({ id, name }) => ({ value: id, label: name }));

/** What a route does with the calls that it takes. */
export function ThenFields({
  then,
  table,
  example,
  onChange,
}: {
  then: RouteThen;
  table: TableBody;
  example: string;
  onChange: (then: RouteThen) => void;
}) {
  if ('refuse' in then)
    return (
      <Choice
        label="The caller is told"
        value={String(then.refuse.cause)}
        options={CAUSES.map(({ cause, says }) => ({ value: String(cause), label: `${cause}, ${says}` }))}
        onChange={(cause) => onChange({ refuse: { cause: Number(cause) } })}
      />
    );
  if ('rewrite' in then)
    return (
      <View style={{ gap: space(3) }}>
        <RewriteFields
          what="the number"
          value={then.rewrite.rewrite}
          example={example}
          onChange={(rewrite) =>
            onChange({ rewrite: { ...then.rewrite, rewrite: rewrite ?? { drop: 0, prepend: '' } } })
          }
        />
        <RewriteFields
          what="the caller"
          value={then.rewrite.caller}
          example=""
          onChange={(caller) =>
            onChange({ rewrite: caller ? { ...then.rewrite, caller } : without(then.rewrite, 'caller') })
          }
        />
      </View>
    );
  if ('fork' in then) {
    const { branches } = then.fork;
    const set = (next: readonly Branch[]) => onChange({ fork: { branches: next } });
    const setAt = (at: number, branch: Branch) => set(branches.map((each, i) => (i === at ? branch : each)));
    return (
      <View style={{ gap: space(4) }}>
        {branches.map((branch, at) => (
          <View key={at} style={{ gap: space(2) }}>
            <Choice
              titled
              label={`Rings at (${at + 1})`}
              value={branch.peer}
              options={peersOf(table)}
              onChange={(peer) => setAt(at, { ...branch, peer })}
            />
            <TimeField
              label="So much later"
              value={branch.delayMs ?? 0}
              step={1000}
              onChange={(ms) => setAt(at, ms ? { ...branch, delayMs: ms } : without(branch, 'delayMs'))}
            />
            <RewriteFields
              what="the number"
              value={branch.rewrite}
              example={example}
              onChange={(rewrite) => setAt(at, rewrite ? { ...branch, rewrite } : without(branch, 'rewrite'))}
            />
            {branches.length > 1 ? (
              <Button
                kind="quiet"
                label={`Remove branch ${at + 1}`}
                onPress={() => set(branches.filter((_, i) => i !== at))}
              />
            ) : null}
          </View>
        ))}
        <Button
          label="Add a branch"
          icon="add"
          onPress={() => set([...branches, { peer: table.peers[0]?.id ?? '' }])}
        />
      </View>
    );
  }
  const { send } = then;
  const set = (next: typeof send) => onChange({ send: next });
  return (
    <View style={{ gap: space(3) }}>
      <Choice
        titled
        label="To"
        value={send.peer}
        options={peersOf(table)}
        onChange={(peer) => set({ ...send, peer })}
      />
      <RewriteFields
        what="the number"
        value={send.rewrite}
        example={example}
        onChange={(rewrite) => set(rewrite ? { ...send, rewrite } : without(send, 'rewrite'))}
      />
      <PeerTicks
        title="Or else to, in the order ticked"
        peers={table.peers.filter(({ id }) => id !== send.peer)}
        ticked={send.orElse}
        onChange={(orElse) => set(orElse ? { ...send, orElse } : without(send, 'orElse'))}
      />
    </View>
  );
}
