import { View } from 'react-native';
import { dialString, mayDial, permissionsFor, showNumber, watchedAs } from '../../core/calls/dialling';
import type { Estate } from '../../core/estate';
import { shortName } from '../../core/calls/engine';
import { Button } from '../kit/parts';
import { Words } from '../kit/Words';

/**
 * A number read back as soon as it is typed: what it is, what is dialled, whether this person's line may and by which
 * trunk; where it may not, what the caller would notice, and the permission that mends it.
 */
export function ReadBack({
  e164,
  holder,
  estate,
  onPermission,
}: {
  readonly e164: string;
  /** Whose line dials it: a person, a group or a menu. */
  readonly holder: { readonly name: string; readonly permission: string };
  readonly estate: Estate;
  /** Null where the permission cannot be changed from here. */
  readonly onPermission: ((permission: string) => void) | null;
}) {
  const may = mayDial(holder, e164, estate);
  const watchedBy = watchedAs(e164, estate);
  const trunk = estate.trunks.find(({ id }) => id === may.trunk);
  const [mend] = may.reason === 'not-permitted' ? permissionsFor(e164, estate) : [];
  const what = `${showNumber(e164)}, ${may.class}; dialled as ${dialString(e164, estate.dialling)}`;
  const watched = watchedBy ? (
    <Words size="small" tone="ochre" live>
      {watchedBy === 'premium'
        ? 'A premium number: fraud protection watches it.'
        : 'Fraud protection watches it.'}
    </Words>
  ) : null;
  if (may.ok)
    return (
      <View style={{ gap: 4 }}>
        <Words size="small" tone="soft" live>
          {`${what}, by ${trunk?.name ?? 'a trunk'}`}
        </Words>
        {watched}
      </View>
    );
  return (
    <View style={{ gap: 4, alignItems: 'flex-start' }}>
      <Words size="small" tone="soft">
        {what}
      </Words>
      <Words size="small" tone="rust" live>
        {`${shortName(holder.name)}’s line may not dial it. ${may.heard ?? ''}`}
      </Words>
      {watched}
      {mend && onPermission ? (
        <Button
          label={`Give ${shortName(holder.name)} the permission ${mend.name}`}
          onPress={() => onPermission(mend.id)}
        />
      ) : null}
    </View>
  );
}
