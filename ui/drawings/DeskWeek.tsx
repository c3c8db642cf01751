import { useState } from 'react';
import { View } from 'react-native';
import Svg, { Rect, Text as SvgText } from 'react-native-svg';
import { DateTime } from 'luxon';
import type { DeskHalfHour } from '../../api/desks';
import { zoneNamed } from '../../core/zones';
import { FONT, space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { WeekHours } from './WeekHours';

const DAYS = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];
const ROW = 22;
const LEFT = 28;
const TOP = 18;
/** From these chances on a cell is darker; what each stands for is said below. */
const STEPS = [0.001, 0.01, 0.05, 0.2] as const;
const levelOf = (chance: number) => STEPS.filter((step) => chance >= step).length;

/** A week in half hours, darker where it is likelier that somebody finds no desk; nobody expected: left white. */
export function DeskWeek({
  halfHours,
  timeZone,
}: {
  readonly halfHours: readonly DeskHalfHour[];
  readonly timeZone: string;
}) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const cell = (width - LEFT) / 48;
  const zone = zoneNamed(timeZone);
  const fill = [palette.tint, palette.kelp, palette.rings, palette.accent, palette.rust] as const;
  const worst = halfHours.reduce((most, { chance }) => Math.max(most, chance), 0);
  return (
    <View
      onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}
      style={{ gap: space(1) }}
    >
      <Svg
        width={Math.max(1, width)}
        height={TOP + 7 * ROW}
        role="img"
        aria-label={`The week in half hours; at worst ${(worst * 100).toFixed(1)} % that somebody finds no desk`}
      >
        <WeekHours left={LEFT} cell={cell} />
        {DAYS.map((day, row) => (
          <SvgText
            key={day}
            x={0}
            y={TOP + row * ROW + 15}
            fontFamily={FONT}
            fontSize={13}
            fill={palette.soft}
          >
            {day}
          </SvgText>
        ))}
        {width > 0
          ? halfHours.map(({ fromMs, expected, chance }) => {
              const at = DateTime.fromMillis(fromMs, { zone });
              return (
                <Rect
                  key={fromMs}
                  x={LEFT + (at.hour * 2 + at.minute / 30) * cell}
                  y={TOP + (at.weekday - 1) * ROW}
                  width={Math.max(1, cell - 1)}
                  height={ROW - 3}
                  fill={expected === 0 ? palette.sheet : (fill[levelOf(chance)] ?? palette.rust)}
                />
              );
            })
          : null}
      </Svg>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(3), rowGap: space(1) }}>
        {['under 0.1 %', 'to 1 %', 'to 5 %', 'to 20 %', 'more'].map((label, level) => (
          <View key={label} style={{ flexDirection: 'row', alignItems: 'center', gap: space(1) }}>
            <View style={{ width: 14, height: 14, backgroundColor: fill[level] }} />
            <Words size="small">{label}</Words>
          </View>
        ))}
      </View>
    </View>
  );
}
