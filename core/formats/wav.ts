/** What a WAV file says of its sound. */
export interface WavFacts {
  readonly channels: number;
  /** Samples a second of each channel. */
  readonly rate: number;
  readonly bits: number;
  readonly ms: number;
}
export type ReadWav =
  | { readonly ok: true; readonly facts: WavFacts }
  | { readonly ok: false; readonly why: string };

/** Forms of sound that are read: PCM, IEEE float, A-law, µ-law, and what says its form further on (RFC 2361). */
const FORMATS = new Set([1, 3, 6, 7, 0xfffe]);
const MOST_CHUNKS = 200;
const no = (why: string): ReadWav => ({ ok: false, why });

/**
 * Reads the head of a WAV file (RIFF, form WAVE) and nothing of its sound.
 * @param mostMs how long it may last
 */
export function readWavHead(bytes: Uint8Array, mostMs: number): ReadWav {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 44 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE')
    return no('This is no WAV file. Save the recording as WAV and try again.');
  let format: { channels: number; rate: number; bits: number; perSecond: number } | null = null;
  let at = 12;
  for (let chunks = 0; at + 8 <= bytes.length && chunks < MOST_CHUNKS; chunks += 1) {
    const size = view.getUint32(at + 4, true);
    if (tag(at) === 'fmt ') {
      if (size < 16 || at + 24 > bytes.length) return no('The head of this WAV file is broken.');
      const form = view.getUint16(at + 8, true);
      if (!FORMATS.has(form))
        return no('This WAV file holds packed sound. Save the recording as PCM and try again.');
      const [channels, rate] = [view.getUint16(at + 10, true), view.getUint32(at + 12, true)];
      const bits = view.getUint16(at + 22, true);
      if (
        channels < 1 ||
        channels > 8 ||
        rate < 4000 ||
        rate > 192_000 ||
        ![8, 16, 24, 32, 64].includes(bits)
      )
        return no('The head of this WAV file says what no recording is like.');
      format = { channels, rate, bits, perSecond: rate * channels * (bits / 8) };
    }
    if (tag(at) === 'data') {
      if (!format) return no('The head of this WAV file is broken.');
      const held = Math.min(size, bytes.length - at - 8);
      // A file that says more than it holds was cut off on its way.
      if (size > held + 1) return no('The end of this WAV file is missing. Send it again.');
      const ms = Math.round((held / format.perSecond) * 1000);
      if (ms < 500) return no('There is less than half a second of sound in this.');
      if (ms > mostMs)
        return no(
          `This recording lasts ${Math.round(ms / 1000)} s; ${Math.round(mostMs / 1000)} s is the most.`,
        );
      const { channels, rate, bits } = format;
      return { ok: true, facts: { channels, rate, bits, ms } };
    }
    at += 8 + size + (size % 2);
  }
  return no('There is no sound in this WAV file.');
}

/** Writes sound as a WAV file of 16-bit PCM. @param samples of one channel, -32768 to 32767 */
export function writeWav(samples: Int16Array, rate: number): Uint8Array {
  const bytes = new Uint8Array(44 + samples.length * 2);
  const view = new DataView(bytes.buffer);
  const put = (at: number, text: string) => bytes.set(new TextEncoder().encode(text), at);
  put(0, 'RIFF');
  view.setUint32(4, 36 + samples.length * 2, true);
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  put(36, 'data');
  view.setUint32(40, samples.length * 2, true);
  samples.forEach((sample, n) => view.setInt16(44 + n * 2, sample, true));
  return bytes;
}
