import fc from 'fast-check';
import { keyPackets, keyReader, parseKeyEvent, parseRtp, writeKeyEvent, writeRtp } from './rtp';

const from = { sequence: 65_534, timestamp: 1000, source: 77 };

test('a packet is read as it was written, and any bytes are read without harm', () => {
  const packet = { ...from, payloadType: 0, marker: true, payload: Uint8Array.of(1, 2, 3) };
  expect(parseRtp(writeRtp(packet))).toEqual(packet);
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
      const read = parseRtp(bytes);
      if (read) expect(read.payload.length).toBeLessThanOrEqual(bytes.length - 12);
      parseKeyEvent(bytes);
    }),
    { numRuns: 1000 },
  );
});

test('each key comes through once, though its end is sent three times over', () => {
  const reader = keyReader();
  const keys = [...'1*#D'].flatMap((key, i) => [...keyPackets(key, { ...from, timestamp: i * 1600 }, 101)]);
  expect(keys).toHaveLength(20);
  expect(keys.map((each) => reader(parseRtp(each)!)).filter(Boolean)).toEqual(['1', '*', '#', 'D']);
  expect(keys.map((each) => parseRtp(each)!.sequence).slice(0, 3)).toEqual([65_534, 65_535, 0]);
});

test('what is no key is not sent', () => {
  expect(writeKeyEvent({ key: 'E', end: false, duration: 1 })).toBeNull();
  expect(writeKeyEvent({ key: '12', end: false, duration: 1 })).toBeNull();
  expect(parseKeyEvent(Uint8Array.of(16, 0, 0, 0))).toBeNull();
});
