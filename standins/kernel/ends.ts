import type { NetworkPhone, Server, Socket } from '../../core/estate';
import { buildStun, parseStun, xorAddress } from '../../core/wire/stun';
import { parseRtp, writeRtp } from '../../core/wire/rtp';
import {
  buildSip,
  header,
  parseNameAddr,
  parseSdp,
  parseSip,
  writeSdp,
  type SipMessage,
} from '../../core/wire/sip';
import { randomBytes } from 'node:crypto';
import { openStunClient, type StunClient } from '../turn';
import type { LabHost } from './lab';

/** Packets of the labs take less than a millisecond; a machine that is busy may take longer to read them. */
const WITHIN_MS = 1000;
/** Checks of ICE are many, and most of them are meant to be lost. */
const CHECK_WITHIN_MS = 500;
const ROUNDS = 3;
export const TURN_USER = { username: 'lab', password: 'a password of the lab' } as const;

interface Got {
  readonly port: number;
  readonly from: Socket;
  readonly data: Buffer;
}

/** The first packet that something can be made of, within a while; null: none came. */
function next<T>(
  host: LabHost,
  read: (got: Got) => T | null,
  act: () => void,
  withinMs = WITHIN_MS,
): Promise<T | null> {
  return new Promise((resolve) => {
    const done = (value: T | null) => {
      clearTimeout(timer);
      deafen();
      resolve(value);
    };
    const timer = setTimeout(() => done(null), withinMs);
    const deafen = host.hear((got) => {
      const value = read(got);
      if (value !== null) done(value);
    });
    act();
  });
}

const sipAt = ({ data }: Got): SipMessage | null => {
  const parsed = parseSip(data.toString('latin1'));
  return parsed.ok ? parsed.message : null;
};
const socketOfContact = (message: SipMessage): Socket | null => {
  const uri = parseNameAddr(header(message, 'Contact') ?? '')?.uri;
  return uri ? { address: uri.host, port: uri.port ?? 5060 } : null;
};
const bytesOf = (text: string) => Buffer.from(text, 'latin1');

/** One phone and its server at the ends of a lab, as their settings have them: real SIP, SDP, RTP, STUN and TURN. */
export class Pair {
  private contact: Socket | null = null;
  private advertised: Socket = { address: '', port: 0 };
  private calls = 0;
  private readonly clients = new Map<number, StunClient>();

  constructor(
    private readonly phoneHost: LabHost,
    private readonly phone: NetworkPhone,
    private readonly serverHost: LabHost,
    private readonly server: Server,
    private readonly stun: Socket | null,
    private readonly turn: Socket | null,
  ) {}

  async open(): Promise<void> {
    const { phone, server } = this;
    for (const port of [phone.signalPort, phone.rtpPort]) await this.phoneHost.bind(port);
    for (const port of [server.port, server.mediaPort]) await this.serverHost.bind(port);
    // A server answers and a phone rings whenever they are asked; checks of ICE are answered at once.
    this.serverHost.hear((got) => this.atServer(got));
    this.phoneHost.hear((got) => {
      if (got.port === phone.rtpPort) this.answerCheck(this.phoneHost, got);
      this.clients.get(got.port)?.receive(got.data);
    });
  }

  /** STUN from one of the phone's ports, or TURN where credentials are asked for. */
  private client(port: number, to: Socket): StunClient {
    const client = openStunClient({
      send: (bytes) => this.phoneHost.send(port, to, bytes),
      credentials: TURN_USER,
      firstPauseMs: 300,
      times: 2,
      onData: (data, peer) => this.onRelayed(Buffer.from(data), peer),
    });
    this.clients.set(port, client);
    return client;
  }
  private onRelayed: (data: Buffer, from: Socket) => void = () => undefined;

  private learns(): boolean {
    return ['stun', 'ice', 'turn'].includes(this.phone.method);
  }
  private async learn(port: number): Promise<Socket | null> {
    const at = this.stun ?? this.turn;
    return at && this.learns() ? this.client(port, at).mapped() : null;
  }
  private async signalling(): Promise<Socket> {
    const { phone } = this;
    const own = { address: phone.address, port: phone.signalPort };
    if (phone.method === 'manual-public-address' && phone.manual)
      return { address: phone.manual.address, port: phone.manual.signalPort };
    return (await this.learn(phone.signalPort)) ?? own;
  }
  private async media(): Promise<Socket> {
    const { phone } = this;
    if (phone.method === 'manual-public-address' && phone.manual)
      return { address: phone.manual.address, port: phone.manual.rtpPort };
    return (await this.learn(phone.rtpPort)) ?? { address: phone.address, port: phone.rtpPort };
  }

