import { scaleLinear } from 'd3-scale';
import type { Strip, StripLane, StripMark } from '../../core/calls/views';

/** Where everything of a ring strip goes, in px; drawing it is somebody else's business. */
export interface PlacedMark extends StripMark {
  readonly x: number;
  readonly textX: number;
  readonly anchor: 'start' | 'middle' | 'end';
  /** Row of the text below the lane's bar, from 0. */
  readonly row: number;
}

export interface PlacedLane {
  readonly lane: StripLane;
  readonly top: number;
  readonly barTop: number;
  /** What happened does not fit beside the name, and stands in a line of its own below it. */
  readonly wraps: boolean;
  readonly height: number;
  readonly marks: readonly PlacedMark[];
}

export interface StripLayout {
  readonly width: number;
  readonly height: number;
  readonly ticks: readonly { readonly x: number; readonly label: string }[];
  readonly callerTop: number | null;
  readonly lanes: readonly PlacedLane[];
  readonly thenTop: number;
  readonly x: (ms: number) => number;
}

export const BAR = 24;
const LABEL = 22;
const MARK_ROW = 17;
const AXIS = 26;
const GAP = 10;
const CHARACTER = 6.6;
/** Of the names of lanes, which are bold and larger. */
const NAME_CHARACTER = 7.6;

/** Puts the texts of marks in rows so that none covers another. */
function placeMarks(marks: readonly StripMark[], x: (ms: number) => number, width: number): PlacedMark[] {
  const ends: number[] = [];
  return [...marks]
    .filter((mark) => x(mark.atMs) <= width)
    .sort((a, b) => a.atMs - b.atMs)
    .map((mark) => {
      const at = x(mark.atMs);
      const long = mark.text.length * CHARACTER;
      const from = Math.max(0, Math.min(at - long / 2, width - long));
      const anchor = from === 0 ? 'start' : from >= width - long ? 'end' : 'middle';
      const found = ends.findIndex((end) => from >= end + 8);
      const row = found >= 0 ? found : ends.length;
      ends[row] = from + long;
      const textX = anchor === 'start' ? 0 : anchor === 'end' ? width : at;
      return { ...mark, x: at, textX, anchor, row };
    });
}

/** Lays a strip out in a width. */
export function layStrip(strip: Strip, width: number): StripLayout {
  const scale = scaleLinear().domain([0, strip.horizonMs]).range([0, width]);
  const x = (ms: number) => scale(ms);
  // Ticks stand at round seconds, for long calls at round minutes.
  const [unitMs, unit] = strip.horizonMs >= 180_000 ? [60_000, 'min'] : [1000, 's'];
  const ticks = scaleLinear()
    .domain([0, strip.horizonMs / unitMs])
    .ticks(Math.max(2, Math.floor(width / 80)))
    .map((n) => ({ x: x(n * unitMs), label: `${Number(n.toFixed(1))} ${unit}` }));
  let top = AXIS;
  const callerTop = strip.bands.some((band) => band.kind !== 'ring') ? top : null;
  if (callerTop !== null) top += LABEL + BAR + GAP;
  const lanes = strip.lanes.map((lane): PlacedLane => {
    const marks = placeMarks(lane.marks, x, width);
    const rows =
      lane.segments.length === 0 && marks.length === 0
        ? 0
        : Math.max(0, ...marks.map((mark) => mark.row + 1));
    const height = LABEL + BAR + rows * MARK_ROW + (rows > 0 ? 4 : 0) + GAP;
    const wraps = lane.label.length * NAME_CHARACTER + 16 + lane.result.length * 7 > width;
    const more = wraps ? MARK_ROW : 0;
    const placed = { lane, top, barTop: top + LABEL + more, height: height + more, marks, wraps };
    top += height + more;
    return placed;
  });
  return { width, height: top + LABEL + BAR + 4, ticks, callerTop, lanes, thenTop: top, x };
}

export const markTextY = (lane: PlacedLane, mark: PlacedMark): number =>
  lane.barTop + BAR + 14 + mark.row * MARK_ROW;
