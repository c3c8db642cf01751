import { lineAdvice, lineOf, mappingOf, qualityOfLine, type Echoed } from '.';

/** So many packets, 20 ms apart, each back after so long; null: it never comes. */
const packets = (backs: readonly (number | null)[]): readonly Echoed[] =>
  backs.map((back, at) => ({ sentMs: at * 20, gotMs: back === null ? null : at * 20 + back }));

test('half the delay, its deviation over the root of two, and the loss that two ways make', () => {
  const line = lineOf(packets([80, 120, 80, 120, null, null, 80, 120, null, 100]));
  const spread = Math.sqrt((6 * 20 ** 2) / 7);
  expect(line).toMatchObject({
    delayMs: 50,
    jitterMs: expect.closeTo(spread / Math.SQRT2, 9),
    lossPercent: expect.closeTo(100 * (1 - Math.sqrt(0.7)), 9),
    burst: 1.5,
    sent: 10,
    received: 7,
  });
});

test('a loss of p on each way is found again', () => {
  for (const p of [0, 0.01, 0.2]) {
    const total = 1 - (1 - p) ** 2;
    const backs = Array.from({ length: 10_000 }, (_each, at) => (at < total * 10_000 ? null : 40));
    expect(lineOf(packets(backs))?.lossPercent).toBeCloseTo(100 * p, 1);
  }
});

test('a line on which nothing comes back has no figures; one that loses at both ends has', () => {
  expect([lineOf([]), lineOf(packets([null, null]))]).toEqual([null, null]);
  expect(lineOf(packets([null, 40, null]))).toMatchObject({ burst: 1, received: 1, jitterMs: 0 });
});

test('its seconds: mean and worst of each, and what was lost', () => {
  const backs = Array.from({ length: 100 }, (_each, at) => (at === 60 ? 200 : at > 90 ? null : 40));
  expect(lineOf(packets(backs))?.seconds).toEqual([
    { delayMs: 20, worstMs: 20, sent: 50, lost: 0 },
    { delayMs: expect.closeTo((40 * 20 + 100) / 41, 9), worstMs: 100, sent: 50, lost: 9 },
  ]);
  const gap = [...packets([40]), { sentMs: 2500, gotMs: 2540 }];
  expect(lineOf(gap)?.seconds.map(({ sent, delayMs }) => [sent, delayMs])).toEqual([
    [1, 20],
    [0, null],
    [1, 20],
  ]);
});

test('the mapping, from servers on two addresses and two ports', () => {
  const seen = (...ports: readonly (readonly [string, number, number])[]) =>
    ports.map(([address, port, outside]) => ({
      server: { address, port },
      socket: { address: '203.0.113.7', port: outside },
    }));
  expect(mappingOf([])).toBeNull();
  expect(mappingOf(seen(['a', 3478, 5000]))).toBe('same');
  expect(mappingOf(seen(['a', 3478, 5000], ['b', 3478, 5001]))).toBe('by-address');
  expect(mappingOf(seen(['a', 3478, 5000], ['a', 3479, 5002], ['b', 3478, 5001]))).toBe('by-port');
});

test('what a line is good for', () => {
  const mos = (delayMs: number, lossPercent: number) =>
    qualityOfLine({ delayMs, jitterMs: 5, lossPercent }).mos;
  expect([mos(20, 0.2), mos(150, 2), mos(300, 8)].map(lineAdvice)).toEqual(['app', 'either', 'mobile']);
});
