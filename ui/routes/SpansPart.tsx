import { useState } from 'react';
import { View } from 'react-native';
import { WEEKDAYS, type Schedule, type Weekday } from '../../core/estate';
import { asClock, ClockSpan, isClock } from '../edit/ClockSpan';
import { Button, IconButton, Section, Tick } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const DAYS: Record<Weekday, string> = {
  mon: 'Monday',
  tue: 'Tuesday',
  wed: 'Wednesday',
  thu: 'Thursday',
  fri: 'Friday',
  sat: 'Saturday',
  sun: 'Sunday',
};
/** Weekdays in words, neighbours drawn together: `Monday to Friday, Sunday`. */
function daysInWords(days: readonly Weekday[]): string {
  const words: string[] = [];
  for (let at = 0; at < 7; at += 1) {
    if (!days.includes(WEEKDAYS[at]!)) continue;
    let to = at;
    while (to < 6 && days.includes(WEEKDAYS[to + 1]!)) to += 1;
    const [from, last] = [DAYS[WEEKDAYS[at]!], DAYS[WEEKDAYS[to]!]];
    words.push(to === at ? from : to === at + 1 ? `${from}, ${last}` : `${from} to ${last}`);
    at = to;
  }
  return words.join(', ');
}
const WORKING: readonly Weekday[] = ['mon', 'tue', 'wed', 'thu', 'fri'];
/** A day may end at 24:00 too. */
const isEnd = (text: string) => isClock(text) || text.trim() === '24:00';

/** The weekly hours one by one, each with its days: set without a drawing, by touch and by keys. */
export function SpansPart({
  schedule,
  onEdit,
}: {
  readonly schedule: Schedule;
  readonly onEdit: ((change: (before: Schedule) => Schedule) => void) | null;
}) {
  const [adding, setAdding] = useState(false);
  const [days, setDays] = useState<readonly Weekday[]>(WORKING);
  const [from, setFrom] = useState('08:00');
  const [to, setTo] = useState('17:00');
  const add = () => {
    if (!onEdit || days.length === 0 || !isClock(from) || !isEnd(to)) return;
    const until = to.trim() === '24:00' ? '00:00' : asClock(to);
    onEdit((before) => ({
      ...before,
      weekly: [
        ...before.weekly,
        { days: WEEKDAYS.filter((day) => days.includes(day)), from: asClock(from), to: until },
      ],
    }));
    setAdding(false);
  };
  return (
    <Section
      title="Hours of the week"
      aside={
        onEdit && !adding ? (
          <Button kind="quiet" icon="add" label="Add hours" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      {schedule.weekly.length === 0 && !adding ? (
        <Words tone="soft">None yet: it is outside all week.</Words>
      ) : null}
      {schedule.weekly.map((span, i) => {
        const says = `${daysInWords(span.days)}, ${span.from} to ${span.to}${span.to <= span.from ? ' the next day' : ''}`;
        return (
          <View key={i} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>{says}</Words>
            {onEdit ? (
              <IconButton
                icon="close"
                label={`Take out ${says}`}
                onPress={() =>
                  onEdit((before) => ({ ...before, weekly: before.weekly.filter((_, n) => n !== i) }))
                }
              />
            ) : null}
          </View>
        );
      })}
      {adding ? (
        <View style={{ gap: space(3) }}>
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(4) }}>
            {WEEKDAYS.map((day) => (
              <Tick
                key={day}
                label={DAYS[day]}
                on={days.includes(day)}
                onPress={() =>
                  setDays(days.includes(day) ? days.filter((each) => each !== day) : [...days, day])
                }
              />
            ))}
          </View>
          <ClockSpan
            from={from}
            to={to}
            isEnd={isEnd}
            hint={isClock(from) && isEnd(to) && asClock(to) <= asClock(from) ? 'The next day' : null}
            onFrom={setFrom}
            onTo={setTo}
            onSubmit={add}
          />
          <View style={{ flexDirection: 'row', gap: space(2) }}>
            <Button
              label="Add these hours"
              disabled={days.length === 0 || !isClock(from) || !isEnd(to)}
              onPress={add}
            />
            <Button kind="quiet" label="Cancel" onPress={() => setAdding(false)} />
          </View>
        </View>
      ) : null}
    </Section>
  );
}
