import { useState } from 'react';
import { View } from 'react-native';
import Svg, { Circle, Line, Polyline, Text as SvgText } from 'react-native-svg';
import type { CurvePoint } from '../../core/staffing';
import { FONT, usePalette } from '../kit/theme';
import { Levels } from './Levels';

const HEIGHT = 190;
const BOX = { left: 46, right: 14, top: 12, bottom: 34 };
const SHARES = [0, 0.25, 0.5, 0.75, 1];

/** The share answered in time against the number of seats, with the share that is wanted and the seats there are. */
export function SeatsCurve({
  points,
  wanted,
  seats,
}: {
  readonly points: readonly CurvePoint[];
  readonly wanted: number;
  readonly seats: number;
}) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const [first, last] = [points[0]?.servers ?? 0, points.at(-1)?.servers ?? 1];
  const x = (servers: number) =>
    BOX.left + ((servers - first) / Math.max(1, last - first)) * (width - BOX.left - BOX.right);
  const y = (share: number) => BOX.top + (1 - share) * (HEIGHT - BOX.top - BOX.bottom);
  const every = Math.max(1, Math.ceil(points.length / 8));
  const now = points.find(({ servers }) => servers === seats);
  return (
    <View onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}>
      <Svg
        width={Math.max(1, width)}
        height={HEIGHT}
        role="img"
        aria-label={`Share answered in time, by seats: ${points
          .filter((_each, n) => n % every === 0)
          .map(({ servers, within }) => `${servers} seats ${Math.round(within * 100)} %`)
          .join(', ')}`}
      >
        <Levels
          values={SHARES}
          y={y}
          left={BOX.left}
          right={width - BOX.right}
          say={(share) => `${share * 100} %`}
        />
        <Line
          x1={BOX.left}
          x2={width - BOX.right}
          y1={y(wanted)}
          y2={y(wanted)}
          stroke={palette.kelp}
          strokeWidth={2}
          strokeDasharray="6 4"
        />
        <Polyline
          points={points.map(({ servers, within }) => `${x(servers)},${y(within)}`).join(' ')}
          fill="none"
          stroke={palette.ink}
          strokeWidth={2}
        />
        {points.map(({ servers, within }, n) => [
          <Circle key={servers} cx={x(servers)} cy={y(within)} r={3} fill={palette.ink} />,
          n % every === 0 ? (
            <SvgText
              key={`${servers} name`}
              x={x(servers)}
              y={HEIGHT - BOX.bottom + 18}
              fontFamily={FONT}
              fontSize={12}
              fill={palette.soft}
              textAnchor="middle"
            >
              {String(servers)}
            </SvgText>
          ) : null,
        ])}
        {now ? (
          <Circle
            cx={x(now.servers)}
            cy={y(now.within)}
            r={8}
            fill="none"
            stroke={palette.accent}
            strokeWidth={3}
          />
        ) : null}
        <SvgText
          x={width - BOX.right}
          y={HEIGHT - 4}
          fontFamily={FONT}
          fontSize={12}
          fill={palette.soft}
          textAnchor="end"
        >
          {'seats  ◯ now  ┄ wanted'}
        </SvgText>
      </Svg>
    </View>
  );
}
