import { View } from 'react-native';
import { useCallsGoing } from '../data/calls';
import { Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayLength, sayNumber } from './words';

const STEP = {
  asks: 'is asked for the number',
  'rings-own': 'rings their own mobile first',
  rings: 'rings',
  talks: 'talks',
} as const;

/** The calls that are going on now: who, with whom, where, how long, by which rule. Nothing while there are none. */
export function GoingPart() {
  const palette = usePalette();
  const going = useCallsGoing();
  const calls = going.data?.calls ?? [];
  if (calls.length === 0) return null;
  return (
    <Section title={calls.length === 1 ? 'One call is going on' : `${calls.length} calls are going on`}>
      <View role="list">
        {calls.map((call) => (
          <View
            role="listitem"
            key={call.id}
            style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
          >
            <Words>
              {`${call.from === null ? 'A withheld number' : sayNumber(call.from)} to `}
              <Words strong>{call.toName ?? sayNumber(call.to)}</Words>
              {call.step
                ? `: ${STEP[call.step]}`
                : call.talkMs === null
                  ? call.where
                    ? `: rings at ${call.where}`
                    : ': rings nowhere'
                  : `: talks at ${call.where ?? 'a phone'}`}
            </Words>
            <Words size="small" tone="soft">
              {[
                call.talkMs === null ? `for ${sayLength(call.forMs)}` : `for ${sayLength(call.talkMs)}`,
                ...(call.rule ? [`by ${call.rule}`] : []),
              ].join(', ')}
            </Words>
          </View>
        ))}
      </View>
    </Section>
  );
}
