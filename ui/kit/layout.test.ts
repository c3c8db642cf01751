import { settingOf } from '../../core/estate';
import fc from 'fast-check';
import type { Strip, StripLane, StripMark } from '../../core/calls/views';
import { BAR, layStrip, markTextY } from './layout';

const lane = (marks: readonly StripMark[], label = 'Mobile'): StripLane => ({
  endpoint: label,
  label,
  number: null,
  segments: [{ kind: 'ring', fromMs: 0, toMs: 20_000 }],
  marks,
  windows: [],
  result: 'rings 20 s',
  silent: false,
  setting: settingOf('people', 'a', 'plan', 'otherwise', ['stages', 0], ['ring', 0]),
});
const strip = (lanes: readonly StripLane[], horizonMs = 30_000): Strip => ({
  lanes,
  bands: [],
  outcome: { kind: 'mailbox', atMs: 20_000, person: 'a' },
  tone: 'reached',
  ending: 'Message.',
  endMs: 20_000,
  horizonMs,
});
const mark = (atMs: number, text: string): StripMark => ({ kind: 'guard', atMs, text });

test('no text of a mark covers another or leaves the drawing, at any width from a small phone on', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 30_000 }), { minLength: 1, maxLength: 5 }),
      fc.integer({ min: 300, max: 1200 }),
      (times, width) => {
        const laid = layStrip(strip([lane(times.map((at, i) => mark(at, `mark number ${i}`)))]), width);
        const [placed] = laid.lanes;
        const boxes = placed!.marks.map((m) => {
          const long = m.text.length * 6.6;
          const left =
            m.anchor === 'start' ? m.textX : m.anchor === 'end' ? m.textX - long : m.textX - long / 2;
          expect(left).toBeGreaterThanOrEqual(-0.01);
          expect(left + long).toBeLessThanOrEqual(width + 0.01);
          return { left, right: left + long, y: markTextY(placed!, m) };
        });
        boxes.forEach((a, i) =>
          boxes
            .slice(i + 1)
            .forEach((b) => expect(a.y !== b.y || a.right <= b.left || b.right <= a.left).toBe(true)),
        );
        for (const box of boxes) expect(box.y).toBeLessThanOrEqual(placed!.top + placed!.height);
      },
    ),
  );
});
test('lanes stand one below the other, the ending below them all', () => {
  const laid = layStrip(strip([lane([mark(2000, 'guard 2 s')], 'A'), lane([], 'B')]), 358);
  const [a, b] = laid.lanes;
  expect(a!.top + a!.height).toBe(b!.top);
  expect(laid.thenTop).toBe(b!.top + b!.height);
  expect(laid.height).toBeGreaterThan(laid.thenTop + BAR);
});
test('ticks are seconds, and minutes for long calls', () => {
  const labels = (horizonMs: number) => layStrip(strip([], horizonMs), 358).ticks.map((tick) => tick.label);
  expect(labels(30_000)).toContain('10 s');
  expect(labels(600_000)).toEqual(['0 min', '2 min', '4 min', '6 min', '8 min', '10 min']);
});

test('a result that does not fit beside a name stands whole in a line of its own, and the lane is taller by it', () => {
  const result = 'not confirmed with a key at 45.2 s';
  const long = strip([
    { ...lane([]), result },
    { ...lane([], 'Dock office phone'), result },
  ]);
  const [narrow, wide] = [layStrip(long, 280), layStrip(long, 1200)];
  for (const placed of narrow.lanes) expect(placed.wraps).toBe(true);
  for (const placed of wide.lanes) expect(placed.wraps).toBe(false);
  narrow.lanes.forEach((placed, i) => {
    expect(placed.barTop - placed.top).toBeGreaterThan(wide.lanes[i]!.barTop - wide.lanes[i]!.top);
    const next = narrow.lanes[i + 1];
    if (next) expect(next.top).toBeGreaterThanOrEqual(placed.top + placed.height);
  });
});
