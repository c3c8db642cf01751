import type { ObjectPage } from '../../api/objects';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { DateTime } from 'luxon';
import type { Schedule } from '../../core/estate';
import { readICalendar, writeICalendar } from '../../core/formats';
import { hoursAsText, readHoursText, scheduleClock, toggleHour } from '../../core/calls/time';
import { messageOf } from '../data/api';
import { chooseFile, saveFile } from '../data/files';
import { useObject, useObjectWork } from '../data/objects';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { ObjectBar } from '../edit/ObjectBar';
import { RemovePart } from '../edit/RemovePart';
import { WithFindings } from '../findings/WithFindings';
import { PageFrame } from '../kit/PageFrame';
import { Button, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';
import { HoursGrid } from '../drawings/HoursGrid';
import { DatesPart } from './DatesPart';
import { SpansPart } from './SpansPart';
import { isZone, ZONES_VERSION, zoneNamed } from '../../core/zones';
import { fieldLabel } from '../kit/fieldLabel';

export function HoursScreen({ id }: { readonly id: string }) {
  const page = useObject<Schedule>('schedule', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <HoursView key={id} page={page.data} />;
}

/** One schedule: on a week grid, as text, in and out as iCalendar. */
function HoursView({ page }: { page: ObjectPage<Schedule> }) {
  const wide = useIsWide();
  const router = useRouter();
  const canEdit = useCanEdit();
  const work = useObjectWork('schedule', page);
  const schedule = work.object;
  const written = hoursAsText(schedule);
  const [typed, setTyped] = useState<{ text: string; of: string } | null>(null);
  const [notes, setNotes] = useState<readonly string[]>([]);
  const text = typed && typed.of === written ? typed.text : written;
  const read = readHoursText(text);
  const today =
    DateTime.local()
      .setZone(zoneNamed(isZone(schedule.timeZone) ? schedule.timeZone : 'UTC'))
      .toISODate() ?? '2026-01-01';
  const clock = isZone(schedule.timeZone) ? scheduleClock(schedule) : null;
  const now = DateTime.now().toMillis();
  const next = clock?.nextChange(now) ?? Infinity;
  const type = (next: string) => {
    const hours = readHoursText(next);
    if (hours.ok) {
      const { closed: _c, open: _o, ...rest } = schedule;
      const changed = { ...rest, ...hours.hours };
      setTyped({ text: next, of: hoursAsText(changed) });
      if (hoursAsText(changed) !== written) work.edit(() => changed);
    } else setTyped({ text: next, of: written });
  };
  const editHours = (change: (before: Schedule) => Schedule) => {
    setTyped(null);
    work.edit(change);
  };
  const load = async () => {
    const file = await chooseFile('.ics,text/calendar');
    if (!file) return;
    const calendar = readICalendar(await file.text(), schedule.timeZone, today);
    if (!calendar.ok) {
      setNotes(calendar.faults.map(({ path, message }) => `${path ? `${path}: ` : ''}${message}`));
      return;
    }
    const { closed: _c, open: _o, ...rest } = schedule;
    setTyped(null);
    work.edit(() => ({ ...rest, ...calendar.hours }));
    setNotes([
      `${calendar.hours.weekly.length} weekly spans, ${calendar.hours.closed?.length ?? 0} closed dates and ${calendar.hours.open?.length ?? 0} open spans read.`,
      ...calendar.notes,
    ]);
  };
  return (
    <PageFrame
      title={schedule.name}
      text={schedule.timeZone}
      back={{ path: '/hours', label: 'Back to hours and statuses' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`schedule/${page.object.id}`}>
        <Section>
          <Words size="lead" strong>
            {clock
              ? `${clock.inside(now) ? 'Inside' : 'Outside'} now${
                  next === Infinity
                    ? ''
                    : `, until ${DateTime.fromMillis(next, { zone: zoneNamed(schedule.timeZone) })
                        .setLocale('en')
                        .toFormat('ccc d LLL, HH:mm')}`
                }.`
              : 'The zone is not known.'}
          </Words>
        </Section>
        <View style={{ flexDirection: wide ? 'row' : 'column' }}>
          <View style={wide ? { flex: 3 } : {}}>
            <Section title="The week">
              {canEdit ? (
                <Words size="small" tone="soft">
                  Tap an hour to take it in or out, or set the hours one by one below.
                </Words>
              ) : null}
              <HoursGrid
                schedule={schedule}
                onHour={
                  canEdit
                    ? (day, hour) => {
                        setTyped(null);
                        work.edit((before) => ({ ...before, ...toggleHour(before, day, hour) }));
                      }
                    : null
                }
              />
            </Section>
          </View>
          <View style={wide ? { flex: 2 } : {}}>
            <Section title="As text">
              {canEdit ? (
                <Field
                  label="A line for each span: days and hours, closed or open and a date"
                  mono
                  multiline
                  value={text}
                  onChange={type}
                  error={
                    read.ok ? null : read.faults.map(({ path, message }) => `${path}: ${message}`).join('\n')
                  }
                  hint="mon-fri 08:00-17:00, sat 22:00-06:00 (past midnight), closed 2026-12-25, open 2026-12-05 09:00-12:00"
                />
              ) : (
                <Words mono>{written || 'No hours'}</Words>
              )}
            </Section>
          </View>
        </View>
        <View style={{ flexDirection: wide ? 'row' : 'column' }}>
          <View style={wide ? { flex: 1 } : {}}>
            <SpansPart schedule={schedule} onEdit={canEdit ? editHours : null} />
          </View>
          <View style={wide ? { flex: 1 } : {}}>
            <DatesPart schedule={schedule} today={today} onEdit={canEdit ? editHours : null} />
          </View>
        </View>
        {notes.length > 0 ? (
          <Section>
            {notes.map((note) => (
              <Words key={note} size="small" live>
                {note}
              </Words>
            ))}
          </Section>
        ) : null}
        <Section title="iCalendar">
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              label="Save as a calendar file"
              onPress={() => saveFile(`${schedule.id}.ics`, writeICalendar(schedule, today), 'text/calendar')}
            />
            {canEdit ? <Button label="Read a calendar file" onPress={() => void load()} /> : null}
          </View>
        </Section>
        {canEdit ? (
          <Section title="Name and zone">
            <View style={{ gap: space(3), maxWidth: 420 }}>
              <Field
                label={fieldLabel('schedule', 'name')}
                value={schedule.name}
                onChange={(name) => name.trim() && work.edit((before) => ({ ...before, name }))}
              />
              <ZoneField
                value={schedule.timeZone}
                onChange={(timeZone) => work.edit((before) => ({ ...before, timeZone }))}
              />
              <RemovePart
                kind="schedule"
                id={page.object.id}
                name={page.object.name}
                label="Remove these hours"
                onRemoved={() => router.navigate('/hours')}
              />
            </View>
          </Section>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}

function ZoneField({ value, onChange }: { value: string; onChange: (zone: string) => void }) {
  const [text, setText] = useState(value);
  const ok = isZone(text);
  return (
    <Field
      label="Time zone, as the IANA names it"
      mono
      value={text}
      onChange={(next) => {
        setText(next);
        if (isZone(next) && next !== value) onChange(next);
      }}
      error={ok ? null : `A zone such as America/Vancouver; until then ${value} stays`}
      hint={`By the table of time zones IANA ${ZONES_VERSION}, which server and browser share.`}
    />
  );
}
