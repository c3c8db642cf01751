import { NO_MESSAGES } from '../core/wire/sip';
import { deskEndpoint, deskOfEndpoint } from '../core/desks';
import { emptyEstate } from '../core/editing';
import { compileEstate, withPeople, type EstateIndex } from '../core/calls/engine';
import { isoIn } from '../core/calls/time';
import { seatsNow, type SeatOn } from '../core/seats';
import { soundName, type AccountOf, type PhoneSetting } from './messages';
import { placeCall } from './phones/caller';
import { openPhone } from './phones/phone';
import { setItselfUp, type ProvisioningOrder } from './phones/provisioning';
import { clockAt } from './sip/clock';
import {
  deskPhone,
  openedFor,
  openStandIn,
  phoneAddresses,
  registrationOf,
  someAtATime,
  wantedPhones,
  type StandIn,
} from './town-phones';
import { townHomes } from './town-homes';
import { ACCESS_CALLER, openAccessTries } from './access-try';
import { openEmergency } from './emergency-try';
import { deskStarts } from './town-starts';
import { townEvents } from './town-events';
import { atCarrier, townBacks } from './town-backs';
import { partyNames } from './town-parties';
import { townRounds } from './town-rounds';
import { holdsPhones } from './held-seats';
import {
  openSystem,
  type Binding,
  type CodeReply,
  type EmergencyAnswer,
  type PhoneSystem,
  type SystemEvent,
} from './system';
import type { TownOptions } from './town-options';
import type { Town } from './town-types';

export type { Town } from './town-types';

export const SYSTEM_ADDRESS = '127.0.0.1';
export const REALM = 'hostler';
const CARRIER_ADDRESS = '127.0.50.2';
const MOST_PHONES = 600;

const NOTHING_KNOWN = (): Promise<EmergencyAnswer> => Promise.resolve({ callerId: null, pidf: null });
/** How long a phone listens to a code at most. */
const LONGEST_CODE_MS = 20_000;

