import fc from 'fast-check';
import { readWavHead, writeWav } from './wav';

const MOST_MS = 300_000;
const second = writeWav(new Int16Array(8000), 8000);
const said = (bytes: Uint8Array, most = MOST_MS) => {
  const read = readWavHead(bytes, most);
  return read.ok ? read.facts : read.why;
};

test('what was written is read, with its length', () => {
  expect(said(second)).toEqual({ channels: 1, rate: 8000, bits: 16, ms: 1000 });
  expect(said(writeWav(new Int16Array(24_000), 48_000))).toMatchObject({ rate: 48_000, ms: 500 });
});

test('what is no recording, is cut off, packed, too short or too long is told in words', () => {
  const with16 = (at: number, value: number) => {
    const bytes = second.slice();
    new DataView(bytes.buffer).setUint16(at, value, true);
    return bytes;
  };
  expect(said(new TextEncoder().encode('Number,Zone\n'.repeat(9)))).toContain('no WAV file');
  expect(said(second.subarray(0, 2000))).toContain('The end of this WAV file is missing');
  expect(said(second.subarray(0, 40))).toContain('no WAV file');
  expect(said(with16(20, 0x11))).toContain('packed sound');
  expect(said(with16(22, 0))).toContain('says what no recording is like');
  expect(said(with16(34, 0))).toContain('says what no recording is like');
  expect(said(writeWav(new Int16Array(800), 8000))).toContain('less than half a second');
  expect(said(second, 900)).toBe('This recording lasts 1 s; 1 s is the most.');
  expect(said(with16(36, 0))).toContain('There is no sound');
});

test('whatever comes, the head is read within its bounds', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(200), (noise, at) => {
      const bytes = second.slice(0, 400);
      bytes.set(noise.subarray(0, 200), at);
      const read = readWavHead(bytes, MOST_MS);
      return read.ok ? read.facts.ms <= MOST_MS : read.why !== '';
    }),
    { numRuns: 500 },
  );
});
