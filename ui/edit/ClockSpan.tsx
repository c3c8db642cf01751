import { View } from 'react-native';
import { Field } from '../kit/parts';
import { space } from '../kit/theme';

/** A time of day, "HH:MM"; of an hour below ten the first digit may be left out. */
export const isClock = (text: string): boolean => /^([01]?\d|2[0-3]):[0-5]\d$/.test(text.trim());
/** A time of day as hours hold it. */
export const asClock = (text: string): string => text.trim().padStart(5, '0');

/** From when until when in a day, each typed. */
export function ClockSpan({
  from,
  to,
  isEnd = isClock,
  hint = null,
  onFrom,
  onTo,
  onSubmit,
}: {
  readonly from: string;
  readonly to: string;
  /** What is right as an end, where more than a time of day is. */
  readonly isEnd?: (text: string) => boolean;
  /** What is said below the end. */
  readonly hint?: string | null;
  readonly onFrom: (text: string) => void;
  readonly onTo: (text: string) => void;
  readonly onSubmit: () => void;
}) {
  return (
    <View style={{ flexDirection: 'row', gap: space(2) }}>
      <View style={{ flex: 1 }}>
        <Field
          label="From"
          mono
          value={from}
          onChange={onFrom}
          onSubmit={onSubmit}
          error={isClock(from) ? null : 'Such as 08:00'}
        />
      </View>
      <View style={{ flex: 1 }}>
        <Field
          label="Until"
          mono
          value={to}
          onChange={onTo}
          onSubmit={onSubmit}
          error={isEnd(to) ? null : 'Such as 17:00'}
          hint={hint}
        />
      </View>
    </View>
  );
}
