import type { ObjectPage } from '../../api/objects';
import { useState } from 'react';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { isNumberKind, NAT_METHODS, type Desk, type Device } from '../../core/estate';
import { METHOD_NAMES, modelOf, readHardwareAddress, showHardwareAddress } from '../../core/devices/phones';
import { messageOf } from '../data/api';
import { useObject, useObjects, useObjectWork } from '../data/objects';
import { usePhones } from '../data/phones';
import { usePeople } from '../data/people';
import { useCanEdit } from '../data/session';
import { WithFindings } from '../findings/WithFindings';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { DeviceWayPart } from '../networks/PhoneWayPart';
import { KeysPart } from './KeysPart';
import { KeypadPart } from './KeypadPart';
import { registrationWords } from './words';
import { ModelChoice } from './ModelChoice';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { space } from '../kit/theme';
import { useSites } from './DevicesScreen';
import { Ask } from '../kit/Term';
import { fieldLabel } from '../kit/fieldLabel';

export function DeviceScreen({ id }: { readonly id: string }) {
  const page = useObject<Device>('device', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <DeviceView key={id} page={page.data} />;
}

/** A field without its value where that is empty, so that it can be told from one that is not known. */
function without<K extends keyof Device>(device: Device, key: K): Device {
  const { [key]: _gone, ...rest } = device;
  return rest as unknown as Device;
}

/** Which endpoint it is used as, found by name. */
function UsedAs({
  device,
  onChoose,
}: {
  device: Device;
  onChoose: ((endpoint: string | null) => void) | null;
}) {
  const phones = usePhones();
  const [query, setQuery] = useState<string | null>(null);
  const rows = (phones.data?.phones ?? []).filter(({ kind }) => !isNumberKind(kind));
  const used = rows.find(({ endpoint }) => endpoint === device.endpoint);
  const registration = phones.data?.registrations.find(({ endpoint }) => endpoint === device.endpoint);
  const wanted = (query ?? '').trim().toLowerCase();
  const found = rows
    .filter(({ name, label, extension }) =>
      `${name} ${label} ${extension ?? ''}`.toLowerCase().includes(wanted),
    )
    .slice(0, 8);
  return (
    <Section title="Used as">
      {used ? (
        <LinkRows>
          <LinkRow
            title={`${used.name}: ${used.label}`}
            text={registration ? registrationWords(registration) : 'not registered'}
            href={`/phones/${encodeURIComponent(used.endpoint)}`}
          />
        </LinkRows>
      ) : (
        <Words tone="soft">It is nobody’s yet.</Words>
      )}
      {onChoose ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button
            label={used ? 'Give it to somebody else' : 'Give it to somebody'}
            onPress={() => setQuery('')}
          />
          {used ? <Button label="Take it from them" onPress={() => onChoose(null)} /> : null}
        </View>
      ) : null}
      <Sheet title="Whose phone is it?" open={query !== null} onClose={() => setQuery(null)}>
        <Field label="Name, phone or extension" value={query ?? ''} onChange={setQuery} />
        <LinkRows>
          {found.map((row) => (
            <LinkRow
              key={row.endpoint}
              title={row.name}
              text={row.label}
              onPress={() => {
                onChoose?.(row.endpoint);
                setQuery(null);
              }}
            />
          ))}
        </LinkRows>
        {found.length === 0 ? <Words tone="soft">Nobody’s phone fits.</Words> : null}
      </Sheet>
    </Section>
  );
}

/** The shared desk whose phone it is; of an older file, who was signed on at it. */
function SignedOnPart({
  device,
  onEdit,
}: {
  readonly device: Device;
  readonly onEdit: ((change: (device: Device) => Device) => void) | null;
}) {
  const desks = useObjects<Desk>('desk');
  const people = usePeople();
  const { signedOn } = device;
  const desk = desks.data?.objects.find((each) => each.device === device.id);
  if (desk)
    return (
      <Section title="Shared desk">
        <LinkRows>
          <LinkRow
            title={desk.name}
            text="Who sits there, and who sat there of late"
            href={`/desks/${encodeURIComponent(desk.id)}`}
          />
        </LinkRows>
      </Section>
    );
  if (!signedOn) return null;
  const name = people.data?.people.find(({ id }) => id === signedOn.person)?.name ?? 'Somebody who is gone';
  return (
    <Section title="Signed on">
      <Words>{`${name}, since ${DateTime.fromISO(signedOn.since).setLocale('en').toFormat('ccc d LLL, HH:mm')}`}</Words>
      <Words size="small" tone="soft">
        From an older file: this phone is no shared desk.
      </Words>
      {onEdit ? (
        <View style={{ flexDirection: 'row' }}>
          <Button
            label={`Sign ${name} off`}
            onPress={() => onEdit((before) => without(before, 'signedOn'))}
          />
        </View>
      ) : null}
    </Section>
  );
}

