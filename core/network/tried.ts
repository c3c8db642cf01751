import { INTERNET } from '../estate';
import { serverOf } from './enter';
import { isNear, topologyOf } from './topology';
import { ASKS, type PathAnswer } from './words';
import type { SiteNetworkOf } from './assemble';
import {
  SILENCES,
  type LostPacket,
  type Network,
  type NetworkFile,
  type PathVerdicts,
  type Silence,
} from './types';

/** Why a phone is not tried with real packets behind stand-in routers. */
export type NotTried = 'no-phone' | 'no-server' | 'near' | 'tunnel' | 'branch-relay' | 'relay-inside';

/** Why a phone cannot be tried so; null: it can. */
export function whyNotTried(network: Network, id: string): NotTried | null {
  const phone = network.phones.find((each) => each.id === id);
  if (!phone) return 'no-phone';
  const topology = topologyOf(network);
  if (phone.method === 'vpn') return 'tunnel';
  if (phone.method === 'branch-relay') return 'branch-relay';
  const server = serverOf(topology, phone);
  if (!server) return 'no-server';
  if (isNear(topology, phone.in, server)) return 'near';
  const { turn } = topology.servers;
  const usesRelay = phone.method === 'turn' || phone.method === 'ice';
  return usesRelay && [server, turn].some((each) => each && each.in !== INTERNET) ? 'relay-inside' : null;
}

/** The network around one phone of a site: without the others, but for the branch relay that it names. */
export function networkAround({ file }: Pick<SiteNetworkOf, 'file'>, id: string): NetworkFile {
  const relay = file.phones.find((phone) => phone.id === id)?.relay;
  return { ...file, phones: file.phones.filter((phone) => phone.id === id || phone.id === relay) };
}

/** What came of one question when it was tried. */
export interface TriedAnswer {
  readonly works: boolean;
  /** The last packet that a router let go of meanwhile; null: it works, or none was lost at one of ours. */
  readonly lost: LostPacket | null;
}

/** What came of a phone's packets when they were real. */
export interface TriedWay {
  readonly registers: TriedAnswer;
  /** After each silence; null: too much happens in it to be tried. */
  readonly ringsAfter: Readonly<Record<Silence, TriedAnswer | null>>;
  readonly soundOut: TriedAnswer;
  readonly soundIn: TriedAnswer;
  readonly staysUp: TriedAnswer;
}

/** What was computed of one question beside what came of it. */
export interface TriedBeside {
  readonly question: Exclude<PathAnswer['id'], 'addressChange'>;
  /** The silence before the call, s. */
  readonly silence?: (typeof SILENCES)[number];
  readonly computed: boolean;
  readonly tried: TriedAnswer;
}

/** All that was tried, beside what was computed of it. */
export function triedBeside(verdicts: PathVerdicts, tried: TriedWay): readonly TriedBeside[] {
  const plain = (question: 'registers' | 'soundOut' | 'soundIn' | 'staysUp'): TriedBeside => ({
    question,
    computed: verdicts[question].verdict === 'works',
    tried: tried[question],
  });
  const rings = SILENCES.flatMap((silence): readonly TriedBeside[] => {
    const key = String(silence) as Silence;
    const seen = tried.ringsAfter[key];
    return seen === null
      ? []
      : [{ question: 'rings', silence, computed: verdicts.ringsAfter[key].verdict === 'works', tried: seen }];
  });
  return [plain('registers'), ...rings, plain('soundOut'), plain('soundIn'), plain('staysUp')];
}

/** Why a phone is not tried, in a sentence. */
export const NOT_TRIED_WORDS: Readonly<Record<NotTried, string>> = {
  'no-phone': 'This phone is not in the network any more.',
  'no-server': 'A server that this way needs is not described.',
  near: 'No router stands between this phone and its server: there is nothing to try.',
  tunnel: 'A VPN is computed only: the stand-in phones dig no tunnel.',
  'branch-relay': 'A branch relay is computed only: there is no stand-in of one.',
  'relay-inside':
    'A relayed address is tried only where the phone system and the TURN server stand on the internet themselves.',
};

/** What was tried of one question, in words: "Rings after 30 s of silence: no". */
export function triedWords({ question, silence, tried }: TriedBeside): string {
  const asks =
    silence === undefined
      ? ASKS[question]
      : silence === 0
        ? 'Rings at once'
        : `Rings after ${silence} s of silence`;
  return `${asks}: ${tried.works ? 'yes' : 'no'}`;
}
