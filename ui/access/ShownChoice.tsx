import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import type { Dialling, ShownNumber } from '../../core/estate';
import { typedNumber } from '../edit/typedNumber';
import { Choice, Field } from '../kit/parts';
import { space } from '../kit/theme';
import { SHOWN_WORDS } from './words';

type Word = keyof typeof SHOWN_WORDS;

/** Which number shows: one of a few in words, or a number that is typed. */
export function ShownChoice<W extends Word>({
  label,
  words,
  own = SHOWN_WORDS.own,
  value,
  dialling,
  onChange,
}: {
  readonly label: string;
  readonly words: readonly W[];
  /** What the own number is called here. */
  readonly own?: string;
  readonly value: W | ShownNumber;
  readonly dialling: Dialling;
  readonly onChange: (value: W | ShownNumber) => void;
}) {
  const isWord = words.some((word) => word === value);
  const [other, setOther] = useState(isWord ? null : showNumber(value));
  const read = typedNumber(other ?? '', dialling);
  return (
    <View style={{ gap: space(2) }}>
      <Choice<string>
        titled
        label={label}
        value={other !== null ? 'other' : value}
        options={[
          ...words.map((word) => ({
            value: word as string,
            label: word === 'own' ? own : SHOWN_WORDS[word],
          })),
          { value: 'other', label: 'Another number' },
        ]}
        onChange={(next) => {
          setOther(next === 'other' ? '' : null);
          const word = words.find((each) => each === next);
          if (word) onChange(word);
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
            const { e164 } = typedNumber(text, dialling);
            if (e164 !== null) onChange(e164);
          }}
          error={read.error}
          hint={read.shown === null ? null : `Shows ${read.shown}`}
        />
      ) : null}
    </View>
  );
}
