import { memo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { DateTime } from 'luxon';
import { readNumber, showNumber } from '../../core/calls/dialling';
import type { Estate, Person } from '../../core/estate';
import type { EndpointBehaviour } from '../../core/calls/engine';
import { CORNER, space, usePalette } from '../kit/theme';
import { PLAIN_MOMENT, useMoments, type CallerChoice, type Moment } from '../data/moment';
import { Button, Choice, Field } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { zoneNamed } from '../../core/zones';
import { Ask } from '../kit/Term';

interface Props {
  readonly person: Person;
  readonly estate: Estate;
  readonly moment: Moment;
  readonly now: number;
}

const CALLERS: readonly { value: CallerChoice; label: string }[] = [
  { value: 'outside', label: 'Outside' },
  { value: 'inside', label: 'A colleague' },
  { value: 'withheld', label: 'Withheld number' },
  { value: 'number', label: 'This number' },
];

type IfChoice = 'nobody' | 'off' | 'busy' | 'engaged' | 'own' | `answer:${string}`;

const outsideIds = (person: Person) =>
  person.endpoints.filter((e) => e.number !== undefined).map((e) => e.id);
const same = (a: object, b: object) => JSON.stringify(a) === JSON.stringify(b);
const all = (ids: readonly string[], behaviour: EndpointBehaviour) =>
  Object.fromEntries(ids.map((id) => [id, behaviour]));

function ifChoice(moment: Moment, person: Person): IfChoice {
  const isOwn = [moment.othersEngaged, moment.groupLast, moment.idleMs, moment.seats].some(
    (each) => Object.keys(each).length > 0,
  );
  if (isOwn || moment.arrival !== 'direct' || moment.to !== null) return 'own';
  if (moment.engaged) return 'engaged';
  const { behaviours } = moment;
  const ids = outsideIds(person);
  if (Object.keys(behaviours).length === 0) return 'nobody';
  if (ids.length > 0 && same(behaviours, all(ids, { state: 'off' }))) return 'off';
  if (ids.length > 0 && same(behaviours, all(ids, { state: 'busy' }))) return 'busy';
  const answering = person.endpoints.find((e) => same(behaviours, { [e.id]: { answerAfterMs: 4000 } }));
  return answering ? `answer:${answering.id}` : 'own';
}

function ifOptions(person: Person): { value: IfChoice; label: string }[] {
  return [
    { value: 'nobody', label: 'Nobody answers' },
    ...person.endpoints.map((e) => ({ value: `answer:${e.id}` as const, label: `${e.label} answers` })),
    ...(outsideIds(person).length > 0
      ? [
          { value: 'off' as const, label: 'Mobile off' },
          { value: 'busy' as const, label: 'Mobile busy' },
        ]
      : []),
    { value: 'engaged', label: 'Already on a call' },
  ];
}

const sayDay = (ms: number, zone: string) =>
  DateTime.fromMillis(ms, { zone: zoneNamed(zone) })
    .setLocale('en')
    .toFormat('ccc d LLL, HH:mm');

type Part = 'time' | 'status' | 'caller' | 'if';

/** For which moment the strip is drawn: day and time, status, who calls, and how everything behaves. */
export const MomentBar = memo(function MomentBar({ person, estate, moment, now }: Props) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const wide = width >= 640;
  const set = useMoments((state) => state.set);
  const [part, setPart] = useState<Part | null>(null);
  const status =
    estate.statuses.find((s) => s.id === (moment.status ?? person.status))?.name ?? person.status;
  const viewerZone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  /** The zone is named where it is not the viewer's. */
  const place =
    viewerZone === estate.timeZone ? null : (estate.timeZone.split('/').at(-1) ?? '').replace('_', ' ');
  const choice = ifChoice(moment, person);
  const ifText = ifOptions(person).find((o) => o.value === choice)?.label ?? 'As set in the try';
  const callerText =
    moment.caller === 'number'
      ? moment.callerNumber || 'This number'
      : CALLERS.find((c) => c.value === moment.caller)!.label;
  const cells: readonly { part: Part; label: string; value: string; changed: boolean }[] = [
    {
      part: 'time',
      label: place ? `Day and time, ${place}` : 'Day and time',
      value:
        moment.epochMs === null
          ? `Now, ${sayDay(now, estate.timeZone).slice(-5)}`
          : sayDay(moment.epochMs, estate.timeZone),
      changed: moment.epochMs !== null,
    },
    { part: 'status', label: 'Status', value: status, changed: moment.status !== null },
    { part: 'caller', label: 'Caller', value: callerText, changed: moment.caller !== 'outside' },
    { part: 'if', label: 'If', value: ifText, changed: choice !== 'nobody' },
  ];
  return (
    <View style={{ paddingHorizontal: space(4), paddingBottom: space(2) }}>
      <View
        role="group"
        aria-label="Moment"
        onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
        style={{
          flexDirection: 'row',
          flexWrap: 'wrap',
          borderWidth: 1,
          borderColor: palette.line,
          borderRadius: CORNER,
          backgroundColor: palette.sheet,
          overflow: 'hidden',
        }}
      >
        {cells.map((cell, i) => (
          <Pressable
            key={cell.part}
            role="button"
            aria-label={`${cell.label}: ${cell.value}. Change`}
            onPress={() => setPart(cell.part)}
            style={({ pressed }) => ({
              width: wide ? '25%' : '50%',
              minHeight: 48,
              paddingHorizontal: space(3),
              paddingVertical: space(1) + 2,
              borderColor: palette.line,
              borderLeftWidth: (wide ? i : i % 2) > 0 ? 1 : 0,
              borderTopWidth: !wide && i > 1 ? 1 : 0,
              backgroundColor: pressed ? palette.tint : palette.sheet,
            })}
          >
            <Words size="small" tone="soft">
              {cell.label}
            </Words>
            <Words strong lines={1} tone={cell.changed ? 'accent' : 'ink'}>
              {cell.value}
            </Words>
          </Pressable>
        ))}
      </View>
      <Sheet
        title={cells.find((c) => c.part === part)?.label ?? ''}
        open={part !== null}
        onClose={() => setPart(null)}
        footer={
          <>
            <Button
              label="Back to now"
              onPress={() => {
                set(person.id, PLAIN_MOMENT);
                setPart(null);
              }}
            />
            <Button kind="main" grow label="Show" onPress={() => setPart(null)} />
          </>
        }
      >
        {part === 'time' ? (
          <View style={{ flexDirection: 'row', alignItems: 'center' }}>
            <Words tone="soft" style={{ flex: 1 }}>
              The call as it would go at this moment.
            </Words>
            <Ask term="moment" />
          </View>
        ) : null}
        {part === 'time' ? <TimePart person={person} estate={estate} moment={moment} now={now} /> : null}
        {part === 'status' ? (
          <>
            <Words tone="soft">
              What would happen with another status. This changes nothing for {person.name}.
            </Words>
            <Choice
              label="Status"
              value={moment.status ?? person.status}
              options={estate.statuses.map((s) => ({ value: s.id, label: s.name }))}
              onChange={(id) => set(person.id, { status: id === person.status ? null : id })}
            />
          </>
        ) : null}
        {part === 'caller' ? (
          <>
            <Choice
              label="Caller"
              value={moment.caller}
              options={CALLERS}
              onChange={(caller) => set(person.id, { caller })}
            />
            {moment.caller === 'number' ? (
              <CallerNumber
                estate={estate}
                value={moment.callerNumber}
                onChange={(callerNumber) => set(person.id, { callerNumber })}
              />
            ) : null}
          </>
        ) : null}
        {part === 'if' ? (
          <>
            <Choice
              label="If"
              value={choice}
              options={ifOptions(person)}
              onChange={(value) => {
                const ids = outsideIds(person);
                const behaviours =
                  value === 'off' || value === 'busy'
                    ? all(ids, { state: value })
                    : value.startsWith('answer:')
                      ? { [value.slice(7)]: { answerAfterMs: 4000 } }
                      : {};
                set(person.id, {
                  behaviours,
                  engaged: value === 'engaged',
                  othersEngaged: {},
                  groupLast: {},
                  idleMs: {},
                  seats: {},
                  arrival: 'direct',
                  to: null,
                });
              }}
            />
            <Words tone="soft">One by one, with times of your own: use Try a call.</Words>
          </>
        ) : null}
      </Sheet>
    </View>
  );
});

