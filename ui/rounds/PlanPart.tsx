import { useState } from 'react';
import { View } from 'react-native';
import type { RoundPage } from '../../api/rounds';
import { showNumber } from '../../core/calls/dialling';
import type { RoundPlan } from '../../core/rounds';
import { besideNoField, faultOf } from '../data/api';
import { usePutRound } from '../data/rounds';
import { Button, Choice, Field, Refused, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** The numbers of a plan, as they are typed. */
const COUNTS = [
  ['atOnce', 'Calls at once'],
  ['tries', 'Tries of each number'],
  ['pauseMinutes', 'Minutes between two tries'],
  ['ringS', 'Seconds to ring'],
  ['keepFree', 'Channels kept free for people'],
] as const satisfies readonly (readonly [keyof RoundPlan, string])[];
type CountName = (typeof COUNTS)[number][0];
type Typed = Record<CountName | 'name' | 'from' | 'to' | 'permission' | 'callerId', string>;

const typedOf = (plan: RoundPlan): Typed => ({
  name: plan.name,
  from: plan.hours.from,
  to: plan.hours.to,
  permission: plan.permission,
  callerId: plan.callerId === null ? '' : showNumber(plan.callerId),
  atOnce: String(plan.atOnce),
  tries: String(plan.tries),
  pauseMinutes: String(plan.pauseMinutes),
  ringS: String(plan.ringS),
  keepFree: String(plan.keepFree),
});
const HOURS = /^(\d{1,2})[:.]?(\d{2})$/;
const clock = (text: string): string => {
  const [, hour, minute] = HOURS.exec(text.trim()) ?? [];
  return hour === undefined ? text.trim() : `${hour.padStart(2, '0')}:${minute}`;
};
/** A number that cannot be read is sent as it stands, so that the server says what is wrong beside the field. */
const countOf = (text: string): number => (/^\d{1,6}$/.test(text.trim()) ? Number(text.trim()) : -1);
const planOf = (typed: Typed, before: RoundPlan): RoundPlan => ({
  ...before,
  name: typed.name.trim(),
  hours: { from: clock(typed.from), to: clock(typed.to) },
  permission: typed.permission,
  callerId: typed.callerId.trim() === '' ? null : typed.callerId.trim(),
  ...(Object.fromEntries(COUNTS.map(([name]) => [name, countOf(typed[name])])) as Record<CountName, number>),
});

/** How a list is called. */
export function PlanPart({ page, canEdit }: { readonly page: RoundPage; readonly canEdit: boolean }) {
  const [typed, setTyped] = useState<Typed | null>(null);
  const put = usePutRound(page.id);
  const now = typed ?? typedOf(page.plan);
  const set = (name: keyof Typed) => (text: string) => {
    put.reset();
    setTyped({ ...now, [name]: text });
  };
  const fault = (name: string) => faultOf(put.error, `plan.${name}`);
  if (!canEdit)
    return (
      <Section title="How it calls">
        {saySettings(page).map((line) => (
          <Words key={line}>{line}</Words>
        ))}
      </Section>
    );
  const save = () =>
    put.mutate({ version: page.version, plan: planOf(now, page.plan) }, { onSuccess: () => setTyped(null) });
  return (
    <Section title="How it calls">
      <Field label="Name" value={now.name} onChange={set('name')} error={fault('name')} />
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <View style={{ flex: 1 }}>
          <Field label="Call from" mono value={now.from} onChange={set('from')} error={fault('hours.from')} />
        </View>
        <View style={{ flex: 1 }}>
          <Field label="Call until" mono value={now.to} onChange={set('to')} error={fault('hours.to')} />
        </View>
      </View>
      <Words size="small" tone="soft">
        By the clock of the person called. The same time twice: at any hour.
      </Words>
      {COUNTS.map(([name, label]) => (
        <Field
          key={name}
          label={label}
          mono
          keyboard="decimal-pad"
          value={now[name]}
          onChange={set(name)}
          error={fault(name)}
          hint={name === 'keepFree' ? `${page.channels} calls at once are left for rounds` : null}
        />
      ))}
      <Choice
        label="Which numbers may be called"
        titled
        value={now.permission}
        options={page.permissions.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={set('permission')}
      />
      {fault('permission') ? <Words tone="rust">{fault('permission')}</Words> : null}
      <Field
        label="Caller ID: one of your numbers"
        mono
        keyboard="phone-pad"
        value={now.callerId}
        onChange={set('callerId')}
        error={fault('callerId')}
        hint="Left empty, the number is withheld, and many do not answer"
      />
      {typed ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button kind="main" label="Save" busy={put.isPending} onPress={save} />
          <Button kind="quiet" label="Discard" onPress={() => setTyped(null)} />
        </View>
      ) : null}
      <Refused error={besideNoField(put.error)} />
    </Section>
  );
}

/** The settings in sentences, for whoever reads and does not change them. */
function saySettings({ plan, permissions }: RoundPage): readonly string[] {
  const { hours, tries } = plan;
  return [
    hours.from === hours.to
      ? 'Calls at any hour.'
      : `Calls from ${hours.from} until ${hours.to}, by the clock of the person called.`,
    `${plan.atOnce} calls at once at most; ${plan.keepFree} channels of each trunk stay free for people.`,
    tries === 1
      ? `Each number is called once, and rings for ${plan.ringS} s.`
      : `Each number is called up to ${tries} times, ${plan.pauseMinutes} min apart, and rings for ${plan.ringS} s.`,
    `Numbers that “${permissions.find(({ id }) => id === plan.permission)?.name ?? 'a permission that is gone'}” allows.`,
    plan.callerId === null ? 'The number is withheld.' : `Shows ${showNumber(plan.callerId)}.`,
  ];
}
