import { useState } from 'react';
import { Pressable, View } from 'react-native';
import Svg, { G, Line, Rect, Text as SvgText } from 'react-native-svg';
import { WEEKDAYS, type Schedule, type Weekday } from '../../core/estate';
import { clockMs } from '../../core/calls/time';
import { FONT, MONO, usePalette } from '../kit/theme';
import { pressPoint } from '../kit/pressPoint';

const LEFT = 34;
const TOP = 18;
const ROW = 30;
const DAY_MS = 86_400_000;
const NAMES: Record<Weekday, string> = {
  mon: 'Mo',
  tue: 'Tu',
  wed: 'We',
  thu: 'Th',
  fri: 'Fr',
  sat: 'Sa',
  sun: 'Su',
};

/** The weekly hours on a grid of days and hours; a tap turns an hour round. The text beside it does the same by keys. */
export function HoursGrid({
  schedule,
  onHour,
}: {
  readonly schedule: Schedule;
  readonly onHour: ((day: Weekday, hour: number) => void) | null;
}) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const hour = (width - LEFT) / 24;
  const height = TOP + 7 * ROW;
  const x = (ms: number) => LEFT + (ms / 3_600_000) * hour;
  const bars = schedule.weekly.flatMap(({ days, from, to }) =>
    days.flatMap((day) => {
      const begin = clockMs(from);
      const end = clockMs(to);
      const at = WEEKDAYS.indexOf(day);
      return end > begin
        ? [{ at, begin, end }]
        : [
            { at, begin, end: DAY_MS },
            { at: (at + 1) % 7, begin: 0, end },
          ];
    }),
  );
  return (
    <Pressable
      aria-hidden
      tabIndex={-1}
      testID="hours-grid"
      disabled={!onHour}
      onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}
      onPress={(event) => {
        const point = pressPoint(event);
        const day = WEEKDAYS[Math.floor((point.y - TOP) / ROW)];
        const at = Math.floor((point.x - LEFT) / hour);
        if (day && at >= 0 && at < 24) onHour?.(day, at);
      }}
      style={{ minHeight: height }}
    >
      {width > 0 ? (
        <Svg width={width} height={height} pointerEvents="none">
          {WEEKDAYS.map((day, d) => (
            <G key={day}>
              <SvgText x={0} y={TOP + d * ROW + 19} fontFamily={FONT} fontSize={13} fill={palette.soft}>
                {NAMES[day]}
              </SvgText>
              <Rect
                x={LEFT}
                y={TOP + d * ROW}
                width={width - LEFT}
                height={ROW - 3}
                fill={palette.sheet}
                stroke={palette.line}
              />
            </G>
          ))}
          {bars.map(({ at, begin, end }, i) => (
            <Rect
              key={i}
              x={x(begin)}
              y={TOP + at * ROW + 3}
              width={Math.max(1, x(end) - x(begin))}
              height={ROW - 9}
              fill={palette.kelp}
            />
          ))}
          {Array.from({ length: 25 }, (_, h) => (
            <Line
              key={h}
              x1={LEFT + h * hour}
              x2={LEFT + h * hour}
              y1={TOP}
              y2={height - 3}
              stroke={palette.line}
              strokeWidth={h % 6 === 0 ? 1.5 : 0.5}
            />
          ))}
          {[0, 6, 12, 18, 24].map((h) => (
            <SvgText
              key={h}
              x={LEFT + h * hour}
              y={12}
              fontFamily={MONO}
              fontSize={12}
              fill={palette.soft}
              textAnchor={h === 0 ? 'start' : h === 24 ? 'end' : 'middle'}
            >
              {String(h).padStart(2, '0')}
            </SvgText>
          ))}
        </Svg>
      ) : (
        <View />
      )}
    </Pressable>
  );
}
