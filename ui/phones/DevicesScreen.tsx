import type { Finding } from '../../api/findings';
import { useMemo, useState } from 'react';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import type { Device, Site } from '../../core/estate';
import {
  isNewEnough,
  modelOf,
  MODELS,
  readHardwareAddress,
  showHardwareAddress,
} from '../../core/devices/phones';
import { messageOf } from '../data/api';
import { useFindings } from '../data/findings';
import { idFrom, useAddObject, useObjects } from '../data/objects';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import {
  Button,
  Choice,
  Empty,
  Field,
  LinkRow,
  LinkRows,
  Refused,
  Section,
  Skeleton,
  Trouble,
} from '../kit/parts';
import { DevicesTable } from './DevicesTable';
import { useIsWide } from '../kit/theme';
import { ModelChoice } from './ModelChoice';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

export const useDevices = () => useObjects<Device>('device');
export const useSites = () => useObjects<Site>('site');

export const SITE_WORDS: Record<Site['kind'], string> = {
  office: 'Office',
  branch: 'Small site',
  home: 'Home',
};

/** What is said of a phone below its name. */
function deviceText(device: Device, sites: ReadonlyMap<string, string>): string {
  const model = modelOf(device.model);
  return [
    model?.name ?? device.model,
    ...(device.firmware ? [device.firmware] : []),
    ...(device.site ? [sites.get(device.site) ?? device.site] : []),
    ...(device.macAddress ? [showHardwareAddress(device.macAddress)] : []),
  ].join(' · ');
}

/** Whether the phone is behind or unsafe, at a glance; the findings say it in full. */
const isBehind = (device: Device): boolean => {
  const model = modelOf(device.model);
  return (
    (device.firmware !== undefined &&
      model !== undefined &&
      !isNewEnough(device.firmware, model.firmwareLeast)) ||
    (device.passwordChanged !== true && model?.factoryPassword !== null)
  );
};

