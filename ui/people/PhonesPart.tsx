import type { PersonPage } from '../../api/people';
import { memo, useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import { movePhone, switchEndpoint } from '../../core/editing';
import type { Endpoint, Person } from '../../core/estate';
import { writeVCard } from '../../core/formats';
import { saveFile } from '../data/files';
import { api, messageOf } from '../data/api';
import { personKey, useChangePerson } from '../data/data';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, IconButton, LinkRow, LinkRows, Section } from '../kit/parts';
import { KIND_WORDS } from '../phones/words';
import { Sheet } from '../kit/Sheet';
import { targetIn } from '../plan/TargetEditor';
import { ActAsk } from '../edit/ActAsk';
import { AddPhone } from './AddPhone';
import { RemovedPhones } from './RemovedPhones';
import { RemovePhone } from './RemovePhone';
import { Toggle } from '../kit/Toggle';
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
  const [more, setMore] = useState<Endpoint | null>(null);
  const [removing, setRemoving] = useState<Endpoint | null>(null);
  const [flipping, setFlipping] = useState<{ endpoint: string; enabled: boolean } | null>(null);
  const isEdited = person !== page.person;
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
            <Button kind="quiet" icon="add" label="Add phone" onPress={() => setAdding(true)} />
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
                  : (endpoint.uri ?? KIND_WORDS[endpoint.kind])}
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
            {onEdit ? (
              <IconButton
                icon="more"
                label={`More about ${endpoint.label}`}
                onPress={() => setMore(endpoint)}
              />
            ) : null}
            {isPlanned(endpoint.id) ? (
              <Toggle
                value={isOn(endpoint.id)}
                disabled={role === 'manager' || flip.isPending || flipping !== null}
                label={`${endpoint.label} rings`}
                onChange={(on) =>
                  onEdit
                    ? onEdit((p) => switchEndpoint(p, endpoint.id, on))
                    : setFlipping({ endpoint: endpoint.id, enabled: on })
                }
              />
            ) : null}
          </View>
        ))}
      </View>
      {onEdit ? <RemovedPhones person={person.id} version={page.version} /> : null}
      {flip.isError ? <Words tone="rust">{messageOf(flip.error)}</Words> : null}
      {flipping ? (
        <ActAsk
          path={`${personKey(person.id)}/effect`}
          act={flipping}
          label={`Switch it ${flipping.enabled ? 'on' : 'off'} all the same`}
          onSure={() => {
            flip.mutate(flipping);
            setFlipping(null);
          }}
          onBack={() => setFlipping(null)}
        />
      ) : null}
      {adding && onEdit ? (
        <AddPhone
          page={page}
          person={person}
          treatment={treatment}
          isEdited={isEdited}
          onEdit={onEdit}
          onClose={() => setAdding(false)}
        />
      ) : null}
      {more && onEdit ? (
        <MoreOfPhone
          person={person}
          endpoint={more}
          isStored={page.person.endpoints.some(({ id }) => id === more.id)}
          onEdit={onEdit}
          onRemove={() => {
            setRemoving(more);
            setMore(null);
          }}
          onClose={() => setMore(null)}
        />
      ) : null}
      {removing && onEdit ? (
        <RemovePhone
          person={person}
          endpoint={removing}
          isStored={page.person.endpoints.some(({ id }) => id === removing.id)}
          onEdit={onEdit}
          onClose={() => setRemoving(null)}
        />
      ) : null}
    </Section>
  );
});

/** What else there is to do about a phone: its place among the others, its account, and its removal. */
function MoreOfPhone({
  person,
  endpoint,
  isStored,
  onEdit,
  onRemove,
  onClose,
}: {
  readonly person: Person;
  readonly endpoint: Endpoint;
  readonly isStored: boolean;
  readonly onEdit: (change: (person: Person) => Person) => void;
  readonly onRemove: () => void;
  readonly onClose: () => void;
}) {
  const at = person.endpoints.findIndex(({ id }) => id === endpoint.id);
  const move = (by: number) => onEdit((before) => movePhone(before, endpoint.id, by));
  return (
    <Sheet title={endpoint.label} open onClose={onClose}>
      {person.endpoints.length > 1 ? (
        <View style={{ gap: space(1) }}>
          <Words size="small" tone="soft" live>
            {`Place ${at + 1} of ${person.endpoints.length}, in lists and drawings`}
          </Words>
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button grow icon="up" label="Move up" disabled={at <= 0} onPress={() => move(-1)} />
            <Button
              grow
              icon="down"
              label="Move down"
              disabled={at >= person.endpoints.length - 1}
              onPress={() => move(1)}
            />
          </View>
        </View>
      ) : null}
      {isStored ? (
        <LinkRows>
          <LinkRow
            title="Account and registration"
            text="What is typed into it, how it is registered, its hand-over sheet"
            href={`/phones/${encodeURIComponent(endpoint.id)}`}
          />
        </LinkRows>
      ) : null}
      <Button label="Remove this phone" onPress={onRemove} />
    </Sheet>
  );
}
