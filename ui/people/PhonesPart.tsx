import type { PersonPage } from '../../api/people';
import { memo, useState } from 'react';
import { View } from 'react-native';
import { Switch } from 'react-native-paper';
import { readNumber, showNumber } from '../../core/calls/dialling';
import { addMobile, switchEndpoint } from '../../core/editing';
import type { Endpoint, Person } from '../../core/estate';
import { writeVCard } from '../../core/formats';
import { saveFile } from '../data/files';
import { api, messageOf } from '../data/api';
import { personKey, useChangePerson } from '../data/data';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Field, IconButton, Section } from '../kit/parts';
import { KIND_WORDS } from '../phones/words';
import { ReadBack } from '../plan/ReadBack';
import { Sheet } from '../kit/Sheet';
import { targetIn } from '../plan/TargetEditor';
import { Words } from '../kit/Words';

interface PhonesProps {
  readonly page: PersonPage;
  readonly person: Person;
  readonly treatment: string;
  readonly onEdit: ((change: (person: Person) => Person, merge?: string) => void) | null;
  readonly onOpen: (endpoint: string) => void;
}

/** The person's own phones, each with its switch. */
export const PhonesPart = memo(function PhonesPart({ page, person, treatment, onEdit, onOpen }: PhonesProps) {
  const palette = usePalette();
  const role = useRole();
  const flip = useChangePerson<{ endpoint: string; enabled: boolean }>(person.id, 'PUT', '/switch');
  const [shown, setShown] = useState<Readonly<Record<string, string>>>({});
  const [adding, setAdding] = useState(false);
  const isOn = (id: string) =>
    [...person.plan.rules, person.plan.otherwise].some((t) =>
      t.stages.some(
        (s) => 'ring' in s && s.ring.some((target) => target.endpoint === id && target.enabled !== false),
      ),
    );
  const isPlanned = (id: string) =>
    [...person.plan.rules, person.plan.otherwise].some((t) =>
      t.stages.some((s) => 'ring' in s && s.ring.some((target) => target.endpoint === id)),
    );
  const reveal = async (endpoint: Endpoint) => {
    const { number } = await api<{ number: string }>(
      'POST',
      `${personKey(person.id)}/numbers/${encodeURIComponent(endpoint.id)}`,
      {},
    );
    setShown((before) => ({ ...before, [endpoint.id]: number }));
  };
  return (
    <Section
      title="Phones"
      aside={
        onEdit ? (
          <View style={{ flexDirection: 'row' }}>
            <Button
              kind="quiet"
              label="vCard"
              onPress={() => saveFile(`${person.id}.vcf`, writeVCard(person, page.slice.name), 'text/vcard')}
            />
            <Button kind="quiet" icon="add" label="Add a mobile" onPress={() => setAdding(true)} />
          </View>
        ) : null
      }
    >
      <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {person.endpoints.map((endpoint, i) => (
          <View
            key={endpoint.id}
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              gap: space(2),
              padding: space(3),
              borderTopWidth: i > 0 ? 1 : 0,
              borderColor: palette.line,
            }}
          >
            <View style={{ flex: 1, gap: 2 }}>
              <Words strong>{endpoint.label}</Words>
              <Words size="small" tone="soft" mono={endpoint.number !== undefined}>
                {endpoint.number
                  ? showNumber(shown[endpoint.id] ?? endpoint.number)
                  : KIND_WORDS[endpoint.kind]}
              </Words>
            </View>
            {endpoint.number && role === 'help-desk' && !shown[endpoint.id] ? (
              <IconButton
                icon="eye"
                label={`Show the number of ${endpoint.label}; this is recorded`}
                onPress={() => void reveal(endpoint)}
              />
            ) : null}
            {onEdit ? (
              <Button
                kind="quiet"
                label={targetIn(person, treatment, endpoint.id) ? 'Edit' : 'Ring it'}
                onPress={() => onOpen(endpoint.id)}
              />
            ) : null}
            {isPlanned(endpoint.id) ? (
              <Switch
                value={isOn(endpoint.id)}
                disabled={role === 'manager' || flip.isPending}
                color={palette.accent}
                accessibilityLabel={`${endpoint.label} rings`}
                onValueChange={(on) =>
                  onEdit
                    ? onEdit((p) => switchEndpoint(p, endpoint.id, on))
                    : flip.mutate({ endpoint: endpoint.id, enabled: on })
                }
              />
            ) : null}
          </View>
        ))}
      </View>
      {flip.isError ? <Words tone="rust">{messageOf(flip.error)}</Words> : null}
      {adding && onEdit ? (
        <AddMobile
          page={page}
          person={person}
          onEdit={onEdit}
          onClose={() => setAdding(false)}
          onAdd={(number) => onEdit((p) => addMobile(p, number, treatment))}
        />
      ) : null}
    </Section>
  );
});

function AddMobile({
  page,
  person,
  onEdit,
  onClose,
  onAdd,
}: {
  page: PersonPage;
  person: Person;
  onEdit: (change: (person: Person) => Person) => void;
  onClose: () => void;
  onAdd: (number: string) => void;
}) {
  const [text, setText] = useState('');
  const read = readNumber(text, page.slice.dialling);
  const add = () => {
    if (!read.ok) return;
    onAdd(read.e164);
    onClose();
  };
  return (
    <Sheet
      title="Add a mobile"
      open
      onClose={onClose}
      action={{ label: 'Ring it together with the rest', disabled: !read.ok, onPress: add }}
    >
      <Field
        label="Number, in any form"
        keyboard="phone-pad"
        mono
        autoFocus
        value={text}
        onChange={setText}
        onSubmit={add}
        error={text !== '' && !read.ok ? read.reason : null}
      />
      {read.ok ? (
        <ReadBack
          e164={read.e164}
          holder={person}
          estate={page.slice}
          onPermission={(permission) => onEdit((before) => ({ ...before, permission }))}
        />
      ) : null}
      <Words tone="soft">
        It rings with the part of the plan in view, with an answer guard of 2.3 s against a voicemail that
        answers at once, and stops ringing after 22 s, before a usual mobile carrier’s voicemail answers.
      </Words>
    </Sheet>
  );
}
