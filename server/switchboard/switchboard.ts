import type { LostPhone, SystemPlace } from '../../api/phones';
import { fork, type ChildProcess } from 'node:child_process';
import type { Estate } from '../../core/estate';
import {
  type FromStandins,
  type PhoneSetting,
  type Registration,
  type ToStandins,
} from '../../standins/messages';
import type { RelayPlace } from '../../standins/turn/relay';
import { STANDINS_YOUNG_MIB } from '../../standins/room';
import { aboutError, onceAMinute, scriptAt } from '../base';
import { accountsStamp, matchAccounts, readAccounts } from './accounts';
import { putPhoneSetting, readPhoneSettings } from './queries';
import { asSignedOn, callsInProgress } from './signed-on';
import { answering } from './questions';
import { triedThere } from './tried';
import { callsBack } from './backs';
import { listedCalls } from './listed';
import { oneByOne } from '../../standins/one-by-one';
import { lostOnTheirWay } from './ways';
import { mailboxLamps } from './mailboxes';
import { tellingSeats } from './seats';
import { fewPeople } from './told';
import { liveTries } from './live-tries';
import type { PhonesEvent, Switchboard } from './types';
import type { SwitchboardOptions } from './options';

export type * from './types';
export { noSwitchboard } from './none';

const LOOK_EVERY_MS = 2000;
/** A process that falls is started again, after pauses that grow while it does not stay up. */
const START_AGAIN_MS = [1000, 2000, 4000, 8000, 15_000, 30_000] as const;
const STEADY_MS = 60_000;
/** Phones kept as lost, and sources of strangers told of. */
const MOST_LOST = 2000;

