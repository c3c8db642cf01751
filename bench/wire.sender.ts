// Sends as many messages as come back, always so many on their way, from a process of its own.
import { hash } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { buildStun } from '../core/wire/stun';

/** Messages a second. */
export interface Rates {
  readonly answered: number;
  readonly registered: number;
}
/** What it is told to do, in its argument. */
export interface Work {
  readonly kind: 'echo' | 'register' | 'stun';
  readonly host: string;
  readonly port: number;
  readonly accounts: number;
  readonly forMs: number;
}
const work = JSON.parse(process.argv[2] ?? '') as Work;
const IN_FLIGHT = 64;

const URI = `sip:${work.host}`;
const md5 = (text: string): string => hash('md5', text, 'hex');
const HA2 = md5(`REGISTER:${URI}`);

/** The sender must not be what is measured: what of a message stays the same is made once. */
interface Account {
  readonly user: string;
  readonly head: string;
  nonce: string;
  realm: string;
  opaque: string;
  ha1: string;
  nc: number;
  seq: number;
}
const accounts: Account[] = Array.from({ length: work.accounts }, (_, i) => {
  const user = `phone${i}`;
  const aor = `<sip:${user}@${work.host}>`;
  return {
    user,
    head: `Max-Forwards: 70\r\nFrom: ${aor};tag=b\r\nTo: ${aor}\r\nCall-ID: ${user}\r\nExpires: 300\r\nContent-Length: 0\r\nContact: <sip:${user}@127.0.60.1:`,
    nonce: '',
    realm: '',
    opaque: '',
    ha1: '',
    nc: 0,
    seq: 0,
  };
});
const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
let port = 0;
let next = 0;
let done = 0;
let registered = 0;
let ending = true;

/** A REGISTER as a phone sends it, with credentials (RFC 7616) once it was asked for them. */
function message(account: Account): string {
  account.seq += 1;
  const { user, seq, head, nonce, realm, opaque, ha1 } = account;
  let credentials = '';
  if (nonce !== '') {
    account.nc += 1;
    const nc = account.nc.toString(16).padStart(8, '0');
    const response = md5(`${ha1}:${nonce}:${nc}:bench:auth:${HA2}`);
    credentials = `Authorization: Digest username="${user}", realm="${realm}", nonce="${nonce}", uri="${URI}", response="${response}", algorithm=MD5, cnonce="bench", qop=auth, nc=${nc}${opaque}\r\n`;
  }
  return `REGISTER ${URI} SIP/2.0\r\nVia: SIP/2.0/UDP 127.0.60.1:${port};branch=z9hG4bK${user}x${seq};rport\r\nCSeq: ${seq} REGISTER\r\n${credentials}${head}${port}>\r\n\r\n`;
}

/** Takes up the MD5 challenge of an answer. */
function challenged(text: string): void {
  const account = accounts[Number(/\r\nCall-ID: phone(\d+)/i.exec(text)?.[1])];
  const challenge = /WWW-Authenticate: Digest ([^\r]*MD5[^\r]*)/i.exec(text)?.[1];
  if (!account || challenge === undefined) return;
  const value = (name: string) => new RegExp(`${name}="([^"]*)"`).exec(challenge)?.[1] ?? '';
  account.nonce = value('nonce');
  account.realm = value('realm');
  account.opaque = value('opaque') === '' ? '' : `, opaque="${value('opaque')}"`;
  account.ha1 = md5(`${account.user}:${account.realm}:secret`);
  account.nc = 0;
}

const plain = Buffer.from('x'.repeat(600));
const binding = buildStun({
  method: 'binding',
  kind: 'request',
  transaction: Uint8Array.from({ length: 12 }, (_each, i) => i),
});
const FIXED = { echo: plain, stun: binding } as const;
let due = 0;
/** Sends what is due, together: each datagram by itself would wake the other side once more. */
function send(): void {
  for (; due > 0 && !ending; due -= 1) {
    const account = accounts[next % accounts.length]!;
    next += 1;
    const bytes = work.kind === 'register' ? Buffer.from(message(account), 'latin1') : FIXED[work.kind];
    socket.send(bytes, work.port, work.host);
  }
}

socket.on('message', (data, from) => {
  // The system asks its phones now and then whether they are there.
  if (work.kind === 'register' && data[0] === 0x4f) {
    const answer = data.toString('latin1').replace(/^OPTIONS \S+ SIP\/2\.0/, 'SIP/2.0 200 OK');
    return socket.send(answer, from.port, from.address);
  }
  if (ending) return;
  done += 1;
  if (work.kind === 'register') {
    // `SIP/2.0 200` or `SIP/2.0 401`, told by one digit.
    if (data[8] === 0x32) registered += 1;
    else challenged(data.toString('latin1'));
  }
  due += 1;
  if (due === 1) setImmediate(send);
});

/** Each message from outside asks for one turn. */
function turn(): void {
  ending = false;
  done = 0;
  registered = 0;
  due = IN_FLIGHT;
  const began = performance.now();
  send();
  setTimeout(() => {
    ending = true;
    const seconds = (performance.now() - began) / 1000;
    process.send?.({ answered: done / seconds, registered: registered / seconds } satisfies Rates);
  }, work.forMs);
}
process.on('disconnect', () => process.exit(0));
socket.bind(0, '127.0.60.1', () => {
  port = socket.address().port;
  process.on('message', turn);
});
