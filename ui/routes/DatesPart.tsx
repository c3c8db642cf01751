import { useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import type { Schedule } from '../../core/estate';
import { Button, Field, Fold, IconButton, Section, Tick } from '../kit/parts';
import { MonthGrid } from '../kit/MonthGrid';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const isDate = (text: string) =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && DateTime.fromISO(text, { zone: 'utc' }).isValid;
const said = (date: string) =>
  DateTime.fromISO(date, { zone: 'utc' }).setLocale('en').toFormat('ccc d LLL yyyy');
/** For how many years a holiday is taken in, this one and those after it. */
const YEARS = 5;

const yearsOf = (date: string): readonly string[] => {
  const first = DateTime.fromISO(date, { zone: 'utc' });
  return Array.from({ length: YEARS }, (_, n) => first.plus({ years: n }))
    .filter((each) => each.day === first.day)
    .flatMap((each) => each.toISODate() ?? []);
};

/** Holidays: the dates on which all hours are off, on a calendar and as a list, and dates with hours of their own. */
export function DatesPart({
  schedule,
  today,
  onEdit,
}: {
  readonly schedule: Schedule;
  readonly today: string;
  readonly onEdit: ((change: (before: Schedule) => Schedule) => void) | null;
}) {
  const [month, setMonth] = useState(today);
  const [date, setDate] = useState('');
  const [yearly, setYearly] = useState(false);
  const closed = [...(schedule.closed ?? [])].sort();
  const to = closed.filter((each) => each >= today);
  const past = closed.filter((each) => each < today);
  const set = (change: (dates: ReadonlySet<string>) => readonly string[]) =>
    onEdit?.((before) => {
      const { closed: dates, ...rest } = before;
      const next = [...new Set(change(new Set(dates ?? [])))].sort();
      return next.length > 0 ? { ...rest, closed: next } : rest;
    });
  const without = (gone: string) => set((dates) => [...dates].filter((each) => each !== gone));
  const add = () => {
    if (!isDate(date)) return;
    set((dates) => [...dates, ...(yearly ? yearsOf(date) : [date])]);
    setMonth(date);
    setDate('');
  };
  const row = (each: string) => (
    <View key={each} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
      <Words style={{ flex: 1 }}>{said(each)}</Words>
      {onEdit ? (
        <IconButton icon="close" label={`Not closed on ${said(each)}`} onPress={() => without(each)} />
      ) : null}
    </View>
  );
  return (
    <Section title="Holidays">
      <Words size="small" tone="soft">
        {onEdit
          ? 'Tap a day: on those days all hours of the week are off.'
          : 'On these days all hours are off.'}
      </Words>
      <MonthGrid
        month={month}
        today={today}
        marked={new Set(closed)}
        word="closed"
        onMonth={setMonth}
        onDay={
          onEdit ? (day) => (closed.includes(day) ? without(day) : set((dates) => [...dates, day])) : null
        }
      />
      {onEdit ? (
        <View style={{ gap: space(1), maxWidth: 420 }}>
          <Field
            label="Or a date, as 2026-12-25"
            mono
            value={date}
            onChange={(text) => setDate(text.trim())}
            onSubmit={add}
            error={date.length >= 10 && !isDate(date) ? 'No such date' : null}
          />
          <Tick
            label={`The same day each year, for ${YEARS} years`}
            on={yearly}
            onPress={() => setYearly(!yearly)}
          />
          <Button label="Closed on this day" disabled={!isDate(date)} onPress={add} />
        </View>
      ) : null}
      {to.length > 0 ? to.map(row) : <Words tone="soft">No holiday is to come.</Words>}
      {past.length > 0 ? (
        <View style={{ marginHorizontal: -space(4) }}>
          <Fold title={`Past (${past.length})`}>
            <View style={{ paddingHorizontal: space(4) }}>{past.map(row)}</View>
          </Fold>
        </View>
      ) : null}
      {(schedule.open ?? []).map((span, i) => {
        const says = `${said(span.date)}, ${span.from} to ${span.to}`;
        return (
          <View key={says} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
            <Words style={{ flex: 1 }}>{`Open besides: ${says}`}</Words>
            {onEdit ? (
              <IconButton
                icon="close"
                label={`Not open besides on ${says}`}
                onPress={() =>
                  onEdit((before) => {
                    const { open = [], ...rest } = before;
                    const kept = open.filter((_, n) => n !== i);
                    return kept.length > 0 ? { ...rest, open: kept } : rest;
                  })
                }
              />
            ) : null}
          </View>
        );
      })}
    </Section>
  );
}
