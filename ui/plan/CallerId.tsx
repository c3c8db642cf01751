import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import type { Estate, Person } from '../../core/estate';
import { typedNumber } from '../edit/typedNumber';
import { Choice, Field } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { Ask } from '../kit/Term';

/** The numbers of the organisation that are known here, each with whose it is; the person's own first. */
function numbersOf(person: Person, estate: Estate): readonly (readonly [string, string])[] {
  const all = new Map<string, string>();
  for (const line of person.lines)
    for (const number of line.numbers) all.set(number, `${showNumber(number)}, direct number`);
  for (const { name, numbers = [] } of [...estate.menus, ...estate.groups])
    for (const number of numbers) if (!all.has(number)) all.set(number, `${showNumber(number)}, ${name}`);
  return [...all];
}

/** Which number a phone outside shows for a call: the caller's own, a direct number, or another of the organisation. */
export function CallerId({
  present,
  person,
  estate,
  onChange,
}: {
  /** An E.164 number; left out: the caller's own. */
  readonly present: string | undefined;
  readonly person: Person;
  readonly estate: Estate;
  readonly onChange: (present: string | undefined) => void;
}) {
  const known = numbersOf(person, estate);
  const own = present === undefined || present === 'caller';
  const isKnown = own || known.some(([number]) => number === present);
  const [other, setOther] = useState(isKnown ? null : showNumber(present));
  const read = typedNumber(other ?? '', estate.dialling);
  return (
    <View style={{ gap: space(2) }}>
      <Choice
        titled
        beside={<Ask term="caller-id" />}
        label="Caller ID that it shows"
        value={other !== null ? 'other' : own ? 'caller' : present}
        options={[
          { value: 'caller', label: 'The caller’s own number' },
          ...known.map(([value, label]) => ({ value, label })),
          { value: 'other', label: 'Another number' },
        ]}
        onChange={(value) => {
          setOther(value === 'other' ? '' : null);
          if (value !== 'other') onChange(value === 'caller' ? undefined : value);
        }}
      />
      {other !== null ? (
        <Field
          label="Number of the organisation, in any form"
          keyboard="phone-pad"
          mono
          value={other}
          onChange={(text) => {
            setOther(text);
            const { e164 } = typedNumber(text, estate.dialling);
            if (e164 !== null) onChange(e164);
          }}
          error={read.error}
          hint={read.shown === null ? null : `Shows ${read.shown}`}
        />
      ) : null}
      {own ? null : (
        <Words size="small" tone="soft">
          A carrier refuses or replaces a number that is not the organisation’s own on its trunk.
        </Words>
      )}
    </View>
  );
}
