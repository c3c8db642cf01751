/** Queues of calls by Erlang, stable for up to 10,000 servers: sums are kept with a scale, and no factorial is made. */

/** Sums that may outgrow a double: `value` times e to the power of `scale`. */
interface Scaled {
  value: number;
  scale: number;
}
const LARGE = 1e200;
const LOG_LARGE = Math.log(LARGE);

/**
 * The inverse of Erlang's loss formula, 1 / B(n, a), as a logarithm: by the recursion 1/B(k) = 1 + (k/a) / B(k − 1).
 * @param servers whole, 0 or more
 * @param erlangs offered, above 0
 */
function logInverseB(servers: number, erlangs: number): number {
  const sum: Scaled = { value: 1, scale: 0 };
  let one = 1;
  for (let k = 1; k <= servers; k++) {
    sum.value = one + (sum.value * k) / erlangs;
    if (sum.value > LARGE) {
      sum.value /= LARGE;
      one /= LARGE;
      sum.scale += LOG_LARGE;
    }
  }
  return Math.log(sum.value) + sum.scale;
}

/** Erlang B: the share of calls that find all servers busy, where such calls are lost. */
export const erlangB = (servers: number, erlangs: number): number =>
  erlangs <= 0 ? (servers === 0 ? 1 : 0) : Math.exp(-logInverseB(servers, erlangs));

/**
 * The fewest servers at which no more than `loss` of the calls is lost.
 * @returns null where even 10,000 are too few
 */
export function serversFor(erlangs: number, loss: number): number | null {
  let inverse = 1;
  if (erlangs <= 0 || loss >= 1) return 0;
  for (let servers = 0; servers <= 10_000; servers++) {
    if (servers > 0) inverse = 1 + (inverse * servers) / erlangs;
    if (1 / inverse <= loss) return servers;
  }
  return null;
}

/**
 * Erlang B where those who find all servers busy try again: a share `repeat` of the calls that were blocked comes back,
 * which adds to what is offered until it changes no more.
 * @returns the share blocked, and what is offered with the repeats
 */
export function erlangBRepeated(
  servers: number,
  erlangs: number,
  repeat: number,
): { readonly blocked: number; readonly offered: number } {
  let offered = erlangs;
  for (let rounds = 0; rounds < 200; rounds++) {
    const next = erlangs + repeat * offered * erlangB(servers, offered);
    if (Math.abs(next - offered) < 1e-9 * Math.max(1, offered)) break;
    offered = next;
  }
  return { blocked: erlangB(servers, offered), offered };
}

/** What is asked of a group with waiting calls. */
export interface QueueLoad {
  readonly callsPerHour: number;
  /** Mean time of a call with its wrap-up, s. */
  readonly handleS: number;
  readonly servers: number;
  /** Left out: 20 s. */
  readonly withinS?: number;
  /** Mean patience, s; left out: callers wait for ever. */
  readonly patienceS?: number;
}

export interface QueueAnswer {
  /** Erlangs. */
  readonly offered: number;
  readonly waitProbability: number;
  /** Of all calls offered, those who give up too; null: it grows without end. */
  readonly meanWaitS: number | null;
  /** Share of all calls offered that is answered within the time. */
  readonly within: number;
  readonly occupancy: number;
  /** Share that gives up. */
  readonly abandoned: number;
}

/** Erlang C, or with a mean patience Erlang A (exponential patience). */
export const queueOf = (load: QueueLoad): QueueAnswer =>
  load.patienceS === undefined ? erlangC(load) : erlangA({ ...load, patienceS: load.patienceS });

function erlangC({ callsPerHour, handleS, servers, withinS = 20 }: QueueLoad): QueueAnswer {
  const offered = (callsPerHour * handleS) / 3600;
  const load = offered / servers;
  if (offered >= servers)
    return { offered, waitProbability: 1, meanWaitS: null, within: 0, occupancy: 1, abandoned: 0 };
  const b = erlangB(servers, offered);
  const waitProbability = b / (1 - load * (1 - b));
  const spare = servers - offered;
  return {
    offered,
    waitProbability,
    meanWaitS: (waitProbability * handleS) / spare,
    within: 1 - waitProbability * Math.exp((-spare * withinS) / handleS),
    occupancy: load,
    abandoned: 0,
  };
}

/** Where less than this is left of a sum, it is as good as whole. */
const NEGLIGIBLE = 1e-18;

