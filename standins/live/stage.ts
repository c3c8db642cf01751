import { compareTraces, worldOf, type Departure } from '../../core/calls/live';
import type { Ms } from '../../core/estate';
import { finderOf, sliceFor } from '../../core/editing';
import {
  endpointTitle,
  knownEndpoint,
  runCall,
  type Call,
  type EndpointBehaviour,
  type EstateIndex,
  type KnownEndpoint,
  type Trace,
} from '../../core/calls/engine';
import { placeCall, type CallerSaw, type Placed } from '../phones/caller';
import { openPhone, type Phone } from '../phones/phone';
import type { Manner } from '../phones/answering';
import { clockAt, type Clock } from '../sip/clock';
import type { Carried } from '../sip/node';
import { newToken } from '../sip/token';
import type { Peer } from '../sip/transport';
import { openSystem, type PhoneSystem, type SoundHeard, type SystemEvent } from '../system';

/** A call that was placed for real over stand-ins of its own, beside what the model said. */
export interface LiveResult {
  readonly predicted: Trace;
  readonly seen: Trace;
  readonly departures: readonly Departure[];
  readonly toleranceMs: Ms;
  /** Every SIP message as the phone system sent or got it; times in ms of the call's clock since it arrived. */
  readonly carried: readonly Carried[];
  readonly sound: SoundHeard;
  readonly caller: CallerSaw;
  /** Who each address is. */
  readonly names: Readonly<Record<string, string>>;
}

export interface LiveOptions {
  readonly index: EstateIndex;
  readonly call: Call;
  /** How many ms of the call go by in one real ms. */
  readonly speed?: number;
  /** How far a moment may be off, in real ms. */
  readonly toleranceRealMs?: number;
  /** The trace so far, whenever something has happened. */
  readonly onProgress?: (trace: Trace, atMs: Ms) => void;
  /** Aborts the try: everything is taken down. */
  readonly signal?: AbortSignal;
}

/** How far a moment of a live call may be off and still count as predicted, in real ms. */
export const TOLERANCE_REAL_MS = 60;

const SYSTEM = '127.0.30.1';
const CARRIER = '127.0.30.2';
const CALLER = '127.0.30.3';
/** Phones have an address each, from 127.0.31.1 on. */
const phoneAddress = (nth: number) => `127.0.${31 + Math.floor(nth / 250)}.${1 + (nth % 250)}`;

const NOBODY: readonly string[] = [];

/** The endpoints that this call could come to, however it goes. */
function endpointsFor(index: EstateIndex, call: Call, predicted: Trace): readonly KnownEndpoint[] {
  const destination = index.destinations.get(call.to);
  const start =
    destination?.kind === 'line'
      ? { person: destination.person.id }
      : destination?.kind === 'group'
        ? { group: destination.group.id }
        : destination?.kind === 'menu'
          ? { menu: destination.menu.id }
          : null;
  const ids = start
    ? sliceFor(index.estate, finderOf(index.estate), start).people.flatMap(({ endpoints }) =>
        endpoints.map(({ id }) => id),
      )
    : NOBODY;
  const atSeats = Object.values(call.world?.seats ?? {}).flatMap(({ at }) =>
    at && 'endpoint' in at ? [at.endpoint] : [],
  );
  const bare = [
    ...predicted.legs.map(({ endpoint }) => endpoint),
    ...Object.keys(call.world?.endpoints ?? {}),
  ].filter((id) => !index.endpoints.has(id) && !index.seats.has(id) && !id.startsWith('+'));
  return [
    ...[...new Set([...ids, ...atSeats])].flatMap((id) => index.endpoints.get(id) ?? []),
    ...[...new Set(bare)].map((uri) => knownEndpoint({ id: uri, label: uri, kind: 'sip', uri }, null)),
  ];
}

const says = (known: KnownEndpoint) => `hello from ${known.endpoint.label}`.slice(0, 100);

