import { useState } from 'react';
import { Pressable, View, type LayoutChangeEvent } from 'react-native';
import Svg, { Line, Polygon, Text as SvgText } from 'react-native-svg';
import type { Ladder } from '../../core/calls/live';
import { FONT, MONO, space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const ROW = 34;
const TIME_WIDTH = 62;
const LEAST_COLUMN = 92;

/** Where the line of a party stands. */
const columnX = (at: number, columns: number, width: number): number =>
  TIME_WIDTH + ((width - TIME_WIDTH) * (at + 0.5)) / Math.max(1, columns);

/** What came just before the call was taken counts as its beginning. */
const timeOf = (ms: number): string => `${(Math.max(0, ms) / 1000).toFixed(2)} s`;

/** Signalling against time: a line for each party, an arrow for each message; a tap opens the message. */
export function LadderDrawing({
  ladder,
  onOpen,
  open,
}: {
  readonly ladder: Ladder;
  readonly open: number | null;
  readonly onOpen: (row: number) => void;
}) {
  const palette = usePalette();
  const [given, setGiven] = useState(0);
  const width = Math.max(given, TIME_WIDTH + ladder.parties.length * LEAST_COLUMN);
  const measure = (event: LayoutChangeEvent) => setGiven(Math.floor(event.nativeEvent.layout.width));
  const { parties, rows } = ladder;
  const x = (at: number) => columnX(at, parties.length, width);
  return (
    <View onLayout={measure} style={{ overflow: 'scroll' }} testID="ladder">
      {given === 0 ? null : (
        <View style={{ width }}>
          <View style={{ height: 44 }}>
            {parties.map((party, i) => (
              <View
                key={party.address}
                style={{
                  position: 'absolute',
                  left: x(i) - (width - TIME_WIDTH) / parties.length / 2 + 2,
                  width: (width - TIME_WIDTH) / parties.length - 4,
                }}
              >
                <Words size="small" strong lines={2} style={{ textAlign: 'center' }}>
                  {party.name}
                </Words>
              </View>
            ))}
          </View>
          <View style={{ height: rows.length * ROW }}>
            <Svg width={width} height={rows.length * ROW} aria-hidden style={{ position: 'absolute' }}>
              {parties.map((party, i) => (
                <Line
                  key={party.address}
                  x1={x(i)}
                  x2={x(i)}
                  y1={0}
                  y2={rows.length * ROW}
                  stroke={palette.line}
                  strokeWidth={2}
                />
              ))}
              {rows.map((row, i) => {
                const [from, to] = [x(row.from), x(row.to)];
                const y = i * ROW + ROW - 9;
                const towards = to > from ? 1 : -1;
                const color = row.isRequest ? palette.ink : palette.kelp;
                return [
                  <Line
                    key={`line-${i}`}
                    x1={from}
                    x2={to - towards * 7}
                    y1={y}
                    y2={y}
                    stroke={color}
                    strokeWidth={i === open ? 3 : 1.6}
                    strokeDasharray={row.isRequest ? undefined : '5 3'}
                  />,
                  <Polygon
                    key={`head-${i}`}
                    points={`${to},${y} ${to - towards * 9},${y - 4.5} ${to - towards * 9},${y + 4.5}`}
                    fill={color}
                  />,
                  <SvgText
                    key={`label-${i}`}
                    x={(from + to) / 2}
                    y={y - 5}
                    textAnchor="middle"
                    fontFamily={FONT}
                    fontSize={13}
                    fill={palette.ink}
                  >
                    {row.label}
                  </SvgText>,
                  <SvgText key={`time-${i}`} x={0} y={y} fontFamily={MONO} fontSize={12} fill={palette.soft}>
                    {timeOf(row.atMs)}
                  </SvgText>,
                ];
              })}
            </Svg>
            {rows.map((row, i) => (
              <Pressable
                key={i}
                role="button"
                aria-label={`${timeOf(row.atMs)}: ${row.label}, from ${parties[row.from]?.name ?? ''} to ${parties[row.to]?.name ?? ''}. Read the message`}
                onPress={() => onOpen(i)}
                style={({ pressed }) => ({
                  height: ROW,
                  borderWidth: 1,
                  borderColor: pressed || i === open ? palette.accent : 'transparent',
                })}
              />
            ))}
          </View>
          <View style={{ height: space(2) }} />
        </View>
      )}
    </View>
  );
}
