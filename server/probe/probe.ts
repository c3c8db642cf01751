import { createSocket } from 'node:dgram';
import { connect as connectTcp, type Socket } from 'node:net';
import { connect as connectTls, type TLSSocket } from 'node:tls';
import { randomBytes } from 'node:crypto';
import { buildSip, cutStream, header, parseSip } from '../../core/wire/sip';

export const PROBED = ['udp', 'tcp', 'tls'] as const;
export type Probed = (typeof PROBED)[number];

/** A server's certificate, as far as somebody has to look at it. Times ISO 8601. */
export interface SeenCertificate {
  readonly subject: string;
  readonly issuer: string;
  readonly until: string;
  /** Why it is not to be trusted; null: it is. */
  readonly trouble: string | null;
}

/** What came of asking one transport. Times in ms. */
export interface ProbeResult {
  readonly transport: Probed;
  readonly port: number;
  /** The answer's status; null: none came. */
  readonly status: number | null;
  readonly reason: string;
  /** From sending, or for a stream from connecting, to the answer. */
  readonly tookMs: number | null;
  /** What the server says it can do. */
  readonly allow: string | null;
  readonly certificate: SeenCertificate | null;
  /** Why there is no answer, in words. */
  readonly trouble: string | null;
}

/** The longest that one transport is waited for, and the most that it may send. */
const WITHIN_MS = 3000;
const MOST_BYTES = 65_535;

const WORDS: Record<string, string> = {
  ECONNREFUSED: 'nothing listens there',
  ETIMEDOUT: 'no answer in time',
  ENOTFOUND: 'the name is not known',
  EAI_AGAIN: 'the name could not be looked up now',
  EHOSTUNREACH: 'there is no way there',
  ENETUNREACH: 'there is no way there',
  ECONNRESET: 'the connection was cut',
};
const sayError = (error: NodeJS.ErrnoException): string => WORDS[error.code ?? ''] ?? error.message;

/** An OPTIONS that asks what a server can do (RFC 3261, section 11). */
function options(host: string, port: number, transport: Probed, own: string): string {
  const token = randomBytes(8).toString('hex');
  return buildSip({
    method: 'OPTIONS',
    uri: `sip:${host}:${port};transport=${transport}`,
    headers: [
      ['Via', `SIP/2.0/${transport.toUpperCase()} ${own};branch=z9hG4bK${token};rport`],
      ['Max-Forwards', '70'],
      ['From', `<sip:probe@${own}>;tag=${token.slice(0, 8)}`],
      ['To', `<sip:${host}>`],
      ['Call-ID', token],
      ['CSeq', '1 OPTIONS'],
      ['Contact', `<sip:probe@${own}>`],
      ['Accept', 'application/sdp'],
    ],
  });
}

const none = (
  transport: Probed,
  port: number,
  trouble: string,
  certificate: SeenCertificate | null = null,
): ProbeResult => ({
  transport,
  port,
  status: null,
  reason: '',
  tookMs: null,
  allow: null,
  certificate,
  trouble,
});

function read(
  transport: Probed,
  port: number,
  bytes: string,
  tookMs: number,
  certificate: SeenCertificate | null,
): ProbeResult {
  const parsed = parseSip(bytes);
  if (!parsed.ok || parsed.message.kind !== 'response')
    return none(transport, port, 'it answers, but not with SIP', certificate);
  const { status, reason } = parsed.message;
  return {
    transport,
    port,
    status,
    reason,
    tookMs: Math.round(tookMs * 10) / 10,
    allow: header(parsed.message, 'Allow') ?? null,
    certificate,
    trouble: null,
  };
}

