import { useState } from 'react';
import { View } from 'react-native';
import type { ObjectPage } from '../../api/objects';
import type { GroupLoadPage } from '../../api/phones';
import { DEFAULT_SEAT, type Group, type Seat } from '../../core/estate';
import { queueOf, type QueueAnswer } from '../../core/statistics';
import { seatsCurve, seatsNeeded, type GroupToRun } from '../../core/staffing';
import { messageOf } from '../data/api';
import { useObject } from '../data/objects';
import { useGroupLoad } from '../data/staffing';
import { SeatsCurve } from '../drawings/SeatsCurve';
import { PageFrame } from '../kit/PageFrame';
import { Field, Fold, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { ForecastPart } from './ForecastPart';
import { RunPart } from './RunPart';
import { percent, readBetween, saySeconds } from './words';

/** How many seats a group needs: by formula, by trying the group itself, and by half hour. */
export function LoadScreen({ id }: { readonly id: string }) {
  const page = useObject<Group>('group', id);
  const load = useGroupLoad(id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (load.isError) return <Trouble message={messageOf(load.error)} retry={() => void load.refetch()} />;
  if (page.isPending || load.isPending) return <Skeleton />;
  return <LoadView key={id} page={page.data} measured={load.data} />;
}

/** So many calls are enough to go by; with fewer the fields begin with usual figures. */
const ENOUGH_CALLS = 30;
const USUAL = { calls: 30, talkS: 180 };
const FIELDS = [
  ['calls', 'Calls an hour', 0.1, 100_000],
  ['talk', 'Talk, s', 1, 7200],
  ['wrap', 'Wrap-up, s', 0, 3600],
  ['seats', 'Seats signed on', 1, 2000],
  ['share', 'Wanted: answered, %', 1, 99.9],
  ['within', 'Within, s', 0, 3600],
] as const;
type Name = (typeof FIELDS)[number][0] | 'patience';

/** The seats of a group, or whoever else is in it, as a run takes them. */
function seatsOf(group: Group, seats: readonly Seat[]): GroupToRun['seats'] {
  return group.members.flatMap((member) => {
    const seat = 'seat' in member ? seats.find(({ id }) => id === member.seat) : undefined;
    // One that needs nobody takes no calls as people do.
    if (seat?.unattended) return [];
    return {
      rank: 'seat' in member ? (member.rank ?? 1) : 10,
      callsAtOnce: seat?.callsAtOnce ?? DEFAULT_SEAT.callsAtOnce,
      ringMs: seat?.ringMs ?? DEFAULT_SEAT.ringMs,
      wrapUpMs: seat?.wrapUpMs ?? DEFAULT_SEAT.wrapUpMs,
      missesUntilPaused: seat?.missesUntilPaused ?? DEFAULT_SEAT.missesUntilPaused,
    };
  });
}

function LoadView({
  page,
  measured,
}: {
  readonly page: ObjectPage<Group>;
  readonly measured: GroupLoadPage;
}) {
  const group = page.object;
  const seats = seatsOf(group, page.slice.seats ?? []);
  const isMeasured = measured.calls >= ENOUGH_CALLS && measured.talkS !== null;
  const busiest = Math.max(0, ...measured.slots.map(({ calls }) => calls));
  const wrapS = seats.reduce((sum, { wrapUpMs }) => sum + wrapUpMs, 0) / 1000 / Math.max(1, seats.length);
  const [typed, setTyped] = useState<Record<Name, string>>({
    calls: String(isMeasured ? Math.round(busiest * 2 * 10) / 10 : USUAL.calls),
    talk: String(isMeasured ? Math.round(measured.talkS ?? USUAL.talkS) : USUAL.talkS),
    wrap: String(Math.round(wrapS)),
    seats: String(Math.max(1, seats.length)),
    share: '80',
    within: '20',
    patience: '',
  });
  const set = (name: Name) => (text: string) => setTyped((before) => ({ ...before, [name]: text }));
  const value = Object.fromEntries(
    FIELDS.map(([name, , least, most]) => [name, readBetween(typed[name], least, most)]),
  ) as Record<(typeof FIELDS)[number][0], number | null>;
  const patience = typed.patience.trim() === '' ? undefined : readBetween(typed.patience, 1, 36_000);
  const { calls, talk, wrap, share, within } = value;
  const count = value.seats === null ? null : Math.round(value.seats);
  const isWhole =
    calls !== null &&
    talk !== null &&
    wrap !== null &&
    share !== null &&
    within !== null &&
    count !== null &&
    patience !== null;
  return (
    <PageFrame
      title={`How many seats: ${group.name}`}
      term="erlang-c"
      text={
        isMeasured
          ? `${measured.calls} calls of the last ${measured.days} days: the busiest half hour is filled in`
          : 'Few calls have been counted yet: type what you expect'
      }
      back={{ path: `/groups/${encodeURIComponent(group.id)}`, label: `Back to ${group.name}` }}
    >
      <Section title="What comes, and what is wanted">
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {FIELDS.map(([name, label, least, most]) => (
            <View key={name} style={{ flexGrow: 1, flexBasis: 150, maxWidth: 260 }}>
              <Field
                label={label}
                mono
                keyboard="decimal-pad"
                value={typed[name]}
                onChange={set(name)}
                error={value[name] === null ? `From ${least} to ${most}` : null}
              />
            </View>
          ))}
          <View style={{ flexGrow: 1, flexBasis: 150, maxWidth: 260 }}>
            <Field
              label="Callers give up after, s"
              mono
              keyboard="decimal-pad"
              value={typed.patience}
              onChange={set('patience')}
              error={patience === null ? 'From 1 to 36000, or nothing' : null}
              hint="On average; empty: they wait"
            />
          </View>
        </View>
      </Section>
      {isWhole ? (
        <>
          <FormulaPart
            callsPerHour={calls}
            handleS={talk + wrap}
            seats={count}
            wanted={{ share: share / 100, withinS: within }}
            {...(patience === undefined ? {} : { patienceS: patience })}
          />
          <RunPart
            group={group}
            seats={seats}
            count={count}
            load={{
              callsPerHour: calls,
              talkS: talk,
              withinS: within,
              ...(patience === undefined ? {} : { patienceS: patience }),
            }}
            wrapS={wrap}
            pickUpS={isMeasured ? measured.answerS : null}
          />
          <ForecastPart
            slots={measured.slots}
            handleS={talk + wrap}
            wanted={{ share: share / 100, withinS: within }}
            {...(patience === undefined ? {} : { patienceS: patience })}
          />
        </>
      ) : null}
    </PageFrame>
  );
}

const AROUND = 6;
const sayAnswer = ({ within, meanWaitS, abandoned }: QueueAnswer, withinS: number): string =>
  [
    `${percent(within)} answered within ${withinS} s`,
    meanWaitS === null ? 'the line grows without end' : `${saySeconds(meanWaitS)} of waiting on average`,
    ...(abandoned > 0 ? [`${percent(abandoned)} give up`] : []),
  ].join(', ');

/** What Erlang's formulas say: now, with one more, and how many are needed. */
function FormulaPart({
  seats,
  wanted,
  ...load
}: {
  readonly callsPerHour: number;
  readonly handleS: number;
  readonly patienceS?: number;
  readonly seats: number;
  readonly wanted: { readonly share: number; readonly withinS: number };
}) {
  const { withinS } = wanted;
  const now = queueOf({ ...load, servers: seats, withinS });
  const more = queueOf({ ...load, servers: seats + 1, withinS });
  const needed = seatsNeeded(load, wanted);
  const middle = needed ?? seats;
  const from = Math.max(1, Math.min(seats, middle) - AROUND);
  const curve = seatsCurve(load, withinS, from, Math.min(Math.max(seats, middle) + AROUND, from + 60));
  const isEnough = needed !== null && needed <= seats;
  return (
    <Section title={load.patienceS === undefined ? 'By Erlang C' : 'By Erlang A'}>
      <Words strong live tone={isEnough ? 'kelp' : 'rust'}>
        {needed === null
          ? 'More than 10,000 seats are needed.'
          : isEnough
            ? `${seats} seats are enough; ${needed} would do.`
            : `${seats} seats are too few: ${needed} are needed.`}
      </Words>
      <Words>{`With ${seats}: ${sayAnswer(now, withinS)}; each seat is busy ${percent(now.occupancy)} of the time.`}</Words>
      <Words>{`One more: ${sayAnswer(more, withinS)}.`}</Words>
      <View style={{ maxWidth: 760 }}>
        <SeatsCurve points={curve} wanted={wanted.share} seats={seats} />
      </View>
      <Fold title="Show as table">
        <View role="list" style={{ paddingHorizontal: space(4) }}>
          {curve.map((point) => (
            <View role="listitem" key={point.servers} style={{ flexDirection: 'row', gap: space(3) }}>
              <Words mono style={{ width: 40, textAlign: 'right' }}>
                {String(point.servers)}
              </Words>
              <Words style={{ flex: 1 }}>{sayAnswer(point, withinS)}</Words>
            </View>
          ))}
        </View>
      </Fold>
    </Section>
  );
}
