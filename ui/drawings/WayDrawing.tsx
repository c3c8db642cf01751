import { useEffect, useState } from 'react';
import { ScrollView, View } from 'react-native';
import Svg, { Circle, Line, Rect, Text as SvgText } from 'react-native-svg';
import type { Hop } from '../../core/network';
import { Button } from '../kit/parts';
import { FONT, space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { BoxTable } from './BoxTable';

const STEP_MS = 1100;
const PLACE = { width: 104, height: 44, gap: 20, top: 22 };
const HEIGHT = PLACE.top + PLACE.height + 2;

const short = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

/** What a hop does to its packet, in a sentence. */
function sayHop(
  hop: Hop,
  packet: string,
  nameOf: (id: string) => string,
  why: (hop: Hop) => string,
  sockets = true,
): string {
  const { where, source, destination, rewritten, dropped } = hop;
  const changes = [
    ...(rewritten?.source ? [`its source becomes ${rewritten.source}`] : []),
    ...(rewritten?.destination ? [`its destination becomes ${rewritten.destination}`] : []),
    ...(rewritten?.contact ? [`its contact is rewritten to ${rewritten.contact}`] : []),
    ...(rewritten?.media ? [`its media address is rewritten to ${rewritten.media}`] : []),
  ];
  const what = dropped ? `here it ends: ${why(hop)}` : changes.join(', ') || 'it goes on as it is';
  return `${packet} at ${nameOf(where)}${sockets ? `, from ${source} to ${destination}` : ''}: ${what}.`;
}

interface WayProps {
  readonly trace: readonly Hop[];
  readonly nameOf: (id: string) => string;
  readonly packetOf: (hop: Hop) => string;
  /** Why a packet was dropped. */
  readonly why: (hop: Hop) => string;
}

/** A socket as it comes to a place, and as it leaves it. */
function Socket({
  title,
  before,
  after,
}: {
  readonly title: string;
  readonly before: string;
  readonly after: string | undefined;
}) {
  return (
    <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2), alignItems: 'baseline' }}>
      <Words size="small" tone="soft" style={{ width: 40 }}>
        {title}
      </Words>
      <Words size="small" mono {...(after === undefined ? {} : { tone: 'soft' as const })}>
        {before}
      </Words>
      {after === undefined ? null : <Words size="small" mono strong tone="accent">{`→ ${after}`}</Words>}
    </View>
  );
}

/**
 * The way of packets from place to place, drawn as places in a row with the packet at one of them; stepped through by
 * hand or played. The same as a list for those who do not see it.
 */
export function WayDrawing({ trace, nameOf, packetOf, why }: WayProps) {
  const palette = usePalette();
  const [at, setAt] = useState(trace.length - 1);
  const [plays, setPlays] = useState(false);
  const last = trace.length - 1;
  useEffect(() => {
    setAt(trace.length - 1);
    setPlays(false);
  }, [trace]);
  useEffect(() => {
    if (!plays) return;
    const timer = setInterval(() => setAt((now) => Math.min(now + 1, last)), STEP_MS);
    return () => clearInterval(timer);
  }, [plays, last]);
  useEffect(() => {
    if (plays && at >= last) setPlays(false);
  }, [plays, at, last]);
  const hop = trace[Math.min(at, last)];
  if (!hop) return <Words tone="soft">No packet is sent: what it needs is not there.</Words>;
  const places = [...new Set(trace.map(({ where }) => where))];
  const x = (where: string) => places.indexOf(where) * (PLACE.width + PLACE.gap);
  const width = places.length * PLACE.width + (places.length - 1) * PLACE.gap;
  const middle = PLACE.top + PLACE.height / 2;
  return (
    <View style={{ gap: space(2) }}>
      <ScrollView
        horizontal
        tabIndex={0}
        role="group"
        aria-label="Places on the way"
        showsHorizontalScrollIndicator={false}
        contentContainerStyle={{ padding: 2 }}
      >
        <Svg width={width} height={HEIGHT} aria-hidden>
          <Line x1={0} x2={width} y1={middle} y2={middle} stroke={palette.line} strokeWidth={2} />
          {places.map((where) => {
            const isHere = where === hop.where;
            return [
              <Rect
                key={where}
                x={x(where) + 1}
                y={PLACE.top}
                width={PLACE.width - 2}
                height={PLACE.height}
                rx={3}
                fill={palette.sheet}
                stroke={isHere ? (hop.dropped ? palette.rust : palette.accent) : palette.line}
                strokeWidth={isHere ? 2 : 1}
              />,
              <SvgText
                key={`${where} name`}
                x={x(where) + PLACE.width / 2}
                y={middle + 4}
                fill={palette.ink}
                fontFamily={FONT}
                fontSize={12}
                textAnchor="middle"
              >
                {short(nameOf(where), 18)}
              </SvgText>,
            ];
          })}
          <Circle
            cx={x(hop.where) + PLACE.width / 2}
            cy={PLACE.top - 9}
            r={6}
            fill={hop.dropped ? palette.rust : palette.accent}
          />
        </Svg>
      </ScrollView>
      <View style={{ gap: 2 }}>
        <Socket title="From" before={hop.source} after={hop.rewritten?.source} />
        <Socket title="To" before={hop.destination} after={hop.rewritten?.destination} />
      </View>
      <Words live>{sayHop(hop, packetOf(hop), nameOf, why, false)}</Words>
      {hop.table ? <BoxTable rows={hop.table} name={nameOf(hop.where)} /> : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2), alignItems: 'center' }}>
        <Button
          label="Step back"
          disabled={at <= 0}
          onPress={() => {
            setPlays(false);
            setAt(Math.max(0, at - 1));
          }}
        />
        <Button
          label="Step on"
          disabled={at >= last}
          onPress={() => {
            setPlays(false);
            setAt(Math.min(last, at + 1));
          }}
        />
        <Button
          kind="quiet"
          label={plays ? 'Pause' : 'Play'}
          onPress={() => {
            if (!plays && at >= last) setAt(0);
            setPlays(!plays);
          }}
        />
        <Words size="small" tone="soft">{`${Math.min(at, last) + 1} of ${trace.length}`}</Words>
      </View>
    </View>
  );
}

/** The same way as a list, each place with what it does. */
export function WayList({ trace, nameOf, packetOf, why }: WayProps) {
  const palette = usePalette();
  return (
    <View role="list">
      {trace.map((hop, i) => (
        <View
          key={i}
          role="listitem"
          style={{ paddingVertical: space(1), borderTopWidth: i === 0 ? 0 : 1, borderColor: palette.line }}
        >
          <Words size="small">{sayHop(hop, packetOf(hop), nameOf, why)}</Words>
        </View>
      ))}
    </View>
  );
}
