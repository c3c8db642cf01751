import { memo } from 'react';
import { View } from 'react-native';
import type { Estate, Person } from '../../core/estate';
import { setMailbox } from '../../core/editing';
import { usePeople } from '../data/people';
import { PersonSearch } from '../edit/Search';
import { IconButton, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';

/** A person's mailbox: whether it takes messages, and who gets copies of them. */
export const MailboxPart = memo(function MailboxPart({
  person,
  estate,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly onEdit: ((change: (person: Person) => Person) => void) | null;
}) {
  const people = usePeople();
  const { enabled = true, copyTo = [] } = person.mailbox ?? {};
  const nameOf = (id: string) =>
    people.data?.people.find((each) => each.id === id)?.name ??
    estate.people.find((each) => each.id === id)?.name ??
    'Somebody who is gone';
  return (
    <Section title="Voicemail" term="voicemail-for">
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
        <Words style={{ flex: 1 }}>
          {enabled ? 'Takes messages.' : 'Takes no messages: calls that end here fail.'}
        </Words>
        <Toggle
          value={enabled}
          disabled={!onEdit}
          label="Voicemail takes messages"
          onChange={(on) => onEdit?.((before) => setMailbox(before, { enabled: on ? undefined : false }))}
        />
      </View>
      {copyTo.map((id) => (
        <View key={id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words style={{ flex: 1 }}>{`A copy goes to ${nameOf(id)}`}</Words>
          {onEdit ? (
            <IconButton
              icon="close"
              label={`No copy to ${nameOf(id)}`}
              onPress={() =>
                onEdit((before) => setMailbox(before, { copyTo: copyTo.filter((each) => each !== id) }))
              }
            />
          ) : null}
        </View>
      ))}
      {onEdit && enabled ? (
        <PersonSearch
          label="Send copies to"
          except={person.id}
          onPick={(id) => onEdit((before) => setMailbox(before, { copyTo: [...new Set([...copyTo, id])] }))}
        />
      ) : null}
    </Section>
  );
});
