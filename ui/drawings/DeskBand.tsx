import { useState } from 'react';
import { View } from 'react-native';
import Svg, { Line, Rect, Text as SvgText } from 'react-native-svg';
import { DateTime } from 'luxon';
import type { DeskSitting } from '../../api/desks';
import { zoneNamed } from '../../core/zones';
import { FONT, usePalette } from '../kit/theme';

const BAND = 26;
const TOP = 18;

/** The last days of a desk as a band: filled while somebody sat there, a line at each midnight. */
export function DeskBand({
  sittings,
  fromMs,
  toMs,
  timeZone,
}: {
  readonly sittings: readonly DeskSitting[];
  readonly fromMs: number;
  readonly toMs: number;
  readonly timeZone: string;
}) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const x = (ms: number) => ((Math.min(Math.max(ms, fromMs), toMs) - fromMs) / (toMs - fromMs)) * width;
  const midnights: DateTime[] = [];
  let day = DateTime.fromMillis(fromMs, { zone: zoneNamed(timeZone) })
    .startOf('day')
    .plus({ days: 1 });
  for (; day.toMillis() < toMs && midnights.length < 40; day = day.plus({ days: 1 })) midnights.push(day);
  const spans = sittings.map(({ since, ended }) => [
    Date.parse(since),
    ended === null ? toMs : Date.parse(ended),
  ]);
  const hours = spans.reduce(
    (sum, [from = 0, to = 0]) => sum + Math.max(0, Math.min(to, toMs) - Math.max(from, fromMs)) / 3_600_000,
    0,
  );
  return (
    <View onLayout={(event) => setWidth(Math.floor(event.nativeEvent.layout.width))}>
      <Svg
        width={Math.max(1, width)}
        height={TOP + BAND}
        role="img"
        aria-label={`The last ${Math.round((toMs - fromMs) / 86_400_000)} days: taken for ${hours.toFixed(1)} hours, by ${new Set(sittings.map(({ person }) => person)).size} people`}
      >
        <Rect x={0} y={TOP} width={width} height={BAND} fill={palette.tint} />
        {spans.map(([from = 0, to = 0], i) => (
          <Rect
            key={i}
            x={x(from)}
            y={TOP}
            width={Math.max(2, x(to) - x(from))}
            height={BAND}
            fill={palette.kelp}
          />
        ))}
        {midnights.map((at) => (
          <Line
            key={at.toMillis()}
            x1={x(at.toMillis())}
            x2={x(at.toMillis())}
            y1={TOP - 4}
            y2={TOP + BAND}
            stroke={palette.line}
          />
        ))}
        {midnights.map((at) => (
          <SvgText
            key={at.toMillis()}
            x={x(at.toMillis()) + 3}
            y={12}
            fontFamily={FONT}
            fontSize={13}
            fill={palette.soft}
          >
            {at.setLocale('en').toFormat('ccc')}
          </SvgText>
        ))}
      </Svg>
    </View>
  );
}
