import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Refused } from './parts';
import { space } from './theme';

/** Digits that are typed, set and not shown again: a PIN, a password, a badge. */
export function DigitsSetter({
  label,
  hint,
  secret,
  setLabel,
  removeLabel,
  fault,
  error,
  busy,
  onSet,
  onRemove,
  onType,
}: {
  readonly label: string;
  readonly hint?: string;
  readonly secret: boolean;
  readonly setLabel: string;
  readonly removeLabel?: string;
  /** What is wrong with what was typed. */
  readonly fault: string | null;
  /** Why it could not be set, where that is something else. */
  readonly error: unknown;
  readonly busy: boolean;
  readonly onSet: (digits: string, done: () => void) => void;
  /** Left out: there is none to take away. */
  readonly onRemove?: () => void;
  readonly onType: () => void;
}) {
  const [digits, setDigits] = useState('');
  return (
    <View style={{ gap: space(2) }}>
      <View style={{ maxWidth: 320 }}>
        <Field
          label={label}
          mono
          secret={secret}
          keyboard="phone-pad"
          value={digits}
          onChange={(text) => {
            setDigits(text.replace(/\D/g, ''));
            onType();
          }}
          {...(hint === undefined ? {} : { hint })}
          error={fault}
        />
      </View>
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <Button
          label={setLabel}
          disabled={digits === ''}
          busy={busy}
          onPress={() => onSet(digits, () => setDigits(''))}
        />
        {onRemove && removeLabel ? <Button kind="quiet" label={removeLabel} onPress={onRemove} /> : null}
      </View>
      {fault ? null : <Refused error={error} />}
    </View>
  );
}
