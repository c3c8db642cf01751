import type { NetworkPhone, Socket } from '../estate';
import type { Actor } from './actor';
import { type Entered, goesThroughServer, ready, usesIce } from './enter';
import { type Candidate, checkPair, endOf } from './ice';
import { failed, type Failed, fateOf, firstFailed, verdictOf } from './outcome';
import { register, ring } from './signalling';
import { type Call, placeCall, soundBase, sounding } from './sound';
import type { Topology } from './topology';
import type { Verdict } from './types';
import { newWorld, traced, type World } from './world';

/** Of RFC 8445 section 5.1.2.2: which type of candidate is preferred. */
const TYPE_PREFERENCE: Readonly<Record<Candidate['type'], number>> = {
  host: 126,
  reflexive: 100,
  relayed: 0,
};
const LOCAL_PREFERENCE = 65_535;
const COMPONENT = 1;
/** Rounds of sound, of which the last one counts. */
const ROUNDS = 3;
const SECOND_RELAYED_PORT = 49_153;

/** RFC 8445 section 5.1.2.1. */
const priorityOf = ({ type }: Candidate) =>
  2 ** 24 * TYPE_PREFERENCE[type] + 2 ** 8 * LOCAL_PREFERENCE + (256 - COMPONENT);
/** RFC 8445 section 6.1.2.3, exact: beyond 2^53. */
const pairPriority = (controlling: Candidate, controlled: Candidate): bigint => {
  const [g, d] = [BigInt(priorityOf(controlling)), BigInt(priorityOf(controlled))];
  const [least, most] = g < d ? [g, d] : [d, g];
  return 2n ** 32n * least + 2n * most + (g > d ? 1n : 0n);
};

interface Way {
  readonly there: Verdict;
  readonly back: Verdict;
}
const bothWays = (verdict: Verdict): Way => ({ there: verdict, back: verdict });
/** The call of a phone on a branch relay is placed over the relay's connection. */
function placed({ actor, isRelayed }: Entered): Call | Failed {
  if (!isRelayed) return placeCall(actor);
  const { kept, refused } = actor;
  if (!kept) return failed(refused ?? { reason: 'no-server' });
  return {
    ok: true,
    server: kept.server,
    host: kept.host,
    heard: { contact: null, media: null },
    answered: { contact: null, media: null },
    candidates: [],
  };
}

/** Sound both ways between two phones, the first of which calls the second. */
export function phoneToPhone(topology: Topology, first: NetworkPhone, second: NetworkPhone): Way {
  const world = newWorld(topology);
  const one = ready(topology, first, world);
  const other = ready(topology, second, world, SECOND_RELAYED_PORT);
  if (!other.ok) return bothWays(other.refused);
  if (!one.ok) return bothWays(one.refused);
  register(one.actor, 0);
  const begun = traced(world, () => register(other.actor, 0));
  if (!other.actor.kept && !begun.value.ok) return bothWays(verdictOf(begun.value, begun.trace));
  const rung = traced(world, () => ring(other.actor, 0));
  if (!rung.value.ok) return bothWays(verdictOf(rung.value, rung.trace));
  const call = traced(world, () => placed(one));
  if (!call.value.ok) return bothWays(verdictOf(call.value, call.trace));
  if (goesThroughServer(topology, first) || goesThroughServer(topology, second)) {
    const [mine, theirs] = [sounding(topology, first), sounding(topology, second)];
    return {
      there: firstFailed(mine.soundOut, theirs.soundIn),
      back: firstFailed(theirs.soundOut, mine.soundIn),
    };
  }
  // The second phone's answer goes to its server as an INVITE of its own would.
  const answer = traced(world, () => placed(other));
  if (!answer.value.ok) return bothWays(verdictOf(answer.value, answer.trace));
  return usesIce(topology, first) && usesIce(topology, second)
    ? byIce(world, call.value, answer.value)
    : straight(world, one.actor, other.actor, call.value.heard.media, answer.value.heard.media);
}

/** Three rounds of sound straight between what both advertise. */
function straight(world: World, one: Actor, other: Actor, ofOne: Socket | null, ofOther: Socket | null): Way {
  const [here, far] = [soundBase(one), soundBase(other)];
  const toOne = ofOne ?? { address: one.phone.address, port: one.phone.rtpPort };
  const toOther = ofOther ?? { address: other.phone.address, port: other.phone.rtpPort };
  let last: Way | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const there = traced(world, () => far.take('sound', (meant) => here.send('sound', toOther, meant, 0), 0));
    const back = traced(world, () => here.take('sound', (meant) => far.send('sound', toOne, meant, 0), 0));
    last = { there: fateOf(there.value, there.trace), back: fateOf(back.value, back.trace) };
  }
  if (!last) throw new Error('no round was gone');
  return last;
}

/** Pairs of both phones' candidates, the one of highest priority first, until checks come through one. */
function byIce(world: World, call: Call, answer: Call): Way {
  const pairs = call.candidates
    .flatMap((mine) =>
      answer.candidates.map((theirs) => ({ mine, theirs, priority: pairPriority(mine, theirs) })),
    )
    .sort((a, b) => (a.priority < b.priority ? 1 : a.priority > b.priority ? -1 : 0));
  let way: Way | null = null;
  for (const { mine, theirs } of pairs) {
    const checked = checkPair(world, endOf(mine), endOf(theirs));
    if (checked.isUsed)
      return bothWays({ verdict: 'works', trace: checked.there.ok ? checked.thereTrace : checked.backTrace });
    way = {
      there: fateOf(checked.there, checked.thereTrace),
      back: fateOf(checked.back, checked.backTrace),
    };
  }
  if (!way) throw new Error('two phones without candidates');
  return way;
}
