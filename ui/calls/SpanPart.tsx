import { DateTime } from 'luxon';
import { View } from 'react-native';
import { zoneNamed } from '../../core/zones';
import { Field } from '../kit/parts';
import { space } from '../kit/theme';

/** A day and hours of it, as they are typed; nothing: at any time. */
export interface Span {
  readonly day: string;
  readonly from: string;
  readonly to: string;
}
export const NO_SPAN: Span = { day: '', from: '', to: '' };

const hourOf = (text: string): number | null => {
  const [, hour, minute = '00'] = /^(\d{1,2})(?::?(\d{2}))?$/.exec(text.trim()) ?? [];
  const at = Number(hour) + Number(minute) / 60;
  return hour !== undefined && Number(minute) < 60 && at <= 24 ? at : null;
};
const isDay = (text: string) =>
  /^\d{4}-\d{2}-\d{2}$/.test(text.trim()) && DateTime.fromISO(text.trim()).isValid;

/** What is wrong with what was typed, by its field. */
const faultsOf = ({ day, from, to }: Span) => ({
  day: day.trim() !== '' && !isDay(day) ? 'As 2026-11-24' : null,
  from: from.trim() !== '' && hourOf(from) === null ? 'As 15:00' : null,
  to: to.trim() !== '' && hourOf(to) === null ? 'As 16:00' : null,
});

/** The span as moments; null: none, or one that is not whole yet. */
export function spanOf(span: Span, zone: string): { readonly from: string; readonly to: string } | null {
  if (!isDay(span.day) || Object.values(faultsOf(span)).some((fault) => fault !== null)) return null;
  const day = DateTime.fromISO(span.day.trim(), { zone: zoneNamed(zone) }).startOf('day');
  const at = (hours: number) =>
    day
      .plus({ days: hours >= 24 ? 1 : 0 })
      .set({ hour: Math.floor(hours % 24), minute: Math.round((hours % 1) * 60) });
  const [from, to] = [at(hourOf(span.from) ?? 0), at(hourOf(span.to) ?? 24)];
  return from < to ? { from: from.toUTC().toISO() ?? '', to: to.toUTC().toISO() ?? '' } : null;
}

/** A day, and hours of it. */
export function SpanPart({ span, onSpan }: { readonly span: Span; readonly onSpan: (span: Span) => void }) {
  const faults = faultsOf(span);
  return (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
      {(
        [
          ['day', 'On the day', '2026-11-24'],
          ['from', 'From', '15:00'],
          ['to', 'Up to', '16:00'],
        ] as const
      ).map(([name, label, hint]) => (
        <View key={name} style={{ flexGrow: 1, flexBasis: 110, maxWidth: 220 }}>
          <Field
            label={label}
            mono
            value={span[name]}
            hint={span[name] === '' ? `As ${hint}` : undefined}
            error={faults[name]}
            onChange={(text) => onSpan({ ...span, [name]: text })}
          />
        </View>
      ))}
    </View>
  );
}
