import { useState } from 'react';
import { Field } from './parts';

/**
 * Several short texts in one field, with commas or spaces between them. What is typed stays as it is; the list is told
 * where each of them is right, else null.
 */
export function SeveralField({
  label,
  values,
  clean = (text) => text,
  fits,
  example,
  hint = 'Several with commas between them',
  fault = null,
  onChange,
}: {
  readonly label: string;
  readonly values: readonly string[];
  /** What of one typed text counts. */
  readonly clean?: (text: string) => string;
  /** What each must be like; left out: anything. */
  readonly fits?: RegExp;
  /** One that is right, for the words of an error. */
  readonly example?: string;
  readonly hint?: string | null;
  /** What the server found wrong with them. */
  readonly fault?: string | null;
  readonly onChange: (values: readonly string[] | null) => void;
}) {
  const [text, setText] = useState(values.join(', '));
  const split = (typed: string) =>
    typed
      .split(/[\s,;]+/)
      .map(clean)
      .filter(Boolean);
  const isWrong = (each: string) => fits !== undefined && !fits.test(each);
  const wrong = split(text).find(isWrong);
  return (
    <Field
      label={label}
      mono
      keyboard="phone-pad"
      value={text}
      onChange={(typed) => {
        setText(typed);
        const all = split(typed);
        onChange(all.some(isWrong) ? null : all);
      }}
      error={wrong === undefined ? fault : `${wrong} must be + and digits, such as ${example ?? ''}`}
      hint={hint}
    />
  );
}

/** The beginning of an E.164 number. */
export const E164_BEGINNING = /^\+[1-9]\d{0,14}$/;
