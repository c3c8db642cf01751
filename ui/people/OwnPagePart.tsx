import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { NUMBER_CLASSES } from '../../core/estate';
import type { OwnLimits } from '../../core/changes/own';
import { useGiveSignIn, useLimits, useSetLimits } from '../data/own';
import { usePinState, useRemovePin, useSetPin } from '../data/provisioning';
import { useCanEdit } from '../data/session';
import { space } from '../kit/theme';
import { Button, Choice, Refused, Section, Tick } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';

const HOUR_MS = 3_600_000;
const COVERS = [0, 24, 72, 336] as const;
const COVER_WORDS: Record<(typeof COVERS)[number], string> = {
  0: 'Not at all',
  24: 'A day',
  72: '3 days',
  336: '2 weeks',
};

/** What somebody may change by themselves: for one person, or for everybody. */
function LimitsSheet({ person, name, onClose }: { person: string; name: string; onClose: () => void }) {
  const [whom, setWhom] = useState<'everybody' | 'person'>('everybody');
  const of = whom === 'everybody' ? null : person;
  const given = useLimits(of);
  const set = useSetLimits(of);
  const [draft, setDraft] = useState<OwnLimits | null>(null);
  const limits = draft ?? given.data?.limits;
  const edit = (more: Partial<OwnLimits>) => limits && setDraft({ ...limits, ...more });
  const hours = COVERS.find((each) => limits && each * HOUR_MS >= limits.coverMs) ?? 336;
  return (
    <Sheet
      title="What people may change"
      open
      onClose={onClose}
      action={{
        label: 'Set these limits',
        disabled: draft === null,
        busy: set.isPending,
        onPress: () => draft && set.mutate(draft, { onSuccess: onClose }),
      }}
    >
      <Choice
        label="For whom"
        value={whom}
        options={[
          { value: 'everybody', label: 'Everybody' },
          { value: 'person', label: `Only ${name}` },
        ]}
        onChange={(next) => {
          setWhom(next);
          setDraft(null);
        }}
      />
      {limits ? (
        <View style={{ gap: space(2) }}>
          <Tick label="Their status" on={limits.status} onPress={() => edit({ status: !limits.status })} />
          <Tick
            label="Which of their phones ring"
            on={limits.twinning}
            onPress={() => edit({ twinning: !limits.twinning })}
          />
          <Tick
            label="The order in which they ring"
            on={limits.sequence}
            onPress={() => edit({ sequence: !limits.sequence })}
          />
          <Tick
            label="The hours in which a phone rings"
            on={limits.hours}
            onPress={() => edit({ hours: !limits.hours })}
          />
          <Words size="small" tone="soft">
            Numbers of their own phones
          </Words>
          {NUMBER_CLASSES.filter((each) => each !== 'premium').map((each) => {
            const on = limits.numbers.includes(each);
            return (
              <Tick
                key={each}
                label={each}
                on={on}
                onPress={() =>
                  edit({
                    numbers: on ? limits.numbers.filter((one) => one !== each) : [...limits.numbers, each],
                  })
                }
              />
            );
          })}
          <TimeField
            label="A step rings at least"
            value={limits.ringMs.least}
            least={1000}
            step={5000}
            onChange={(least) => least !== null && edit({ ringMs: { ...limits.ringMs, least } })}
          />
          <TimeField
            label="and at most"
            value={limits.ringMs.most}
            least={1000}
            step={5000}
            onChange={(most) => most !== null && edit({ ringMs: { ...limits.ringMs, most } })}
          />
          <Choice
            label="Cover by a colleague, so far ahead"
            titled
            value={String(hours)}
            options={COVERS.map((each) => ({ value: String(each), label: COVER_WORDS[each] }))}
            onChange={(value) => edit({ coverMs: Number(value) * HOUR_MS })}
          />
          {whom === 'person' && given.data?.isOwn ? (
            <Button label="As for everybody" onPress={() => set.mutate(null, { onSuccess: onClose })} />
          ) : null}
        </View>
      ) : null}
      <Refused error={set.error} />
    </Sheet>
  );
}

/** The person's own page: a sign-in for it, and what may be changed there. */
export function OwnPagePart({ person, name }: { readonly person: string; readonly name: string }) {
  const canEdit = useCanEdit();
  const give = useGiveSignIn(person);
  const [open, setOpen] = useState(false);
  if (!canEdit) return null;
  return (
    <Section title="Own page">
      <Words tone="soft">
        On it people set their status, their phones and cover by themselves, within limits; the rest they ask
        for.
      </Words>
      {give.data ? (
        <View style={{ gap: space(1) }}>
          <Words>{`Sign-in for ${name}, shown this once:`}</Words>
          <Words mono strong>{`${give.data.name}   ${give.data.password}`}</Words>
        </View>
      ) : null}
      <Refused error={give.error} />
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button
          label={give.data ? 'Another password' : 'Give a sign-in'}
          busy={give.isPending}
          onPress={() => give.mutate()}
        />
        <Button label="What may be changed" onPress={() => setOpen(true)} />
      </View>
      <PinRow person={person} name={name} />
      {open ? <LimitsSheet person={person} name={name} onClose={() => setOpen(false)} /> : null}
    </Section>
  );
}

/** The person's PIN: whether they have one, and a new one where it was forgotten. */
function PinRow({ person, name }: { readonly person: string; readonly name: string }) {
  const state = usePinState(person);
  const set = useSetPin(person);
  const remove = useRemovePin(person);
  const [isAsked, setAsked] = useState(false);
  return (
    <View style={{ gap: space(1), paddingTop: space(2) }}>
      <Words>
        {set.data?.pin
          ? `PIN of ${name}, shown this once:`
          : state.data?.setAt
            ? `PIN set on ${DateTime.fromISO(state.data.setAt).setLocale('en').toFormat('d LLLL yyyy')}, kept as a hash only.`
            : 'No PIN yet: it is typed at shared desks and at provisioned phones.'}
      </Words>
      {set.data?.pin ? (
        <Words mono strong>
          {set.data.pin}
        </Words>
      ) : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button
          label={state.data?.setAt ? 'Give another PIN' : 'Give a PIN'}
          busy={set.isPending}
          onPress={() => set.mutate(null)}
        />
        {state.data?.setAt ? (
          <Button kind="quiet" label="Remove the PIN" onPress={() => setAsked(true)} />
        ) : null}
      </View>
      <Refused error={set.error} />
      {isAsked ? (
        <Sheet
          title={`Remove the PIN of ${name}?`}
          open
          onClose={() => setAsked(false)}
          action={{
            label: 'Remove it',
            busy: remove.isPending,
            onPress: () =>
              remove.mutate(undefined, {
                onSuccess: () => {
                  set.reset();
                  setAsked(false);
                },
              }),
          }}
        >
          <Words>
            Until another is set, whatever asks for a PIN lets them in no more: shared desks, provisioned
            phones and access numbers.
          </Words>
          <Refused error={remove.error} />
        </Sheet>
      ) : null}
    </View>
  );
}
