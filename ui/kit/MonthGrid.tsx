import { Pressable, View } from 'react-native';
import { DateTime } from 'luxon';
import { IconButton } from './controls';
import { CORNER, space, TARGET, usePalette } from './theme';
import { Words } from './Words';

const NAMES = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];

/** One month as a calendar; a day can be taken in or out by a tap or a key. Dates are "YYYY-MM-DD". */
export function MonthGrid({
  month,
  today,
  marked,
  word,
  onMonth,
  onDay,
}: {
  /** Any date of the month. */
  readonly month: string;
  readonly today: string;
  readonly marked: ReadonlySet<string>;
  /** What a marked day is, such as "closed". */
  readonly word: string;
  readonly onMonth: (month: string) => void;
  readonly onDay: ((date: string) => void) | null;
}) {
  const palette = usePalette();
  const first = DateTime.fromISO(month, { zone: 'utc' }).startOf('month');
  const before = first.weekday - 1;
  const cells = Array.from({ length: Math.ceil((before + (first.daysInMonth ?? 30)) / 7) * 7 }, (_, i) => {
    const day = first.plus({ days: i - before });
    return day.month === first.month ? day : null;
  });
  const go = (by: number) => onMonth(first.plus({ months: by }).toISODate() ?? month);
  return (
    <View style={{ maxWidth: 7 * 52 }}>
      <View style={{ flexDirection: 'row', alignItems: 'center' }}>
        <IconButton icon="back" label="The month before" onPress={() => go(-1)} />
        <Words strong live style={{ flex: 1, textAlign: 'center' }}>
          {first.setLocale('en').toFormat('LLLL yyyy')}
        </Words>
        <IconButton icon="next" label="The month after" onPress={() => go(1)} />
      </View>
      <View style={{ flexDirection: 'row' }}>
        {NAMES.map((name) => (
          <Words key={name} size="small" tone="soft" style={{ flex: 1, textAlign: 'center' }}>
            {name}
          </Words>
        ))}
      </View>
      {Array.from({ length: cells.length / 7 }, (_, week) => (
        <View key={week} style={{ flexDirection: 'row' }}>
          {cells.slice(week * 7, week * 7 + 7).map((day, i) => {
            const date = day?.toISODate() ?? null;
            if (!day || date === null) return <View key={i} style={{ flex: 1 }} />;
            const on = marked.has(date);
            return (
              <Pressable
                key={date}
                role="checkbox"
                aria-checked={on}
                aria-label={`${day.setLocale('en').toFormat('cccc d LLLL yyyy')}, ${word}`}
                disabled={!onDay}
                onPress={() => onDay?.(date)}
                style={{
                  flex: 1,
                  minHeight: TARGET,
                  alignItems: 'center',
                  justifyContent: 'center',
                  borderRadius: CORNER,
                  borderWidth: date === today ? 2 : 0,
                  borderColor: palette.soft,
                  backgroundColor: on ? palette.rust : 'transparent',
                  margin: space(0.25),
                }}
              >
                <Words strong={on || date === today} style={on ? { color: palette.ground } : {}}>
                  {String(day.day)}
                </Words>
              </Pressable>
            );
          })}
        </View>
      ))}
    </View>
  );
}