function probeUdp(host: string, port: number, address: string): Promise<ProbeResult> {
  return new Promise((resolve) => {
    const socket = createSocket('udp4');
    let over = false;
    const end = (result: ProbeResult) => {
      if (over) return;
      over = true;
      clearTimeout(timer);
      socket.close();
      resolve(result);
    };
    const timer = setTimeout(() => end(none('udp', port, WORDS.ETIMEDOUT!)), WITHIN_MS);
    socket.on('error', (error) => end(none('udp', port, sayError(error))));
    // Connected, so that only the server asked is heard, and a refusal comes back.
    socket.connect(port, address, () => {
      const { address: local, port: own } = socket.address();
      const began = performance.now();
      socket.on('message', (data) =>
        end(read('udp', port, data.toString('latin1'), performance.now() - began, null)),
      );
      socket.send(Buffer.from(options(host, port, 'udp', `${local}:${own}`), 'latin1'), (error) => {
        if (error) end(none('udp', port, sayError(error)));
      });
    });
  });
}

function certificateOf(socket: TLSSocket): SeenCertificate {
  const { subject, issuer, valid_to: until } = socket.getPeerCertificate();
  const name = (
    of: { readonly CN?: string | readonly string[]; readonly O?: string | readonly string[] } | undefined,
  ) => String(of?.CN ?? of?.O ?? 'not named');
  const at = Date.parse(until);
  return {
    subject: name(subject),
    issuer: name(issuer),
    until: Number.isFinite(at) ? new Date(at).toISOString() : '',
    trouble: socket.authorized ? null : String(socket.authorizationError ?? 'it cannot be trusted'),
  };
}

function probeStream(
  transport: 'tcp' | 'tls',
  host: string,
  port: number,
  address: string,
): Promise<ProbeResult> {
  return new Promise((resolve) => {
    let over = false;
    let rest = '';
    let certificate: SeenCertificate | null = null;
    const began = performance.now();
    // A certificate that cannot be trusted is told, and what lies behind it asked all the same.
    const socket: Socket =
      transport === 'tls'
        ? connectTls({
            host: address,
            port,
            rejectUnauthorized: false,
            ...(/^[\d.]+$/.test(host) ? {} : { servername: host }),
          })
        : connectTcp({ host: address, port });
    const end = (result: ProbeResult) => {
      if (over) return;
      over = true;
      clearTimeout(timer);
      socket.destroy();
      resolve(result);
    };
    const fail = (trouble: string) => end(none(transport, port, trouble, certificate));
    const timer = setTimeout(() => fail(WORDS.ETIMEDOUT!), WITHIN_MS);
    socket.on('error', (error) => fail(sayError(error)));
    socket.on('close', () => fail('the connection was cut without an answer'));
    socket.on(transport === 'tls' ? 'secureConnect' : 'connect', () => {
      if (transport === 'tls') certificate = certificateOf(socket as TLSSocket);
      socket.write(
        Buffer.from(options(host, port, transport, `${socket.localAddress}:${socket.localPort}`), 'latin1'),
      );
    });
    socket.on('data', (data: Buffer) => {
      rest += data.toString('latin1');
      if (rest.length > MOST_BYTES) return fail('it sends more than an answer');
      const [first] = cutStream(rest).messages;
      if (first !== undefined) end(read(transport, port, first, performance.now() - began, certificate));
      else if (!'SIP/2.0'.startsWith(rest.slice(0, 7)) && !rest.startsWith('SIP/2.0'))
        fail('it answers, but not with SIP');
    });
  });
}

/**
 * Asks a SIP server over each transport what it can do.
 * @param host its name, as certificates have it @param address where it is, looked up and checked before
 */
export const probe = (
  host: string,
  port: number,
  tlsPort: number,
  address = host,
): Promise<readonly ProbeResult[]> =>
  Promise.all([
    probeUdp(host, port, address),
    probeStream('tcp', host, port, address),
    probeStream('tls', host, tlsPort, address),
  ]);

/** The transport to be used, the safest of those that work; null: none does. */
export function advised(results: readonly ProbeResult[]): Probed | null {
  const works = (transport: Probed) =>
    results.some((each) => each.transport === transport && each.status !== null && each.status < 500);
  return (['tls', 'tcp', 'udp'] as const).find(works) ?? null;
}
