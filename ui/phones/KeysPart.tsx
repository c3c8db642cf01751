import { useState } from 'react';
import { View } from 'react-native';
import {
  KEY_USES,
  type Desk,
  type Device,
  type Group,
  type KeyUse,
  type Person,
  type PhoneKey,
  type ServiceCode,
} from '../../core/estate';
import type { PhoneModel } from '../../core/devices/phones';
import { keyFaults, KEY_USE_NAMES, sayKey, usualKeys } from '../../core/devices/provisioning';
import { PhoneDrawing } from '../drawings/PhoneDrawing';
import { usePersonPage } from '../data/data';
import { usePeople } from '../data/people';
import { usePhones } from '../data/phones';
import { useObjects } from '../data/objects';
import { useDialling } from '../data/routing';
import { usePush, useProvisioning } from '../data/provisioning';
import { space } from '../kit/theme';
import { Button, Choice, Field, Refused, Section, Skeleton } from '../kit/parts';
import { PersonSearch, useNamed } from '../edit/Search';
import { Sheet } from '../kit/Sheet';
import { PressCode } from './PressCode';
import { Words } from '../kit/Words';

/** The keys of a phone, laid out on a drawing of it, and pushed to it once they are live. */
export function KeysPart(props: KeysProps) {
  const phones = usePhones();
  const owner = phones.data?.phones.find(({ endpoint }) => endpoint === props.device.endpoint)?.person;
  if (props.model.keys === 0 || phones.isPending) return null;
  return owner === undefined ? (
    <KeysView {...props} person={undefined} />
  ) : (
    <OwnedKeys {...props} owner={owner} />
  );
}

interface KeysProps {
  readonly device: Device;
  readonly model: PhoneModel;
  /** There are edits of the phone that are not live. */
  readonly isChanged: boolean;
  readonly onEdit: ((change: (device: Device) => Device) => void) | null;
}

function OwnedKeys({ owner, ...props }: KeysProps & { readonly owner: string }) {
  const page = usePersonPage(owner);
  return page.isPending ? <Skeleton rows={2} /> : <KeysView {...props} person={page.data?.person} />;
}

function KeysView({
  device,
  model,
  isChanged,
  onEdit,
  person,
}: KeysProps & { readonly person: Person | undefined }) {
  const people = usePeople();
  const groups = useNamed('group');
  const set = useProvisioning();
  const push = usePush();
  const [chosen, setChosen] = useState<number | null>(null);
  const row = set.data?.phones.find((each) => each.device === device.id);
  const endpoint = person?.endpoints.find(({ id }) => id === device.endpoint);
  const desks = useObjects<Desk>('desk');
  const isShared = desks.data?.objects.some((desk) => desk.device === device.id) ?? false;
  const used = { person, endpoint, isShared };
  const keys = device.keys ?? [];
  const dialling = useDialling();
  const codes = dialling.data?.dialling.codes ?? [];
  const faults = dialling.data ? keyFaults(device, model, used, codes) : [];
  const nameOf = (id: string) => people.data?.people.find((each) => each.id === id)?.name;
  const put = (at: number, key: PhoneKey | null) =>
    onEdit?.((before) => ({
      ...before,
      keys: [...(before.keys ?? []).filter((each) => each.at !== at), ...(key ? [key] : [])].sort(
        (a, b) => a.at - b.at,
      ),
    }));
  const layOut = () =>
    onEdit?.((before) => ({
      ...before,
      keys: usualKeys(model, used, { groups: (groups.data?.objects ?? []) as readonly Group[] }),
    }));
  return (
    <Section title="Keys">
      {isShared ? (
        <Words tone="soft">
          What stands here stays at the desk whoever sits there. The keys that are left get the lines, the
          twinning and the colleagues of whoever signs on, and are empty once nobody is there.
        </Words>
      ) : null}
      <PhoneDrawing
        name={model.name}
        display={[
          person?.lines[0]?.extension ?? device.name,
          person?.name ?? (isShared ? 'of whoever signs on' : 'nobody’s yet'),
        ]}
        keys={Array.from({ length: model.keys }, (_, i) => {
          const key = keys.find(({ at }) => at === i + 1);
          return {
            at: i + 1,
            label: key ? sayKey(key, nameOf) : null,
            isWrong: faults.some(({ at }) => at === i + 1),
          };
        })}
        chosen={chosen}
        onChoose={(at) => (onEdit ? setChosen(at) : undefined)}
      />
      {faults.map(({ at, says }) => (
        <Words key={`${at}${says}`} size="small" tone="rust">{`Key ${at}: ${says}`}</Words>
      ))}
      {onEdit ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {keys.length === 0 && person ? <Button label="Lay out the usual ones" onPress={layOut} /> : null}
          {row && row.state === 'registered' && row.isBehind && !isChanged ? (
            <Button
              kind="main"
              label="Push them to the phone"
              busy={push.isPending}
              onPress={() => push.mutate([device.id])}
            />
          ) : null}
        </View>
      ) : null}
      {row && !isChanged && row.fetchedAt !== null ? (
        <Words size="small" tone="soft" live>
          {row.isBehind ? 'The phone still has its older settings.' : 'The phone has these settings.'}
        </Words>
      ) : null}
      <Refused error={push.error} />
      {chosen === null || !onEdit ? null : (
        <KeySheet
          at={chosen}
          value={keys.find(({ at }) => at === chosen) ?? null}
          person={person}
          nameOf={nameOf}
          endpoint={row?.state === 'registered' ? row.endpoint : (device.endpoint ?? null)}
          codes={codes}
          onClose={() => setChosen(null)}
          onPut={(key) => put(chosen, key)}
        />
      )}
    </Section>
  );
}

