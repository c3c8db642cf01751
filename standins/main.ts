// The process of the stand-ins: started by the server, told what to do by messages, and gone when the server is.
import { estateAsIf } from '../core/live';
import { compileEstate, runCall } from '../core/reach';
import { randomUUID } from 'node:crypto';
import type { CodeDialled, CodeReply, Pins } from './system';
import { selfSigned } from './certificate';
import { runLive } from './live';
import type { FromStandins, LiveOrder, PinAnswer, PinAsked, ToStandins } from './messages';
import { openTown, type Town } from './town';

const tell = (message: FromStandins): void => {
  if (process.connected) process.send?.(message);
};
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
const codes = questions<CodeDialled, CodeReply>((id, dialled) => tell({ kind: 'code', id, dialled }));
const pinAnswers = questions<PinAsked, PinAnswer>((id, asked) => tell({ kind: 'pin', id, asked }));
const pins: Pins = {
  isSet: async (person) => (await pinAnswers.ask({ person, typed: null })) !== 'none',
  check: async (person, typed) => {
    const answer = await pinAnswers.ask({ person, typed });
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
  const tls = await selfSigned();
  const wanted = Number(process.env.HOSTLER_SIP_PORT ?? 5060);
  const open = (port: number) => openTown({ port, tls, tell, onCode: codes.ask, pins });
  const town = await open(wanted).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EADDRINUSE') throw error;
    tell({ kind: 'log', line: `SIP port ${wanted} is in use: another one is taken` });
    return open(0);
  });
  const stop = () => {
    for (const each of live.values()) each.abort();
    setTimeout(() => process.exit(0), 2000);
    void town.close().finally(() => process.exit(0));
  };
  process.on('disconnect', stop);
  process.on('SIGTERM', stop);
  process.on('SIGINT', () => undefined);
  process.on('message', (message: ToStandins) => {
    switch (message.kind) {
      case 'estate':
        return void town.setEstate(message.estate);
      case 'accounts':
        return void town.setAccounts(message.accounts);
      case 'phones':
        return void town.setPhones(message.settings);
      case 'live':
        return void tryLive(town, message.order);
      case 'restart':
        return void town.restart(message.endpoints);
      case 'plug-in':
        return void town.plugIn(message.order);
      case 'self-set':
        return town.setSelfSet(message.orders);
      case 'notify':
        return town.notify(message.endpoints);
      case 'code-reply':
        return codes.answered(message.id, message.reply);
      case 'pin-reply':
        return pinAnswers.answered(message.id, message.answer);
      case 'press':
        return void town
          .press(message)
          .then((heard) => tell({ kind: 'pressed', id: message.id, heard }))
          .catch(() => tell({ kind: 'pressed', id: message.id, heard: null }));
      case 'stop-live':
        return live.get(message.id)?.abort();
    }
  });
}

main().catch((error: unknown) => {
  process.stderr.write(`stand-ins: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
