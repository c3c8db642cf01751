import { createServer, type AddressInfo, type Socket } from 'node:net';
import type { FromStandins, ToStandins } from '../../../standins/messages';
import { answerTo, GREETING, readFrames, sendFrame } from './frames';
import type { Begun, LinkHears, SharedState } from './link';

/** What servers that share a phone system say to each other. */
export type ToHolder =
  | { readonly kind: 'order'; readonly message: ToStandins }
  | { readonly kind: 'begun'; readonly begun: Begun }
  | { readonly kind: 'refresh'; readonly id: number; readonly force: boolean };
export type FromHolder =
  | { readonly kind: 'heard'; readonly message: FromStandins }
  | { readonly kind: 'state'; readonly state: SharedState }
  | { readonly kind: 'begun'; readonly begun: Begun }
  | { readonly kind: 'refreshed'; readonly id: number };

/** Servers of one machine at one phone system, and how long one has to greet, in ms. */
const MOST_OTHERS = 16;
const GREET_WITHIN_MS = 5000;

/** What another server may ask of the phone system; whoever runs it alone tells it what is live and answers it. */
const ORDERS: ReadonlySet<ToStandins['kind']> = new Set<ToStandins['kind']>([
  'live',
  'stop-live',
  'restart',
  'plug-in',
  'notify',
  'access-try',
  'way-try',
  'emergency-try',
  'round-sound',
  'round-call',
  'call-back',
  'press',
]);
/** Questions, and what one server alone sees to. */
const NOT_FOR_OTHERS: ReadonlySet<FromStandins['kind']> = new Set<FromStandins['kind']>([
  'code',
  'access',
  'access-hung-up',
  'pin',
  'emergency',
  'set-itself-up',
  'call-ladder',
  'overloaded',
  'log',
]);
export const isOrder = ({ kind }: ToStandins): boolean => ORDERS.has(kind);

/** What the phone system has said that still holds, for whoever comes later. */
export function whatHolds() {
  const holds = new Map<string, FromStandins>();
  const put = (key: string, message: FromStandins) => void holds.set(key, message);
  return {
    heard: (message: FromStandins): void => {
      switch (message.kind) {
        case 'ready':
        case 'relay':
          return put(message.kind, message);
        case 'registered':
          return put(`registered ${message.registration.user} ${message.registration.contact}`, message);
        case 'unregistered':
          return void holds.delete(`registered ${message.user} ${message.contact}`);
        case 'lamp':
          return put(`lamp ${message.endpoint}`, message);
        case 'messages-waiting':
          return put(`messages ${message.person}`, message);
        case 'way-lost':
          return put(`way ${message.lost.endpoint}`, message);
        case 'seat-held':
          if (message.at) put(`seat ${message.seat}`, message);
          else holds.delete(`seat ${message.seat}`);
          return;
        case 'call-began':
        case 'call-went-on':
        case 'call-settled':
          return put(`${message.kind} ${message.id}`, message);
        case 'call-over':
          for (const kind of ['call-began', 'call-went-on', 'call-settled'])
            holds.delete(`${kind} ${message.id}`);
          return;
        case 'call-out':
          if (message.at) put(`out ${message.id}`, message);
          else holds.delete(`out ${message.id}`);
          return;
        // What is over once it is said.
        case 'refused':
        case 'code':
        case 'access':
        case 'access-hung-up':
        case 'access-tried':
        case 'pin':
        case 'pressed':
        case 'emergency':
        case 'emergency-tried':
        case 'way-tried':
        case 'live-began':
        case 'live-went-on':
        case 'live-done':
        case 'live-failed':
        case 'call-back':
        case 'call-ladder':
        case 'round-called':
        case 'set-itself-up':
        case 'overloaded':
        case 'log':
          return;
      }
    },
    /** In the order in which it was said: a call begins before it goes on. */
    all: (): readonly FromStandins[] => [...holds.values()],
  };
}

/** Lets the other servers of this machine in to the phone system that this one runs. */
export async function openForOthers(
  token: string,
  hears: Pick<LinkHears, 'state' | 'begun' | 'refresh'>,
  send: (message: ToStandins) => void,
) {
  const holds = whatHolds();
  const inside = new Set<Socket>();
  const sockets = new Set<Socket>();
  const tell = (message: FromHolder, but?: Socket) => {
    for (const socket of inside) if (socket !== but) sendFrame(socket, message);
  };
  function asked(socket: Socket, message: ToHolder): void {
    if (message.kind === 'order') {
      if (isOrder(message.message)) send(message.message);
    } else if (message.kind === 'begun') {
      hears.begun(message.begun);
      tell(message, socket);
    } else
      void hears
        .refresh(message.force)
        .finally(() => sendFrame(socket, { kind: 'refreshed', id: message.id } satisfies FromHolder));
  }
  const server = createServer((socket) => {
    if (sockets.size >= MOST_OTHERS) return void socket.destroy();
    sockets.add(socket);
    const late = setTimeout(() => socket.destroy(), GREET_WITHIN_MS);
    socket.on('error', () => undefined);
    socket.on('close', () => {
      clearTimeout(late);
      sockets.delete(socket);
      inside.delete(socket);
    });
    readFrames(
      socket,
      GREETING.asks,
      (said) => {
        const answer = answerTo(said, token);
        if (!answer) return false;
        clearTimeout(late);
        socket.write(answer);
        sendFrame(socket, { kind: 'state', state: hears.state() } satisfies FromHolder);
        for (const message of holds.all()) sendFrame(socket, { kind: 'heard', message } satisfies FromHolder);
        inside.add(socket);
        return true;
      },
      (message) => asked(socket, message as ToHolder),
    );
  });
  await new Promise<void>((done, failed) => {
    server.once('error', failed);
    server.listen(0, '127.0.0.1', done);
  });
  return {
    port: (server.address() as AddressInfo).port,
    heard: (message: FromStandins): void => {
      holds.heard(message);
      if (inside.size > 0 && !NOT_FOR_OTHERS.has(message.kind)) tell({ kind: 'heard', message });
    },
    begun: (begun: Begun): void => tell({ kind: 'begun', begun }),
    close: (): void => {
      server.close();
      for (const socket of sockets) socket.destroy();
    },
  };
}
