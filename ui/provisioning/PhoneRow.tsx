import type { ProvisionedRow } from '../../api/provisioning';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import { showHardwareAddress } from '../../core/devices/phones';
import { usePlugIn, useProvisioningEvents, useProvisioningWork } from '../data/provisioning';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, Choice, Field, Refused, Skeleton } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { clockOf } from '../phones/words';
import { PROVISIONING_WORDS, toneOf } from './words';

interface RowProps {
  readonly row: ProvisionedRow;
  readonly canEdit: boolean;
  readonly onCode: (address: string) => void;
}

/** Whose it is: a shared desk by its name, with whoever is signed on there. */
const titleOf = ({ desk, person, name }: ProvisionedRow): string =>
  desk ? [desk.name, person?.name].filter(Boolean).join(': ') : (person?.name ?? name);

/** One phone that sets itself up: how far it has come, what stands in its way, and what can be done about it. */
export function PhoneRow({ row, canEdit, onCode }: RowProps) {
  const palette = usePalette();
  const wide = useIsWide();
  const [open, setOpen] = useState(false);
  const state = (
    <Words size="small" strong tone={row.isBehind ? 'ochre' : toneOf(row)}>
      {row.isBehind ? '▰ has older settings' : PROVISIONING_WORDS[row.state]}
    </Words>
  );
  const text = [
    row.modelName,
    ...(row.firmware ? [row.firmware] : []),
    showHardwareAddress(row.address),
  ].join(' · ');
  return (
    <View
      role="listitem"
      style={{ borderBottomWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}
    >
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={`${titleOf(row)}, ${PROVISIONING_WORDS[row.state].replace(/^\W+/, '')}`}
        onPress={() => setOpen(!open)}
        style={({ pressed }) => ({
          minHeight: 64,
          paddingHorizontal: space(4),
          paddingVertical: space(2),
          justifyContent: 'center',
          gap: 2,
          backgroundColor: pressed ? palette.tint : 'transparent',
        })}
      >
        <View style={{ flexDirection: 'row', gap: space(3), justifyContent: 'space-between' }}>
          <Words strong lines={1} style={{ flexShrink: 1 }}>
            {titleOf(row)}
          </Words>
          {state}
        </View>
        <Words size="small" tone="soft" mono lines={wide ? 1 : 2}>
          {text}
        </Words>
        {row.why ? (
          <Words size="small" tone="rust">
            {row.why}
          </Words>
        ) : null}
      </Pressable>
      {open ? <Opened row={row} canEdit={canEdit} onCode={onCode} /> : null}
    </View>
  );
}

function Opened({ row, canEdit, onCode }: RowProps) {
  const router = useRouter();
  const work = useProvisioningWork(row.address);
  const events = useProvisioningEvents(row.address);
  const [plugging, setPlugging] = useState(false);
  const code =
    row.credential !== 'code' || row.state === 'registered'
      ? null
      : row.hasCode && row.codeUntil
        ? `It has a code, good until ${DateTime.fromISO(row.codeUntil).setLocale('en').toFormat('ccc d LLL, HH:mm')}.`
        : 'It has no code yet.';
  return (
    <View style={{ paddingHorizontal: space(4), paddingBottom: space(3), gap: space(2) }}>
      {row.next ? <Words>{row.next}</Words> : null}
      {code ? <Words tone="soft">{code}</Words> : null}
      {row.credential === 'pin' && !row.hasPin ? (
        <Words tone="rust">{`${row.person?.name ?? 'The person'} has no PIN yet: it is set on their page.`}</Words>
      ) : null}
      {canEdit ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {row.state === 'locked' ? (
            <Button label="Unlock it" busy={work.unlock.isPending} onPress={() => work.unlock.mutate()} />
          ) : null}
          {row.credential === 'code' && row.state !== 'registered' ? (
            <Button
              label={row.hasCode ? 'Give it another code' : 'Give it a code'}
              onPress={() => onCode(row.address)}
            />
          ) : null}
          {row.state === 'registered' ? null : (
            <Button label="Plug its stand-in in" onPress={() => setPlugging(true)} />
          )}
          <Button label="Let it begin anew" busy={work.anew.isPending} onPress={() => work.anew.mutate()} />
          <Button
            kind="quiet"
            label="Take it off the list"
            busy={work.takeOff.isPending}
            onPress={() => work.takeOff.mutate()}
          />
          <Button
            kind="quiet"
            label="Open the phone"
            onPress={() => router.navigate(`/devices/${encodeURIComponent(row.device)}`)}
          />
        </View>
      ) : null}
      {[work.unlock, work.anew, work.takeOff].map(({ error }, i) => (
        <Refused key={i} error={error} />
      ))}
      {events.isPending ? <Skeleton rows={1} /> : null}
      <View role="list">
        {(events.data ?? []).slice(0, 12).map(({ at, says, from }, i) => (
          <View role="listitem" key={`${at}${i}`} style={{ flexDirection: 'row', gap: space(2) }}>
            <Words size="small" mono tone="soft">
              {clockOf(Date.parse(at))}
            </Words>
            <Words size="small" style={{ flexShrink: 1 }}>
              {says}
              {from ? <Words size="small" tone="soft">{`  ${from}`}</Words> : null}
            </Words>
          </View>
        ))}
      </View>
      {plugging ? <PlugSheet row={row} onClose={() => setPlugging(false)} /> : null}
    </View>
  );
}

/** The stand-in of a phone, as it comes out of its box: what is typed at it, and what it runs. */
function PlugSheet({ row, onClose }: { readonly row: ProvisionedRow; readonly onClose: () => void }) {
  const plug = usePlugIn(row.address);
  const [secret, setSecret] = useState('');
  const [firmware, setFirmware] = useState(row.firmware ?? row.least ?? '');
  const [form, setForm] = useState<'json' | 'xml'>('json');
  return (
    <Sheet
      title="Its stand-in, out of the box"
      open
      onClose={onClose}
      action={{
        label: 'Plug it in',
        busy: plug.isPending,
        onPress: () =>
          plug.mutate(
            { ...(secret.trim() ? { typed: secret.trim() } : {}), firmware, form },
            { onSuccess: onClose },
          ),
      }}
    >
      {row.credential === 'certificate' ? (
        <Words>It shows the certificate that its maker put in.</Words>
      ) : (
        <Field
          label={row.credential === 'code' ? 'The code that is typed at it' : 'The PIN that is typed at it'}
          mono
          value={secret}
          onChange={setSecret}
          hint="Left empty, it asks and waits"
        />
      )}
      <Field label="The firmware that it came with" mono value={firmware} onChange={setFirmware} />
      <Choice
        label="It reads its settings as"
        titled
        value={form}
        options={[
          { value: 'json', label: 'JSON' },
          { value: 'xml', label: 'XML' },
        ]}
        onChange={setForm}
      />
      <Refused error={plug.error} />
    </Sheet>
  );
}
