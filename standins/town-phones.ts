import { deskEndpoint } from '../core/desks';
import {
  knownEndpoint,
  type EndpointBehaviour,
  type EstateIndex,
  type KnownEndpoint,
} from '../core/calls/engine';
import { isNumberKind, type Socket } from '../core/estate';
import type { AccountOf, PhoneSetting, Registration } from './messages';
import { openPhone, type Phone, type PhoneOptions, type RegisterOptions } from './phones/phone';
import { newToken } from './sip/token';
import type { Peer } from './sip/transport';
import type { HomeWay } from './town-homes';
import type { Binding } from './system';

/** What a stand-in does, by its setting. */
export function behaviourOf(setting: PhoneSetting | undefined): EndpointBehaviour {
  switch (setting?.does) {
    case 'answers':
      return { answerAfterMs: setting.answerAfterMs ?? 4000 };
    case 'no-coverage':
    case 'off':
      return { state: 'off' };
    case 'busy':
    case 'do-not-disturb':
      return { state: setting.does };
    case 'answers-by-itself':
      return { state: 'auto-answer' };
    case 'ready':
    case 'asleep':
    case 'wrong-password':
    case 'old-firmware':
    case 'bare':
    case undefined:
      return {};
  }
}

/** A registration as the server is told of it. */
export const registrationOf = (
  binding: Binding,
  endpoint: string | null,
  seen: Socket | null,
): Registration => ({
  seen,
  user: binding.user,
  endpoint,
  contact: binding.contact,
  from: binding.from,
  sinceMs: binding.sinceMs,
  refreshedMs: binding.refreshedMs,
  expiresMs: binding.expiresMs,
  roundTripMs: binding.roundTripMs,
  userAgent: binding.userAgent,
  asleep: binding.pushId !== null,
});

/** How many seconds stand-ins at the machine register for: short, so that one which is gone is missed soon. */
export const EXPIRES_S = 30;
/** How much later than it should a phone with old firmware registers again. */
const LATE_MS = 12_000;
/** A phone that takes itself out waits so long for the answer, which may be lost on its way. */
const LEAVES_WITHIN_MS = 1000;

/** The stand-in of one phone, and where it registers. */
export interface StandIn {
  readonly phone: Phone;
  /** What it was opened for: where that changes it is opened anew. */
  readonly key: string;
  readonly server: Peer;
  /** Registers it as its setting says. */
  readonly register: () => Promise<void>;
  /** By which a push wakes it, so that it registers; null: it is awake. */
  readonly pushId: string | null;
  readonly wake: () => void;
  /** Takes it out, and says so where it is not `silent`. */
  readonly leave: (silent: boolean) => Promise<void>;
}

/** What a stand-in is opened with. */
export interface StandInOptions extends Pick<PhoneOptions, 'clock' | 'onProfile' | 'onMessages'> {
  readonly known: KnownEndpoint;
  readonly key: string;
  /** Its way out through the routers of its site; null: it stands at the machine. */
  readonly home: HomeWay | null;
  /** Where phones at the machine register, and an address there. */
  readonly server: Peer;
  readonly address: () => string;
  readonly account: Pick<AccountOf, 'user' | 'password'>;
  readonly setting: () => PhoneSetting | undefined;
}

