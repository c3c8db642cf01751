/** As much of SDP (RFC 8866, RFC 3264) as a call with one stream of sound needs. */
export interface Sound {
  readonly address: string;
  readonly port: number;
  /** Payload types of G.711 in the order of preference; 0 is µ-law, 8 A-law (RFC 3551). */
  readonly codecs: readonly number[];
  /** The payload type of RFC 4733 telephone events; null: none offered. */
  readonly eventType: number | null;
}

export const TELEPHONE_EVENT = 101;

/** A session with one stream of sound both ways. @param session a number that tells this session from others */
export function writeSdp({ address, port, codecs, eventType }: Sound, session: number): string {
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
    }
  }
  const address = own ?? session;
  if (address === null || port < 1 || port > 65_535) return null;
  return { address, port, codecs: types.filter((type) => type === 0 || type === 8), eventType };
}
