import type { OwnPage } from '../../api/own';
import { useState } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import { messageOf } from '../data/api';
import { tryMine } from '../data/own';
import { useLive } from '../data/phones';
import { space } from '../kit/theme';
import { Button, Section, Sheeted } from '../kit/parts';
import { Words } from '../kit/Words';
import { RingStrip } from '../drawings/RingStrip';

/** A call to the own line, the mobile being answered, over the stand-ins. */
export function TryMine({ page }: { page: OwnPage }) {
  const [id, setId] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const view = useLive(id, page.person.id);
  const running = id !== null && view?.state !== 'done' && view?.state !== 'failed';
  const place = async () => {
    setTrouble(null);
    try {
      setId((await tryMine()).id);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Section title="Try your mobile">
      <Words size="small" tone="soft">
        A call to your number, at ten times its speed, over simulated phones: yours is answered after 4 s.
        Your own mobile does not ring.
      </Words>
      <View style={{ flexDirection: 'row' }}>
        <Button
          kind="main"
          icon="play"
          label={running ? 'Ringing' : 'Try my mobile'}
          disabled={running}
          onPress={() => void place()}
        />
      </View>
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
      {view?.seen ? (
        <Sheeted style={{ marginHorizontal: -space(4) }}>
          <RingStrip strip={view.seen} bare />
        </Sheeted>
      ) : null}
      {view?.state === 'done' && view.seen ? (
        <Words strong tone={view.seen.tone === 'lost' ? 'rust' : 'kelp'} live>
          {showNumbersIn(view.seen.ending)}
        </Words>
      ) : null}
    </Section>
  );
}
