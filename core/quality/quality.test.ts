import * as fc from 'fast-check';
import { CODECS, mosOf, quality, rating, upperTail, type MeasuredLine } from '.';

test('the bare model gives R 93.2 and MOS 4.41, as ITU-T G.107 says of its default values', () => {
  const { R, mos } = rating(0);
  expect(R).toBeCloseTo(93.2, 1);
  expect(mos).toBeCloseTo(4.41, 2);
});

test('without loss a codec takes its own impairment off, no more (G.113: G.729A 11)', () => {
  expect(rating(0).R - rating(0, { ie: 11, bpl: 19 }).R).toBeCloseTo(11, 9);
});

test('loss at random of as many percent as Bpl takes half of what there is to lose (G.107 equation 7-29)', () => {
  expect(rating(0).R - rating(0, { ie: 0, bpl: 4.3 }, 4.3).R).toBeCloseTo(95 / 2, 9);
});

test.each([
  [0, 1],
  [100, 4.5],
  [60, 3.1],
  [50, 1 + 0.035 * 50 + 50 * -10 * 50 * 7e-6],
])('R %s is MOS %s (G.107 annex B)', (r, mos) => {
  expect(mosOf(r)).toBeCloseTo(mos, 12);
});

test.each([
  [0, 0.5],
  [1, 0.15865525393145707],
  [1.959963984540054, 0.025],
  [3, 0.0013498980316300933],
  [6, 9.865876450376946e-10],
  [-1, 0.8413447460685429],
])('the share of a normal distribution beyond %s is %s', (x, share) => {
  expect(upperTail(x) / share).toBeCloseTo(1, 10);
});

const lines = fc.record({
  delayMs: fc.integer({ min: 0, max: 600 }),
  jitterMs: fc.integer({ min: 0, max: 80 }),
  lossPercent: fc.integer({ min: 0, max: 30 }),
  burst: fc.integer({ min: 1, max: 8 }),
  codec: fc.constantFrom(...CODECS),
});
const worse: readonly [string, (line: MeasuredLine) => MeasuredLine][] = [
  ['more delay', (line) => ({ ...line, delayMs: line.delayMs + 40 })],
  ['more jitter', (line) => ({ ...line, jitterMs: line.jitterMs + 5 })],
  // Of losses in runs the definition makes BurstR smaller as the loss grows, which may outweigh a percent.
  ['more loss at random', (line) => ({ ...line, burst: 1, lossPercent: line.lossPercent + 1 })],
];
test.each(worse)('%s never makes a call sound better', (_name, change) => {
  fc.assert(
    fc.property(lines, (line) => {
      const { burst } = change(line);
      expect(quality(change(line)).R).toBeLessThanOrEqual(
        quality({ ...line, ...(burst ? { burst } : {}) }).R + 1e-9,
      );
    }),
  );
});

test('a longer buffer trades delay for packets that come in time: at 30 ms of jitter 90 ms beat 20', () => {
  const line: MeasuredLine = { delayMs: 20, jitterMs: 30, lossPercent: 0, codec: 'G.711-plc' };
  expect(quality({ ...line, bufferMs: 90 }).R).toBeGreaterThan(quality({ ...line, bufferMs: 20 }).R);
  expect(quality({ ...line, jitterMs: 0, bufferMs: 20 }).R).toBeGreaterThan(
    quality({ ...line, jitterMs: 0, bufferMs: 200 }).R,
  );
});
