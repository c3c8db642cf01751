const BIAS = 0x84;
const CLIP = 32_635;

/** One sample of 16 bits as µ-law (ITU-T G.711, table 2a). */
export function toMuLaw(sample: number): number {
  const sign = sample < 0 ? 0x80 : 0;
  const size = Math.min(CLIP, Math.abs(Math.trunc(sample))) + BIAS;
  const exponent = Math.max(0, 31 - Math.clz32(size) - 7);
  const mantissa = (size >> (exponent + 3)) & 0x0f;
  return ~(sign | (exponent << 4) | mantissa) & 0xff;
}

/** One byte of µ-law as a sample of 16 bits (ITU-T G.711). */
export function fromMuLaw(byte: number): number {
  const bits = ~byte & 0xff;
  const size = (((bits & 0x0f) << 3) + BIAS) << ((bits & 0x70) >> 4);
  return (bits & 0x80) === 0 ? size - BIAS : BIAS - size;
}

/** Samples a second of sound on a telephone line. */
export const SAMPLES_PER_S = 8000;

/** A pure tone as µ-law. @param loudness 0 to 1 */
export const toneMuLaw = (hertz: number, ms: number, loudness = 0.4): Uint8Array =>
  Uint8Array.from({ length: Math.round((ms * SAMPLES_PER_S) / 1000) }, (_each, n) =>
    toMuLaw(loudness * 32_000 * Math.sin((2 * Math.PI * hertz * n) / SAMPLES_PER_S)),
  );

const QUIETEST = 300;
/** How far a packet may be from a sine, as a share of the power of its second difference: what µ-law adds is less. */
const MOST_REST = 0.15;
const LEAST_HZ = 350;
const MOST_HZ = 2200;

/**
 * The frequency of a packet that is one pure tone, in Hz; null: it is none. The second difference of a sine is the sine
 * itself times a factor; the factor is fitted by least squares, and what is left tells whether it was one.
 */
export function pureTone(payload: Uint8Array): number | null {
  const samples = Array.from(payload, fromMuLaw);
  const bend = (n: number) => samples[n]! - 2 * samples[n - 1]! + samples[n - 2]!;
  let cross = 0;
  let own = 0;
  let bent = 0;
  for (let n = 2; n < samples.length; n += 1) {
    cross += samples[n - 1]! * bend(n);
    own += samples[n - 1]! ** 2;
    bent += bend(n) ** 2;
  }
  if (samples.length < 40 || own / samples.length < QUIETEST ** 2) return null;
  const factor = cross / own;
  if (factor >= 0 || factor <= -4) return null;
  let rest = 0;
  for (let n = 2; n < samples.length; n += 1) rest += (bend(n) - factor * samples[n - 1]!) ** 2;
  if (rest / bent > MOST_REST) return null;
  const hertz = (Math.acos(1 + factor / 2) * SAMPLES_PER_S) / (2 * Math.PI);
  return hertz < LEAST_HZ || hertz > MOST_HZ ? null : hertz;
}

const BEEP_PACKETS = 6;
const SAME_HZ = 25;

export type Beep = 'none' | 'on' | 'ended';

/**
 * Hears the tone after which a voicemail records: a steady tone of some 120 ms or more. Told each packet of 20 ms in
 * turn. @returns a function that says whether a beep goes on, or has just ended
 */
export function beepReader(): (payload: Uint8Array) => Beep {
  let hertz: number | null = null;
  let packets = 0;
  return (payload) => {
    const now = pureTone(payload);
    if (now !== null && (hertz === null || Math.abs(now - hertz) <= SAME_HZ)) {
      hertz = now;
      packets += 1;
      return packets >= BEEP_PACKETS ? 'on' : 'none';
    }
    const ended = now === null && packets >= BEEP_PACKETS;
    hertz = now;
    packets = now === null ? 0 : 1;
    return ended ? 'ended' : 'none';
  };
}
