import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { showNumbersIn } from '../../core/calls/dialling';
import type { StandsFor } from '../../core/calls/drills';
import type { Estate } from '../../core/estate';
import { ANY_OUTSIDE_CALLER, compileEstate, type SeatInCall } from '../../core/calls/engine';
import { tryCall, type Tried } from '../../core/calls/views';
import { isoIn } from '../../core/calls/time';
import { useQuery } from '@tanstack/react-query';
import { api } from '../data/api';
import { RingStrip } from '../drawings/RingStrip';
import { useRole } from '../data/session';
import { space } from '../kit/theme';
import { KeepDrill } from './KeepDrill';
import { Choice, Section, Sheeted, Skeleton } from '../kit/parts';
import { Words } from '../kit/Words';
import { zoneNamed } from '../../core/zones';

const TIMES = ['now', '02:15', '07:30', '10:00', '14:20', '18:30', '22:30'] as const;

/** The ring strip of a group or menu: a call from outside to it, at a moment, with nobody answering or one who does. */
export function TryStrip({
  slice,
  to,
  whom,
  presses,
  seats,
}: {
  readonly slice: Estate;
  readonly to: string;
  /** What a try that is kept here stands for. */
  readonly whom?: StandsFor & { readonly name: string };
  /** Who is at seats now; at another time nobody is known to be. */
  readonly seats?: Readonly<Record<string, SeatInCall>>;
  readonly presses?: { readonly menu: string; readonly keys: readonly string[] };
}) {
  const isLocal = useRole() === 'specialist';
  const [time, setTime] = useState<(typeof TIMES)[number]>('now');
  const [key, setKey] = useState('none');
  const [now] = useState(() => Date.now());
  const index = useMemo(() => compileEstate(slice), [slice]);
  const call = useMemo(() => {
    const day = DateTime.fromMillis(now, { zone: zoneNamed(slice.timeZone) }).startOf('day');
    const [hour, minute] = time.split(':').map(Number);
    const at = time === 'now' ? now : day.set({ hour: hour ?? 0, minute: minute ?? 0 }).toMillis();
    // Whose browser is not given all numbers has the server fill in who is at seats.
    const world = {
      ...(presses && key !== 'none' ? { presses: { [presses.menu]: { key, afterMs: 4000 } } } : {}),
      ...(seats && isLocal && time === 'now' && Object.keys(seats).length > 0 ? { seats } : {}),
    };
    return {
      from: ANY_OUTSIDE_CALLER,
      to,
      at: isoIn(at, slice.timeZone),
      ...(Object.keys(world).length > 0 ? { world } : {}),
    };
  }, [now, slice.timeZone, time, to, presses, key, seats, isLocal]);
  const local = useMemo(() => (isLocal ? tryCall(index, call) : null), [isLocal, index, call]);
  const remote = useQuery({
    queryKey: ['/api/tries', to, call, seats],
    queryFn: () => api<Tried>('POST', `/api/tries${time === 'now' ? '?seats=now' : ''}`, call),
    enabled: !isLocal,
  });
  const tried = local ?? remote.data ?? null;
  return (
    <View>
      <Section>
        <Choice
          label="At which time of today"
          value={time}
          options={TIMES.map((value) => ({ value, label: value === 'now' ? 'Now' : value }))}
          onChange={setTime}
        />
        {presses ? (
          <Choice
            label="What the caller presses"
            value={key}
            options={[
              { value: 'none', label: 'Presses nothing' },
              ...presses.keys.map((each) => ({ value: each, label: `Presses ${each}` })),
            ]}
            onChange={setKey}
          />
        ) : null}
        <Words size="lead" strong tone={tried?.strip.tone === 'lost' ? 'rust' : 'ink'} live>
          {tried ? `Nobody answers: ${showNumbersIn(tried.strip.ending)}` : ' '}
        </Words>
      </Section>
      <Sheeted style={{ paddingVertical: space(2) }}>
        {tried ? <RingStrip strip={tried.strip} /> : <Skeleton rows={3} />}
      </Sheeted>
      {whom && isLocal && tried ? (
        <Section>
          <View style={{ flexDirection: 'row' }}>
            <KeepDrill
              call={call}
              outcome={tried.trace.outcome}
              person={null}
              status={null}
              slice={slice}
              whom={whom}
              index={index}
            />
          </View>
        </Section>
      ) : null}
    </View>
  );
}
