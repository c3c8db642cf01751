import { useState } from 'react';
import { Pressable, View } from 'react-native';
import Svg, { Defs, G, Line, Path, Pattern, Rect, Text as SvgText } from 'react-native-svg';
import { DateTime } from 'luxon';
import { outcomeText, type EstateIndex } from '../../core/calls/engine';
import { WEEK_ENDS, type WeekCell, type WeekEnd } from '../../core/calls/views';
import { FONT, space, TARGET, usePalette, type Palette } from '../kit/theme';
import { Fold } from '../kit/parts';
import { Words } from '../kit/Words';
import { WeekHours } from './WeekHours';
import { pressPoint } from '../kit/pressPoint';
import { zoneNamed } from '../../core/zones';

interface Props {
  readonly days: readonly (readonly WeekCell[] | null)[];
  readonly index: EstateIndex;
  readonly zone: string;
  /** The moment that the strip is drawn for. */
  readonly atMs: number;
  readonly words: Readonly<Record<WeekEnd, string>>;
  readonly onCell: (cell: WeekCell) => void;
}

const DAYS = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];
const ROW = 18;
const LEFT = 28;
const TOP = 18;
const HALF_HOUR = 1_800_000;

const fillOf = (end: WeekEnd, palette: Palette): string =>
  ({
    'own-phone': palette.kelp,
    colleague: 'url(#week-dots)',
    'own-mailbox': 'url(#week-rules)',
    'other-mailbox': 'url(#week-steps)',
    ended: palette.sheet,
    lost: 'url(#week-lost)',
  })[end];

function Patterns({ palette }: { palette: Palette }) {
  return (
    <Defs>
      <Pattern id="week-rules" width={4} height={4} patternUnits="userSpaceOnUse">
        <Rect width={4} height={4} fill={palette.sheet} />
        <Rect y={1} width={4} height={2} fill={palette.kelp} />
      </Pattern>
      <Pattern id="week-dots" width={5} height={5} patternUnits="userSpaceOnUse">
        <Rect width={5} height={5} fill={palette.sheet} />
        <Rect x={1} y={1} width={3} height={3} fill={palette.ochre} />
      </Pattern>
      <Pattern id="week-steps" width={6} height={6} patternUnits="userSpaceOnUse">
        <Rect width={6} height={6} fill={palette.sheet} />
        <Path d="M-1,7 L7,-1" stroke={palette.ochre} strokeWidth={2} />
      </Pattern>
      <Pattern id="week-lost" width={6} height={6} patternUnits="userSpaceOnUse">
        <Rect width={6} height={6} fill={palette.sheet} />
        <Path d="M-1,-1 L7,7 M-1,7 L7,-1" stroke={palette.rust} strokeWidth={1.4} />
      </Pattern>
    </Defs>
  );
}