  private message(method: string, contact: Socket, callId: string, body = ''): Buffer {
    const { phone, server } = this;
    return bytesOf(
      buildSip({
        method,
        uri: `sip:${server.public}`,
        headers: [
          [
            'Via',
            `SIP/2.0/UDP ${contact.address}:${contact.port};branch=z9hG4bK${callId}${phone.rport ? ';rport' : ''}`,
          ],
          ['Max-Forwards', '70'],
          ['From', '<sip:lab@lab.invalid>;tag=phone'],
          ['To', '<sip:lab@lab.invalid>'],
          ['Call-ID', callId],
          ['CSeq', `1 ${method}`],
          ['Contact', `<sip:lab@${contact.address}:${contact.port}>`],
          ...(body === '' ? [] : [['Content-Type', 'application/sdp'] as const]),
        ],
        body,
      }),
    );
  }

  /** What the server does with what comes to its signalling port. */
  private atServer(got: Got): void {
    const { server } = this;
    if (got.port === server.mediaPort) return this.answerCheck(this.serverHost, got);
    const message = got.port === server.port ? sipAt(got) : null;
    if (message?.kind !== 'request' || message.method === 'ACK') return;
    const advertised = socketOfContact(message);
    if (message.method === 'REGISTER') this.contact = server.contactFromSource ? got.from : advertised;
    const isBySource = server.answersToSource || (header(message, 'Via') ?? '').includes('rport');
    const to = isBySource || !advertised ? got.from : { address: got.from.address, port: advertised.port };
    const own = { address: server.knowsPublic ? server.public : server.address, port: server.mediaPort };
    const body = message.body === '' ? '' : writeSdp({ ...own, codecs: [0], eventType: 101 }, own.port);
    const answer = buildSip({
      status: 200,
      headers: [
        ['Via', header(message, 'Via') ?? ''],
        ['From', header(message, 'From') ?? ''],
        ['To', `${header(message, 'To') ?? ''};tag=server`],
        ['Call-ID', message.callId],
        ['CSeq', `1 ${message.method}`],
        ...(body === '' ? [] : [['Content-Type', 'application/sdp'] as const]),
      ],
      body,
    });
    this.serverHost.send(server.port, to, bytesOf(answer));
  }

  private serverAt(port: number): Socket {
    return { address: this.server.public, port };
  }

  /** Sends a request from the signalling port. @returns its answer; null: it or the answer was lost */
  private ask(method: string, contact: Socket, body = ''): Promise<SipMessage | null> {
    this.calls += 1;
    const callId = `${method}${this.phone.signalPort}x${this.calls}`;
    return next(
      this.phoneHost,
      (got) => {
        const message = got.port === this.phone.signalPort ? sipAt(got) : null;
        return message?.kind === 'response' && message.callId === callId ? message : null;
      },
      () =>
        this.phoneHost.send(
          this.phone.signalPort,
          this.serverAt(this.server.port),
          this.message(method, contact, callId, body),
        ),
    );
  }

  /** Learns what it advertises: just before it registers. */
  async prepare(): Promise<void> {
    this.advertised = await this.signalling();
  }
  /** A new registration: nothing is kept of those before. */
  async register(): Promise<boolean> {
    this.contact = null;
    const isAnswered = (await this.ask('REGISTER', this.advertised)) !== null;
    if (!isAnswered) this.contact = null;
    return isAnswered;
  }
  /** Learns anew, keeps alive, and registers again where what it learned has changed. */
  async keepAlive(): Promise<void> {
    const before = this.advertised;
    await this.prepare();
    this.phoneHost.send(this.phone.signalPort, this.serverAt(this.server.port), bytesOf('\r\n\r\n'));
    if (before.port !== this.advertised.port || before.address !== this.advertised.address)
      await this.register();
  }

  /** A call comes in: whether its INVITE arrives at the phone. */
  async rings(): Promise<boolean> {
    const { contact, server, phone } = this;
    if (!contact) return false;
    this.calls += 1;
    const callId = `ring${phone.signalPort}x${this.calls}`;
    const invite = this.message('INVITE', this.serverAt(server.port), callId);
    const rang = await next(
      this.phoneHost,
      (got) => (got.port === phone.signalPort && got.data.includes(callId) ? true : null),
      () => this.serverHost.send(server.port, contact, invite),
    );
    return rang === true;
  }

  private answerCheck(host: LabHost, got: Got): void {
    const message = parseStun(got.data);
    if (message?.kind !== 'request' || message.method !== 'binding') return;
    const attributes = [['xorMappedAddress', xorAddress(got.from)]] as const;
    host.send(
      got.port,
      got.from,
      buildStun({ method: 'binding', kind: 'success', transaction: message.transaction, attributes }),
    );
  }
  /** Whether a check from a port comes through, and its answer home. */
  private async check(host: LabHost, port: number, to: Socket): Promise<boolean> {
    const transaction = randomBytes(12);
    const bytes = buildStun({ method: 'binding', kind: 'request', transaction });
    const answered = await next(
      host,
      (got) => {
        const message = got.port === port ? parseStun(got.data) : null;
        return message?.kind === 'success' && transaction.equals(message.transaction) ? true : null;
      },
      () => host.send(port, to, bytes),
      CHECK_WITHIN_MS,
    );
    return answered === true;
  }

