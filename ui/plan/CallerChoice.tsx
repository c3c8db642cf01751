import { useState } from 'react';
import { View } from 'react-native';
import { readListed, showNumber } from '../../core/calls/dialling';
import { orList, type CallerClass, type CallerTest, type Dialling } from '../../core/estate';
import { space } from '../kit/theme';
import { Choice, Field } from '../kit/parts';

const CALLERS: readonly { value: CallerClass | 'any'; label: string }[] = [
  { value: 'any', label: 'Anybody' },
  { value: 'internal', label: 'From inside' },
  { value: 'external', label: 'From outside' },
  { value: 'anonymous', label: 'Number withheld' },
  { value: 'listed', label: 'Listed callers' },
];

/** Who calls: anybody, a kind of caller, or those of a list. */
export function CallerChoice({
  caller,
  dialling,
  onChange,
}: {
  readonly caller: CallerTest | undefined;
  readonly dialling: Dialling;
  readonly onChange: (caller: CallerTest | undefined) => void;
}) {
  return (
    <View style={{ gap: space(1) }}>
      <Choice
        titled
        label="Who calls"
        value={caller?.class ?? 'any'}
        options={CALLERS}
        onChange={(next) =>
          onChange(
            next === 'any' ? undefined : next === 'listed' ? { class: next, numbers: [] } : { class: next },
          )
        }
      />
      {caller?.class === 'listed' ? (
        <ListedNumbers
          numbers={caller.numbers ?? []}
          dialling={dialling}
          onChange={(numbers) => onChange({ class: 'listed', numbers })}
        />
      ) : null}
    </View>
  );
}

/** Numbers typed in any form with commas between them; what is typed stays as it is, and what is no number is said. */
function ListedNumbers({
  numbers,
  dialling,
  onChange,
}: {
  readonly numbers: readonly string[];
  readonly dialling: Dialling;
  readonly onChange: (numbers: readonly string[]) => void;
}) {
  const [text, setText] = useState(numbers.map(showNumber).join(', '));
  const { wrong } = readListed(text, dialling);
  return (
    <Field
      label="Numbers in any form, or beginnings such as +1604 or 41, with commas between them"
      mono
      value={text}
      onChange={(next) => {
        setText(next);
        onChange(readListed(next, dialling).numbers);
      }}
      error={
        wrong.length > 0
          ? `Not read as ${wrong.length === 1 ? 'a number' : 'numbers'}: ${wrong.slice(0, 3).join(', ')}`
          : numbers.length === 0
            ? 'Nobody is listed yet, so it never fits'
            : null
      }
      hint={`Fits callers from ${orList(numbers.slice(0, 4).map(showNumber))}${numbers.length > 4 ? ` and ${numbers.length - 4} more` : ''}`}
    />
  );
}
