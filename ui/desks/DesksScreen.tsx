import { useMemo, useState } from 'react';
import { useRouter } from 'expo-router';
import type { Desk } from '../../core/estate';
import { messageOf } from '../data/api';
import { idFrom, useAddObject, useObjects } from '../data/objects';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { useDevices, useSites } from '../phones/DevicesScreen';
import { EnoughPart } from './EnoughPart';
import { RostersPart } from './RostersPart';
import { SittingPart } from './SittingPart';

export const useDesks = () => useObjects<Desk>('desk');

/** More phones than these are searched through. */
const MOST_CHOICES = 12;

/** A desk is made of a phone that is nobody's. */
function AddDesk({ desks, onClose }: { readonly desks: readonly Desk[]; readonly onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject('desk');
  const devices = useDevices();
  const [name, setName] = useState('');
  const [device, setDevice] = useState<string | null>(null);
  const [query, setQuery] = useState('');
  const taken = new Set(desks.map((each) => each.device));
  const free = (devices.data?.objects ?? []).filter(
    ({ id, endpoint, name: called }) =>
      endpoint === undefined && !taken.has(id) && called.toLowerCase().includes(query.trim().toLowerCase()),
  );
  return (
    <Sheet title="Add a shared desk" open onClose={onClose}>
      <Field label="Name, such as what stands on it" value={name} onChange={setName} />
      {free.length > MOST_CHOICES || query !== '' ? (
        <SearchField label="Search phones" placeholder="Part of its name" value={query} onChange={setQuery} />
      ) : null}
      {devices.data && free.length === 0 ? (
        <Words tone="soft">No phone is free: add one under Devices that is used as nobody’s.</Words>
      ) : (
        <Choice
          label="Its phone"
          titled
          value={device ?? ''}
          options={free.slice(0, MOST_CHOICES).map(({ id, name: called }) => ({ value: id, label: called }))}
          onChange={setDevice}
        />
      )}
      <Refused error={add.error} />
      <Button
        kind="main"
        label="Add it"
        disabled={name.trim() === '' || device === null || add.isPending}
        onPress={() => {
          if (device === null) return;
          const id = idFrom(name);
          const desk: Desk = { id, name: name.trim(), device };
          add.mutate(desk, { onSuccess: () => router.navigate(`/desks/${encodeURIComponent(id)}`) });
        }}
      />
    </Sheet>
  );
}

/** The shared desks of all sites, and whether there are enough of them. */
export function DesksScreen() {
  const canEdit = useCanEdit();
  const desks = useDesks();
  const devices = useDevices();
  const sites = useSites();
  const [adding, setAdding] = useState(false);
  const siteOf = useMemo(
    () => new Map((devices.data?.objects ?? []).map(({ id, site }) => [id, site])),
    [devices.data],
  );
  const failed = desks.error ?? devices.error ?? sites.error;
  if (failed) return <Trouble message={messageOf(failed)} retry={() => void desks.refetch()} />;
  if (!desks.data || !devices.data || !sites.data) return <Skeleton />;
  const all = desks.data.objects;
  const placed = [...sites.data.objects, { id: undefined, name: 'Not said where' }]
    .map(({ id, name }) => ({ id, name, here: all.filter(({ device }) => siteOf.get(device) === id) }))
    .filter(({ here }) => here.length > 0);
  const addButton = canEdit ? (
    <Button kind="quiet" icon="add" label="Add a shared desk" onPress={() => setAdding(true)} />
  ) : null;
  return (
    <PageFrame title="Desks" term="hot-desk" text="Who sits where, and whether there are enough" back={null}>
      {all.length > 0 ? <SittingPart aside={addButton} /> : null}
      <EnoughPart
        sites={sites.data.objects.filter(
          ({ id, kind }) => kind !== 'home' && (placed.length === 0 || placed.some((each) => each.id === id)),
        )}
      />
      <RostersPart canEdit={canEdit} />
      {all.length === 0 ? (
        <Section title="All shared desks" aside={addButton}>
          <Empty title="No shared desks yet" text="Add one with a phone that is nobody’s." />
        </Section>
      ) : null}
      {adding ? <AddDesk desks={all} onClose={() => setAdding(false)} /> : null}
    </PageFrame>
  );
}
