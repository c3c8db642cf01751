import { View } from 'react-native';
import Svg, { Line, Path, Rect } from 'react-native-svg';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import type { TraceRow } from './routeRows';

const STEP = 22;
const BAR_WIDTH = 14;
const BAR_HEIGHT = 8;

/**
 * The way of a call through the route table as a tree: what each route did to it hangs below it, a full bar where it
 * comes to a system, an open one with a stroke where it is lost.
 */
export function RouteTree({ call, rows }: { readonly call: string; readonly rows: readonly TraceRow[] }) {
  const palette = usePalette();
  return (
    <View role="list" aria-label={`The way of ${call}`}>
      <View role="listitem" style={{ minHeight: 40, justifyContent: 'center' }}>
        <Words strong>{call}</Words>
      </View>
      {rows.map((row, i) => {
        /** Lines that pass this row on their way to a row below it that hangs from above. */
        const passing = new Set(
          rows.flatMap((below, at) => (at > i && below.parent < i ? [below.depth] : [])),
        );
        const width = row.depth * STEP + BAR_WIDTH + space(2);
        const x = (row.depth - 1) * STEP + BAR_WIDTH / 2;
        const color = { 'goes-on': palette.ink, reached: palette.kelp, lost: palette.rust }[row.state];
        const hasChild = rows[i + 1]?.parent === i || rows.some(({ parent }) => parent === i);
        return (
          <View key={row.key} role="listitem" style={{ flexDirection: 'row', minHeight: 52 }}>
            <View style={{ width }} aria-hidden>
              <Svg width={width} height="100%" style={{ position: 'absolute', top: 0, bottom: 0 }}>
                {[...passing].map((depth) => (
                  <Line
                    key={depth}
                    x1={(depth - 1) * STEP + BAR_WIDTH / 2}
                    x2={(depth - 1) * STEP + BAR_WIDTH / 2}
                    y1={0}
                    y2="100%"
                    stroke={palette.line}
                    strokeWidth={2}
                  />
                ))}
                <Path
                  d={`M${x},0 V16 Q${x},24 ${x + 8},24 H${x + STEP - BAR_WIDTH / 2}`}
                  stroke={palette.line}
                  strokeWidth={2}
                  fill="none"
                />
                {hasChild ? (
                  <Line x1={x + STEP} x2={x + STEP} y1={24} y2="100%" stroke={palette.line} strokeWidth={2} />
                ) : null}
                <Rect
                  x={x + STEP - BAR_WIDTH / 2}
                  y={24 - BAR_HEIGHT / 2}
                  width={BAR_WIDTH}
                  height={BAR_HEIGHT}
                  fill={row.state === 'lost' ? palette.ground : color}
                  stroke={color}
                  strokeWidth={2}
                />
                {row.state === 'lost' ? (
                  <Line
                    x1={x + STEP - BAR_WIDTH / 2 - 2}
                    y1={24 + BAR_HEIGHT}
                    x2={x + STEP + BAR_WIDTH / 2 + 2}
                    y2={24 - BAR_HEIGHT}
                    stroke={color}
                    strokeWidth={2}
                  />
                ) : null}
              </Svg>
            </View>
            <View style={{ flex: 1, paddingVertical: space(1) }}>
              <Words strong style={{ color }}>
                {row.title}
              </Words>
              <Words size="small" mono>
                {row.text}
              </Words>
              {row.passed.length > 0 ? (
                <Words size="small" tone="soft">
                  {row.passed.length === 1
                    ? 'One route above passed it on'
                    : `${row.passed.length} routes above passed it on`}
                </Words>
              ) : null}
            </View>
          </View>
        );
      })}
    </View>
  );
}
