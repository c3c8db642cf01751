import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { compileEstate } from '../core/calls/engine';
import { buildSip, parseSip, type SipRequest } from '../core/wire/sip';
import { runLive } from '../standins/live';
import { clockAt } from '../standins/sip/clock';
import { openSystem } from '../standins/system';
import { placeCall } from '../standins/phones/caller';
import { openPhone } from '../standins/phones/phone';
import { endpointTimes } from '../core/estate';
import { skerrowSoundFerries } from '../demo/skerrow';
import { STANDINS_YOUNG_MIB } from '../standins/room';
import type { Line } from './engine.bench';
import type { Rates, Work } from './wire.sender';

const ACCOUNTS = 5000;
/** Each of the two kinds, in so many turns. */
const FOR_MS = 30_000;
const TURNS = 6;
const HOST = '127.0.60.2';
const CALLS = 200;
const MESSAGES = 100_000;

/** The scripts that `npm run bench` has bundled, as `npm start` bundles the stand-ins. */
const scripts = process.env.HOSTLER_SCRIPTS ?? '';

const started = (name: string, ...args: string[]): ChildProcess =>
  fork(join(scripts, `bench-${name}.js`), args, {
    execArgv: [`--max-semi-space-size=${STANDINS_YOUNG_MIB}`],
  });
const told = <T>(child: ChildProcess): Promise<T> =>
  new Promise((done, failed) => {
    const ended = (code: number | null) => failed(new Error(`a process of the bench ended with ${code}`));
    child.once('exit', ended);
    child.once('message', (message) => {
      child.off('exit', ended);
      done(message as T);
    });
  });

/** One server, and a sender that speaks to it in turns. */
async function opened(kind: Work['kind']) {
  const server = started('wire.server', kind, HOST);
  const { port } = await told<{ readonly port: number }>(server);
  const work: Work = { kind, host: HOST, port, accounts: ACCOUNTS, forMs: FOR_MS / TURNS };
  const sender = started('wire.sender', JSON.stringify(work));
  const asked = <T>(child: ChildProcess): Promise<T> => {
    const answer = told<T>(child);
    child.send('go on');
    return answer;
  };
  return {
    turn: () => asked<Rates>(sender),
    held: async () => (await asked<{ readonly held: number }>(server)).held,
    close: () => {
      sender.disconnect();
      server.disconnect();
    },
  };
}

/** Registrations beside a bare echo of the same Node, in turns, so that a busy moment of the machine falls on both. */
async function registrations(line: Line): Promise<void> {
  const [echo, registrar] = [await opened('echo'), await opened('register')];
  let [answered, registered] = [0, 0];
  for (let turn = 0; turn < TURNS; turn += 1) {
    answered += (await echo.turn()).answered / TURNS;
    registered += (await registrar.turn()).registered / TURNS;
  }
  const held = await registrar.held();
  echo.close();
  registrar.close();
  line('bare UDP echo, messages a second', String(Math.round(answered)));
  line(
    `registrations a second, ${ACCOUNTS} accounts, 30 s`,
    String(Math.round(registered)),
    `${held} held at the end`,
  );
  line('  as a share of the echo', (registered / answered).toFixed(2), '(aim 0.25 or more)');
}

/** STUN bindings beside the echo, in turns likewise. */
async function bindings(line: Line): Promise<void> {
  const [echo, stun] = [await opened('echo'), await opened('stun')];
  let [answered, bound] = [0, 0];
  for (let turn = 0; turn < TURNS; turn += 1) {
    answered += (await echo.turn()).answered / TURNS;
    bound += (await stun.turn()).answered / TURNS;
  }
  echo.close();
  stun.close();
  line('STUN bindings answered a second', String(Math.round(bound)));
  line('  as a share of the echo', (bound / answered).toFixed(2), '(aim 0.33 or more)');
}

