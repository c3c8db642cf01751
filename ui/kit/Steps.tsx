import { memo } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Trace } from '../../core/calls/engine';
import { space } from './theme';
import { Fold } from './parts';
import { Words } from './Words';

/** Why: every step of the call, with the setting behind it. */
export const Steps = memo(function Steps({
  trace,
  open = false,
}: {
  readonly trace: Trace;
  readonly open?: boolean;
}) {
  return (
    <View style={{ paddingVertical: space(2) }}>
      <Fold title="Why: every step" open={open}>
        <View role="list" style={{ paddingHorizontal: space(4), gap: space(2) }}>
          {trace.events.map((event, i) => (
            <View role="listitem" key={i} style={{ flexDirection: 'row', gap: space(3) }}>
              <Words mono size="small" tone="soft" style={{ width: 62, textAlign: 'right' }}>
                {`${(event.atMs / 1000).toFixed(1)} s`}
              </Words>
              <Words size="small" style={{ flex: 1 }}>
                {showNumbersIn(event.text)}
              </Words>
            </View>
          ))}
        </View>
      </Fold>
    </View>
  );
});
