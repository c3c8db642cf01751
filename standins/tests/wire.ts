import { createSocket } from 'node:dgram';
import { connect } from 'node:net';
import { buildSip, cutStream, parseSip, type Draft, type SipResponse } from '../../core/wire/sip';
import type { Peer } from '../sip/transport';

/** A bare end of the wire, for sending what no user agent of ours would. */
export interface Wire {
  readonly port: number;
  readonly send: (bytes: string) => void;
  /** The next message that comes. */
  readonly next: () => Promise<string>;
  /** The next answer, read. */
  readonly answer: () => Promise<SipResponse>;
  readonly got: readonly string[];
  readonly close: () => void;
}

const readAnswer = (bytes: string): SipResponse => {
  const parsed = parseSip(bytes);
  if (!parsed.ok || parsed.message.kind !== 'response') throw new Error(`no answer: ${bytes.slice(0, 60)}`);
  return parsed.message;
};

function inbox() {
  const got: string[] = [];
  let at = 0;
  let wake: (() => void) | null = null;
  return {
    got,
    put: (bytes: string) => {
      got.push(bytes);
      wake?.();
    },
    next: async (): Promise<string> => {
      while (at >= got.length) await new Promise<void>((resolve) => (wake = resolve));
      at += 1;
      return got[at - 1]!;
    },
  };
}

export async function udpWire(to: Peer, address = '127.0.40.1'): Promise<Wire> {
  const socket = createSocket('udp4');
  const box = inbox();
  socket.on('message', (data) => box.put(data.toString('latin1')));
  await new Promise<void>((resolve) => socket.bind(0, address, resolve));
  return {
    port: socket.address().port,
    send: (bytes) => socket.send(Buffer.from(bytes, 'latin1'), to.port, to.host),
    next: box.next,
    answer: async () => readAnswer(await box.next()),
    got: box.got,
    close: () => socket.close(),
  };
}

export async function tcpWire(to: Peer): Promise<Wire & { readonly closed: Promise<void> }> {
  const socket = connect(to.port, to.host);
  const box = inbox();
  let rest = '';
  socket.on('data', (data) => {
    const cut = cutStream(rest + data.toString('latin1'));
    rest = cut.rest;
    for (const each of cut.messages) box.put(each);
  });
  const closed = new Promise<void>((resolve) => socket.once('close', () => resolve()));
  socket.on('error', () => undefined);
  await new Promise<void>((resolve) => socket.once('connect', resolve));
  return {
    port: socket.localPort ?? 0,
    send: (bytes) => socket.write(Buffer.from(bytes, 'latin1')),
    next: box.next,
    answer: async () => readAnswer(await box.next()),
    got: box.got,
    close: () => socket.destroy(),
    closed,
  };
}

/** A request as somebody would write it, with what every request needs. */
export function ask(
  method: string,
  uri: string,
  more: {
    readonly from?: string;
    readonly to?: string;
    readonly callId?: string;
    readonly seq?: number;
    readonly branch?: string;
    readonly via?: string;
    readonly headers?: Draft['headers'];
    readonly body?: string;
  } = {},
): string {
  const { seq = 1, callId = 'c1', branch = `z9hG4bK${callId}${seq}${method}` } = more;
  return buildSip({
    method,
    uri,
    headers: [
      ['Via', more.via ?? `SIP/2.0/UDP 127.0.40.1:9;branch=${branch};rport`],
      ['Max-Forwards', '70'],
      ['From', more.from ?? '<sip:a@127.0.0.1>;tag=f1'],
      ['To', more.to ?? `<${uri}>`],
      ['Call-ID', callId],
      ['CSeq', `${seq} ${method}`],
      ...(more.headers ?? []),
    ],
    body: more.body ?? '',
  });
}
