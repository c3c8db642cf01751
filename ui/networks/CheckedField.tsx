import { useState } from 'react';
import { isBlockRule, isIpv4, isPortSpan } from '../../core/estate';
import { Field } from '../kit/parts';

/** A field whose text counts as soon as it can be read; until then it says what is wrong and nothing changes. */
export function CheckedField<T>({
  label,
  value,
  show,
  read,
  onChange,
  hint,
}: {
  readonly label: string;
  readonly value: T;
  readonly show: (value: T) => string;
  /** The value of a text, or what it must be. */
  readonly read: (text: string) => { readonly value: T } | { readonly error: string };
  readonly onChange: (value: T) => void;
  readonly hint?: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? show(value);
  const now = read(text);
  return (
    <Field
      label={label}
      mono
      value={text}
      onChange={(next) => {
        const after = read(next);
        setTyped(next);
        if ('value' in after) onChange(after.value);
      }}
      error={'error' in now ? now.error : null}
      {...(hint === undefined ? {} : { hint })}
    />
  );
}

type Reading<T> = { readonly value: T } | { readonly error: string };

export const readAddress = (text: string): Reading<string> =>
  isIpv4(text.trim()) ? { value: text.trim() } : { error: 'Such as 192.168.1.20' };
export const readOwnAddress = (text: string): Reading<string | undefined> =>
  text.trim() === '' ? { value: undefined } : readAddress(text);
const whole =
  (least: number, most: number, says: string) =>
  (text: string): Reading<number> => {
    const value = /^\d{1,7}$/.test(text.trim()) ? Number(text.trim()) : NaN;
    return value >= least && value <= most ? { value } : { error: says };
  };
export const readPort = whole(1, 65_535, 'A port from 1 to 65535');
export const readSeconds = whole(1, 2_678_400, 'Whole seconds, 1 or more');
/** The same, where nothing may stand too. */
export const orNothing =
  (read: (text: string) => Reading<number>) =>
  (text: string): Reading<number | null> =>
    text.trim() === '' ? { value: null } : read(text);
export const showNumber = (value: number | null | undefined): string =>
  value === null || value === undefined ? '' : String(value);
export const readPorts = (text: string): Reading<string> =>
  isPortSpan(text.trim()) ? { value: text.trim() } : { error: 'Such as 5060 or 10000-20000' };
/** Protocols and ports that are blocked, parted by commas or spaces: `udp, tcp:5061`. */
export const readBlocked = (text: string): Reading<readonly string[]> => {
  const rules = text.split(/[\s,;]+/).filter(Boolean);
  const wrong = rules.find((rule) => !isBlockRule(rule));
  return wrong === undefined
    ? { value: rules }
    : { error: `“${wrong}” is none: udp, tcp, udp:5060 or udp:10000-20000` };
};
