import { useState } from 'react';
import { View } from 'react-native';
import type { Group } from '../../core/estate';
import { queueOf } from '../../core/statistics';
import type { GroupLoad, GroupRun, GroupToRun, Measured } from '../../core/staffing';
import { useGroupRun } from '../data/staffing';
import { Button, Field, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { percent, readBetween, saySeconds } from './words';

const USUAL_PICK_UP_S = 6;
/** The group itself, tried with 20,000 calls: what the formulas leave out. */
export function RunPart({
  group,
  seats,
  count,
  load,
  wrapS,
  pickUpS,
}: {
  readonly group: Group;
  readonly seats: GroupToRun['seats'];
  /** Seats signed on. */
  readonly count: number;
  readonly load: Pick<GroupLoad, 'callsPerHour' | 'talkS' | 'withinS' | 'patienceS'>;
  readonly wrapS: number;
  /** As it was measured; null: it was not. */
  readonly pickUpS: number | null;
}) {
  const tried = useGroupRun();
  const [pickUp, setPickUp] = useState(String(Math.max(1, Math.round(pickUpS ?? USUAL_PICK_UP_S))));
  const [misses, setMisses] = useState('5');
  const [back, setBack] = useState('5');
  const [pick, miss, away] = [
    readBetween(pickUp, 0, 600),
    readBetween(misses, 0, 100),
    readBetween(back, 0, 600),
  ];
  const isWhole = pick !== null && pick > 0 && miss !== null && away !== null && away > 0;
  const start = () => {
    if (!isWhole) return;
    const all = Array.from({ length: count }, (_each, n) => ({
      ...(seats[n % Math.max(1, seats.length)] ?? USUAL_SEAT),
      wrapUpMs: wrapS * 1000,
    }));
    tried.start(
      {
        mode: group.mode,
        ringMs: group.ringMs,
        queueMs: group.ending.kind === 'queue' ? group.ending.maxMs : null,
        seats: all,
      },
      { ...load, pickUpS: pick, missShare: miss / 100, backAfterS: away * 60 },
    );
  };
  const { state } = tried;
  return (
    <Section title="By trying this group">
      <Words tone="soft">
        {`20,000 made-up calls come to this group${
          group.ending.kind === 'queue'
            ? `, and wait up to ${Math.round(group.ending.maxMs / 60_000)} min`
            : '. It has no queue: a caller who reaches nobody goes on to its ending'
        }. Ringing takes time, calls are missed, and missed calls pause a seat.`}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        {(
          [
            ['Picking up takes, s', pickUp, setPickUp, pick === null || pick === 0, 'Over 0, up to 600'],
            ['Not picked up at all, %', misses, setMisses, miss === null, 'From 0 to 100'],
            [
              'A paused seat is back after, min',
              back,
              setBack,
              away === null || away === 0,
              'Over 0, up to 600',
            ],
          ] as const
        ).map(([label, value, set, isWrong, error]) => (
          <View key={label} style={{ flexGrow: 1, flexBasis: 150, maxWidth: 260 }}>
            <Field
              label={label}
              mono
              keyboard="decimal-pad"
              value={value}
              onChange={set}
              error={isWrong ? error : null}
            />
          </View>
        ))}
      </View>
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
        {state.state === 'running' ? (
          <>
            <Button label="Stop" onPress={tried.stop} />
            <Words live>{`${Math.round(state.share * 100)} % of 20,000 calls`}</Words>
          </>
        ) : (
          <Button label="Try it with 20,000 calls" disabled={!isWhole} onPress={start} />
        )}
      </View>
      {state.state === 'failed' ? <Words tone="rust">This could not be worked out. Try again.</Words> : null}
      {state.state === 'done' ? (
        <RunTable
          run={state.run}
          formula={queueOf({
            callsPerHour: load.callsPerHour,
            handleS: load.talkS + wrapS,
            servers: count,
            withinS: load.withinS,
            ...(load.patienceS === undefined ? {} : { patienceS: load.patienceS }),
          })}
          withinS={load.withinS}
        />
      ) : null}
    </Section>
  );
}

const USUAL_SEAT = { rank: 1, callsAtOnce: 1, ringMs: 20_000, wrapUpMs: 0, missesUntilPaused: 2 };

const share = ({ mean, spread }: Measured): string => `${percent(mean)} ± ${(spread * 100).toFixed(1)}`;

/** What was tried beside what the formula says. */
function RunTable({
  run,
  formula,
  withinS,
}: {
  readonly run: GroupRun;
  readonly formula: ReturnType<typeof queueOf>;
  readonly withinS: number;
}) {
  const palette = usePalette();
  const rows: readonly (readonly [string, string, string])[] = [
    ['', 'Tried', 'Formula'],
    [`Answered within ${withinS} s`, share(run.within), percent(formula.within)],
    [
      'Waiting on average',
      `${saySeconds(run.waitS.mean)} ± ${run.waitS.spread.toFixed(1)}`,
      formula.meanWaitS === null ? 'without end' : saySeconds(formula.meanWaitS),
    ],
    ['Give up', share(run.abandoned), percent(formula.abandoned)],
    ['Go on to the ending', share(run.sentOn), '—'],
    ['Seats busy', percent(run.occupancy), percent(formula.occupancy)],
    ['Seats paused', percent(run.paused), '—'],
    ['Missed rings for a call', run.missesPerCall.toFixed(2), '—'],
  ];
  return (
    <View role="table" aria-label="Tried beside the formula" style={{ maxWidth: 640 }}>
      {rows.map(([what, tried, said], n) => (
        <View
          role="row"
          key={what}
          style={{
            flexDirection: 'row',
            gap: space(2),
            paddingVertical: space(1),
            borderBottomWidth: 1,
            borderColor: palette.line,
          }}
        >
          <View role={n === 0 ? 'columnheader' : 'rowheader'} style={{ flex: 2 }}>
            <Words>{what}</Words>
          </View>
          {[tried, said].map((text, at) => (
            <View key={at} role={n === 0 ? 'columnheader' : 'cell'} style={{ flex: 1.4 }}>
              <Words strong={n === 0} mono={n > 0} size={n > 0 ? 'small' : 'body'}>
                {text}
              </Words>
            </View>
          ))}
        </View>
      ))}
      <Words tone="soft" size="small">
        ± is half of the interval in which the true figure lies in 95 of 100 such tries.
      </Words>
    </View>
  );
}