function erlangA({
  callsPerHour,
  handleS,
  servers,
  withinS = 20,
  patienceS,
}: QueueLoad & { readonly patienceS: number }): QueueAnswer {
  const offered = (callsPerHour * handleS) / 3600;
  if (offered <= 0)
    return { offered, waitProbability: 0, meanWaitS: 0, within: 1, occupancy: 0, abandoned: 0 };
  const arrival = callsPerHour / 3600;
  const [service, leaving] = [1 / handleS, 1 / patienceS];
  // Those that wait, beside the state in which all servers are busy and nobody waits: their weight and their number.
  let [term, waiting, length, scale, one] = [1, 0, 0, 0, 1];
  for (let j = 1; ; j++) {
    const ratio = arrival / (servers * service + j * leaving);
    term *= ratio;
    waiting += term;
    length += j * term;
    if (length > LARGE) {
      term /= LARGE;
      waiting /= LARGE;
      length /= LARGE;
      one /= LARGE;
      scale += LOG_LARGE;
    }
    if (ratio < 1 && (term * j) / (1 - ratio) < NEGLIGIBLE * Math.max(length, one)) break;
  }
  const logBelow = logInverseB(servers, offered);
  // All weights beside that of the full state, as logarithms: e^logBelow for up to it, `waiting` beyond.
  const most = Math.max(logBelow, Math.log(waiting) + scale);
  const logTotal = most + Math.log(Math.exp(logBelow - most) + Math.exp(Math.log(waiting) + scale - most));
  const share = (value: number) => (value === 0 ? 0 : Math.exp(Math.log(value) + scale - logTotal));
  const waitProbability = share(one + waiting);
  const queue = share(length);
  const abandoned = Math.min(1, (queue * leaving) / arrival);
  /** The density of the time that somebody has to wait who is patient enough, times the chance of being so. */
  const answeredAt = (x: number) =>
    Math.exp(
      Math.log(servers * service) -
        logTotal +
        (arrival / leaving) * (1 - Math.exp(-leaving * x)) -
        (servers * service + leaving) * x,
    );
  // Where the density has its peak and how wide that is, so that no step passes over it.
  const full = servers * service + leaving;
  const peak = Math.max(0, Math.log(arrival / full) / leaving);
  const width = Math.min(1 / Math.sqrt(leaving * full), 40 / Math.max(full - arrival, 1e-9));
  const bends = [peak - 8 * width, peak - width, peak, peak + width, peak + 8 * width];
  return {
    offered,
    waitProbability,
    meanWaitS: queue / arrival,
    within: Math.min(1, 1 - waitProbability + integral(answeredAt, withinS, bends)),
    occupancy: (offered * (1 - abandoned)) / servers,
    abandoned,
  };
}

const PANELS = 16;
const DEEPEST = 30;
const EXACT = 1e-13;

/** The integral of a smooth function from 0 to `to`, by Simpson's rule on ever smaller parts between its bends. */
function integral(f: (x: number) => number, to: number, bends: readonly number[]): number {
  const part = (
    a: number,
    b: number,
    fa: number,
    fm: number,
    fb: number,
    whole: number,
    depth: number,
  ): number => {
    const m = (a + b) / 2;
    const [left, right] = [f((a + m) / 2), f((m + b) / 2)];
    const first = ((m - a) / 6) * (fa + 4 * left + fm);
    const second = ((b - m) / 6) * (fm + 4 * right + fb);
    const more = first + second - whole;
    if (depth >= DEEPEST || Math.abs(more) < EXACT) return first + second + more / 15;
    return part(a, m, fa, left, fm, first, depth + 1) + part(m, b, fm, right, fb, second, depth + 1);
  };
  const ends = [0, ...bends.filter((x) => x > 0 && x < to), to].sort((a, b) => a - b);
  let sum = 0;
  for (const [at, end] of ends.entries()) {
    const start = ends[at - 1];
    if (start === undefined) continue;
    for (let panel = 0; panel < PANELS; panel++) {
      const a = start + ((end - start) * panel) / PANELS;
      const b = start + ((end - start) * (panel + 1)) / PANELS;
      const [fa, fm, fb] = [f(a), f((a + b) / 2), f(b)];
      sum += part(a, b, fa, fm, fb, ((b - a) / 6) * (fa + 4 * fm + fb), 0);
    }
  }
  return sum;
}