function CallerNumber({
  estate,
  value,
  onChange,
}: {
  estate: Estate;
  value: string;
  onChange: (value: string) => void;
}) {
  const digits = value.replace(/\D/g, '');
  const isExtension = digits.length === estate.dialling.extensionDigits;
  const read = value === '' || isExtension ? null : readNumber(value, estate.dialling);
  return (
    <Field
      label="Number of the caller, in any form"
      keyboard="phone-pad"
      mono
      value={value}
      onChange={onChange}
      error={read && !read.ok ? read.reason : null}
      hint={isExtension ? `extension ${digits}` : read?.ok ? showNumber(read.e164) : null}
    />
  );
}

/** Days before today that are offered too. */
const PAST_DAYS = 3;

function TimePart({ person, estate, moment, now }: Props) {
  const set = useMoments((state) => state.set);
  const zone = estate.timeZone;
  const at = DateTime.fromMillis(moment.epochMs ?? now, { zone: zoneNamed(zone) });
  const [clock, setClock] = useState(at.toFormat('HH:mm'));
  const isClock = /^([01]?\d|2[0-3]):[0-5]\d$/.test(clock);
  const today = DateTime.fromMillis(now, { zone: zoneNamed(zone) }).startOf('day');
  const days = Array.from({ length: PAST_DAYS + 7 }, (_, i) => today.plus({ days: i - PAST_DAYS }));
  const [date, setDate] = useState('');
  const other = DateTime.fromFormat(date.trim(), 'yyyy-MM-dd', { zone: zoneNamed(zone) });
  const choose = (day: DateTime, time: string) => {
    const [hour, minute] = time.split(':').map(Number);
    set(person.id, { epochMs: day.set({ hour: hour ?? 0, minute: minute ?? 0 }).toMillis() });
  };
  return (
    <>
      <Words tone="soft">Times are those of {zone.replace('_', ' ')}.</Words>
      <Choice
        label="Day"
        value={at.toISODate() ?? ''}
        options={days.map((day) => ({
          value: day.toISODate() ?? '',
          label: day.setLocale('en').toFormat('ccc d'),
        }))}
        onChange={(date) =>
          choose(DateTime.fromISO(date, { zone: zoneNamed(zone) }), isClock ? clock : '12:00')
        }
      />
      <Field
        label="Or another day, as 2026-11-23"
        mono
        value={date}
        onChange={(text) => {
          setDate(text);
          const typed = DateTime.fromFormat(text.trim(), 'yyyy-MM-dd', { zone: zoneNamed(zone) });
          if (typed.isValid) choose(typed, isClock ? clock : '12:00');
        }}
        error={date.trim().length < 10 || other.isValid ? null : 'No such day'}
        hint="With the plans of now; how it was then, Troubleshoot says"
      />
      <Field
        label="Time"
        mono
        value={clock}
        onChange={(text) => {
          setClock(text);
          if (/^([01]?\d|2[0-3]):[0-5]\d$/.test(text)) choose(at.startOf('day'), text);
        }}
        error={isClock ? null : 'A time from 00:00 to 23:59, such as 14:20'}
      />
      <Choice
        label="Times often asked for"
        value={clock}
        options={['02:15', '07:30', '10:00', '14:20', '18:30', '22:30'].map((time) => ({
          value: time,
          label: time,
        }))}
        onChange={(time) => {
          setClock(time);
          choose(at.startOf('day'), time);
        }}
      />
    </>
  );
}
