import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, View, type LayoutChangeEvent } from 'react-native';
import Svg, { Defs, G, Line, Path, Pattern, Polygon, Rect, Text as SvgText } from 'react-native-svg';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Strip, StripSegment } from '../../core/calls/views';
import { FONT, MONO, space, usePalette, type Palette } from '../kit/theme';
import { Fold } from '../kit/parts';
import { Legend, StripTable } from './StripWords';
import { BAR, layStrip, markTextY, type PlacedLane, type StripLayout } from '../kit/layout';

interface Props {
  readonly strip: Strip;
  /** The play head of a try, in ms; null: none. What lies after it is faint. */
  readonly playMs?: number | null;
  readonly onLane?: (endpoint: string) => void;
  /** Grips for editing on the drawing, where it is the person's own plan. */
  readonly grips?: (layout: StripLayout) => ReactNode;
  /** The drawing alone, without legend and table. */
  readonly bare?: boolean;
}

/** One call against time: a lane for each endpoint, marks for guards and carriers, and how it ends. */
export function RingStrip({ strip, playMs = null, onLane, grips, bare }: Props) {
  const palette = usePalette();
  const [width, setWidth] = useState(0);
  const layout = useMemo(() => (width > 0 ? layStrip(strip, width) : null), [strip, width]);
  const measure = (event: LayoutChangeEvent) => setWidth(Math.floor(event.nativeEvent.layout.width));
  return (
    <View>
      <View onLayout={measure} testID="ring-strip" style={{ marginHorizontal: space(4), minHeight: 120 }}>
        {layout ? (
          <View>
            <Drawing layout={layout} strip={strip} palette={palette} playMs={playMs} />
            {onLane
              ? layout.lanes.map((placed) => (
                  <Pressable
                    key={placed.lane.endpoint}
                    role="button"
                    aria-label={`${placed.lane.label}: ${placed.lane.result}. Change how it rings`}
                    onPress={() => onLane(placed.lane.endpoint)}
                    style={{
                      position: 'absolute',
                      left: 0,
                      right: 0,
                      top: placed.top,
                      height: Math.max(44, placed.height - 6),
                    }}
                  />
                ))
              : null}
            {grips?.(layout)}
          </View>
        ) : null}
      </View>
      {bare ? null : (
        <>
          <Legend strip={strip} palette={palette} />
          <Fold title="Show as table">
            <StripTable strip={strip} />
          </Fold>
        </>
      )}
    </View>
  );
}

function Drawing({
  layout,
  strip,
  palette,
  playMs,
}: {
  layout: StripLayout;
  strip: Strip;
  palette: Palette;
  playMs: number | null;
}) {
  const { width, height, ticks, lanes, thenTop, callerTop, x } = layout;
  const endX = x(strip.endMs);
  const text = { fontFamily: FONT, fontSize: 14, fill: palette.ink } as const;
  const label = `${strip.lanes.map((lane) => `${lane.label}: ${lane.result}`).join('; ')}. ${strip.ending}`;
  const faint = (atMs: number) => (playMs !== null && atMs > playMs ? 0.25 : 1);
  const bands = strip.bands.filter((band) => band.kind !== 'ring');
  return (
    <Svg width={width} height={height} role="img" aria-label={label}>
      <Defs>
        <Pattern id="setup-hatch" width={7} height={7} patternUnits="userSpaceOnUse">
          <Path d="M-1,8 L8,-1" stroke={palette.soft} strokeWidth={1} opacity={0.55} />
        </Pattern>
        <Pattern id="lost-hatch" width={6} height={6} patternUnits="userSpaceOnUse">
          <Path d="M-1,-1 L7,7" stroke={palette.rust} strokeWidth={1.6} />
        </Pattern>
        <Pattern id="confirm-dots" width={8} height={8} patternUnits="userSpaceOnUse">
          <Rect x={2} y={2} width={3} height={3} fill={palette.ink} />
        </Pattern>
      </Defs>
      {ticks.map((tick, i) => (
        <G key={tick.label}>
          <Line x1={tick.x} x2={tick.x} y1={18} y2={height} stroke={palette.line} strokeWidth={1} />
          <SvgText
            x={tick.x}
            y={12}
            textAnchor={i === 0 ? 'start' : tick.x > width - 24 ? 'end' : 'middle'}
            fontFamily={MONO}
            fontSize={12}
            fill={palette.soft}
          >
            {tick.label}
          </SvgText>
        </G>
      ))}
      {callerTop !== null ? (
        <G>
          <SvgText {...text} fontWeight="700" x={0} y={callerTop + 15}>
            Caller
          </SvgText>
          {bands.map((band) => (
            <G key={`${band.kind}${band.fromMs}`} opacity={faint(band.fromMs)}>
              <Rect
                x={x(band.fromMs)}
                y={callerTop + 22}
                width={Math.max(1, x(band.toMs) - x(band.fromMs))}
                height={BAR}
                fill={palette.tint}
                stroke={palette.soft}
                rx={2}
              />
              {(x(band.toMs) - x(band.fromMs)) / 6.5 > band.text.length ? (
                <SvgText
                  fontFamily={FONT}
                  fontSize={12}
                  fill={palette.ink}
                  x={x(band.fromMs) + 6}
                  y={callerTop + 38}
                >
                  {band.text}
                </SvgText>
              ) : null}
            </G>
          ))}
        </G>
      ) : null}
      {lanes.map((placed) => (
        <LaneDrawing
          key={placed.lane.endpoint}
          placed={placed}
          layout={layout}
          palette={palette}
          faint={faint}
        />
      ))}
      {[...lanes.map((placed) => placed.barTop), thenTop + 22].map((top) => (
        <Line
          key={top}
          x1={endX}
          x2={endX}
          y1={top}
          y2={top + BAR + 4}
          stroke={palette.ink}
          strokeWidth={1.5}
          opacity={faint(strip.endMs)}
        />
      ))}
      <G opacity={faint(strip.endMs)}>
        <SvgText {...text} fontWeight="700" x={0} y={thenTop + 15}>
          Then
        </SvgText>
        <SvgText
          {...text}
          x={width}
          y={thenTop + 15}
          textAnchor="end"
          fill={strip.tone === 'lost' ? palette.rust : palette.ink}
          fontWeight={strip.tone === 'lost' ? '700' : '400'}
        >
          {showNumbersIn(strip.ending).replace(/\.$/, '')}
        </SvgText>
        <Rect
          x={Math.min(endX, width - 6)}
          y={thenTop + 22}
          width={Math.max(6, width - endX)}
          height={BAR}
          rx={2}
          fill={
            strip.tone === 'reached'
              ? palette.kelp
              : strip.tone === 'lost'
                ? 'url(#lost-hatch)'
                : palette.sheet
          }
          stroke={
            strip.tone === 'reached' ? palette.kelp : strip.tone === 'lost' ? palette.rust : palette.ink
          }
          strokeDasharray={strip.tone === 'reached' ? undefined : '4 3'}
        />
      </G>
      {playMs !== null && playMs < strip.horizonMs ? (
        <Line x1={x(playMs)} x2={x(playMs)} y1={14} y2={height} stroke={palette.accent} strokeWidth={3} />
      ) : null}
    </Svg>
  );
}

