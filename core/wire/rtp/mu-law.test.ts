import fc from 'fast-check';
import { beepReader, fromMuLaw, pureTone, toMuLaw, toneMuLaw } from './mu-law';

test('G.711: its own decision values, and nothing is further off than half a step', () => {
  // Values of table 2a/G.711, scaled from 14 to 16 bits.
  expect([0, 4, 8, 120, 32_124].map(toMuLaw)).toEqual([0xff, 0xfe, 0xfe, 0xf0, 0x80]);
  expect([0xff, 0x80, 0x00, 0x7f].map(fromMuLaw)).toEqual([0, 32_124, -32_124, 0]);
  for (let byte = 0; byte < 256; byte += 1) if (byte !== 0x7f) expect(toMuLaw(fromMuLaw(byte))).toBe(byte);
  fc.assert(
    fc.property(fc.integer({ min: -32_768, max: 32_767 }), (sample) => {
      const back = fromMuLaw(toMuLaw(sample));
      // A step is a sixteenth of its segment: half of it is at most a 32nd of the value and its bias.
      return (
        Math.abs(back - sample) <=
        Math.max(4, (Math.abs(sample) + 132) / 32) + (Math.abs(sample) > 32_635 ? 644 : 0)
      );
    }),
  );
});

const packets = (sound: Uint8Array) =>
  Array.from({ length: Math.floor(sound.length / 160) }, (_each, n) =>
    sound.subarray(n * 160, n * 160 + 160),
  );
/** A voice is many tones at once, and never the same for long. */
const voice = (seed: number) =>
  Uint8Array.from({ length: 160 * 50 }, (_each, n) =>
    toMuLaw(
      4000 * Math.sin((n * (110 + seed)) / 1273) +
        3000 * Math.sin((n * (410 + 3 * seed)) / 1273) +
        2500 * Math.sin((n * n) / (9000 + seed)),
    ),
  );
const beeps = (sound: readonly Uint8Array[]) => {
  const hear = beepReader();
  return sound.map((each) => hear(each)).filter((said) => said === 'ended').length;
};
const SILENCE = Array.from({ length: 3 }, () => new Uint8Array(160).fill(0xff));

test.each([400, 850, 1000, 1400, 2000])('a beep of %i Hz is heard once, when it has ended', (hertz) => {
  const tone = toneMuLaw(hertz, 300);
  expect(pureTone(tone.subarray(0, 160))).toBeCloseTo(hertz, -1);
  expect(beeps([...packets(voice(3)), ...packets(tone), ...SILENCE])).toBe(1);
  expect(beeps(packets(tone))).toBe(0);
});

test('a voice, silence, noise, a key’s two tones and too short a tone are no beep', () => {
  for (let seed = 0; seed < 40; seed += 1) expect(beeps([...packets(voice(seed)), ...SILENCE])).toBe(0);
  expect(beeps(SILENCE)).toBe(0);
  expect(beeps([...packets(toneMuLaw(1000, 60)), ...SILENCE])).toBe(0);
  // Key 1 as sound: 697 and 1209 Hz (ITU-T Q.23).
  const [low, high] = [toneMuLaw(697, 400), toneMuLaw(1209, 400)];
  const key = low.map((each, n) => toMuLaw(fromMuLaw(each) + fromMuLaw(high[n]!)));
  expect(beeps([...packets(key), ...SILENCE])).toBe(0);
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 160, maxLength: 160 }), (noise) => pureTone(noise) === null),
  );
});
