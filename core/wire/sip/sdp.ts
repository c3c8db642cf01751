/** As much of SDP (RFC 8866, RFC 3264) as a call with one stream of sound needs. */
export interface Sound {
  readonly address: string;
  readonly port: number;
  /** Payload types of G.711 in the order of preference; 0 is µ-law, 8 A-law (RFC 3551). */
  readonly codecs: readonly number[];
  /** The payload type of RFC 4733 telephone events; null: none offered. */
  readonly eventType: number | null;
  /** How it finds its way by ICE; left out: it does not. */
  readonly ice?: IceOffer;
}

export const CANDIDATE_TYPES = ['host', 'srflx', 'relay'] as const;
/** One socket at which an end may be reached (RFC 8445, section 5.1). */
export interface IceCandidate {
  readonly type: (typeof CANDIDATE_TYPES)[number];
  readonly address: string;
  readonly port: number;
  readonly priority: number;
}
/** What an end says of itself for ICE (RFC 8839): what its checks are signed with, and its candidates. */
export interface IceOffer {
  readonly ufrag: string;
  readonly password: string;
  readonly candidates: readonly IceCandidate[];
}
/** Candidates read of one description at most. */
const MOST_CANDIDATES = 20;

/** RFC 8445, section 5.1.2.1, for one component and one address of each type. */
export const priorityOf = (type: IceCandidate['type']): number =>
  (type === 'host' ? 126 : type === 'srflx' ? 100 : 0) * 2 ** 24 + 65_535 * 2 ** 8 + 255;

const iceLines = ({ ufrag, password, candidates }: IceOffer): readonly string[] => [
  `a=ice-ufrag:${ufrag}`,
  `a=ice-pwd:${password}`,
  ...candidates.map(
    ({ type, address, port, priority }, at) =>
      `a=candidate:${at + 1} 1 udp ${priority} ${address} ${port} typ ${type}`,
  ),
];

const CANDIDATE =
  /^a=candidate:[\w+/]{1,32} 1 udp (\d{1,10}) (\d{1,3}(?:\.\d{1,3}){3}) (\d{1,5}) typ (host|srflx|relay)\b/i;
/** A candidate of one line; null: it is of another kind, or none. */
function readCandidate(line: string): IceCandidate | null {
  const [, priority, address, port, type] = CANDIDATE.exec(line) ?? [];
  const named = CANDIDATE_TYPES.find((each) => each === type?.toLowerCase());
  const number = Number(port);
  if (!named || address === undefined || number < 1 || number > 65_535) return null;
  return { type: named, address, port: number, priority: Number(priority) };
}

export const TELEPHONE_EVENT = 101;

/** A session with one stream of sound both ways. @param session a number that tells this session from others */
export function writeSdp({ address, port, codecs, eventType, ice }: Sound, session: number): string {
  const types = [...codecs, ...(eventType === null ? [] : [eventType])];
  const names: Readonly<Record<number, string>> = { 0: 'PCMU/8000', 8: 'PCMA/8000' };
  return [
    'v=0',
    `o=- ${session} ${session} IN IP4 ${address}`,
    's=-',
    `c=IN IP4 ${address}`,
    't=0 0',
    `m=audio ${port} RTP/AVP ${types.join(' ')}`,
    ...codecs.flatMap((codec) => (names[codec] ? [`a=rtpmap:${codec} ${names[codec]}`] : [])),
    ...(eventType === null ? [] : [`a=rtpmap:${eventType} telephone-event/8000`, `a=fmtp:${eventType} 0-15`]),
    ...(ice ? iceLines(ice) : []),
    'a=ptime:20',
    'a=sendrecv',
    '',
  ].join('\r\n');
}

/** The stream of sound that a session description offers; null where there is none that can be used. */
export function parseSdp(text: string): Sound | null {
  let session: string | null = null;
  let own: string | null = null;
  let port = 0;
  let types: number[] = [];
  let eventType: number | null = null;
  let inSound = false;
  let sawSound = false;
  let ufrag = '';
  let password = '';
  const candidates: IceCandidate[] = [];
  for (const line of text.split(/\r\n|\n/, 400)) {
    const value = line.slice(2);
    if (line.startsWith('c=')) {
      const address = /^IN IP[46] ([0-9A-Za-z:.-]{1,255})/.exec(value)?.[1] ?? null;
      if (!sawSound) session = address;
      else if (inSound) own = address;
    } else if (line.startsWith('m=')) {
      const media = /^audio (\d{1,5})(?:\/\d+)? RTP\/S?AVPF? ([\d ]+)$/.exec(value);
      inSound = media !== null && !sawSound;
      if (!inSound || !media) continue;
      sawSound = true;
      port = Number(media[1]);
      types = media[2]!.trim().split(/ +/).map(Number);
    } else if (inSound && line.startsWith('a=rtpmap:')) {
      const event = /^a=rtpmap:(\d{1,3}) telephone-event\/8000/i.exec(line);
      if (event && types.includes(Number(event[1]))) eventType ??= Number(event[1]);
    } else if (inSound && line.startsWith('a=candidate:')) {
      const candidate = readCandidate(line);
      if (candidate && candidates.length < MOST_CANDIDATES) candidates.push(candidate);
    } else if (inSound || !sawSound) {
      ufrag = /^a=ice-ufrag:([A-Za-z0-9+/]{4,256})$/.exec(line)?.[1] ?? ufrag;
      password = /^a=ice-pwd:([A-Za-z0-9+/]{22,256})$/.exec(line)?.[1] ?? password;
    }
  }
  const address = own ?? session;
  if (address === null || port < 1 || port > 65_535) return null;
  const codecs = types.filter((type) => type === 0 || type === 8);
  const hasIce = ufrag !== '' && password !== '' && candidates.length > 0;
  return { address, port, codecs, eventType, ...(hasIce ? { ice: { ufrag, password, candidates } } : {}) };
}
