/** Call quality by the E-model of ITU-T G.107, with its default values. */

export const CODECS = ['G.711', 'G.711-plc', 'G.729A'] as const;
export type Codec = (typeof CODECS)[number];

/** What a codec does to the sound: impairment and robustness against loss (ITU-T G.113 appendix I), and its look-ahead. */
const CODEC: Readonly<
  Record<Codec, { readonly ie: number; readonly bpl: number; readonly lookAheadMs: number }>
> = {
  'G.711': { ie: 0, bpl: 4.3, lookAheadMs: 0 },
  'G.711-plc': { ie: 0, bpl: 25.1, lookAheadMs: 0 },
  'G.729A': { ie: 11, bpl: 19, lookAheadMs: 5 },
};

/** A line as it was measured. */
export interface MeasuredLine {
  /** One way, mean, ms. */
  readonly delayMs: number;
  /** Standard deviation of the delay, ms. */
  readonly jitterMs: number;
  /** Percent of the packets that the network loses. */
  readonly lossPercent: number;
  /** Mean length of a run of lost packets; left out: 1, losses at random. */
  readonly burst?: number;
  readonly codec: Codec;
  /** Of the de-jitter buffer; left out: 60 ms. */
  readonly bufferMs?: number;
  /** Of sound in one packet; left out: 20 ms. */
  readonly packetMs?: number;
}

/** How a call sounds: the rating R, 0 to 100, and the mean opinion score of a conversation, 1 to 4.5. */
export interface Quality {
  readonly R: number;
  readonly mos: number;
}

// Default values of G.107, table 3.
const SLR = 8;
const RLR = 2;
const OLR = SLR + RLR;
const STMR = 15;
const DS = 3;
const DR = 3;
const LSTR = STMR + DR;
const TELR = 65;
const WEPL = 110;
const QDU = 1;
const NC = -70;
const NFOR = -64;
const PS = 35;
const PR = 35;
/** A delay below this, ms, is not heard. */
const LEAST_HEARD_MS = 100;

const db = (powers: readonly number[]) =>
  10 * Math.log10(powers.reduce((sum, each) => sum + 10 ** (each / 10), 0));

/** G.107 7.2: the noises, all at the point of 0 dBr. */
function noise(): number {
  const nos = PS - SLR - DS - 100 + 0.004 * (PS - OLR - DS - 14) ** 2;
  const pre = PR + 10 * Math.log10(1 + 10 ** ((10 - LSTR) / 10));
  const nor = RLR - 121 + pre + 0.008 * (pre - 35) ** 2;
  return db([NC, nos, nor, NFOR + RLR]);
}

/** G.107 7.3: what comes with the voice itself. */
function simultaneous(ro: number, no: number, t: number): number {
  const xolr = OLR + 0.2 * (64 + no - RLR);
  const iolr = 20 * ((1 + (xolr / 8) ** 8) ** (1 / 8) - xolr / 8);
  const stmro = -10 * Math.log10(10 ** (-STMR / 10) + Math.exp(-t / 4) * 10 ** (-TELR / 10));
  const ist =
    12 * (1 + ((stmro - 13) / 6) ** 8) ** (1 / 8) -
    28 * (1 + ((stmro + 1) / 19.4) ** 35) ** (1 / 35) -
    13 * (1 + ((stmro - 3) / 33) ** 13) ** (1 / 13) +
    29;
  const q = 37 - 15 * Math.log10(QDU);
  const g = 1.07 + 0.258 * q + 0.0602 * q ** 2;
  const y = (ro - 100) / 15 + 46 / 8.4 - g / 9;
  const z = 46 / 30 - g / 40;
  return iolr + ist + 15 * Math.log10(1 + 10 ** y + 10 ** z);
}

/** G.107 7.4: echo to the one who talks and to the one who listens, and the delay itself. All in ms. */
function delayed(ro: number, no: number, ta: number, t: number, tr: number): number {
  const terv = TELR - 40 * Math.log10((1 + t / 10) / (1 + t / 150)) + 6 * Math.exp(-0.3 * t ** 2);
  const roe = -1.5 * (no - RLR);
  const re = 80 + 2.5 * (terv - 14);
  const idte = ((roe - re) / 2 + Math.sqrt((roe - re) ** 2 / 4 + 100) - 1) * (1 - Math.exp(-t));
  const rle = 10.5 * (WEPL + 7) * (tr + 1) ** -0.25;
  const idle = (ro - rle) / 2 + Math.sqrt((ro - rle) ** 2 / 4 + 169);
  const x = Math.log2(ta / LEAST_HEARD_MS);
  const idd =
    ta <= LEAST_HEARD_MS ? 0 : 25 * ((1 + x ** 6) ** (1 / 6) - 3 * (1 + (x / 3) ** 6) ** (1 / 6) + 2);
  return idte + idle + idd;
}

/** G.107 annex B; never under 1. */
export const mosOf = (r: number): number =>
  r >= 100 ? 4.5 : r <= 0 ? 1 : Math.max(1, 1 + 0.035 * r + r * (r - 60) * (100 - r) * 7e-6);

/**
 * The rating of the bare model.
 * @param ta absolute delay one way, ms
 * @param codec its impairment and robustness
 * @param lossPercent of all packets, those that come too late too
 * @param burstR 1 for losses at random, more for losses in runs
 */
export function rating(
  ta: number,
  codec: { readonly ie: number; readonly bpl: number } = { ie: 0, bpl: 4.3 },
  lossPercent = 0,
  burstR = 1,
): Quality {
  const no = noise();
  const ro = 15 - 1.5 * (SLR + no);
  const { ie, bpl } = codec;
  const ieEff = ie + (95 - ie) * (lossPercent / (lossPercent / burstR + bpl));
  const R = ro - simultaneous(ro, no, ta) - delayed(ro, no, ta, ta, 2 * ta) - ieEff;
  return { R, mos: mosOf(R) };
}

/** 1 − Φ(x), to about 15 digits: by its power series near 0, by a continued fraction (Laplace) beyond. */
export function upperTail(x: number): number {
  if (x < 0) return 1 - upperTail(-x);
  const density = Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);
  if (x < 3) {
    let [term, sum] = [x, x];
    for (let k = 1; k < 200; k++) {
      term *= (x * x) / (2 * k + 1);
      sum += term;
    }
    return 0.5 - density * sum;
  }
  let fraction = x;
  for (let k = 200; k >= 1; k--) fraction = x + k / fraction;
  return density / fraction;
}

/** How a call over a measured line sounds. */
export function quality(line: MeasuredLine): Quality {
  const { delayMs, jitterMs, lossPercent, burst = 1, codec, bufferMs = 60, packetMs = 20 } = line;
  const { ie, bpl, lookAheadMs } = CODEC[codec];
  const late = jitterMs === 0 ? 0 : upperTail(bufferMs / jitterMs);
  const lost = Math.min(100, lossPercent + 100 * late);
  const burstR = Math.max(1, burst * (1 - lossPercent / 100));
  return rating(delayMs + packetMs + lookAheadMs + bufferMs, { ie, bpl }, lost, burstR);
}
