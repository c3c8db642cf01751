import { useState } from 'react';
import { View } from 'react-native';
import { editWhen } from '../../core/editing';
import type { Arrival, CallerClass, Estate, Person, When } from '../../core/estate';
import { space } from '../kit/theme';
import { Choice, Field, Tick } from '../kit/parts';
import { Words } from '../kit/Words';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';

const CALLERS: readonly { value: CallerClass | 'any'; label: string }[] = [
  { value: 'any', label: 'Anybody' },
  { value: 'internal', label: 'From inside' },
  { value: 'external', label: 'From outside' },
  { value: 'anonymous', label: 'Number withheld' },
  { value: 'listed', label: 'Listed callers' },
];
const ARRIVALS: readonly { value: Arrival; label: string }[] = [
  { value: 'direct', label: 'Direct' },
  { value: 'menu', label: 'By a menu' },
  { value: 'group', label: 'By a group' },
  { value: 'forwarded', label: 'Forwarded on' },
];

/** Some of a few; none ticked means that it does not matter. */
function Several<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: readonly T[] | undefined;
  options: readonly { value: T; label: string }[];
  onChange: (value: readonly T[] | undefined) => void;
}) {
  return (
    <View style={{ gap: space(1) }}>
      <Words size="small" tone="soft">
        {`${label}${value ? '' : ': does not matter'}`}
      </Words>
      <View
        role="group"
        aria-label={label}
        style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(4) }}
      >
        {options.map((option) => {
          const on = value?.includes(option.value) ?? false;
          const next = on ? value?.filter((each) => each !== option.value) : [...(value ?? []), option.value];
          return (
            <Tick
              key={option.value}
              label={option.label}
              on={on}
              onPress={() => onChange(next && next.length > 0 ? next : undefined)}
            />
          );
        })}
      </View>
    </View>
  );
}

/** Numbers typed with commas between them; what is typed stays as it is. */
function ListedNumbers({
  numbers,
  onChange,
}: {
  numbers: readonly string[];
  onChange: (numbers: readonly string[]) => void;
}) {
  const [text, setText] = useState(numbers.join(', '));
  return (
    <Field
      label="Numbers or their beginnings, as +1604 or 4104, with commas between them"
      mono
      value={text}
      onChange={(next) => {
        setText(next);
        onChange(
          next
            .split(/[,;\n]+/)
            .map((each) => each.replace(/[^\d+]/g, ''))
            .filter((each) => /^\+?\d+$/.test(each)),
        );
      }}
      error={numbers.length ? null : 'Nobody is listed yet, so the rule never fits'}
    />
  );
}

/** When a rule holds: all that is set must hold; what is not set does not matter. */
export function WhenEditor({
  when,
  person,
  estate,
  onChange,
}: {
  readonly when: When;
  readonly person: Person;
  readonly estate: Estate;
  readonly onChange: (when: When) => void;
}) {
  return (
    <View style={{ gap: space(3) }}>
      <Several
        label="Status"
        value={when.status}
        options={estate.statuses.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(status) => onChange(editWhen(when, 'status', status))}
      />
      <View style={{ gap: space(1) }}>
        <Choice
          titled
          label="Hours"
          value={scheduleValue(when.schedule)}
          options={scheduleOptions(estate.schedules)}
          onChange={(next) => onChange(editWhen(when, 'schedule', scheduleOf(next)))}
        />
      </View>
      <View style={{ gap: space(1) }}>
        <Choice
          titled
          label="Who calls"
          value={when.caller?.class ?? 'any'}
          options={CALLERS}
          onChange={(next) =>
            onChange(
              editWhen(
                when,
                'caller',
                next === 'any'
                  ? undefined
                  : next === 'listed'
                    ? { class: next, numbers: [] }
                    : { class: next },
              ),
            )
          }
        />
        {when.caller?.class === 'listed' ? (
          <ListedNumbers
            numbers={when.caller.numbers ?? []}
            onChange={(numbers) => onChange(editWhen(when, 'caller', { class: 'listed', numbers }))}
          />
        ) : null}
      </View>
      <Several
        label="How the call came"
        value={when.arrival}
        options={ARRIVALS}
        onChange={(arrival) => onChange(editWhen(when, 'arrival', arrival))}
      />
      {person.lines.length > 1 ? (
        <Several
          label="Line that was called"
          value={when.line}
          options={person.lines.map(({ id, extension }) => ({ value: id, label: extension }))}
          onChange={(line) => onChange(editWhen(when, 'line', line))}
        />
      ) : null}
    </View>
  );
}
