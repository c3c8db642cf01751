import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useCallsAround } from '../data/calls';
import { useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { Fold, Section, Skeleton, Trouble } from '../kit/parts';
import { usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { VerdictPart } from './CallScreen';
import { sayNumber } from './words';

/** The calls around the moment that somebody complains of: what went, and what should have. */
export function AroundPart({ person, at }: { readonly person: string; readonly at: number }) {
  const palette = usePalette();
  const zone = useZone();
  const around = useCallsAround(person, at);
  if (around.isError)
    return <Trouble message={messageOf(around.error)} retry={() => void around.refetch()} />;
  if (around.isPending) return <Skeleton rows={2} />;
  const { calls, isMore } = around.data;
  return (
    <Section title="Calls around then">
      {calls.length === 0 ? (
        <Words tone="soft">
          No call to this person within three quarters of an hour is kept. If one was tried, it never came to
          the phone system.
        </Words>
      ) : null}
      {calls.map((told, n) => (
        <View key={told.call.key} style={{ borderTopWidth: 1, borderColor: palette.line }}>
          <Fold
            title={`${sayWhen(told.call.at, zone)}, from ${told.call.from === null ? 'a withheld number' : sayNumber(told.call.from)} to ${told.call.toName ?? sayNumber(told.call.to)}`}
            open={n === 0}
          >
            <VerdictPart told={told} isShort />
          </Fold>
        </View>
      ))}
      {isMore ? <Words tone="soft">There were more calls then: the nearest are shown.</Words> : null}
    </Section>
  );
}
