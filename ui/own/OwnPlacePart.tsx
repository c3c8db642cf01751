import { useState } from 'react';
import { View } from 'react-native';
import type { OwnPlaces } from '../../api/safety';
import { sayPlaceFault } from '../../core/emergency';
import type { Civic } from '../../core/estate';
import { faultOf } from '../data/api';
import { useOwnPlaces, useSayPlace } from '../data/safety';
import { Button, Refused, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CivicFields } from '../safety/CivicFields';

type Phone = OwnPlaces['phones'][number];

/** Where one's softphones are, for emergencies: said, and confirmed when they register from elsewhere. */
export function OwnPlacePart() {
  const palette = usePalette();
  const places = useOwnPlaces();
  const say = useSayPlace();
  const [editing, setEditing] = useState<Phone | null>(null);
  const phones = places.data?.phones ?? [];
  if (phones.length === 0) return null;
  return (
    <Section title="Where you are, for emergencies">
      {phones.map((phone) => (
        <View
          key={phone.endpoint}
          style={{ gap: space(2), paddingBottom: space(3), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <Words strong>{phone.label}</Words>
          <Words>{phone.place ?? 'Nobody could tell the emergency services where it is.'}</Words>
          {phone.faults.includes('stale') ? (
            <Words tone="ochre">{`${sayPlaceFault('stale')}. Is it still there?`}</Words>
          ) : null}
          {phone.maySay ? (
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
              {phone.civic && phone.faults.includes('stale') ? (
                <Button
                  kind="main"
                  label="Yes, it is there"
                  busy={say.isPending}
                  onPress={() => phone.civic && say.mutate({ endpoint: phone.endpoint, civic: phone.civic })}
                />
              ) : null}
              <Button
                label={phone.place ? `Say where ${phone.label} is now` : `Say where ${phone.label} is`}
                onPress={() => setEditing(phone)}
              />
            </View>
          ) : null}
        </View>
      ))}
      <Refused error={editing ? null : say.error} />
      {editing ? <SaySheet phone={editing} onClose={() => setEditing(null)} /> : null}
    </Section>
  );
}

function SaySheet({ phone, onClose }: { readonly phone: Phone; readonly onClose: () => void }) {
  const say = useSayPlace();
  const [civic, setCivic] = useState<Civic>(phone.civic ?? {});
  const beside = (name: string) => faultOf(say.error, `civic.${name}`);
  return (
    <Sheet
      title={`Where ${phone.label} is`}
      open
      onClose={onClose}
      action={{
        label: 'That is where it is',
        busy: say.isPending,
        disabled: Object.keys(civic).length === 0,
        onPress: () => say.mutate({ endpoint: phone.endpoint, civic }, { onSuccess: onClose }),
      }}
    >
      <Words tone="soft">
        Your mobility specialist sees it; others see the town alone. Calls do not carry it yet: say where you
        are when you call for help.
      </Words>
      <CivicFields
        civic={civic}
        onChange={(next) => {
          say.reset();
          setCivic(next);
        }}
        faultOf={beside}
      />
      <Refused error={(beside('country') ?? beside('RD')) ? null : say.error} />
    </Sheet>
  );
}