/** Calls that ring at the same time, all of which are answered in the end. */
async function callsAtOnce(line: Line): Promise<void> {
  const index = compileEstate(skerrowSoundFerries());
  const clock = clockAt();
  const carrier = await openPhone({
    address: '127.0.61.2',
    clock,
    manner: () => ({
      behaviour: { answerAfterMs: 8000 },
      times: endpointTimes({ kind: 'mobile' }),
      isPublic: true,
      says: 'hello',
    }),
  });
  let settled = 0;
  let answered = 0;
  const system = await openSystem({
    address: '127.0.61.1',
    port: 0,
    transports: ['udp'],
    // Every call has a channel, and each person takes as many calls as come.
    estate: () => open,
    account: (user) => (user === 'trunk' ? { user, password: 'secret', endpoint: null } : null),
    userOf: (id) => id,
    carrier: carrier.node.transport.local.udp,
    clock,
    at: () => '2026-11-25T10:00:00-08:00',
    onEvent: (event) => {
      if (event.kind !== 'call-settled') return;
      settled += 1;
      if (event.trace.outcome.kind === 'answered') answered += 1;
    },
  });
  const open = compileEstate({
    ...index.estate,
    trunks: index.estate.trunks.map((trunk) => ({ ...trunk, channels: 1000 })),
    people: index.estate.people.map((person) => ({ ...person, maxCalls: 1000 })),
  });
  const caller = await openPhone({ address: '127.0.61.3', clock, manner: () => null });
  const began = performance.now();
  const placed = await Promise.all(
    Array.from({ length: CALLS }, () =>
      placeCall({
        phone: caller,
        clock,
        account: { user: 'trunk', password: 'secret' },
        server: system.node.transport.local.udp,
        from: '+16045550199',
        to: '4101',
        talkMs: 4000,
      }),
    ),
  );
  let most = 0;
  const looking = setInterval(() => (most = Math.max(most, system.callsInProgress())), 50);
  await Promise.all(placed.map(({ over }) => over));
  clearInterval(looking);
  line(
    `${CALLS} live calls placed at once: in progress together`,
    String(most),
    `${answered} of ${settled} answered in ${Math.round(performance.now() - began)} ms`,
  );
  await Promise.all([caller.close(), carrier.close()]);
  await system.close();
}

interface Library {
  readonly parse: (text: string) => unknown;
  readonly stringify: (message: unknown) => string;
}

/** Reading and writing an INVITE against a public library, in one run. */
function messages(line: Line): void {
  // eslint-disable-next-line @typescript-eslint/no-require-imports
  const library = require('sip/sip.js') as Library;
  const invite = buildSip({
    method: 'INVITE',
    uri: 'sip:204@127.0.0.1:5060',
    headers: [
      ['Via', 'SIP/2.0/UDP 127.0.0.9:5060;branch=z9hG4bKabc;rport'],
      ['Max-Forwards', '70'],
      ['To', '<sip:204@127.0.0.1>'],
      ['From', '"Ann" <sip:201@127.0.0.1>;tag=1928301774'],
      ['Call-ID', 'a84b4c76e66710@127.0.0.9'],
      ['CSeq', '314159 INVITE'],
      ['Contact', '<sip:201@127.0.0.9:5060>'],
      ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS'],
      ['Content-Type', 'application/sdp'],
    ],
    body: 'x'.repeat(142),
  });
  const once = (act: () => unknown) => {
    const began = performance.now();
    for (let i = 0; i < MESSAGES; i += 1) act();
    return performance.now() - began;
  };
  /** The quickest of a few turns, taken in turn, so that neither has the machine to itself. */
  const ratio = (ours: () => unknown, others: () => unknown) => {
    const turns = Array.from({ length: 4 }, () => [once(ours), once(others)] as const);
    return Math.min(...turns.map(([own]) => own)) / Math.min(...turns.map(([, other]) => other));
  };
  const read = parseSip(invite);
  if (!read.ok) throw new Error(read.fault.text);
  const message = read.message as SipRequest;
  const theirs = library.parse(invite);
  line(
    'SIP read, of the time that the library takes',
    ratio(
      () => parseSip(invite),
      () => library.parse(invite),
    ).toFixed(2),
    '(aim below 1)',
  );
  line(
    'SIP written, of the time that the library takes',
    ratio(
      () => buildSip(message),
      () => library.stringify(theirs),
    ).toFixed(2),
    '(aim below 1)',
  );
}

/** One live try beside the model: how late the latest moment came. */
async function lateness(line: Line): Promise<void> {
  const index = compileEstate(skerrowSoundFerries());
  const { seen, predicted, departures } = await runLive({
    index,
    call: { from: '+16045550199', to: '4101', at: '2026-11-25T10:00:00-08:00' },
    speed: 5,
  });
  const late = (seen.outcome.atMs - predicted.outcome.atMs) / 5;
  line(
    'a live try at 5 times: its end after the computed one',
    `${late.toFixed(1)} ms`,
    `${departures.length} departures`,
  );
}

export async function phonesBench(line: Line): Promise<void> {
  messages(line);
  await lateness(line);
  await callsAtOnce(line);
  await registrations(line);
  await bindings(line);
}
