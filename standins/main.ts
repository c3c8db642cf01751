// The process of the stand-ins: started by the server, told what to do by messages, and gone when the server is.
import { estateAsIf } from '../core/calls/live';
import { compileEstate, runCall } from '../core/calls/engine';
import { randomUUID } from 'node:crypto';
import type { AccessCalled, CodeDialled, CodeReply, EmergencyAnswer, Pins } from './system';
import { selfSigned } from './certificate';
import { runLive, tryHome } from './live';
import type { FromStandins, LiveOrder, PinAnswer, PinAsked, ToStandins } from './messages';
import { oneByOne } from './one-by-one';
import { openSpool } from './spool';
import { openTown, type Town } from './town';
import { openRelay } from './turn';

const tell = (message: FromStandins): void => {
  // The server may be gone between the question and the sending: that is no fault of this process.
  if (process.connected) process.send?.(message, undefined, {}, () => undefined);
};
/** A port that is in use may be let go of in a moment, by stand-ins that are ending. */
const WAIT_FOR_PORT = { tries: 12, everyMs: 250 } as const;
/** Tries in progress at once. */
const MOST_LIVE = 20;

const live = new Map<string, AbortController>();
/** Questions to the server that wait for their answer. */
function questions<Question, Reply>(put: (id: string, question: Question) => void) {
  const waiting = new Map<string, (reply: Reply) => void>();
  return {
    ask: (question: Question): Promise<Reply> =>
      new Promise((resolve) => {
        const id = randomUUID();
        waiting.set(id, resolve);
        put(id, question);
      }),
    answered: (id: string, reply: Reply): void => {
      waiting.get(id)?.(reply);
      waiting.delete(id);
    },
  };
}
/** Tells what became of a piece of work; of one that failed nothing. */
function answered<T>(work: Promise<T | null>, says: (result: T | null) => FromStandins): void {
  void work.catch(() => null).then((result) => tell(says(result)));
}

const ways = oneByOne();
const codes = questions<CodeDialled, CodeReply>((id, dialled) => tell({ kind: 'code', id, dialled }));
const accesses = questions<AccessCalled, CodeReply>((id, called) => tell({ kind: 'access', id, called }));
const emergencies = questions<string, EmergencyAnswer>((id, endpoint) =>
  tell({ kind: 'emergency', id, endpoint }),
);
const pinAnswers = questions<PinAsked, PinAnswer>((id, asked) => tell({ kind: 'pin', id, asked }));
const pins: Pins = {
  isSet: async (person) => (await pinAnswers.ask({ person, typed: null })) !== 'none',
  check: async (person, typed, at) => {
    const answer = await pinAnswers.ask({ person, typed, at });
    return answer === 'right' || answer === 'locked' ? answer : 'wrong';
  },
};

/** An estate with the person called as if with another status. */
function indexFor(town: Town, { asIf }: LiveOrder) {
  const index = town.index();
  if (!index || !asIf) return index;
  return compileEstate(estateAsIf(index.estate, asIf));
}

async function tryLive(town: Town, order: LiveOrder): Promise<void> {
  const { id, call, speed } = order;
  const index = indexFor(town, order);
  if (!index) return tell({ kind: 'live-failed', id, why: 'The stand-ins have no estate yet.' });
  if (live.size >= MOST_LIVE)
    return tell({ kind: 'live-failed', id, why: `${MOST_LIVE} tries are running already.` });
  const stop = new AbortController();
  live.set(id, stop);
  try {
    tell({ kind: 'live-began', id, predicted: runCall(index, call) });
    const done = await runLive({
      index,
      call,
      speed,
      signal: stop.signal,
      onProgress: (trace, atMs) => tell({ kind: 'live-went-on', id, trace, atMs }),
    });
    tell({ kind: 'live-done', id, done });
  } catch (error) {
    tell({ kind: 'live-failed', id, why: error instanceof Error ? error.message : String(error) });
  } finally {
    live.delete(id);
  }
}