function DeviceView({ page }: { readonly page: ObjectPage<Device> }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const sites = useSites();
  const work = useObjectWork('device', page);
  const device = work.object;
  const model = modelOf(device.model);
  const [address, setAddress] = useState<string | null>(null);
  const edit = work.edit;
  const typed = address ?? (device.macAddress ? showHardwareAddress(device.macAddress) : '');
  const wrong = address !== null && address.trim() !== '' && readHardwareAddress(address) === null;
  return (
    <PageFrame
      title={device.name}
      text={model ? `${model.name}, firmware ${model.firmwareLeast} at least` : device.model}
      back={{ path: '/devices', label: 'Devices' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`device/${device.id}`}>
        <UsedAs
          device={device}
          onChoose={
            canEdit
              ? (endpoint) =>
                  edit((before) =>
                    endpoint === null ? without(before, 'endpoint') : { ...before, endpoint },
                  )
              : null
          }
        />
        <SignedOnPart device={device} onEdit={canEdit ? edit : null} />
        <Section title="What it is">
          {canEdit ? (
            <>
              <Field
                label={fieldLabel('device', 'name')}
                value={device.name}
                onChange={(name) => name.trim() && edit((before) => ({ ...before, name }))}
              />
              <ModelChoice
                value={device.model}
                onChange={(value) => edit((before) => ({ ...before, model: value }))}
              />
              <Field
                label={fieldLabel('device', 'macAddress')}
                mono
                value={typed}
                onChange={(text) => {
                  setAddress(text);
                  const read = readHardwareAddress(text);
                  if (read) edit((before) => ({ ...before, macAddress: read }));
                  else if (text.trim() === '') edit((before) => without(before, 'macAddress'));
                }}
                {...(wrong
                  ? { error: 'Twelve digits from 0 to 9 and A to F, with or without separators.' }
                  : {})}
              />
              <Field
                label={fieldLabel('device', 'firmware')}
                mono
                value={device.firmware ?? ''}
                onChange={(text) =>
                  edit((before) =>
                    text.trim() === '' ? without(before, 'firmware') : { ...before, firmware: text.trim() },
                  )
                }
              />
              <Choice
                label="Its factory password"
                titled
                value={device.passwordChanged === true ? 'changed' : 'not'}
                options={[
                  { value: 'changed', label: 'Has been changed' },
                  { value: 'not', label: 'Has not been changed' },
                ]}
                onChange={(value) => edit((before) => ({ ...before, passwordChanged: value === 'changed' }))}
              />
            </>
          ) : (
            <Words>{`${device.firmware ?? 'Firmware not known'}, factory password ${device.passwordChanged ? 'changed' : 'not changed'}`}</Words>
          )}
        </Section>
        <Section title="Where it stands">
          {canEdit ? (
            <>
              <Choice
                label={fieldLabel('device', 'site')}
                titled
                value={device.site ?? 'none'}
                options={[
                  { value: 'none', label: 'Not known' },
                  ...(sites.data?.objects ?? []).map((site) => ({ value: site.id, label: site.name })),
                ]}
                onChange={(site) =>
                  edit((before) => (site === 'none' ? without(before, 'site') : { ...before, site }))
                }
              />
              <Choice
                label="How it gets to the phone system"
                titled
                beside={<Ask term="nat-method" />}
                value={device.natMethod ?? 'inside'}
                options={[
                  { value: 'inside' as const, label: 'It stands inside' },
                  ...NAT_METHODS.map((value) => ({ value, label: METHOD_NAMES[value] })),
                ]}
                onChange={(value) =>
                  edit((before) =>
                    value === 'inside' ? without(before, 'natMethod') : { ...before, natMethod: value },
                  )
                }
              />
              {device.natMethod ? (
                <Choice
                  label="The phone system lets it in from outside"
                  titled
                  beside={<Ask term="remote-registration" />}
                  value={device.remoteRegistration === true ? 'yes' : 'no'}
                  options={[
                    { value: 'yes', label: 'Yes' },
                    { value: 'no', label: 'No' },
                  ]}
                  onChange={(value) => edit((before) => ({ ...before, remoteRegistration: value === 'yes' }))}
                />
              ) : null}
            </>
          ) : (
            <Words>{device.natMethod ? METHOD_NAMES[device.natMethod] : 'Inside'}</Words>
          )}
        </Section>
        <DeviceWayPart device={device} onEdit={canEdit ? edit : null} />
        {model ? (
          <KeysPart device={device} model={model} isChanged={work.changed} onEdit={canEdit ? edit : null} />
        ) : null}
        {model ? (
          <KeypadPart
            device={device}
            model={model}
            sites={sites.data?.objects ?? []}
            onEdit={canEdit ? edit : null}
          />
        ) : null}
        {canEdit ? (
          <Section>
            <RemovePart
              kind="device"
              id={page.object.id}
              name={page.object.name}
              label="Remove this phone"
              onRemoved={() => router.navigate('/devices')}
            />
          </Section>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}
