import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import type { NetworkPhone } from '../../core/estate';
import {
  nameIn,
  pathAnswers,
  REASON_WORDS,
  topologyOf,
  verdictsOf,
  type Hop,
  type PathAnswer,
  type SiteNetworkOf,
} from '../../core/network';
import { WayDrawing, WayList } from '../drawings/WayDrawing';
import { Fold, Section } from '../kit/parts';
import { useRole } from '../data/session';
import { space, TARGET, useIsWide, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { TryWayPart } from './TryWayPart';
import { PACKET_WORDS } from './words';

const LEFT_OUT =
  'Not looked at: registrations that run out at the system, other phones’ ports behind the same box, RTCP, and silence during hold.';

/** Whether a phone registers, keeps ringing, has sound both ways and stays up; and where a packet died. */
export function AnswersPart({ of, phone }: { readonly of: SiteNetworkOf; readonly phone: NetworkPhone }) {
  const palette = usePalette();
  const wide = useIsWide();
  const role = useRole();
  const mayTry = role === 'specialist' || role === 'help-desk';
  const [chosen, setChosen] = useState<PathAnswer['id'] | null>(null);
  const verdicts = useMemo(() => verdictsOf(topologyOf(of.network, true), phone), [of.network, phone]);
  const nameOf = nameIn(of);
  const answers = pathAnswers(verdicts, nameOf);
  const shown =
    answers.find(({ id, verdict }) => id === chosen && verdict) ??
    answers.find(({ works, verdict }) => !works && verdict) ??
    answers[0];
  const packetOf = (hop: Hop) => PACKET_WORDS[hop.packet];
  const why = (hop: Hop) => (hop.dropped ? REASON_WORDS[hop.dropped](nameOf(hop.where)) : '');
  return (
    <View style={wide ? { flexDirection: 'row' } : null}>
      <Section title="Does it work from there?" style={wide ? { flex: 1 } : null}>
        <View role="list" style={{ borderTopWidth: 1, borderColor: palette.line }}>
          {answers.map((answer) => (
            <View key={answer.id} role="listitem">
              <Pressable
                role="button"
                aria-label={`${answer.asks}: ${answer.works ? 'yes' : 'no'}. ${answer.says}`}
                aria-pressed={answer.id === shown?.id}
                disabled={!answer.verdict}
                onPress={() => setChosen(answer.id)}
                style={({ pressed }) => ({
                  minHeight: TARGET + 8,
                  flexDirection: 'row',
                  alignItems: 'center',
                  gap: space(3),
                  paddingVertical: space(2),
                  borderBottomWidth: 1,
                  borderColor: palette.line,
                  borderLeftWidth: 4,
                  borderLeftColor: answer.id === shown?.id ? palette.accent : 'transparent',
                  paddingLeft: space(2),
                  backgroundColor: pressed ? palette.tint : 'transparent',
                })}
              >
                <Words strong tone={answer.works ? 'kelp' : 'rust'} style={{ width: 34 }}>
                  {answer.works ? 'Yes' : 'No'}
                </Words>
                <View style={{ flex: 1 }}>
                  <Words strong>{answer.asks}</Words>
                  <Words size="small" tone="soft">
                    {answer.says}
                  </Words>
                </View>
              </Pressable>
            </View>
          ))}
        </View>
        <Words size="small" tone="soft">
          {LEFT_OUT}
        </Words>
        {mayTry ? <TryWayPart of={of} phone={phone} verdicts={verdicts} nameOf={nameOf} /> : null}
      </Section>
      {shown?.verdict ? (
        <Section title={`The packets of “${shown.asks}”`} style={wide ? { flex: 1 } : null}>
          <WayDrawing trace={shown.verdict.trace} nameOf={nameOf} packetOf={packetOf} why={why} />
          <Fold title="The same as a list">
            <WayList trace={shown.verdict.trace} nameOf={nameOf} packetOf={packetOf} why={why} />
          </Fold>
        </Section>
      ) : null}
    </View>
  );
}