/** A phone is added by its model and its name; the rest is set on its page. */
function AddDevice({ onClose }: { readonly onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject('device');
  const [name, setName] = useState('');
  const [model, setModel] = useState(MODELS[0]!.id);
  const [address, setAddress] = useState('');
  const read = address.trim() === '' ? null : readHardwareAddress(address);
  const wrong = address.trim() !== '' && read === null;
  return (
    <Sheet title="Add a phone" open onClose={onClose}>
      <Field label="Name, such as where it stands" value={name} onChange={setName} />
      <ModelChoice value={model} onChange={setModel} />
      <Field
        label="MAC address, from the label below it"
        mono
        value={address}
        onChange={setAddress}
        {...(wrong ? { error: 'Twelve digits from 0 to 9 and A to F, with or without separators.' } : {})}
      />
      <Refused error={add.error} />
      <Button
        kind="main"
        label="Add it"
        disabled={name.trim() === '' || wrong || add.isPending}
        onPress={() => {
          const id = idFrom(name);
          const object = { id, name: name.trim(), model, ...(read ? { macAddress: read } : {}) };
          add.mutate(object, { onSuccess: () => router.navigate(`/devices/${encodeURIComponent(id)}`) });
        }}
      />
    </Sheet>
  );
}

function AddSite({ onClose }: { readonly onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject('site');
  const [name, setName] = useState('');
  const [kind, setKind] = useState<Site['kind']>('home');
  return (
    <Sheet title="Add a site" open onClose={onClose}>
      <Field label="Name" value={name} onChange={setName} />
      <Choice
        label="What it is"
        titled
        value={kind}
        options={(['office', 'branch', 'home'] as const).map((value) => ({
          value,
          label: SITE_WORDS[value],
        }))}
        onChange={setKind}
      />
      <Refused error={add.error} />
      <Button
        kind="main"
        label="Add it"
        disabled={name.trim() === '' || add.isPending}
        onPress={() => {
          const id = idFrom(name);
          const object = { id, name: name.trim(), kind };
          add.mutate(object, { onSuccess: () => router.navigate(`/sites/${encodeURIComponent(id)}`) });
        }}
      />
    </Sheet>
  );
}

const countOf = (findings: readonly Finding[] | undefined, kind: 'device' | 'site', id: string): number =>
  (findings ?? []).filter((each) => each.isOpen && each.subject.kind === kind && each.subject.id === id)
    .length;

export const DevicesScreen = () => <Things what="devices" />;
export const SitesScreen = () => <Things what="sites" />;

/** Phones as things, or the sites where they stand. */
function Things({ what }: { readonly what: 'devices' | 'sites' }) {
  const canEdit = useCanEdit();
  const wide = useIsWide();
  const devices = useDevices();
  const sites = useSites();
  const findings = useFindings();
  const [query, setQuery] = useState('');
  const [only, setOnly] = useState<'all' | 'behind' | 'outside'>('all');
  const [adding, setAdding] = useState<'device' | 'site' | null>(null);
  const names = useMemo(
    () => new Map((sites.data?.objects ?? []).map((each) => [each.id, each.name])),
    [sites.data],
  );
  const shown = useMemo(() => {
    const wanted = query.trim().toLowerCase();
    const digits = wanted.replace(/[\s:.-]/g, '').toUpperCase();
    return (devices.data?.objects ?? []).filter(
      (each) =>
        (only === 'all' || (only === 'behind' ? isBehind(each) : each.natMethod !== undefined)) &&
        (wanted === '' ||
          `${each.name} ${deviceText(each, names)}`.toLowerCase().includes(wanted) ||
          (digits.length > 3 && (each.macAddress ?? '').includes(digits))),
    );
  }, [devices.data, names, query, only]);
  if (devices.isError)
    return <Trouble message={messageOf(devices.error)} retry={() => void devices.refetch()} />;
  if (sites.isError) return <Trouble message={messageOf(sites.error)} retry={() => void sites.refetch()} />;
  if (devices.isPending || sites.isPending) return <Skeleton />;
  const mark = (kind: 'device' | 'site', id: string) => {
    const count = countOf(findings.data?.findings, kind, id);
    return count > 0 ? (
      <Words size="small" strong tone="rust">{`${count} ${count === 1 ? 'finding' : 'findings'}`}</Words>
    ) : null;
  };
  return (
    <PageFrame
      title={what === 'devices' ? 'Devices' : 'Sites'}
      text={`${devices.data.objects.length} phones at ${sites.data.objects.length} sites`}
      back={null}
    >
      {what === 'sites' ? (
        <Section
          aside={
            canEdit ? (
              <Button kind="quiet" icon="add" label="Add a site" onPress={() => setAdding('site')} />
            ) : null
          }
        >
          {sites.data.objects.length === 0 ? (
            <Empty
              title="No sites yet"
              text="Add the places where phones stand: offices, small sites, homes."
            />
          ) : (
            <LinkRows>
              {sites.data.objects.map((site) => (
                <LinkRow
                  key={site.id}
                  title={site.name}
                  text={`${SITE_WORDS[site.kind]}, ${devices.data.objects.filter((each) => each.site === site.id).length} phones${site.relay ? ', with a branch relay' : ''}`}
                  mark={mark('site', site.id)}
                  href={`/sites/${encodeURIComponent(site.id)}`}
                />
              ))}
            </LinkRows>
          )}
        </Section>
      ) : (
        <Section
          aside={
            canEdit ? (
              <Button kind="quiet" icon="add" label="Add a phone" onPress={() => setAdding('device')} />
            ) : null
          }
        >
          <Field label="Name, model, site or MAC address" value={query} onChange={setQuery} />
          <Choice
            label="Show"
            value={only}
            options={[
              { value: 'all', label: 'All' },
              { value: 'behind', label: 'Old or unsafe' },
              { value: 'outside', label: 'Outside' },
            ]}
            onChange={setOnly}
          />
          {shown.length === 0 ? (
            <Empty title="No phone fits" text="Clear the search or show all of them." />
          ) : wide ? (
            <DevicesTable
              rows={shown}
              sites={names}
              findingsOf={(id) => countOf(findings.data?.findings, 'device', id)}
            />
          ) : (
            <LinkRows>
              {shown.map((device) => (
                <LinkRow
                  key={device.id}
                  title={device.name}
                  text={deviceText(device, names)}
                  mark={mark('device', device.id)}
                  href={`/devices/${encodeURIComponent(device.id)}`}
                />
              ))}
            </LinkRows>
          )}
        </Section>
      )}
      <View>
        {adding === 'device' ? <AddDevice onClose={() => setAdding(null)} /> : null}
        {adding === 'site' ? <AddSite onClose={() => setAdding(null)} /> : null}
      </View>
    </PageFrame>
  );
}
