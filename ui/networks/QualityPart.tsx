import { useMemo, useState } from 'react';
import { View } from 'react-native';
import Svg, { Line, Polyline, Text as SvgText } from 'react-native-svg';
import type { SiteLine } from '../../core/estate';
import { CODECS, lineAdvice, lineWords, quality, type Codec, type MeasuredLine } from '../../core/quality';
import { Button, Choice, Fold } from '../kit/parts';
import { FONT, space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { CheckedField } from './CheckedField';

const CHART = { width: 320, height: 150, left: 34, bottom: 24, top: 8 };
const STEPS = 60;

type Varied = 'delayMs' | 'jitterMs' | 'lossPercent';
const VARIED: Record<Varied, { readonly label: string; readonly unit: string; readonly most: number }> = {
  delayMs: { label: 'Delay', unit: 'ms', most: 600 },
  jitterMs: { label: 'Jitter', unit: 'ms', most: 100 },
  lossPercent: { label: 'Loss', unit: '%', most: 20 },
};

const number = (most: number) => (text: string) => {
  const value = /^\d{1,5}([.,]\d{1,3})?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : NaN;
  return value >= 0 && value <= most ? { value } : { error: `A number from 0 to ${most}` };
};

/** How the score falls as one thing grows, the others as they are. */
function Curve({ line, of }: { readonly line: MeasuredLine; readonly of: Varied }) {
  const palette = usePalette();
  const { most, unit, label } = VARIED[of];
  const x = (value: number) => CHART.left + (value / most) * (CHART.width - CHART.left - 8);
  const y = (mos: number) => CHART.top + ((4.5 - mos) / 3.5) * (CHART.height - CHART.top - CHART.bottom);
  const points = useMemo(
    () =>
      Array.from({ length: STEPS + 1 }, (_, step) => {
        const value = (most * step) / STEPS;
        return [value, quality({ ...line, [of]: value }).mos] as const;
      }),
    [line, of, most],
  );
  const now = Math.min(line[of], most);
  return (
    <Svg
      width={CHART.width}
      height={CHART.height}
      role="img"
      aria-label={`MOS over ${label.toLowerCase()}: ${[0, most / 4, most / 2, most]
        .map((value) => `${value} ${unit} ${quality({ ...line, [of]: value }).mos.toFixed(1)}`)
        .join(', ')}`}
    >
      {[1, 2, 3, 4].map((mos) => [
        <Line key={mos} x1={CHART.left} x2={CHART.width - 8} y1={y(mos)} y2={y(mos)} stroke={palette.line} />,
        <SvgText
          key={`${mos} name`}
          x={CHART.left - 8}
          y={y(mos) + 4}
          fontFamily={FONT}
          fontSize={12}
          fill={palette.soft}
          textAnchor="end"
        >
          {mos}
        </SvgText>,
      ])}
      <Line
        x1={x(now)}
        x2={x(now)}
        y1={CHART.top}
        y2={CHART.height - CHART.bottom}
        stroke={palette.accent}
        strokeWidth={2}
      />
      <Polyline
        points={points.map(([value, mos]) => `${x(value)},${y(mos)}`).join(' ')}
        fill="none"
        stroke={palette.ink}
        strokeWidth={2}
      />
      {[0, most / 2, most].map((value) => (
        <SvgText
          key={value}
          x={x(value)}
          y={CHART.height - 8}
          fontFamily={FONT}
          fontSize={12}
          fill={palette.soft}
          textAnchor={value === 0 ? 'start' : value === most ? 'end' : 'middle'}
        >
          {`${value} ${unit}`}
        </SvgText>
      ))}
    </Svg>
  );
}

/** What a line that was measured makes of a call: typed in, and kept with the site if one likes. */
export function QualityPart({ onKeep }: { readonly onKeep: ((line: SiteLine) => void) | null }) {
  const [line, setLine] = useState<MeasuredLine>({
    delayMs: 40,
    jitterMs: 10,
    lossPercent: 0.5,
    codec: 'G.711-plc',
  });
  const [of, setOf] = useState<Varied>('lossPercent');
  const { R, mos } = quality(line);
  const set = (part: Partial<MeasuredLine>) => setLine((before) => ({ ...before, ...part }));
  return (
    <Fold title="How a call over a measured line sounds">
      <View style={{ paddingHorizontal: space(4), gap: space(2) }}>
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <View style={{ flex: 1 }}>
            <CheckedField
              label="Delay one way, ms"
              value={line.delayMs}
              show={String}
              read={number(5000)}
              onChange={(delayMs) => set({ delayMs })}
            />
          </View>
          <View style={{ flex: 1 }}>
            <CheckedField
              label="Jitter, ms"
              value={line.jitterMs}
              show={String}
              read={number(1000)}
              onChange={(jitterMs) => set({ jitterMs })}
            />
          </View>
          <View style={{ flex: 1 }}>
            <CheckedField
              label="Loss, %"
              value={line.lossPercent}
              show={String}
              read={number(100)}
              onChange={(lossPercent) => set({ lossPercent })}
            />
          </View>
        </View>
        <Choice
          label="Codec"
          titled
          value={line.codec}
          options={CODECS.map((value: Codec) => ({
            value,
            label: value === 'G.711-plc' ? 'G.711 with loss concealment' : value,
          }))}
          onChange={(codec) => set({ codec })}
        />
        <Words live strong>{`MOS ${mos.toFixed(2)}, R ${R.toFixed(0)}`}</Words>
        <Words>{lineWords[lineAdvice(mos)]}</Words>
        <Choice
          label="Curve over"
          titled
          value={of}
          options={(Object.keys(VARIED) as Varied[]).map((value) => ({ value, label: VARIED[value].label }))}
          onChange={setOf}
        />
        <Curve line={line} of={of} />
        <Words size="small" tone="soft">
          By the E-model (ITU-T G.107) with a de-jitter buffer of 60 ms and packets of 20 ms.
        </Words>
        {onKeep ? (
          <View style={{ flexDirection: 'row' }}>
            <Button
              label="Use these figures for this site"
              onPress={() =>
                onKeep({
                  at: new Date().toISOString(),
                  delayMs: line.delayMs,
                  jitterMs: line.jitterMs,
                  lossPercent: line.lossPercent,
                })
              }
            />
          </View>
        ) : null}
      </View>
    </Fold>
  );
}
