import type { LiveView } from '../../api/phones';
import { useState } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Departure } from '../../core/calls/live';
import { type Call, type EstateIndex, endpointName } from '../../core/calls/engine';
import { RingStrip } from '../drawings/RingStrip';
import { messageOf } from '../data/api';
import { startLive, stopLive, useLive } from '../data/phones';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Fold, Section, Sheeted } from '../kit/parts';
import { Words } from '../kit/Words';
import { SignallingPart } from './SignallingPart';

const SPEEDS = [
  { value: '1', label: 'Real time' },
  { value: '2', label: '2 times' },
  { value: '5', label: '5 times' },
  { value: '10', label: '10 times' },
] as const;
type Speed = (typeof SPEEDS)[number]['value'];

const WHAT: Record<Departure['what'], string> = {
  outcome: 'The call ended otherwise',
  who: 'Somebody else had the call',
  'end-time': 'The call ended at another time',
  'leg-missing': 'was not dialled',
  'leg-extra': 'was dialled, and should not have been',
  'leg-end': 'ended otherwise',
  'leg-time': 'was early or late',
};

/** What is different between the model and the wire, in words. */
function Departures({ view, index, person }: { view: LiveView; index: EstateIndex; person: string }) {
  const { departures, toleranceMs } = view;
  if (departures === null) return null;
  if (departures.length === 0)
    return (
      <Words tone="kelp" strong live>
        {`As computed: same end, same phones, each moment within ${(toleranceMs ?? 0) / 1000} s.`}
      </Words>
    );
  return (
    <View role="list" style={{ gap: space(2) }}>
      <Words tone="rust" strong live>
        {`Different from what was computed in ${departures.length} ${departures.length === 1 ? 'thing' : 'things'}:`}
      </Words>
      {departures.map((each, i) => (
        <View key={i} role="listitem">
          <Words>
            {each.endpoint
              ? `${endpointName(index, each.endpoint, person)} ${WHAT[each.what]}`
              : WHAT[each.what]}
          </Words>
          <Words size="small" tone="soft">{`computed: ${each.predicted} · seen: ${each.seen}`}</Words>
        </View>
      ))}
    </View>
  );
}

/** Whether sound went both ways, one way or not at all. */
function soundWords({ sound, seen }: LiveView): string | null {
  if (!sound || !seen) return null;
  if (seen.outcome.kind !== 'answered' && seen.outcome.kind !== 'carrier-voicemail') return null;
  if (sound.fromCaller > 0 && sound.fromCalled > 0) return 'Sound went both ways.';
  if (sound.fromCaller === 0 && sound.fromCalled === 0) return 'No sound went either way.';
  return sound.fromCaller > 0
    ? 'Sound went one way only: the caller was sending, the phone that answered was not.'
    : 'Sound went one way only: the phone that answered was sending, the caller was not.';
}

/** The same call, placed for real over the stand-ins and drawn as it happens, beside what was computed. */
export function LivePart({
  call,
  person,
  asIf,
  index,
  blocked,
}: {
  readonly call: Call;
  readonly person: string;
  readonly asIf: { readonly person: string; readonly status: string } | null;
  readonly index: EstateIndex;
  /** Why it cannot be placed now; null: it can. */
  readonly blocked: string | null;
}) {
  const palette = usePalette();
  const [speed, setSpeed] = useState<Speed>('5');
  const [id, setId] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const view = useLive(id, person);
  const running = busy || (id !== null && (view === null || view.state === 'running'));
  const place = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      setId((await startLive({ call, speed, ...(asIf ? { asIf } : {}) })).id);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  const sound = view ? soundWords(view) : null;
  return (
    <Section title="Live, over the stand-ins" term="stand-in">
      <Words size="small" tone="soft">
        Places this call over real SIP and RTP: a phone system, a carrier and every phone it could come to,
        all on this machine. Nobody’s own phone rings.
      </Words>
      <Choice label="How fast" value={speed} options={SPEEDS} onChange={setSpeed} />
      <View style={{ flexDirection: 'row', gap: space(2), flexWrap: 'wrap' }}>
        <Button
          kind="main"
          icon="play"
          label={running ? 'The call is going on' : 'Place live call'}
          disabled={running || blocked !== null}
          onPress={() => void place()}
        />
        {running && id !== null ? <Button label="Hang up" onPress={() => void stopLive(id)} /> : null}
      </View>
      {blocked ? <Words tone="ochre">{blocked}</Words> : null}
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      {view?.state === 'failed' ? (
        <Words tone="rust" live>{`The call could not be placed: ${view.why ?? ''}`}</Words>
      ) : null}
      {view?.seen ? (
        <View style={{ gap: space(3) }}>
          <Words
            size="lead"
            strong
            tone={view.seen.tone === 'lost' && view.state === 'done' ? 'rust' : 'ink'}
            live
          >
            {view.state === 'done'
              ? showNumbersIn(view.seen.ending)
              : `${(view.seen.endMs / 1000).toFixed(0)} s`}
          </Words>
          <View>
            <Words strong>Computed</Words>
            <Sheeted style={{ marginHorizontal: -space(4) }}>
              <RingStrip strip={view.predicted} bare />
            </Sheeted>
          </View>
          <View>
            <Words strong>{view.state === 'done' ? 'Seen' : 'Seen so far'}</Words>
            <Sheeted style={{ marginHorizontal: -space(4) }}>
              <RingStrip strip={view.seen} bare />
            </Sheeted>
          </View>
          <Departures view={view} index={index} person={person} />
          {sound ? <Words>{sound}</Words> : null}
          {view.heard && view.heard.length > 0 ? (
            <Words
              size="small"
              tone="soft"
            >{`The caller heard: ${view.heard.map((each) => `“${each.replace(/ \d+$/, '')}”`).join(', ')}`}</Words>
          ) : null}
        </View>
      ) : null}
      {view?.state === 'done' && id !== null && (view.messages ?? 0) > 0 ? (
        <View style={{ borderTopWidth: 1, borderColor: palette.line, marginHorizontal: -space(4) }}>
          <Fold title={`Signalling: ${view.messages} messages`}>
            <View style={{ paddingHorizontal: space(4) }}>
              <SignallingPart of={`/api/live/${id}`} file="try.pcap" />
            </View>
          </Fold>
        </View>
      ) : null}
    </Section>
  );
}
