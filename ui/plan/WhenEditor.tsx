import { View } from 'react-native';
import { editWhen } from '../../core/editing';
import type { Arrival, Estate, Person, When } from '../../core/estate';
import { space } from '../kit/theme';
import { Choice, Tick } from '../kit/parts';
import { Words } from '../kit/Words';
import { CallerChoice } from './CallerChoice';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';

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
      <CallerChoice
        caller={when.caller}
        dialling={estate.dialling}
        onChange={(caller) => onChange(editWhen(when, 'caller', caller))}
      />
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
