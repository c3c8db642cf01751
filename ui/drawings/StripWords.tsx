import { View } from 'react-native';
import Svg, { Defs, Path, Pattern, Rect } from 'react-native-svg';
import { showNumber } from '../../core/calls/dialling';
import type { Strip, StripSegment } from '../../core/calls/views';
import { space, usePalette, type Palette } from '../kit/theme';
import { Words } from '../kit/Words';

const seconds = (ms: number) => `${Number((ms / 1000).toFixed(1))} s`;
const SEGMENT_WORDS: Record<StripSegment['kind'], string> = {
  setup: 'connecting',
  ring: 'rings',
  confirm: 'waits for the key',
  talk: 'connected',
};

export function Legend({ strip, palette }: { strip: Strip; palette: Palette }) {
  const kinds = new Set(strip.lanes.flatMap((lane) => lane.segments.map((segment) => segment.kind)));
  const entries = [
    kinds.has('ring') ? { key: 'ring', fill: palette.rings, text: 'rings' } : null,
    kinds.has('setup') ? { key: 'setup', fill: 'url(#legend-setup)', text: 'connecting' } : null,
    kinds.has('confirm') ? { key: 'confirm', fill: 'url(#legend-confirm)', text: 'waits for the key' } : null,
    strip.lanes.some((lane) => lane.windows.length > 0)
      ? { key: 'window', fill: palette.kelp, text: 'safe for answer guard and stop ringing', low: true }
      : null,
    strip.tone === 'reached' ? { key: 'safe', fill: palette.kelp, text: 'safe ending' } : null,
    strip.tone === 'lost' ? { key: 'lost', fill: 'url(#legend-lost)', text: 'lost' } : null,
  ].filter((entry) => entry !== null);
  return (
    <View
      aria-hidden
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        gap: space(4),
        paddingHorizontal: space(4),
        paddingTop: space(2),
      }}
    >
      {entries.map((entry) => (
        <View key={entry.key} style={{ flexDirection: 'row', alignItems: 'center', gap: space(1) + 2 }}>
          <Svg width={18} height={11}>
            <Defs>
              <Pattern id="legend-setup" width={5} height={5} patternUnits="userSpaceOnUse">
                <Path d="M-1,6 L6,-1" stroke={palette.soft} strokeWidth={1} />
              </Pattern>
              <Pattern id="legend-lost" width={5} height={5} patternUnits="userSpaceOnUse">
                <Path d="M-1,-1 L6,6" stroke={palette.rust} strokeWidth={1.6} />
              </Pattern>
              <Pattern id="legend-confirm" width={6} height={6} patternUnits="userSpaceOnUse">
                <Rect x={1} y={1} width={3} height={3} fill={palette.ink} />
              </Pattern>
            </Defs>
            <Rect
              x={0.5}
              y={'low' in entry ? 5.5 : 0.5}
              width={17}
              height={'low' in entry ? 5 : 10}
              fill={entry.fill}
              stroke={palette.soft}
            />
          </Svg>
          <Words size="small" tone="soft">
            {entry.text}
          </Words>
        </View>
      ))}
    </View>
  );
}

/** The same as the drawing, for those who read rather than see. */
export function StripTable({ strip }: { strip: Strip }) {
  const palette = usePalette();
  return (
    <View
      role="table"
      aria-label="What rings when"
      style={{ paddingHorizontal: space(4), paddingBottom: space(3) }}
    >
      {strip.lanes.map((lane) => (
        <View
          role="row"
          key={lane.endpoint}
          style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line }}
        >
          <View role="cell">
            <Words strong>{lane.label}</Words>
            {lane.number ? (
              <Words mono size="small" tone="soft">
                {showNumber(lane.number)}
              </Words>
            ) : null}
          </View>
          <View role="cell">
            {lane.segments.map((segment) => (
              <Words key={`${segment.kind}${segment.fromMs}`} size="small">
                {`${SEGMENT_WORDS[segment.kind]} from ${seconds(segment.fromMs)} to ${seconds(segment.toMs)}`}
              </Words>
            ))}
            {lane.windows.map((window) => (
              <Words key={`${window.kind}${window.fromMs}`} size="small" tone="soft">
                {`${window.kind === 'guard' ? 'an answer guard' : 'to stop ringing'} is safe from ${seconds(window.fromMs)} to ${seconds(window.toMs)} of the call`}
              </Words>
            ))}
            {lane.marks.map((mark) => (
              <Words key={`${mark.kind}${mark.atMs}`} size="small" tone="soft">
                {`${mark.text}: at ${seconds(mark.atMs)} of the call`}
              </Words>
            ))}
            <Words size="small">{lane.result}</Words>
          </View>
        </View>
      ))}
      <View role="row" style={{ paddingVertical: space(2) }}>
        <View role="cell">
          <Words strong>{strip.ending}</Words>
        </View>
      </View>
    </View>
  );
}
