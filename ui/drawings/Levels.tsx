import { Line, Text as SvgText } from 'react-native-svg';
import { FONT, usePalette } from '../kit/theme';

/** Level lines of a plot, each with its value at the left. */
export function Levels({
  values,
  y,
  left,
  right,
  say,
}: {
  readonly values: readonly number[];
  readonly y: (value: number) => number;
  readonly left: number;
  readonly right: number;
  readonly say: (value: number) => string;
}) {
  const palette = usePalette();
  return (
    <>
      {values.map((value) => [
        <Line key={value} x1={left} x2={right} y1={y(value)} y2={y(value)} stroke={palette.line} />,
        <SvgText
          key={`${value} name`}
          x={left - 6}
          y={y(value) + 4}
          fontFamily={FONT}
          fontSize={12}
          fill={palette.soft}
          textAnchor="end"
        >
          {say(value)}
        </SvgText>,
      ])}
    </>
  );
}
