import { INTERNET } from '../estate';
import type { SiteNetworkOf } from './assemble';
import {
  SILENCES,
  type FailReason,
  type LostPacket,
  type PathVerdicts,
  type Silence,
  type Verdict,
} from './types';

const THE_INTERNET = 'the internet';

/** What each place in the network of a site is called. */
export function nameIn({ network }: Pick<SiteNetworkOf, 'network'>): (id: string) => string {
  const names = new Map(
    [...network.boxes, ...network.servers, ...network.phones].map(({ id, name }) => [id, name]),
  );
  return (id) => (id === INTERNET ? THE_INTERNET : (names.get(id) ?? id));
}

/** Why a packet went no further, in a sentence; `place` is where. */
export const REASON_WORDS: Readonly<Record<FailReason, (place: string) => string>> = {
  blocked: (place) => `${place} blocks it`,
  'no-hairpin': (place) =>
    `${place} does not send back what is sent to its own outside address (no hairpinning)`,
  'no-mapping': (place) => `behind ${place} no phone has the port it is sent to`,
  filtered: (place) => `${place} lets only answers in, and this is not one`,
  'no-such-address': (place) =>
    place === THE_INTERNET
      ? 'nobody on the internet has that address'
      : `nobody behind ${place} has that address`,
  'nothing-listens': (place) => `nothing listens at that port of ${place}`,
  'wrong-host': (place) => `it arrives at ${place} instead`,
  'no-server': () => 'a server that this way needs is not there',
  'no-allocation': (place) => `the TURN server gives no relayed address: it ends at ${place}`,
  'relay-elsewhere': (place) => `the branch relay ${place} stands in another network`,
};

/** A packet that a router let go of, in a line: from where to where, and why. */
export const lostWords = (
  { protocol, from, to, reason, at }: Omit<LostPacket, 'line'>,
  nameOf: (id: string) => string = (id) => id,
): string =>
  `${protocol.toUpperCase()} ${from.address}:${from.port} → ${to.address}:${to.port}, lost: ${REASON_WORDS[reason](nameOf(at))}`;

/** A verdict in a few words. */
export const verdictWords = ({ verdict, reason, at }: Verdict, nameOf: (id: string) => string): string =>
  verdict === 'works' || !reason ? 'Works' : REASON_WORDS[reason](at === undefined ? '' : nameOf(at));

/** One question that is asked of a phone's way, and its answer. */
export interface PathAnswer {
  readonly id: 'registers' | 'rings' | 'soundOut' | 'soundIn' | 'staysUp' | 'addressChange';
  readonly asks: string;
  readonly works: boolean;
  readonly says: string;
  readonly verdict: Verdict | null;
}

/** What each question asks. */
export const ASKS: Readonly<Record<PathAnswer['id'], string>> = {
  registers: 'Registers',
  rings: 'Rings after any silence',
  soundOut: 'Others hear the phone',
  soundIn: 'The phone hears others',
  staysUp: 'Calls stay up',
  addressChange: 'The router gets another address',
};

/** What a phone does of which a question is answered with no. */
export function failWords(
  question: Exclude<PathAnswer['id'], 'addressChange'>,
  worksUntil: number | null,
): string {
  switch (question) {
    case 'registers':
      return 'does not register';
    case 'rings':
      return worksUntil === 0 ? 'never rings' : 'stops ringing after a while';
    case 'soundOut':
      return 'is not heard';
    case 'soundIn':
      return 'hears nothing';
    case 'staysUp':
      return 'loses its calls after 32 s';
  }
}

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** The answers to all that is asked of a phone, in plain words. */
export function pathAnswers(verdicts: PathVerdicts, nameOf: (id: string) => string): readonly PathAnswer[] {
  const { registers, ringsAfter, worksUntil, soundOut, soundIn, staysUp, survives } = verdicts;
  const failing = SILENCES.map((silence) => ringsAfter[String(silence) as Silence]).find(
    ({ verdict }) => verdict === 'fails',
  );
  const plain = (id: PathAnswer['id'], verdict: Verdict, works: string): PathAnswer => ({
    id,
    asks: ASKS[id],
    works: verdict.verdict === 'works',
    says: verdict.verdict === 'works' ? works : `${sentence(verdictWords(verdict, nameOf))}.`,
    verdict,
  });
  const rings: PathAnswer =
    worksUntil === null
      ? plain('rings', ringsAfter['1700'], 'For as long as it was looked at: two hours and five minutes.')
      : {
          id: 'rings',
          asks: ASKS.rings,
          works: false,
          says: `${worksUntil === 0 ? 'It never rings' : `After ${worksUntil} s it does not ring`}${
            failing ? `: ${verdictWords(failing, nameOf)}` : ''
          }.`,
          verdict: failing ?? ringsAfter['0'],
        };
  return [
    plain('registers', registers, 'The answer comes home.'),
    rings,
    plain('soundOut', soundOut, 'Its sound gets there.'),
    plain('soundIn', soundIn, 'Sound comes in.'),
    plain('staysUp', staysUp, 'The system hears that the call is there.'),
    {
      id: 'addressChange',
      asks: ASKS.addressChange,
      works: survives.addressChange !== null && survives.addressChange <= 60,
      says:
        survives.addressChange === null
          ? 'No call comes any more.'
          : survives.addressChange === 0
            ? 'No call is missed.'
            : `No call comes for ${survives.addressChange} s.`,
      verdict: null,
    },
  ];
}
