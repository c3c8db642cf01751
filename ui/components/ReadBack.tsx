import { View } from 'react-native';
import { dialString, mayDial, permissionsFor, showNumber } from '../../core/dialling';
import type { Estate, Person } from '../../core/estate';
import { shortName } from '../../core/reach';
import { Button } from './parts';
import { Words } from './Words';

/**
 * A number read back as soon as it is typed: what it is, what is dialled, whether this person's line may and by which
 * trunk; where it may not, what the caller would notice, and the permission that mends it.
 */
export function ReadBack({
  e164,
  person,
  estate,
  onEdit,
}: {
  readonly e164: string;
  /** Whose line dials it. */
  readonly person: Person;
  readonly estate: Estate;
  /** Null where the permission cannot be changed from here. */
  readonly onEdit: ((change: (person: Person) => Person) => void) | null;
}) {
  const may = mayDial(person, e164, estate);
  const trunk = estate.trunks.find(({ id }) => id === may.trunk);
  const [mend] = may.reason === 'not-permitted' ? permissionsFor(e164, estate) : [];
  const what = `${showNumber(e164)}, ${may.class}; dialled as ${dialString(e164, estate.dialling)}`;
  if (may.ok)
    return (
      <Words size="small" tone="soft" live>
        {`${what}, by ${trunk?.name ?? 'a trunk'}`}
      </Words>
    );
  return (
    <View style={{ gap: 4, alignItems: 'flex-start' }}>
      <Words size="small" tone="soft">
        {what}
      </Words>
      <Words size="small" tone="rust" live>
        {`${shortName(person.name)}’s line may not dial it. ${may.heard ?? ''}`}
      </Words>
      {mend && onEdit ? (
        <Button
          label={`Give ${shortName(person.name)} the permission ${mend.name}`}
          onPress={() => onEdit((before) => ({ ...before, permission: mend.id }))}
        />
      ) : null}
    </View>
  );
}
