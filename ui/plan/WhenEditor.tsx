import { View } from 'react-native';
import { editWhen } from '../../core/editing';
import type { Estate, Person, When } from '../../core/estate';
import { space } from '../kit/theme';
import { Choice } from '../kit/parts';
import { CallerChoice } from './CallerChoice';
import { ARRIVAL_OPTIONS, Several } from './Several';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';

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
        options={ARRIVAL_OPTIONS}
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