function LaneDrawing({
  placed,
  layout,
  palette,
  faint,
}: {
  placed: PlacedLane;
  layout: StripLayout;
  palette: Palette;
  faint: (ms: number) => number;
}) {
  const { lane, top, barTop, marks, wraps } = placed;
  const { x, width } = layout;
  const fill = (kind: StripSegment['kind']) =>
    kind === 'setup' ? 'url(#setup-hatch)' : kind === 'confirm' ? 'url(#confirm-dots)' : palette.rings;
  return (
    <G>
      <SvgText
        fontFamily={FONT}
        fontSize={14}
        fontWeight="700"
        fill={lane.silent ? palette.soft : palette.ink}
        x={0}
        y={top + 15}
      >
        {lane.label}
      </SvgText>
      <SvgText
        fontFamily={FONT}
        fontSize={13}
        fill={palette.soft}
        x={wraps ? 0 : width}
        y={top + (wraps ? 32 : 15)}
        textAnchor={wraps ? 'start' : 'end'}
      >
        {lane.result}
      </SvgText>
      <Rect
        x={0}
        y={barTop}
        width={width}
        height={BAR}
        fill="none"
        stroke={palette.line}
        strokeDasharray={lane.silent ? '2 4' : undefined}
        rx={2}
      />
      {lane.segments.map((segment) => (
        <Rect
          key={`${segment.kind}${segment.fromMs}`}
          x={x(segment.fromMs)}
          y={barTop}
          width={Math.max(2, x(segment.toMs) - x(segment.fromMs))}
          height={BAR}
          fill={fill(segment.kind)}
          stroke={segment.kind === 'ring' ? palette.rings : palette.soft}
          strokeWidth={1}
          opacity={faint(segment.fromMs)}
          rx={2}
        />
      ))}
      {lane.windows.map((window) => (
        <Rect
          key={`${window.kind}${window.fromMs}`}
          x={x(window.fromMs)}
          y={barTop + BAR - 5}
          width={Math.max(2, x(window.toMs) - x(window.fromMs))}
          height={5}
          fill={palette.kelp}
          stroke={palette.sheet}
          strokeWidth={1}
          opacity={faint(0)}
        />
      ))}
      {marks.map((mark) => (
        <G key={`${mark.kind}${mark.atMs}`} opacity={faint(0)}>
          <Line
            x1={mark.x}
            x2={mark.x}
            y1={barTop - 3}
            y2={barTop + BAR + 3}
            stroke={mark.kind === 'voicemail' ? palette.rust : palette.ink}
            strokeWidth={2}
            strokeDasharray={mark.kind === 'voicemail' ? '3 2' : undefined}
          />
          {mark.kind === 'voicemail' ? null : (
            <Polygon
              points={`${mark.x - 4},${barTop + BAR + 6} ${mark.x + 4},${barTop + BAR + 6} ${mark.x},${barTop + BAR}`}
              fill={palette.ink}
            />
          )}
          <SvgText
            x={mark.textX}
            y={markTextY(placed, mark)}
            textAnchor={mark.anchor}
            fontFamily={FONT}
            fontSize={12.5}
            fill={mark.kind === 'voicemail' ? palette.rust : palette.ink}
          >
            {mark.text}
          </SvgText>
        </G>
      ))}
    </G>
  );
}
