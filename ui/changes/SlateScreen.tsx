import type { Slate, SlatePage } from '../../api/slates';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { SlateCallsPart } from '../calls/SlateCallsPart';
import { messageOf } from '../data/api';
import { isOpen, useSlate, useSlateWork } from '../data/slates';
import { useSession, useZone } from '../data/session';
import { useSlateInWork } from '../data/slate';
import { useIsVeryWide } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Field, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { ApplyBar } from './ApplyBar';
import { EntriesPart } from './EntriesPart';
import { ImpactPart } from './ImpactPart';
import { Words } from '../kit/Words';
import { zoneNamed } from '../../core/zones';

export function SlateScreen({ id }: { readonly id: string }) {
  const page = useSlate(Number(id));
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <SlateView key={id} page={page.data} />;
}

function sayState(slate: Slate, zone: string): string {
  const at = (iso: string | null) =>
    iso === null
      ? ''
      : DateTime.fromISO(iso, { zone: zoneNamed(zone) })
          .setLocale('en')
          .toFormat('ccc d LLL yyyy, HH:mm');
  switch (slate.state) {
    case 'work':
      return 'Not live';
    case 'timed':
      return `Goes live on ${at(slate.dueAt)}`;
    case 'held':
      return `Held back: it was due on ${at(slate.dueAt)}`;
    case 'applied':
      return `Live since ${at(slate.appliedAt)}, by ${slate.appliedBy ?? ''}`;
    case 'dropped':
      return 'Dropped';
  }
}

function SlateView({ page }: { readonly page: SlatePage }) {
  const veryWide = useIsVeryWide();
  const router = useRouter();
  const { slate } = page;
  const { account } = useSession();
  const zone = useZone();
  const work = useSlateWork(slate.id);
  const choose = useSlateInWork((state) => state.choose);
  const [settings, setSettings] = useState(false);
  const canEdit =
    account?.role === 'specialist' && isOpen(slate) && (slate.shared || slate.owner === account.name);
  useEffect(() => {
    if (canEdit) choose(slate.id);
  }, [canEdit, choose, slate.id]);
  const column = veryWide ? { flex: 1, minWidth: 0 } : { width: '100%' as const };
  return (
    <PageFrame
      title={slate.name}
      text={`${sayState(slate, zone)} · ${slate.owner}${slate.shared ? ', shared' : ''}`}
      back={{ path: '/slates', label: 'Back to the slates' }}
      aside={canEdit ? <Button kind="quiet" label="Settings" onPress={() => setSettings(true)} /> : null}
      bar={canEdit ? <ApplyBar page={page} work={work} /> : null}
    >
      {slate.note ? (
        <Section>
          <Words>{slate.note}</Words>
        </Section>
      ) : null}
      {slate.heldWhy ? (
        <Section>
          <Words tone="rust" strong>
            {slate.heldWhy}
          </Words>
        </Section>
      ) : null}
      {slate.overrule ? (
        <Section>
          <Words tone="ochre">{`Drills were overruled: ${slate.overrule}`}</Words>
        </Section>
      ) : null}
      {slate.state === 'dropped' ? (
        <Section>
          <View style={{ flexDirection: 'row' }}>
            <Button label="Restore slate" busy={work.back.isPending} onPress={() => work.back.mutate()} />
          </View>
          {work.back.isError ? <Words tone="rust">{messageOf(work.back.error)}</Words> : null}
        </Section>
      ) : null}
      <View style={{ flexDirection: veryWide ? 'row' : 'column', alignItems: 'flex-start' }}>
        <View style={column}>
          <EntriesPart page={page} work={work} canEdit={canEdit} />
        </View>
        {isOpen(slate) ? (
          <View style={column}>
            <ImpactPart slate={slate.id} version={slate.version} size={slate.size} />
            {slate.size > 0 ? <SlateCallsPart slate={slate.id} version={slate.version} /> : null}
          </View>
        ) : null}
      </View>
      {isOpen(slate) && slate.size > 0 ? (
        <Section title="For a system that is not steered from here">
          <View style={{ flexDirection: 'row' }}>
            <Button label="Work order" onPress={() => router.navigate(`/slates/${slate.id}/order`)} />
          </View>
        </Section>
      ) : null}
      {slate.state === 'applied' ? (
        <Section>
          <View style={{ flexDirection: 'row' }}>
            <Button
              label="What it changed, in the record"
              onPress={() => router.navigate(`/record?slate=${slate.id}`)}
            />
          </View>
        </Section>
      ) : null}
      {settings ? <SettingsSheet slate={slate} work={work} onClose={() => setSettings(false)} /> : null}
    </PageFrame>
  );
}

function SettingsSheet({
  slate,
  work,
  onClose,
}: {
  readonly slate: Slate;
  readonly work: ReturnType<typeof useSlateWork>;
  readonly onClose: () => void;
}) {
  const router = useRouter();
  const [name, setName] = useState(slate.name);
  const [note, setNote] = useState(slate.note);
  const [owner, setOwner] = useState(slate.owner);
  const [shared, setShared] = useState(slate.shared);
  const { patch, drop } = work;
  return (
    <Sheet
      title="This slate"
      open
      onClose={onClose}
      action={{
        label: 'Keep',
        disabled: !name.trim() || !owner.trim(),
        busy: patch.isPending,
        onPress: () => patch.mutate({ name, note, owner: owner.trim(), shared }, { onSuccess: onClose }),
      }}
    >
      <Field label="Name" value={name} onChange={setName} />
      <Field label="What it is for" multiline value={note} onChange={setNote} />
      <Tick label="Other specialists may work on it too" on={shared} onPress={() => setShared(!shared)} />
      <Field
        label="Owner"
        value={owner}
        onChange={setOwner}
        hint={
          owner.trim() !== slate.owner
            ? `It is handed to ${owner.trim()}.`
            : 'Another account’s name hands it over.'
        }
      />
      {patch.isError ? <Words tone="rust">{messageOf(patch.error)}</Words> : null}
      <Button
        label="Drop this slate"
        busy={drop.isPending}
        onPress={() => drop.mutate(undefined, { onSuccess: () => router.navigate('/slates') })}
      />
    </Sheet>
  );
}