  /** Sound both ways in a call that the phone places, and whether its ACK arrives. */
  async sound(): Promise<{ soundOut: boolean; soundIn: boolean; staysUp: boolean }> {
    const none = { soundOut: false, soundIn: false, staysUp: false };
    const { phone, server } = this;
    await this.prepare();
    await this.register();
    const contact = this.advertised;
    let media = await this.media();
    let relay: StunClient | null = null;
    if (phone.method === 'turn') {
      if (!this.turn) return none;
      relay = this.client(phone.rtpPort, this.turn);
      const made = await relay.allocate();
      if (!made.ok) return none;
      media = made.value.relayed;
    }
    const sdp = writeSdp({ ...media, codecs: [0], eventType: 101 }, media.port);
    const answer = await this.ask('INVITE', contact, sdp);
    const far = answer && parseSdp(answer.body);
    if (!far) return none;
    const to = { address: far.address, port: far.port };
    if (relay) await relay.permit(to);
    const staysUp = await this.acknowledge(contact);
    if (phone.method === 'ice' && server.ice) {
      const works = await this.iceWorks([{ address: phone.address, port: phone.rtpPort }, media], to);
      return { soundOut: works, soundIn: works, staysUp };
    }
    let latest: Socket | null = null;
    let rounds = { soundOut: false, soundIn: false };
    for (let round = 0; round < ROUNDS; round += 1) {
      const heard = await this.outward(relay, to, round);
      if (heard) latest = heard;
      const back: Socket = server.latches && latest ? latest : media;
      rounds = { soundOut: heard !== null, soundIn: await this.inward(relay, back, round) };
    }
    return { ...rounds, staysUp };
  }
  private async acknowledge(contact: Socket): Promise<boolean> {
    this.calls += 1;
    const callId = `ACK${this.phone.signalPort}x${this.calls}`;
    const arrived = await next(
      this.serverHost,
      (got) => (got.port === this.server.port && got.data.includes(callId) ? true : null),
      () =>
        this.phoneHost.send(
          this.phone.signalPort,
          this.serverAt(this.server.port),
          this.message('ACK', contact, callId),
        ),
    );
    return arrived === true;
  }
  private packet(what: string, round: number): Uint8Array {
    const payload = Buffer.from(`${what} ${this.phone.rtpPort} ${round}`);
    return writeRtp({
      payloadType: 0,
      marker: false,
      sequence: round,
      timestamp: round * 160,
      source: 1,
      payload,
    });
  }
  private isPacket(data: Buffer, what: string, round: number): boolean {
    const packet = parseRtp(data);
    return (
      packet !== null && Buffer.from(packet.payload).toString() === `${what} ${this.phone.rtpPort} ${round}`
    );
  }
  /** @returns from where it arrived */
  private outward(relay: StunClient | null, to: Socket, round: number): Promise<Socket | null> {
    return next(
      this.serverHost,
      (got) =>
        got.port === this.server.mediaPort && this.isPacket(got.data, 'out', round) ? got.from : null,
      () => {
        const bytes = this.packet('out', round);
        if (relay) relay.sendTo(to, bytes);
        else this.phoneHost.send(this.phone.rtpPort, to, bytes);
      },
    );
  }
  private async inward(relay: StunClient | null, to: Socket, round: number): Promise<boolean> {
    let relayed: (is: boolean) => void = () => undefined;
    const byRelay = new Promise<boolean>((resolve) => (relayed = resolve));
    this.onRelayed = (data) => {
      if (this.isPacket(data, 'in', round)) relayed(true);
    };
    const straight = next(
      this.phoneHost,
      (got) => (got.port === this.phone.rtpPort && this.isPacket(got.data, 'in', round) ? true : null),
      () => this.serverHost.send(this.server.mediaPort, to, this.packet('in', round)),
    ).then((is) => is === true);
    return relay ? Promise.race([byRelay, straight]) : straight;
  }
  /** Checks of ICE over the phone's candidates, in order; each three times from both sides. */
  private async iceWorks(candidates: readonly Socket[], to: Socket): Promise<boolean> {
    for (const candidate of candidates)
      for (let round = 0; round < ROUNDS; round += 1) {
        const there = await this.check(this.phoneHost, this.phone.rtpPort, to);
        const back = await this.check(this.serverHost, this.server.mediaPort, candidate);
        if (there || back) return true;
      }
    return false;
  }
}
