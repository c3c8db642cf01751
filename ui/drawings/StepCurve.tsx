import { useState } from 'react';
import { View } from 'react-native';
import Svg, { G, Line, Path, Text as SvgText } from 'react-native-svg';
import { FONT, usePalette } from '../kit/theme';
import { Levels } from './Levels';

const HEIGHT = 230;
const BOX = { left: 46, right: 14, top: 12, bottom: 54 };
const SHARES = [0, 0.25, 0.5, 0.75, 1];
const TICK_S = 10;

interface Step {
  readonly atMs: number;
  readonly share: number;
  readonly low: number | null;
  readonly high: number | null;
  readonly atRisk: number;
}

/** A share that grows by steps over time, with its 95 % band and how many are still counted at each tick. */
export function StepCurve({ curve, label }: { readonly curve: readonly Step[]; readonly label: string }) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const lastS = Math.max(TICK_S, Math.ceil((curve.at(-1)?.atMs ?? 0) / 1000 / TICK_S) * TICK_S);
  const x = (ms: number) => BOX.left + (ms / 1000 / lastS) * (width - BOX.left - BOX.right);
  const y = (share: number) => BOX.top + (1 - share) * (HEIGHT - BOX.top - BOX.bottom);
  const line = (of: (step: Step) => number) =>
    `M${x(0)},${y(0)}${curve.map((step) => `H${x(step.atMs)}V${y(of(step))}`).join('')}H${x(lastS * 1000)}`;
  const band = `${line(({ share, high }) => high ?? share)}V${y(curve.at(-1)?.low ?? curve.at(-1)?.share ?? 0)}${[
    ...curve,
  ]
    .reverse()
    .map((step, n, all) => `H${x(step.atMs)}V${y(all[n + 1]?.low ?? all[n + 1]?.share ?? 0)}`)
    .join('')}H${x(0)}Z`;
  const ticks = Array.from({ length: lastS / TICK_S + 1 }, (_, n) => n * TICK_S);
  const atRiskAt = (ms: number) => curve.find(({ atMs }) => atMs >= ms)?.atRisk ?? 0;
  return (
    <View onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}>
      <Svg width={Math.max(1, width)} height={HEIGHT} role="img" aria-label={label}>
        <Levels
          values={SHARES}
          y={y}
          left={BOX.left}
          right={width - BOX.right}
          say={(share) => `${share * 100} %`}
        />
        <Path d={band} fill={palette.tint} />
        <Path d={line(({ share }) => share)} fill="none" stroke={palette.rings} strokeWidth={2.5} />
        {ticks.map((second) => (
          <G key={second}>
            <Line x1={x(second * 1000)} x2={x(second * 1000)} y1={y(0)} y2={y(0) + 5} stroke={palette.soft} />
            <SvgText
              x={x(second * 1000)}
              y={y(0) + 19}
              textAnchor={second === lastS ? 'end' : 'middle'}
              fontFamily={FONT}
              fontSize={12}
              fill={palette.soft}
            >
              {`${second} s`}
            </SvgText>
            <SvgText
              x={x(second * 1000)}
              y={y(0) + 36}
              textAnchor={second === lastS ? 'end' : 'middle'}
              fontFamily={FONT}
              fontSize={12}
              fill={palette.soft}
            >
              {String(atRiskAt(second * 1000))}
            </SvgText>
          </G>
        ))}
        <SvgText x={0} y={y(0) + 51} fontFamily={FONT} fontSize={12} fill={palette.soft}>
          {'below: phones that still rang'}
        </SvgText>
      </Svg>
    </View>
  );
}
