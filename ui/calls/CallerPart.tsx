import { treatmentAt } from '../../core/editing';
import { memberId, type Group, type Person } from '../../core/estate';
import { endpointName, seconds, type EstateIndex } from '../../core/calls/engine';
import type { Tried } from '../../core/calls/views';
import { useMoments, type Moment } from '../data/moment';
import { Choice, Field, Section } from '../kit/parts';

/** How it is called who is rung first, in groups in which that changes from call to call. */
const FIRST_RUNG: Partial<Record<Group['mode'], string>> = {
  circular: 'Next in turn in',
  'longest-idle': 'Idle for longest in',
};
const idleOf = (group: Group, moment: Moment): readonly number[] =>
  group.members.map((member) => moment.idleMs[memberId(member)] ?? 0);

/** The place of the member who is rung first in a moment. */
function firstOf(group: Group, moment: Moment): number {
  if (group.mode === 'circular') return ((moment.groupLast[group.id] ?? -1) + 1) % group.members.length;
  const idle = idleOf(group, moment);
  return idle.indexOf(Math.max(...idle));
}

/** What makes a member the one who is rung first; the others keep their order. */
function asFirst(group: Group, moment: Moment, at: number): Partial<Moment> {
  const count = group.members.length;
  if (group.mode === 'circular')
    return { groupLast: { ...moment.groupLast, [group.id]: (at + count - 1) % count } };
  const member = group.members[at]!;
  const id = memberId(member);
  return { idleMs: { ...moment.idleMs, [id]: Math.max(...idleOf(group, moment)) + 60_000 } };
}

/** Which extension is called, what the caller presses or enters, and whose turn it is in groups on the way. */
export function CallerPart({
  person,
  index,
  tried,
  moment,
}: {
  readonly person: Person;
  readonly index: EstateIndex;
  readonly tried: Tried | null;
  readonly moment: Moment;
}) {
  const set = useMoments((state) => state.set);
  const asked = (tried?.trace.path ?? []).flatMap((step) => {
    if ('menu' in step) {
      const rule = index.menus.get(step.menu)?.rules.find((each) => each.id === step.rule);
      return rule ? [{ id: step.menu, keys: rule.choices.map((choice) => choice.key) }] : [];
    }
    if (!('person' in step)) return [];
    const plan = index.people.get(step.person)?.plan;
    const stages = plan ? treatmentAt(plan, step.rule).stages : [];
    const keys = stages.flatMap((stage) =>
      'offer' in stage ? stage.offer.choices.map((choice) => choice.key) : [],
    );
    return keys.length > 0 ? [{ id: 'offer', keys }] : [];
  });
  const codeAsked = tried?.strip.bands.some((band) => band.kind === 'code') ?? false;
  const groups = (tried?.trace.path ?? []).flatMap((step) =>
    'group' in step ? (index.groups.get(step.group) ?? []) : [],
  );
  // How long a seat was idle stands with the seat.
  const turns = groups.filter(
    ({ mode, members }) =>
      members.length > 1 &&
      mode in FIRST_RUNG &&
      (mode === 'circular' || !members.some((member) => 'seat' in member)),
  );
  if (asked.length === 0 && !codeAsked && turns.length === 0 && person.lines.length < 2) return null;
  return (
    <Section title="The call">
      {person.lines.length > 1 ? (
        <Choice
          label="Extension that is called"
          value={moment.to ?? person.lines[0]!.extension}
          options={person.lines.map(({ extension }) => ({ value: extension, label: extension }))}
          onChange={(to) => set(person.id, { to: to === person.lines[0]!.extension ? null : to })}
        />
      ) : null}
      {asked.map(({ id, keys }) => (
        <Choice
          key={id}
          label={
            id === 'offer'
              ? 'Key pressed in the greeting'
              : `Key pressed in ${index.menus.get(id)?.name ?? id}`
          }
          value={moment.presses[id]?.key ?? 'none'}
          options={[
            { value: 'none', label: 'Presses nothing' },
            ...[...new Set(keys)].map((key) => ({ value: key, label: `Presses ${key}` })),
          ]}
          onChange={(key) => {
            const { [id]: _before, ...rest } = moment.presses;
            set(person.id, { presses: key === 'none' ? rest : { ...rest, [id]: { key, afterMs: 4000 } } });
          }}
        />
      ))}
      {codeAsked ? (
        <Field
          label={`Code that the caller enters after ${seconds(moment.codeAfterMs)}`}
          mono
          keyboard="decimal-pad"
          value={moment.code}
          onChange={(text) => set(person.id, { code: text.replace(/\D/g, '') })}
        />
      ) : null}
      {turns.map((group) => (
        <Choice
          key={group.id}
          label={`${FIRST_RUNG[group.mode]} ${group.name}`}
          value={String(firstOf(group, moment))}
          options={group.members.map((member, at) => ({
            value: String(at),
            label:
              'person' in member
                ? (index.people.get(member.person)?.name ?? member.person)
                : endpointName(index, memberId(member)),
          }))}
          onChange={(at) => set(person.id, asFirst(group, moment, Number(at)))}
        />
      ))}
    </Section>
  );
}
