import type { ObjectKind } from '../../api/objects';
import { useState } from 'react';
import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useRemoveObject } from '../data/objects';
import { Button, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** Removes an object, once it is said that it is meant: it is gone at once, and the record brings it back. */
export function RemovePart({
  kind,
  id,
  name,
  label,
  onRemoved,
}: {
  readonly kind: ObjectKind;
  readonly id: string;
  readonly name: string;
  /** Such as "Remove this status". */
  readonly label: string;
  readonly onRemoved: () => void;
}) {
  const remove = useRemoveObject(kind);
  const [asks, setAsks] = useState(false);
  return (
    <View style={{ gap: space(2), alignItems: 'flex-start' }}>
      {asks ? (
        <View role="alert" style={{ gap: space(2) }}>
          <Words>{`${name} is gone at once if nothing uses it. The record can bring it back.`}</Words>
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              label="Remove it"
              busy={remove.isPending}
              onPress={() => remove.mutate(id, { onSuccess: onRemoved })}
            />
            <Button kind="quiet" label="Keep it" onPress={() => setAsks(false)} />
          </View>
        </View>
      ) : (
        <Button kind="quiet" label={label} onPress={() => setAsks(true)} />
      )}
      {remove.isError ? <Trouble message={messageOf(remove.error)} /> : null}
    </View>
  );
}