/** Starts the stand-ins in a process of their own, and keeps them in step with the estate. */
export function openSwitchboard({
  db,
  store,
  secrets,
  log,
  provisioning,
  spool,
  onCode,
  onPin,
  onEmergency,
  onAccess,
  onAccessHungUp,
  onPlace,
  collect,
  signedOn,
  atSeats,
  onUsed,
  onListed,
  onBackOver,
  soundOf,
}: SwitchboardOptions): Switchboard {
  const registrations = new Map<string, Registration>();
  const lost = new Map<string, LostPhone>();
  const hearers = new Set<(event: PhonesEvent) => void>();
  let child: ChildProcess | null = null;
  let place: SystemPlace | null = null;
  let relay: RelayPlace | null = null;
  let closed = false;
  let falls = 0;
  let sentRevision = -1;
  let told = false;
  /** The estate that the stand-ins were told of last; null: none yet. */
  let sent: Estate | null = null;
  let sentStamp = '';
  const inCalls = callsInProgress();
  const say = onceAMinute(log);
  const inTurn = oneByOne();
  let looking = 0;
  const tell = (event: PhonesEvent) => {
    for (const hear of hearers) hear(event);
  };
  const send = (message: ToStandins) => {
    if (child?.connected) child.send(message);
  };
  const isUp = () => child?.connected === true && place !== null;
  const changed = () => tell({ kind: 'registrations' });
  const lamps = mailboxLamps(changed);
  const ways = lostOnTheirWay(changed);
  const tried = triedThere(send, isUp, () => refresh(false));
  const tries = liveTries((live) => tell({ kind: 'live', live }));
  const backs = callsBack(send, (id) => onBackOver?.(id));
  const listed = listedCalls(send, (id, ended) => onListed?.(id, ended));
  const answers = answering({ onCode, onPin, onEmergency, onAccess, onAccessHungUp }, log, send);
  const keyOf = (user: string, contact: string) => `${user} ${contact}`;

  function hear(message: FromStandins): void {
    switch (message.kind) {
      case 'ready': {
        const { local, realm } = message;
        place = {
          realm,
          wanted: message.wanted,
          address: local.udp.host,
          udp: local.udp.port,
          tcp: local.tcp.port,
          tls: local.tls.port,
        };
        sentRevision = -1;
        sent = null;
        onPlace?.(place);
        void provisioning?.().then(
          (orders) => send({ kind: 'self-set', orders }),
          (error: unknown) => log.warn({ err: error }, 'provisioned phones are not known'),
        );
        void refresh();
        return tell({ kind: 'registrations' });
      }
      case 'relay':
        relay = message.place;
        return;
      case 'registered': {
        const { registration } = message;
        // A refresh is no change.
        if (!registrations.has(keyOf(registration.user, registration.contact)))
          collect?.registration({
            user: registration.user,
            endpoint: registration.endpoint,
            state: 'registered',
            transport: registration.from.transport,
          });
        registrations.set(keyOf(registration.user, registration.contact), registration);
        lost.delete(registration.user);
        return tell({ kind: 'registrations' });
      }
      case 'unregistered': {
        const before = registrations.get(keyOf(message.user, message.contact));
        registrations.delete(keyOf(message.user, message.contact));
        if (before)
          collect?.registration({
            user: message.user,
            endpoint: before.endpoint,
            state: message.why,
            transport: before.from.transport,
          });
        const others = [...registrations.values()].some(({ user }) => user === message.user);
        if (before && !others)
          lost.set(message.user, {
            user: message.user,
            endpoint: before.endpoint,
            lostMs: Date.now(),
            why: message.why,
            detail: message.why === 'expired' ? 'it stopped refreshing its registration' : 'it signed off',
          });
        return tell({ kind: 'registrations' });
      }
      case 'refused': {
        // Of a name that no account has nothing is kept: anybody can make up names.
        if (!accounts.has(message.user)) {
          say('somebody tried to register with a name that no account has', { from: message.from.host });
          return;
        }
        const known = [...registrations.values()].some(({ user }) => user === message.user);
        if (!known && (lost.has(message.user) || lost.size < MOST_LOST))
          lost.set(message.user, {
            user: message.user,
            endpoint: accounts.get(message.user) ?? null,
            lostMs: lost.get(message.user)?.lostMs ?? Date.now(),
            why: 'refused',
            detail: message.why,
          });
        return tell({ kind: 'registrations' });
      }
      case 'live-began':
        return tries.change(message.id, { predicted: message.predicted });
      case 'live-went-on':
        return tries.change(message.id, { seen: message.trace, atMs: message.atMs });
      case 'live-done':
        return tries.change(message.id, {
          state: 'done',
          done: message.done,
          seen: message.done.seen,
          predicted: message.done.predicted,
        });
      case 'live-failed':
        return tries.change(message.id, { state: 'failed', why: message.why });
      case 'call-back':
        return backs.told(message.id, message.at);
      case 'round-called':
        return listed.ended(message.id, message.ended);
      case 'set-itself-up':
        return void settled(message.endpoint, message.ok);
      case 'code':
        return void answers.code(message.id, message.dialled);
      case 'access':
        return void answers.access(message.id, message.called);
      case 'access-hung-up':
        return void answers.accessHungUp(message.called);
      case 'pin':
        return void answers.pin(message.id, message.asked);
      case 'emergency':
        return void answers.emergency(message.id, message.endpoint);
      case 'emergency-tried':
      case 'access-tried':
      case 'way-tried':
      case 'pressed':
        return tried.told(message);
      case 'seat-held':
        return seatsTold.heldChanged(message.seat, message.at);
      case 'messages-waiting':
        return lamps.changed(message.person, message.waiting);
      case 'lamp':
        return lamps.lamp(message.endpoint, message.waiting);
      case 'overloaded':
        return say('the phone system puts requests off: more come than it can answer', {
          times: message.times,
        });
      case 'way-lost':
        return ways.lost(message.lost);
      case 'log':
        return log.info({ standins: message.line }, 'stand-ins');
      case 'call-began':
        inCalls.began(message.id, endpointOf(message.by));
        return collect?.callBegan(message.id, message.call, message.startMs);
      case 'call-went-on':
        return collect?.callWentOn(message.id, message.trace);
      case 'call-settled':
        inCalls.settled(message.id, message.trace);
        return collect?.callSettled(message.id, message.trace);
      case 'call-over':
        onUsed?.(inCalls.over(message.id));
        return collect?.callOver(message.id);
      case 'call-out':
        return collect?.callOut(message.id, message.at);
      case 'call-ladder':
        return collect?.ladder(message.ladder, message.names);
    }
  }

  /** A stand-in that has set itself up stands by itself from now on, as the others do. */
  async function settled(endpoint: string, ok: boolean): Promise<void> {
    try {
      if (ok) {
        await putPhoneSetting(db, { endpoint, does: 'ready', answerAfterMs: null });
        await refresh();
      }
    } catch (error) {
      log.warn({ err: error, endpoint }, 'a phone that has set itself up could not be noted');
    }
    tell({ kind: 'registrations' });
  }

  function start(): void {
    if (closed) return;
    const beganMs = Date.now();
    const { file, execArgv } = scriptAt('standins/main.ts');
    child = fork(file, [], {
      execArgv: [...execArgv, `--max-semi-space-size=${STANDINS_YOUNG_MIB}`],
      env: { ...process.env, HOSTLER_SPOOL: spool ?? '' },
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    child.on('message', hear);
    child.on('exit', (code) => {
      child = null;
      place = null;
      relay = null;
      for (const { user, endpoint, from } of registrations.values())
        collect?.registration({ user, endpoint, state: 'stopped', transport: from.transport });
      collect?.systemEnded();
      listed.systemEnded();
      backs.systemEnded();
      inCalls.clear();
      lamps.ended();
      ways.systemEnded();
      seatsTold.systemEnded();
      registrations.clear();
      tried.systemEnded();
      tries.failed('The stand-ins stopped.');
      tell({ kind: 'registrations' });
      if (closed) return;
      falls = Date.now() - beganMs > STEADY_MS ? 0 : falls + 1;
      const pauseMs = START_AGAIN_MS[Math.min(falls, START_AGAIN_MS.length) - 1] ?? START_AGAIN_MS[0];
      log.warn({ code, afterMs: pauseMs }, 'the stand-ins ended, and are started again');
      setTimeout(start, pauseMs);
    });
  }

  const accounts = new Map<string, string | null>();
  const endpointOf = (user: string): string | null => accounts.get(user) ?? null;
  const stampNow = async () => `${await accountsStamp(db)} ${(await signedOn?.stamp()) ?? ''}`;

  const seatsTold = tellingSeats({ atSeats, soundOf, send, listed, isUp: () => place !== null, say });

  /** Passes on what has changed since the last time. */
  async function look(force: boolean): Promise<void> {
    if (!place || closed) return;
    await seatsTold.tell(force);
    const { estate, revision } = await store.current();
    // A password may have been renewed on another server.
    const stamp = await stampNow();
    if (revision === sentRevision && stamp === sentStamp && !force) return;
    const isNew = revision !== sentRevision;
    const few = isNew ? fewPeople(sent, estate) : null;
    const changed = few && !force ? false : await matchAccounts(db, secrets, estate, new Date());
    if (few) send({ kind: 'people', people: few });
    else if (isNew) {
      send({ kind: 'estate', estate });
      await seatsTold.passSounds(estate.seats ?? []);
    }
    sent = estate;
    if ((isNew && !few) || stamp !== sentStamp || changed || force) {
      const unopened: string[] = [];
      const on = (await signedOn?.read()) ?? new Map<string, string>();
      const kept = await readAccounts(db, secrets, (user) => unopened.push(user));
      const all = kept.map((account) => asSignedOn(account, estate, on));
      if (unopened.length > 0)
        say('passwords of phones are sealed with a key that is not here', { users: unopened.slice(0, 20) });
      accounts.clear();
      for (const { user, endpoint } of all) accounts.set(user, endpoint);
      const settings: readonly PhoneSetting[] = await readPhoneSettings(db);
      send({ kind: 'phones', settings });
      send({ kind: 'accounts', accounts: all });
    }
    sentRevision = revision;
    sentStamp = changed ? await stampNow() : stamp;
  }

  function refresh(force = true): Promise<void> {
    looking++;
    return inTurn(() => look(force))
      .catch((error) => say('the stand-ins could not be brought up to date', { err: aboutError(error) }))
      .finally(() => looking--);
  }
  const watching = setInterval(() => {
    if (looking === 0) void refresh(false);
  }, LOOK_EVERY_MS);
  start();

  return {
    place: () => place,
    relay: () => relay,
    registrations: () => [...registrations.values()].filter(({ expiresMs }) => expiresMs > Date.now() - 2000),
    lost: () => [...lost.values()],
    subscribe: (listener) => {
      hearers.add(listener);
      return () => hearers.delete(listener);
    },
    waysLost: ways.all,
    waiting: lamps.waiting,
    isLit: lamps.isLit,
    inCalls: inCalls.endpoints,
    heldAt: seatsTold.heldAt,
    seatsChanged: seatsTold.changed,
    signOnsChanged: () => {
      // Of many at once the last is enough.
      if (told) return;
      told = true;
      setImmediate(() => {
        told = false;
        void refresh(true);
      });
    },
    refresh: () => refresh(true),
    restart: (endpoints) => send({ kind: 'restart', endpoints }),
    plugIn: (order) => {
      if (isUp()) send({ kind: 'plug-in', order });
      return isUp();
    },
    callListed: (call, sounds) => {
      if (isUp()) listed.place(call, sounds);
      return isUp();
    },
    callBack: (order) => isUp() && backs.place(order),
    callsBack: backs.of,
    notify: (endpoints) => send({ kind: 'notify', endpoints }),
    press: tried.press,
    tryEmergency: tried.tryEmergency,
    tryAccess: tried.tryAccess,
    tryWay: tried.tryWay,
    startTry: async (who, order) => {
      if (isUp()) await refresh(false);
      if (!isUp()) return null;
      const live = tries.begin(who, order);
      send({ kind: 'live', order: { ...order, id: live.id } });
      return live;
    },
    stopTry: (id) => send({ kind: 'stop-live', id }),
    liveTry: tries.get,
    close: async () => {
      closed = true;
      clearInterval(watching);
      const running = child;
      if (!running) return;
      const ended = new Promise<void>((done) => running.once('exit', () => done()));
      if (running.connected) running.disconnect();
      await ended;
    },
  };
}
