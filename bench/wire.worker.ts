// Sends as many messages as come back, always so many on their way, from a thread of its own.
import { createSocket } from 'node:dgram';
import { parentPort, workerData } from 'node:worker_threads';
import { answerChallenge, headersOf, parseChallenge, parseSip } from '../core/sip';
import { hexHash } from '../standins/sip/hash';

interface Work {
  readonly kind: 'echo' | 'register';
  readonly host: string;
  readonly port: number;
  readonly accounts: number;
  readonly forMs: number;
}
const work = workerData as Work;
const IN_FLIGHT = 64;

interface Account {
  readonly user: string;
  nonce: ReturnType<typeof parseChallenge>;
  nc: number;
  seq: number;
}
const accounts: Account[] = Array.from({ length: work.accounts }, (_, i) => ({
  user: `phone${i}`,
  nonce: null,
  nc: 0,
  seq: 0,
}));
const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
let port = 0;
let next = 0;
let done = 0;
let registered = 0;
let ending = false;

/** A REGISTER as a phone sends it, with credentials once it was asked for them. */
function message(account: Account): string {
  account.seq += 1;
  const { user, seq } = account;
  const uri = `sip:${work.host}`;
  let credentials = '';
  if (account.nonce) {
    account.nc += 1;
    credentials = `Authorization: ${answerChallenge(hexHash, account.nonce, { username: user, password: 'secret' }, { method: 'REGISTER', uri }, { nc: account.nc, cnonce: 'bench' })}\r\n`;
  }
  return `REGISTER ${uri} SIP/2.0\r\nVia: SIP/2.0/UDP 127.0.60.1:${port};branch=z9hG4bK${user}x${seq};rport\r\nMax-Forwards: 70\r\nFrom: <sip:${user}@${work.host}>;tag=b\r\nTo: <sip:${user}@${work.host}>\r\nCall-ID: ${user}\r\nCSeq: ${seq} REGISTER\r\nContact: <sip:${user}@127.0.60.1:${port}>\r\nExpires: 300\r\n${credentials}Content-Length: 0\r\n\r\n`;
}

const plain = Buffer.from('x'.repeat(600));
function send(): void {
  if (ending) return;
  const account = accounts[next % accounts.length]!;
  next += 1;
  socket.send(work.kind === 'echo' ? plain : Buffer.from(message(account), 'latin1'), work.port, work.host);
}

socket.on('message', (data) => {
  done += 1;
  if (work.kind === 'register') {
    const parsed = parseSip(data.toString('latin1'));
    if (parsed.ok && parsed.message.kind === 'response') {
      const account = accounts[Number(parsed.message.callId.slice(5))]!;
      if (parsed.message.status === 401) {
        account.nonce = parseChallenge(headersOf(parsed.message, 'WWW-Authenticate')[0] ?? '');
        account.nc = 0;
      } else if (parsed.message.status === 200) registered += 1;
    }
  }
  send();
});
socket.bind(0, '127.0.60.1', () => {
  port = socket.address().port;
  const began = performance.now();
  for (let i = 0; i < IN_FLIGHT; i += 1) send();
  setTimeout(() => {
    ending = true;
    const seconds = (performance.now() - began) / 1000;
    parentPort?.postMessage({ answered: done / seconds, registered: registered / seconds });
    socket.close();
  }, work.forMs);
});