async function main(): Promise<void> {
  let town: Town | null = null;
  let relay: Awaited<ReturnType<typeof openRelay>> | null = null;
  let isStopping = false;
  const stop = () => {
    // Whatever ends a service ends this and who started it, and then nobody is connected any more.
    if (isStopping) return;
    isStopping = true;
    for (const each of live.values()) each.abort();
    if (!town) process.exit(0);
    setTimeout(() => process.exit(0), 2000);
    void relay?.close();
    void town
      .close()
      .then(() => spool?.close())
      .finally(() => process.exit(0));
  };
  // Before anything else: whoever started this may be gone before it is up.
  process.on('disconnect', stop);
  process.on('SIGTERM', stop);
  process.on('SIGINT', () => undefined);
  if (!process.connected) return stop();
  const tls = await selfSigned();
  const wanted = Number(process.env.HOSTLER_SIP_PORT ?? 5060);
  const folder = process.env.HOSTLER_SPOOL;
  const spool = folder
    ? openSpool(folder, `${Date.now()}-${process.pid}`, (line) => tell({ kind: 'log', line }))
    : null;
  const open = (port: number) =>
    openTown({
      port,
      wanted,
      tls,
      tell,
      ...(spool ? { keep: spool.put } : {}),
      onCode: codes.ask,
      onAccess: accesses.ask,
      onAccessHungUp: (called) => tell({ kind: 'access-hung-up', called }),
      pins,
      placeOf: emergencies.ask,
    });
  const openSoon = async (tries: number): Promise<Town> =>
    open(tries > 0 ? wanted : 0).catch(async (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EADDRINUSE' || tries === 0) throw error;
      await new Promise((resolve) => setTimeout(resolve, WAIT_FOR_PORT.everyMs));
      if (tries === 1) tell({ kind: 'log', line: `SIP port ${wanted} is in use: another one is taken` });
      return openSoon(tries - 1);
    });
  const opened = await openSoon(WAIT_FOR_PORT.tries);
  town = opened;
  openRelay(Number(process.env.HOSTLER_TURN_PORT ?? (wanted === 0 ? 0 : 3478)), tls).then(
    (place) => {
      relay = place;
      const { close: _close, ...told } = place;
      tell({ kind: 'relay', place: told });
    },
    (error: unknown) =>
      tell({ kind: 'log', line: `no relay: ${error instanceof Error ? error.message : String(error)}` }),
  );
  process.on('message', (message: ToStandins) => {
    switch (message.kind) {
      case 'estate':
        return void opened.setEstate(message.estate);
      case 'people':
        return void opened.setPeople(message.people);
      case 'accounts':
        return void opened.setAccounts(message.accounts);
      case 'seats':
        return opened.setSeats(message.seats);
      case 'phones':
        return void opened.setPhones(message.settings);
      case 'live':
        return void tryLive(opened, message.order);
      case 'restart':
        return void opened.restart(message.endpoints);
      case 'plug-in':
        return void opened.plugIn(message.order);
      case 'self-set':
        return opened.setProvisioned(message.orders);
      case 'notify':
        return opened.notify(message.endpoints);
      case 'round-sound':
        return opened.setSound(message.sound, message.muLaw);
      case 'round-call':
        return opened.callListed(message.call, message.sounds);
      case 'call-back':
        return opened.callBack(message.order);
      case 'emergency-reply':
        return emergencies.answered(message.id, message.reply);
      case 'emergency-try':
        return answered(opened.tryEmergency(message), (tried) => ({
          kind: 'emergency-tried',
          id: message.id,
          tried,
        }));
      // Each was asked by one of the two.
      case 'code-reply':
        codes.answered(message.id, message.reply);
        return accesses.answered(message.id, message.reply);
      case 'access-try':
        return answered(opened.tryAccess(message.order), (tried) => ({
          kind: 'access-tried',
          id: message.id,
          tried,
        }));
      case 'way-try':
        return answered(
          ways(() => tryHome(message.network, message.phone, tls)),
          (tried) => ({ kind: 'way-tried', id: message.id, tried }),
        );
      case 'pin-reply':
        return pinAnswers.answered(message.id, message.answer);
      case 'press':
        return answered(opened.press(message), (heard) => ({ kind: 'pressed', id: message.id, heard }));
      case 'stop-live':
        return live.get(message.id)?.abort();
    }
  });
}

main().catch((error: unknown) => {
  process.stderr.write(`stand-ins: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
