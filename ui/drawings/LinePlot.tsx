import Svg, { Polyline, Rect, Text as SvgText } from 'react-native-svg';
import type { LineFigures } from '../../core/quality';
import { FONT, usePalette } from '../kit/theme';
import { Levels } from './Levels';

const SIZE = { width: 320, height: 132, left: 54, bottom: 24, top: 10, right: 8 };
/** The least height of its scale, ms: a quiet line is not drawn as if it were a rough one. */
const LEAST_TOP_MS = 50;
const NICE = [50, 100, 200, 500, 1000, 2000, 5000, 10_000, 60_000];

/** A measured line second by second: mean delay, the worst packet, and a mark for each second that lost some. */
export function LinePlot({ figures }: { readonly figures: LineFigures }) {
  const palette = usePalette();
  const { seconds } = figures;
  const most = Math.max(LEAST_TOP_MS, ...seconds.map(({ worstMs }) => worstMs ?? 0));
  const topMs = NICE.find((each) => each >= most) ?? most;
  const { width, height, left, bottom, top, right } = SIZE;
  const step = (width - left - right) / Math.max(1, seconds.length);
  const x = (at: number) => left + (at + 0.5) * step;
  const y = (ms: number) => top + (1 - ms / topMs) * (height - top - bottom);
  const worst = seconds.flatMap(({ worstMs }, at) => (worstMs === null ? [] : [`${x(at)},${y(worstMs)}`]));
  const mean = seconds.flatMap(({ delayMs }, at) => (delayMs === null ? [] : [`${x(at)},${y(delayMs)}`]));
  const losing = seconds.filter(({ lost }) => lost > 0).length;
  return (
    <Svg
      width={width}
      height={height}
      role="img"
      aria-label={`Over ${seconds.length} s: delay on average ${figures.delayMs.toFixed(0)} ms, at worst ${most.toFixed(0)} ms; packets lost in ${losing} of the seconds`}
    >
      <Levels
        values={[0, topMs / 2, topMs]}
        y={y}
        left={left}
        right={width - right}
        say={(ms) => `${ms} ms`}
      />
      {seconds.map(({ lost, sent }, at) =>
        lost > 0 ? (
          <Rect
            key={`lost ${x(at)}`}
            x={x(at) - step / 2 + 1}
            width={Math.max(2, step - 2)}
            y={y(0) - Math.max(4, (lost / Math.max(1, sent)) * (y(0) - top))}
            height={Math.max(4, (lost / Math.max(1, sent)) * (y(0) - top))}
            fill={palette.rust}
            opacity={0.5}
          />
        ) : null,
      )}
      <Polyline
        points={worst.join(' ')}
        fill="none"
        stroke={palette.soft}
        strokeWidth={1}
        strokeDasharray="3 3"
      />
      <Polyline points={mean.join(' ')} fill="none" stroke={palette.ink} strokeWidth={2} />
      <SvgText x={left} y={height - 6} fontFamily={FONT} fontSize={12} fill={palette.soft}>
        {`0 to ${seconds.length} s`}
      </SvgText>
      <SvgText
        x={width - right}
        y={height - 6}
        fontFamily={FONT}
        fontSize={12}
        fill={palette.soft}
        textAnchor="end"
      >
        {'— mean  ┄ worst  ▮ lost'}
      </SvgText>
    </Svg>
  );
}
