import type { SystemPlace } from '../../api/phones';
import type { Estate } from '../../core/estate';
import type { AccountOf, FromStandins, PhoneSetting } from '../../standins/messages';
import type { RelayPlace } from '../../standins/turn/relay';
import { aboutError, onceAMinute } from '../base';
import { accountsStamp, matchAccounts, readAccounts } from './accounts';
import { putPhoneSetting, readPhoneSettings } from './queries';
import { asSignedOn, callsInProgress } from './signed-on';
import { answering } from './questions';
import { triedThere } from './tried';
import { callsBack } from './backs';
import { listedCalls } from './listed';
import { oneByOne } from '../../standins/one-by-one';
import { lostOnTheirWay } from './ways';
import { registeredNow } from './registered';
import { ownSystem, type Begun, type SharedState, type SystemLink } from './system';
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
/** Where another server ran it, it is looked for again at once: this one may be the next to run it. */
const ELSEWHERE_MS = 50;

/** Has the phone system run, here or by another server of this machine, and keeps it in step with the estate. */
export function openSwitchboard({
  db,
  store,
  secrets,
  log,
  provisioning,
  spool,
  open = ownSystem(spool),
  onCode,
  onPin,
  onEmergency,
  onAccess,
  onAccessHungUp,
  onPlace,
  collect,
  watch,
  signedOn,
  atSeats,
  onUsed,
  onListed,
  onBackOver,
  soundOf,
}: SwitchboardOptions): Switchboard {
  const hearers = new Set<(event: PhonesEvent) => void>();
  let link: SystemLink | null = null;
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
  const send: SystemLink['send'] = (message) => link?.send(message);
  const isOwn = () => link?.isOwn() === true;
  const isUp = () => link?.isConnected() === true && place !== null;
  const changed = () => tell({ kind: 'registrations' });
  /** One server keeps what goes; the others watch it. */
  const keeps = () => (isOwn() ? collect : watch);
  const accounts = new Map<string, string | null>();
  const registered = registeredNow(keeps, accounts, say);
  const lamps = mailboxLamps(changed);
  const ways = lostOnTheirWay(changed);
  const tried = triedThere(send, isUp, () => refreshAll(false));
  const tries = liveTries((live) => tell({ kind: 'live', live }));
  const backs = callsBack(send, (id) => {
    if (isOwn()) onBackOver?.(id);
  });
  const listed = listedCalls(send, (id, ended) => onListed?.(id, ended));
  const answers = answering({ onCode, onPin, onEmergency, onAccess, onAccessHungUp }, log, send);

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
        sentStamp = '';
        sent = null;
        onPlace?.(place);
        if (isOwn())
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
      case 'registered':
        registered.registered(message);
        return changed();
      case 'unregistered':
        registered.unregistered(message);
        return changed();
      case 'refused':
        return registered.refused(message) ? changed() : undefined;
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
        return keeps()?.callBegan(message.id, message.call, message.startMs);
      case 'call-went-on':
        return keeps()?.callWentOn(message.id, message.trace);
      case 'call-settled':
        inCalls.settled(message.id, message.trace);
        return keeps()?.callSettled(message.id, message.trace);
      case 'call-over': {
        const at = inCalls.over(message.id);
        if (isOwn()) onUsed?.(at);
        return keeps()?.callOver(message.id);
      }
      case 'call-out':
        return keeps()?.callOut(message.id, message.at);
      case 'call-ladder':
        return keeps()?.ladder(message.ladder, message.names);
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
    link = open({
      heard: hear,
      begun,
      refresh,
      shared,
      state: () => ({ lost: registered.lost(), tries: tries.all(), backs: backs.all() }),
      ended: (code) => {
        registered.systemEnded();
        keeps()?.systemEnded();
        link = null;
        place = null;
        relay = null;
        listed.systemEnded();
        backs.systemEnded();
        inCalls.clear();
        lamps.ended();
        ways.systemEnded();
        seatsTold.systemEnded();
        tried.systemEnded();
        tries.failed('The stand-ins stopped.');
        changed();
        if (closed) return;
        if (code === 'elsewhere') return void setTimeout(start, ELSEWHERE_MS);
        falls = Date.now() - beganMs > STEADY_MS ? 0 : falls + 1;
        const pauseMs = START_AGAIN_MS[Math.min(falls, START_AGAIN_MS.length) - 1] ?? START_AGAIN_MS[0];
        log.warn({ code, afterMs: pauseMs }, 'the stand-ins ended, and are started again');
        setTimeout(start, pauseMs);
      },
    });
  }

  /** What was begun at another server is known here too. */
  function begun(each: Begun): void {
    if (each.kind === 'try') tries.begun(each.live);
    else backs.begun({ order: each.order });
  }
  function shared(state: SharedState): void {
    registered.lostBefore(state.lost);
    for (const live of state.tries) tries.begun(live);
    for (const back of state.backs) backs.begun(back);
  }

  const endpointOf = (user: string): string | null => accounts.get(user) ?? null;
  const stampNow = async () => `${await accountsStamp(db)} ${(await signedOn?.stamp()) ?? ''}`;

  const seatsTold = tellingSeats({ atSeats, soundOf, send, listed, isUp: () => place !== null, say });

  /** Reads the accounts, each with whoever has it now. */
  async function accountsNow(estate: Estate): Promise<readonly AccountOf[]> {
    const unopened: string[] = [];
    const on = (await signedOn?.read()) ?? new Map<string, string>();
    const kept = await readAccounts(db, secrets, (user) => unopened.push(user));
    const all = kept.map((account) => asSignedOn(account, estate, on));
    if (unopened.length > 0)
      say('passwords of phones are sealed with a key that is not here', { users: unopened.slice(0, 20) });
    accounts.clear();
    for (const { user, endpoint } of all) accounts.set(user, endpoint);
    return all;
  }

  /** Of a phone system that another server runs only whose the accounts are is to be known. */
  async function follow(): Promise<void> {
    const stamp = await stampNow();
    if (stamp === sentStamp) return;
    await accountsNow((await store.current()).estate);
    sentStamp = stamp;
  }

  /** Passes on what has changed since the last time. */
  async function look(force: boolean): Promise<void> {
    if (!place || closed) return;
    if (!isOwn()) return follow();
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
      const all = await accountsNow(estate);
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
  /** Here, and at whichever server runs the phone system. */
  const refreshAll = async (force = true): Promise<void> => {
    await Promise.all([refresh(force), link?.refreshThere(force)]);
  };
  const watching = setInterval(() => {
    if (looking === 0) void refresh(false);
  }, LOOK_EVERY_MS);
  start();

  return {
    place: () => place,
    runsHere: isOwn,
    relay: () => relay,
    registrations: registered.all,
    lost: registered.lost,
    subscribe: (listener) => {
      hearers.add(listener);
      return () => hearers.delete(listener);
    },
    waysLost: ways.all,
    waiting: lamps.waiting,
    isLit: lamps.isLit,
    inCalls: inCalls.endpoints,
    heldAt: seatsTold.heldAt,
    seatsChanged: () => (isOwn() ? seatsTold.changed() : void link?.refreshThere(false)),
    signOnsChanged: () => {
      // Of many at once the last is enough.
      if (told) return;
      told = true;
      setImmediate(() => {
        told = false;
        void refreshAll();
      });
    },
    refresh: () => refreshAll(),
    restart: (endpoints) => send({ kind: 'restart', endpoints }),
    plugIn: (order) => {
      if (isUp()) send({ kind: 'plug-in', order });
      return isUp();
    },
    callListed: (call, sounds) => {
      if (isUp()) listed.place(call, sounds);
      return isUp();
    },
    callBack: (order) => {
      if (!isUp()) return false;
      link?.share({ kind: 'back', order });
      return backs.place(order);
    },
    callsBack: backs.of,
    notify: (endpoints) => send({ kind: 'notify', endpoints }),
    press: tried.press,
    tryEmergency: tried.tryEmergency,
    tryAccess: tried.tryAccess,
    tryWay: tried.tryWay,
    startTry: async (who, order) => {
      if (isUp()) await refreshAll(false);
      if (!isUp()) return null;
      const live = tries.begin(who, order);
      link?.share({ kind: 'try', live });
      send({ kind: 'live', order: { ...order, id: live.id } });
      return live;
    },
    stopTry: (id) => send({ kind: 'stop-live', id }),
    liveTry: tries.get,
    close: async () => {
      closed = true;
      clearInterval(watching);
      await link?.close();
    },
  };
}