/** Places a call in a small world of its own: a phone system, a carrier, a caller and every phone it could come to. */
export async function runLive(options: LiveOptions): Promise<LiveResult> {
  const { index, call, speed = 1, onProgress, signal } = options;
  const toleranceMs = Math.ceil((options.toleranceRealMs ?? TOLERANCE_REAL_MS) * speed);
  const predicted = runCall(index, call);
  const clock = clockAt(speed);
  const opened: { readonly close: () => Promise<void> }[] = [];
  try {
    return await play();
  } finally {
    await Promise.all(opened.map((each) => each.close()));
  }

  async function play(): Promise<LiveResult> {
    const behaviourOf = (id: string): EndpointBehaviour => call.world?.endpoints?.[id] ?? {};
    const world = worldOf(index, call);
    const known = endpointsFor(index, call, predicted);
    const registering = known.filter((each) => each.number === null);
    const users = new Map(registering.map((each, i) => [each.endpoint.id, `phone${i}`]));
    const passwords = new Map([...users.values(), 'carrier'].map((user) => [user, newToken(18)]));
    const endpointOf = new Map([...users].map(([id, user]) => [user, id]));
    const names: Record<string, string> = {
      [SYSTEM]: 'Phone system',
      [CARRIER]: 'Carrier',
      [CALLER]: 'Caller',
    };
    const pin = '8642';
    const carried: Carried[] = [];
    const sleepers = new Map<string, () => void>();
    let beganMs = 0;
    let seen: Trace | null = null;
    let sound: SoundHeard = { fromCaller: 0, fromCalled: 0 };
    let isOver: () => void = () => undefined;
    const over = new Promise<void>((resolve) => (isOver = resolve));

    const carrier = await openCarrier(known, clock, behaviourOf, pin);
    opened.push(carrier);
    const system: PhoneSystem = await openSystem({
      address: SYSTEM,
      port: 0,
      transports: ['udp'],
      estate: () => index,
      account: (user) => {
        const password = passwords.get(user);
        return password === undefined ? null : { user, password, endpoint: endpointOf.get(user) ?? null };
      },
      userOf: (endpoint) => users.get(endpoint) ?? '',
      carrier: carrier.node.transport.local.udp,
      clock,
      at: () => call.at,
      insideByTrunk: true,
      ...(call.arrival ? { arrival: call.arrival } : {}),
      world: {
        ...(call.world?.trunkUse ? { trunkUse: call.world.trunkUse } : {}),
        ...(call.world?.activeCalls ? { activeCalls: call.world.activeCalls } : {}),
        ...(call.world?.groupLast ? { groupLast: call.world.groupLast } : {}),
        ...(call.world?.idleMs ? { idleMs: call.world.idleMs } : {}),
        ...(call.world?.seats ? { seats: call.world.seats } : {}),
      },
      pins: {
        isSet: () => Promise.resolve(true),
        check: (_person, typed) => Promise.resolve(typed === pin ? 'right' : 'wrong'),
      },
      wake: (pushId) => sleepers.get(pushId)?.(),
      onEvent,
      onCarried: (message) => carried.push(message),
    });
    opened.push(system);

    function onEvent(event: SystemEvent): void {
      switch (event.kind) {
        case 'call-began':
          beganMs = clock.now();
          return;
        case 'call-went-on':
          return onProgress?.(event.trace, event.atMs);
        case 'call-settled':
          seen = event.trace;
          return;
        case 'call-over':
          sound = event.sound;
          isOver();
          return;
        case 'call-out':
        case 'messages-waiting':
        case 'seat-held':
        case 'call-ladder':
        case 'registration':
      }
    }

    const server = system.node.transport.local.udp;
    await Promise.all(
      registering.map(async (each, i) => {
        const { id } = each.endpoint;
        const behaviour = behaviourOf(id);
        const address = phoneAddress(i);
        names[address] = endpointTitle(each);
        const manner: Manner = { behaviour, times: each.times, isPublic: false, says: says(each), pin };
        const phone = await openPhone({ address, clock, manner: () => manner });
        opened.push(phone);
        if (!world.isRegistered(id, 0)) return;
        await settle(phone, each, behaviour, users.get(id)!, passwords.get(users.get(id)!)!, server);
      }),
    );

    /** Registers a phone; an app that sleeps says how it can be woken, and does so when it is. */
    async function settle(
      phone: Phone,
      each: KnownEndpoint,
      behaviour: EndpointBehaviour,
      user: string,
      password: string,
      to: Peer,
    ): Promise<void> {
      const sleeps = behaviour.state === 'asleep' && each.endpoint.kind === 'mobile-app';
      const pushId = sleeps ? newToken() : null;
      if (pushId !== null)
        sleepers.set(pushId, () => {
          sleepers.delete(pushId);
          clock.after(each.times.wakeMs, () => void phone.register({ user, password }, to));
        });
      const done = await phone.register({ user, password }, to, { pushId });
      if (!done.ok) throw new Error(`${each.endpoint.label} could not register: ${done.status}`);
    }

    const caller = await openPhone({ address: CALLER, clock, manner: () => null });
    opened.push(caller);
    carried.length = 0;
    const placed: Placed = await placeCall({
      phone: caller,
      clock,
      account: { user: 'carrier', password: passwords.get('carrier')! },
      server,
      from: call.from,
      to: call.to,
      presses: call.world?.presses,
      code: call.world?.code,
      patienceMs: call.patienceMs ?? null,
    });
    const stop = () => placed.hangUp();
    signal?.addEventListener('abort', stop);
    if (signal?.aborted) stop();
    const saw = await placed.over;
    if (saw.status !== 403 && saw.status !== 503) await over;
    signal?.removeEventListener('abort', stop);
    const trace = seen ?? predicted;
    return {
      predicted,
      seen: trace,
      departures: compareTraces(predicted, trace, toleranceMs),
      toleranceMs,
      carried: carried.map((each) => ({ ...each, atMs: Math.round(each.atMs - beganMs) })),
      sound,
      caller: saw,
      names,
    };
  }
}

/** The carrier: every public number is a phone behind it. */
function openCarrier(
  known: readonly KnownEndpoint[],
  clock: Clock,
  behaviourOf: (id: string) => EndpointBehaviour,
  pin: string,
): Promise<Phone> {
  const byNumber = new Map<string, KnownEndpoint>();
  for (const each of known)
    if (each.number !== null && !byNumber.has(each.number)) byNumber.set(each.number, each);
  return openPhone({
    address: CARRIER,
    clock,
    manner: (number) => {
      const each =
        byNumber.get(number) ?? knownEndpoint({ id: number, label: number, kind: 'mobile', number }, null);
      return {
        behaviour: behaviourOf(each.endpoint.id),
        times: each.times,
        isPublic: true,
        says: says(each),
        pin,
      };
    },
  });
}