const NOTHING = 'nothing';

/** What one key is for. */
function KeySheet({
  at,
  value,
  person,
  nameOf,
  endpoint,
  codes,
  onClose,
  onPut,
}: {
  readonly at: number;
  readonly value: PhoneKey | null;
  readonly person: Person | undefined;
  readonly nameOf: (id: string) => string | undefined;
  readonly endpoint: string | null;
  readonly codes: readonly ServiceCode[];
  readonly onClose: () => void;
  readonly onPut: (key: PhoneKey | null) => void;
}) {
  const use = value?.use ?? NOTHING;
  const code = codes.find(({ acts }) => acts !== undefined && acts === value?.use);
  const choose = (next: KeyUse | typeof NOTHING) => {
    if (next === NOTHING) return onPut(null);
    const label = value?.label === undefined ? {} : { label: value.label };
    const [line] = person?.lines ?? [];
    onPut({
      at,
      use: next,
      ...label,
      ...(next === 'line' && line ? { extension: line.extension } : {}),
      ...(next === 'call' ? { number: value?.number ?? '' } : {}),
    });
  };
  return (
    <Sheet title={`Key ${at}`} open onClose={onClose} action={{ label: 'Done', onPress: onClose }}>
      <Choice
        label="What it is for"
        titled
        value={use}
        options={[
          { value: NOTHING, label: 'Nothing' },
          ...KEY_USES.map((each) => ({ value: each, label: KEY_USE_NAMES[each] })),
        ]}
        onChange={choose}
      />
      {value?.use === 'line' && person && person.lines.length > 1 ? (
        <Choice
          label="Which line"
          titled
          value={value.extension ?? ''}
          options={person.lines.map(({ extension }) => ({ value: extension, label: extension }))}
          onChange={(extension) => onPut({ ...value, extension })}
        />
      ) : null}
      {value?.use === 'call' ? (
        <Field
          label="What it dials"
          mono
          keyboard="phone-pad"
          value={value.number ?? ''}
          onChange={(number) => onPut({ ...value, number })}
          error={value.number === '' ? 'A number or an extension' : null}
        />
      ) : null}
      {value?.use === 'watch' ? (
        <View style={{ gap: space(2) }}>
          <Words>
            {value.person === undefined
              ? 'Whom does it watch?'
              : `It watches ${nameOf(value.person) ?? value.person}.`}
          </Words>
          <PersonSearch
            label={value.person === undefined ? 'A colleague' : 'Another colleague'}
            {...(person ? { except: person.id } : {})}
            onPick={(id) => onPut({ ...value, person: id })}
          />
        </View>
      ) : null}
      {code && endpoint !== null ? <PressCode endpoint={endpoint} code={code} /> : null}
      {value ? (
        <Field
          label="What stands beside it, if not the usual"
          value={value.label ?? ''}
          onChange={(label) => {
            const { label: _before, ...rest } = value;
            onPut(label.trim() === '' ? rest : { ...rest, label });
          }}
        />
      ) : null}
    </Sheet>
  );
}
