import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { CallExplained } from '../../api/calls';
import { messageOf } from '../data/api';
import { useCall } from '../data/calls';
import { useRole, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { RingStrip } from '../drawings/RingStrip';
import { PageFrame } from '../kit/PageFrame';
import { Button, Fold, Section, Sheeted, Skeleton, Trouble } from '../kit/parts';
import { space, useIsWide } from '../kit/theme';
import { Words } from '../kit/Words';
import { SignallingPart } from './SignallingPart';
import { sayAfter, sayLength, sayNumber, sayOutcome } from './words';

/** One call: how it went, how it should have gone, and what explains the difference. */
export function CallScreen({ id }: { readonly id: string }) {
  const call = useCall(id);
  const zone = useZone();
  if (call.isError) return <Trouble message={messageOf(call.error)} retry={() => void call.refetch()} />;
  if (call.isPending) return <Skeleton />;
  const { call: row } = call.data;
  return (
    <PageFrame
      title={`Call to ${row.toName ?? sayNumber(row.to)}`}
      text={`${sayWhen(row.at, zone)}, from ${row.from === null ? 'a withheld number' : sayNumber(row.from)}${row.isImported ? ', imported' : ''}`}
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <VerdictPart told={call.data} />
      <StripsPart told={call.data} />
      <MessagesPart told={call.data} />
    </PageFrame>
  );
}

const TITLE = {
  planned: 'It went as planned',
  otherwise: 'It did not go as planned',
  unsure: 'Not enough is known of it',
} as const;

/** The verdict, what was different leg by leg, and why phones did not ring. */
export function VerdictPart({
  told,
  isShort = false,
}: {
  readonly told: CallExplained;
  readonly isShort?: boolean;
}) {
  const router = useRouter();
  const odd = told.legs.filter(({ how }) => how !== 'same');
  const { call: row } = told;
  return (
    <Section title={TITLE[told.went]}>
      <Words strong tone={told.went === 'otherwise' ? 'rust' : 'ink'}>
        {told.says}
      </Words>
      {told.then.map((says) => (
        <Words key={says}>{says}</Words>
      ))}
      {told.silent.map(({ endpoint, why }) => (
        <Words key={endpoint}>{why}</Words>
      ))}
      {odd.length > 1 && !isShort ? (
        <View role="list" aria-label="What was different">
          {odd.map(({ says }, n) => (
            <View role="listitem" key={n}>
              <Words tone="soft">{`${says}.`}</Words>
            </View>
          ))}
        </View>
      ) : null}
      {isShort ? null : (
        <Words tone="soft">
          {[
            `${sayOutcome(row.outcome)} ${sayAfter(row.atMs)}`,
            ...(row.talkMs > 0
              ? [`${row.outcome === 'mailbox' ? 'recorded' : 'talked'} ${sayLength(row.talkMs)}`]
              : []),
          ].join(', ')}
        </Words>
      )}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        {isShort ? (
          <Button
            label="See this call"
            onPress={() => router.navigate(`/calls/${encodeURIComponent(row.key)}`)}
          />
        ) : null}
        {told.person && !isShort ? (
          <Button
            label="Open the person’s plan"
            onPress={() => router.navigate(`/people/${encodeURIComponent(told.person ?? '')}`)}
          />
        ) : null}
      </View>
    </Section>
  );
}

/** The signalling of the call, where it went over the phone system here and whoever looks may read it. */
function MessagesPart({ told: { call, messages = 0 } }: { readonly told: CallExplained }) {
  const role = useRole();
  if (role !== 'specialist' && role !== 'help-desk') return null;
  if (messages === 0)
    return (
      <Section title="Signalling">
        <Words tone="soft">
          {call.isImported
            ? 'It went over another phone system: none of its messages are here.'
            : 'None of its messages are kept.'}
        </Words>
      </Section>
    );
  return (
    <Fold title={`Signalling: ${messages} messages`}>
      <View style={{ paddingHorizontal: space(4), maxWidth: 900 }}>
        <SignallingPart of={`/api/calls/one/${encodeURIComponent(call.key)}`} file="call.pcap" />
      </View>
    </Fold>
  );
}

/** The call as it went, beside the call as the plan of then has it. */
function StripsPart({ told }: { readonly told: CallExplained }) {
  const wide = useIsWide();
  const strips = [
    ['How it went', told.wentStrip],
    ['By the plan of then', told.plannedStrip],
  ] as const;
  const shown = told.went === 'planned' ? strips.slice(0, 1) : strips;
  return (
    <View style={{ flexDirection: wide ? 'row' : 'column', alignItems: 'stretch' }}>
      {shown.map(([title, strip]) => (
        <View
          key={title}
          style={wide ? { flex: 1, minWidth: 0, maxWidth: shown.length === 1 ? 760 : undefined } : {}}
        >
          <Section title={title}>{null}</Section>
          <Sheeted style={{ paddingVertical: space(2) }}>
            <RingStrip strip={strip} />
          </Sheeted>
        </View>
      ))}
    </View>
  );
}