/** The week in half hours, each by where a call ends then; a tap takes the strip to that moment. */
export function WeekMap({ days, index, zone, atMs, words, onCell }: Props) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const cell = (width - LEFT) / 48;
  const height = TOP + 7 * ROW + 2;
  const press = (x: number, y: number) => {
    const day = days[Math.floor((y - TOP) / ROW)];
    const found = day?.[Math.floor((x - LEFT) / cell)];
    if (found) onCell(found);
  };
  const seen = WEEK_ENDS.filter((end) => days.some((day) => day?.some((each) => each.end === end)));
  const done = days.filter((day) => day !== null).length;
  return (
    <View>
      <Pressable
        aria-hidden
        tabIndex={-1}
        testID="week-map"
        onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}
        onPress={(event) => {
          const { x, y } = pressPoint(event);
          press(x, y);
        }}
        style={{ minHeight: height }}
      >
        {width > 0 ? (
          <Svg width={width} height={height} pointerEvents="none">
            <Patterns palette={palette} />
            <WeekHours left={LEFT} cell={cell} />
            {days.map((day, d) => (
              <G key={DAYS[d]}>
                <SvgText x={0} y={TOP + d * ROW + 13} fontFamily={FONT} fontSize={13} fill={palette.soft}>
                  {DAYS[d]}
                </SvgText>
                {day === null ? (
                  <Rect
                    x={LEFT}
                    y={TOP + d * ROW}
                    width={width - LEFT}
                    height={ROW - 3}
                    fill={palette.tint}
                  />
                ) : (
                  spansOf(day).map(({ from, to, first }) => (
                    <Rect
                      key={from}
                      x={LEFT + from * cell}
                      y={TOP + d * ROW}
                      width={Math.max(1, (to - from) * cell - 0.5)}
                      height={ROW - 3}
                      fill={fillOf(first.end, palette)}
                      stroke={first.end === 'lost' ? palette.rust : palette.line}
                      strokeWidth={first.end === 'lost' ? 1.2 : 0.6}
                    />
                  ))
                )}
              </G>
            ))}
            {[12, 24, 36].map((n) => (
              <Line
                key={n}
                x1={LEFT + n * cell}
                x2={LEFT + n * cell}
                y1={TOP}
                y2={height - 4}
                stroke={palette.line}
                strokeWidth={1}
              />
            ))}
            {days.map((day, d) => {
              const at = day?.findIndex((each) => atMs >= each.atMs && atMs < each.atMs + HALF_HOUR) ?? -1;
              return at < 0 ? null : (
                <Rect
                  key={DAYS[d]}
                  x={LEFT + at * cell - 1}
                  y={TOP + d * ROW - 1}
                  width={cell + 2}
                  height={ROW - 1}
                  fill="none"
                  stroke={palette.accent}
                  strokeWidth={2.5}
                />
              );
            })}
          </Svg>
        ) : null}
      </Pressable>
      <View
        role="status"
        style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(3), paddingTop: space(1) }}
      >
        {done < 7 ? (
          <Words size="small" tone="soft">
            {`${done} of 7 days worked out`}
          </Words>
        ) : (
          seen.map((end) => (
            <View key={end} style={{ flexDirection: 'row', alignItems: 'center', gap: space(1) + 2 }}>
              <Svg width={18} height={12} aria-hidden>
                <Patterns palette={palette} />
                <Rect
                  x={0.5}
                  y={0.5}
                  width={17}
                  height={11}
                  fill={fillOf(end, palette)}
                  stroke={end === 'lost' ? palette.rust : palette.soft}
                />
              </Svg>
              <Words size="small" tone="soft">
                {words[end]}
              </Words>
            </View>
          ))
        )}
      </View>
      {done === 7 ? (
        <View style={{ marginLeft: -space(4) }}>
          <Fold title="Show the week as table">
            <WeekTable days={days} index={index} zone={zone} onCell={onCell} />
          </Fold>
        </View>
      ) : null}
    </View>
  );
}

interface Span {
  readonly from: number;
  readonly to: number;
  readonly first: WeekCell;
}

const sameEnd = (a: WeekCell, b: WeekCell) =>
  a.end === b.end &&
  a.outcome.kind === b.outcome.kind &&
  a.outcome.atMs === b.outcome.atMs &&
  a.person === b.person;

/** Half hours that go on the same, together. */
function spansOf(day: readonly WeekCell[]): readonly Span[] {
  const spans: { from: number; to: number; first: WeekCell }[] = [];
  day.forEach((cell, i) => {
    const last = spans.at(-1);
    if (last && sameEnd(last.first, cell)) last.to = i + 1;
    else spans.push({ from: i, to: i + 1, first: cell });
  });
  return spans;
}

/** The same as the drawing, day by day, for those who read rather than see. */
function WeekTable({ days, index, zone, onCell }: Omit<Props, 'atMs' | 'words'>) {
  const palette = usePalette();
  const clock = (ms: number) => DateTime.fromMillis(ms, { zone: zoneNamed(zone) }).toFormat('HH:mm');
  return (
    <View style={{ paddingHorizontal: space(4) }}>
      {days.map((day, d) => (
        <View
          key={DAYS[d]}
          style={{ borderTopWidth: 1, borderColor: palette.line, paddingVertical: space(1) }}
        >
          {spansOf(day ?? []).map(({ first, to }) => (
            <Pressable
              key={first.atMs}
              role="button"
              onPress={() => onCell(first)}
              style={{ minHeight: TARGET, flexDirection: 'row', gap: space(3), alignItems: 'center' }}
            >
              <Words mono size="small" style={{ width: 120 }}>
                {`${DAYS[d]} ${clock(first.atMs)}–${to === day!.length ? '24:00' : clock(day![to]!.atMs)}`}
              </Words>
              <Words size="small" style={{ flex: 1 }} tone={first.end === 'lost' ? 'rust' : 'ink'}>
                {outcomeText(index, first.outcome)}
              </Words>
            </Pressable>
          ))}
        </View>
      ))}
    </View>
  );
}