/** Opens the phone system and the carrier; phones come once the estate and the accounts are known. */
export async function openTown(options: TownOptions): Promise<Town> {
  const { tell } = options;
  const clock = clockAt();
  let index: EstateIndex | null = null;
  let accounts = new Map<string, AccountOf>();
  let settings = new Map<string, PhoneSetting>();
  let seats: readonly SeatOn[] = [];
  const phones = new Map<string, StandIn>();
  const sleepers = new Map<string, () => void>();
  const provisionings = new Map<string, ProvisioningOrder>();
  const starting = deskStarts({
    clock,
    estate: () => index?.estate,
    forMs: options.restartsForMs,
    takeDown: (endpoint) => takeDown(endpoint),
    comesBack: (endpoint) => {
      const order = provisionings.get(endpoint);
      return then(() => (order ? provisioning(order) : match()));
    },
  });
  /** Phones that have just asked for their settings. */
  const asking = new Set<string>();
  const stopping = new AbortController();
  const addresses = phoneAddresses();
  const rounds = townRounds(tell);
  const backs = townBacks(tell);
  let queue: Promise<void> = Promise.resolve();
  let closed = false;

  const carrier = await openPhone({
    address: CARRIER_ADDRESS,
    clock,
    manner: (number, asked) => {
      if (backs.isTheirs(number)) accessTries.carried(number, asked);
      return atCarrier(number, {
        known: [...(index?.endpoints.values() ?? [])].find((each) => each.number === number) ?? null,
        settingOf: (endpoint) => settings.get(endpoint),
        isListed: rounds.isListed,
        backs,
      });
    },
  });

  const emergency = await openEmergency(clock);
  const accessTries = await openAccessTries(clock);
  const { onAccess, onCode } = options;
  /** Whoever is called then is there. */
  const expecting = async (reply: Promise<CodeReply>): Promise<CodeReply> => {
    const { dials } = await reply;
    if (dials) backs.expect(dials.number);
    return reply;
  };
  const endpointOf = (user: string) => accounts.get(user)?.endpoint ?? null;
  const homes = townHomes({
    seconds: options.routersTime ?? (() => clock.now() / 1000),
    system: () => system,
    tls: options.tls,
    onLost: (lost) => tell({ kind: 'way-lost', lost }),
  });
  /** The phone of an account: whoever is signed on at it. */
  const phoneOf = (user: string): string | null => {
    const desk = accounts.get(user)?.desk;
    return desk === undefined ? endpointOf(user) : deskEndpoint(desk);
  };
  const registrationFor = (binding: Binding) =>
    registrationOf(binding, endpointOf(binding.user), homes.seenAt(binding.from));
  const userOf = (endpoint: string) =>
    [...accounts.values()].find((each) => each.endpoint === endpoint)?.user ?? '';
  const emptyIndex = compileEstate(emptyEstate());

  const system: PhoneSystem = await openSystem({
    address: SYSTEM_ADDRESS,
    port: options.port,
    transports: options.tls ? ['udp', 'tcp', 'tls'] : ['udp', 'tcp'],
    ...(options.tls ? { tls: options.tls } : {}),
    realm: REALM,
    estate: () => index ?? emptyIndex,
    account: (user) => emergency.account(user) ?? accessTries.account(user) ?? accounts.get(user) ?? null,
    userOf,
    mannerTo: (user) => homes.mannerTo(phoneOf(user)),
    answersToSource: homes.answersToSource,
    carrier: carrier.node.transport.local.udp,
    emergency: { desk: emergency.place, known: options.placeOf ?? NOTHING_KNOWN },
    clock,
    at: () => isoIn(Date.now(), index?.estate.timeZone ?? 'UTC'),
    ...(onCode ? { onCode: (dialled) => expecting(onCode(dialled)) } : {}),
    ...(onAccess ? { onAccess: (called) => expecting(onAccess(called)) } : {}),
    ...(options.onAccessHungUp ? { onAccessHungUp: options.onAccessHungUp } : {}),
    ...(options.pins ? { pins: options.pins } : {}),
    ...(options.keep ? { keep: options.keep } : {}),
    wake: (pushId) => sleepers.get(pushId)?.(),
    soundOf: (recording) => rounds.soundOf(soundName(recording)),
    seats: () => seatsNow(index?.estate ?? {}, seats, Date.now()),
    onEvent,
    log: (line) => tell({ kind: 'log', line }),
    onShed: (times) => tell({ kind: 'overloaded', times }),
  });
  const hold = holdsPhones(system, backs);
  tell({
    kind: 'ready',
    local: system.node.transport.local,
    realm: REALM,
    wanted: options.wanted ?? options.port,
  });

  const places = { [CARRIER_ADDRESS]: 'Carrier', [ACCESS_CALLER]: 'Caller' };
  const heardOf = townEvents(tell, registrationFor, (ladder) =>
    partyNames(ladder, system, places, index, endpointOf),
  );
  function onEvent(event: SystemEvent): void {
    if (event.kind === 'call-settled') emergency.settled(event.id, event.trace);
    accessTries.told(event);
    heardOf(event);
  }

  const keyOf = (id: string, account: AccountOf) =>
    openedFor(account, settings.get(id), index && homes.keyOf(index, id));

  /** Brings up, changes or takes down each phone that is not as it should be. */
  async function match(): Promise<void> {
    if (closed || !index || accounts.size === 0) return;
    const wanted = wantedPhones(index, accounts, settings, options.mostPhones ?? MOST_PHONES);
    const changed = [...phones].filter(([id, { key }]) => {
      const account = wanted.get(id);
      return !account || keyOf(id, account) !== key;
    });
    await someAtATime(changed, ([id]) => takeDown(id));
    const missing = [...wanted].filter(([id]) => !phones.has(id) && !starting.has(id));
    await someAtATime(missing, ([id, account]) => bring(id, account, keyOf(id, account)));
    await homes.closeOld(phones.keys());
  }

  async function takeDown(id: string): Promise<void> {
    const standIn = phones.get(id);
    if (!standIn) return;
    phones.delete(id);
    tell({ kind: 'lamp', endpoint: id, waiting: NO_MESSAGES });
    // One that is switched off says nothing: it is missed when its registration runs out.
    await standIn.leave(settings.get(id)?.does === 'off');
    addresses.free(id);
  }

  /** The account of a phone: of a shared desk’s its own, whoever is signed on there. */
  const accountFor = (id: string): AccountOf | undefined =>
    [...accounts.values()].find(({ desk }) => desk !== undefined && deskEndpoint(desk) === id) ??
    accounts.get(userOf(id));

  /** A phone with its account, once what is under way is done; null: it is not there. */
  async function phoneAt(
    endpoint: string,
  ): Promise<(Pick<StandIn, 'phone' | 'server'> & { account: AccountOf }) | null> {
    await queue;
    const account = accountFor(endpoint);
    const there = phones.get(account?.desk === undefined ? endpoint : deskEndpoint(account.desk));
    return there && account ? { phone: there.phone, server: there.server, account } : null;
  }

  async function bring(id: string, account: AccountOf, key: string): Promise<void> {
    const known = account.desk === undefined ? index?.endpoints.get(id) : deskPhone(index, account.desk);
    if (!known) return;
    const home = index && (await homes.wayOf(index, id));
    const standIn = await openStandIn({
      known,
      clock,
      key,
      home,
      server: system.node.transport.local.udp,
      account,
      setting: () => settings.get(id),
      address: () => addresses.of(id),
      onProfile: () => {
        const order = provisionings.get(id);
        if (order) void then(() => provisioning(order));
      },
      onMessages: (waiting) => tell({ kind: 'lamp', endpoint: id, waiting }),
    });
    phones.set(id, standIn);
    if (standIn.pushId !== null) sleepers.set(standIn.pushId, standIn.wake);
    await standIn.register();
    // Somebody may have signed on or off at a shared desk while its phone was away.
    const order = account.desk === undefined || asking.has(id) ? undefined : provisionings.get(id);
    if (order) void then(() => provisioning(order));
  }

  /** A phone asks for its settings and registers with what it is given. */
  async function provisioning(order: ProvisioningOrder): Promise<void> {
    const { endpoint } = order;
    const told = await setItselfUp(order, {
      from: addresses.of(endpoint),
      signal: stopping.signal,
      onStep: (says) => tell({ kind: 'log', line: `${endpoint} ${says}` }),
    });
    tell({ kind: 'set-itself-up', endpoint, ok: told.ok, why: told.ok ? null : told.why });
    // One that does not get them goes on with what it has.
    if (!told.ok) return match();
    const { typed: _typed, ...rest } = order;
    provisionings.set(endpoint, { ...rest, firmware: told.firmware, settings: told.settings });
    const [line] = told.settings.accounts;
    const before = phones.get(endpoint);
    if (!line) return;
    settings.delete(endpoint);
    const desk = deskOfEndpoint(endpoint);
    if (desk !== null) {
      if (told.settings.restart) return starting.again(endpoint, desk);
      asking.add(endpoint);
      await match().finally(() => asking.delete(endpoint));
      return phones.get(endpoint) === before ? before?.phone.refresh() : undefined;
    }
    const account: AccountOf = { user: line.user, password: line.password, endpoint };
    const key = keyOf(endpoint, account);
    if (before?.key === key && !told.settings.restart) return before.phone.refresh();
    await takeDown(endpoint);
    await bring(endpoint, account, key);
  }

  /** Tells a phone that its settings have changed: a shared desk’s as that of whoever is signed on. */
  const notify = (id: string): void => system.notifyProfile(accountFor(id)?.endpoint ?? id);

  /** Somebody signed on or off at a shared desk: its phone gets what is theirs. */
  async function takenUp(desk: string): Promise<void> {
    const id = deskEndpoint(desk);
    if (provisionings.has(id)) return notify(id);
    await starting.again(id, desk);
  }

  /** One change after the other, each whole. */
  const then = (act: () => Promise<void>): Promise<void> => {
    queue = queue.then(act).catch((error: unknown) => {
      tell({ kind: 'log', line: error instanceof Error ? error.message : String(error) });
    });
    return queue;
  };

  return {
    index: () => index,
    plugIn: (order) =>
      then(async () => {
        await takeDown(order.endpoint);
        await provisioning(order);
      }),
    setProvisioned: (orders) => {
      for (const order of orders) {
        if (provisionings.has(order.endpoint)) continue;
        provisionings.set(order.endpoint, order);
        // Somebody may have signed on or off while it was away.
        if (deskOfEndpoint(order.endpoint) !== null) void then(() => provisioning(order));
      }
    },
    notify: (endpoints) => {
      for (const endpoint of endpoints) notify(endpoint);
    },
    press: async ({ endpoint, code, typed }) => {
      const at = await phoneAt(endpoint);
      if (!at) return null;
      const placed = await placeCall({
        ...at,
        clock,
        from: at.account.user,
        to: code,
        answers: typed,
        talkMs: LONGEST_CODE_MS,
      });
      return (await placed.over).heard;
    },
    tryEmergency: async ({ endpoint, number }) => {
      const at = await phoneAt(endpoint);
      return at && emergency.tryAt({ ...at, number, system: system.node.transport.local.udp });
    },
    tryAccess: (order) => {
      if (order.from !== null && order.hangsUp) backs.willType(order.from, order.typed);
      return accessTries.tryIt(order, system.node.transport.local.udp);
    },
    restart: (endpoints) =>
      then(async () => {
        await someAtATime(endpoints, takeDown);
        await match();
      }),
    // Calls go by it from now on; the phones follow once what is under way is done.
    setEstate: (estate) => {
      index = compileEstate(estate);
      hold(closed ? null : index, seats);
      return then(match);
    },
    setPeople: (people) => {
      if (index) index = withPeople(index, people);
      return then(match);
    },
    setAccounts: (given) =>
      then(async () => {
        const before = accounts;
        accounts = new Map(given.map((each) => [each.user, each]));
        for (const [user, { password }] of before)
          if (accounts.get(user)?.password !== password) system.forget(user);
        // Whose a shared desk’s phone is has changed, and its registration with it.
        for (const binding of system.allBindings())
          if (before.get(binding.user)?.endpoint !== endpointOf(binding.user))
            tell({
              kind: 'registered',
              registration: registrationFor(binding),
            });
        for (const { desk, user } of given)
          if (desk !== undefined && before.has(user) && before.get(user)?.endpoint !== endpointOf(user))
            await takenUp(desk);
        system.tellMessages();
        await match();
      }),
    setSeats: (given) => {
      seats = given;
      hold(closed ? null : index, seats);
    },
    setSound: rounds.setSound,
    callListed: (call, sounds) => rounds.call(system, call, sounds),
    callBack: (order) => backs.call(system, order),
    setPhones: (given) =>
      then(async () => {
        settings = new Map(given.map((each) => [each.endpoint, each]));
        await match();
      }),
    close: async () => {
      closed = true;
      starting.close();
      stopping.abort();
      await queue;
      await Promise.all([...phones.values()].map(({ leave }) => leave(true)));
      await homes.close();
      await carrier.close();
      await emergency.close();
      await accessTries.close();
      await system.close();
    },
  };
}