/** Opens the stand-in of a phone: at an address of the machine, or behind the routers of its site. */
export async function openStandIn(options: StandInOptions): Promise<StandIn> {
  const { known, clock, key, home, account, setting, onProfile, onMessages } = options;
  const does = setting()?.does;
  const pushId = does === 'asleep' && known.times.wakes ? newToken() : null;
  const phone = await openPhone({
    address: home?.way.settings.address ?? options.address(),
    clock,
    ...(home ? { way: home.way } : {}),
    userAgent: `Stand-in ${known.endpoint.label}`,
    ...(onProfile ? { onProfile } : {}),
    ...(onMessages ? { onMessages } : {}),
    manner: () => ({
      behaviour: behaviourOf(setting()),
      times: known.times,
      isPublic: false,
      says: `hello from ${known.endpoint.label}`,
      // Sound comes in through a router once some has gone out.
      speaksAtOnce: home !== null,
    }),
  });
  const letGo = home?.keepOpen(phone);
  const password = does === 'wrong-password' ? 'not the password' : account.password;
  const server = home?.server ?? options.server;
  const register = async (more: RegisterOptions = {}) => {
    const answer = phone.register({ user: account.user, password }, server, {
      expiresS: home?.expiresS ?? EXPIRES_S,
      ...more,
    });
    // What is lost on its way is given up after half a minute, for which nobody waits.
    if (!home) await answer;
  };
  return {
    phone,
    key,
    server,
    pushId,
    register: () => register({ pushId, ...(does === 'old-firmware' ? { lateByMs: LATE_MS } : {}) }),
    wake: () => void clock.after(known.times.wakeMs, () => void register()),
    leave: async (silent) => {
      letGo?.();
      if (!silent)
        await Promise.race([
          phone.unregister(),
          new Promise<void>((go) => clock.after(LEAVES_WITHIN_MS, () => go())),
        ]);
      await phone.close();
    },
  };
}

/** A phone that is not there: switched off, or bare until it has set itself up. */
export const isAway = (does: PhoneSetting['does'] | undefined): boolean => does === 'off' || does === 'bare';

/** Does something for all, some of them at once, so that the phone system is not asked by all in one instant. */
export async function someAtATime<T>(
  all: readonly T[],
  act: (each: T) => Promise<void>,
  many = 20,
): Promise<void> {
  for (let at = 0; at < all.length; at += many) await Promise.all(all.slice(at, at + many).map(act));
}

/** For what a stand-in was opened: its account, what it does, and its way out. */
export const openedFor = (
  { user, password }: AccountOf,
  setting: PhoneSetting | undefined,
  way: string | null,
): string => JSON.stringify([user, password, setting ?? null, way]);

/** The phones that are to be there, so many at most, by endpoint or by the desk at which they stand. */
export function wantedPhones(
  index: EstateIndex,
  accounts: ReadonlyMap<string, AccountOf>,
  settings: ReadonlyMap<string, PhoneSetting>,
  most: number,
): ReadonlyMap<string, AccountOf> {
  const wanted = new Map<string, AccountOf>();
  const owners = new Map<string | null, AccountOf>();
  for (const account of accounts.values())
    if (!owners.has(account.endpoint)) owners.set(account.endpoint, account);
  for (const known of index.endpoints.values()) {
    // A phone of theirs that is whichever shared phone they are signed on to is none of its own.
    const isNone = isNumberKind(known.endpoint.kind) || known.endpoint.kind === 'hot-desk';
    if (isNone || wanted.size >= most) continue;
    const account = owners.get(known.endpoint.id);
    if (account && !isAway(settings.get(known.endpoint.id)?.does)) wanted.set(known.endpoint.id, account);
  }
  for (const account of accounts.values())
    if (account.desk !== undefined && !isAway(settings.get(deskEndpoint(account.desk))?.does))
      wanted.set(deskEndpoint(account.desk), account);
  return wanted;
}

/** A shared desk’s phone, by itself nobody’s. */
export const deskPhone = (index: EstateIndex | null, desk: string) =>
  knownEndpoint(
    {
      id: deskEndpoint(desk),
      label: index?.estate.desks?.find(({ id }) => id === desk)?.name ?? desk,
      kind: 'hot-desk',
    },
    null,
  );

/** Loopback addresses of phones, one each. */
export function phoneAddresses() {
  const free: number[] = [];
  const taken = new Map<string, number>();
  return {
    of: (id: string): string => {
      const nth = taken.get(id) ?? free.pop() ?? taken.size;
      taken.set(id, nth);
      return `127.0.${51 + Math.floor(nth / 250)}.${1 + (nth % 250)}`;
    },
    free: (id: string): void => {
      const nth = taken.get(id);
      if (nth !== undefined) free.push(nth);
      taken.delete(id);
    },
  };
}
