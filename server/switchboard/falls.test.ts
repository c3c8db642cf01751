import { readFileSync } from 'node:fs';
import pino from 'pino';
import { workedCalls, workedEstate } from '../../core/tests/worked';
import { openSwitchboard, type Switchboard } from './switchboard';
import { until } from './tests/until';
import { testServer, type TestServer } from '../test';

let server: TestServer;
let phones: Switchboard;
let ended = 0;
beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  const log = pino({ level: 'silent' });
  const nothing = () => undefined;
  server = await testServer(workedEstate(), (services) => {
    phones = openSwitchboard({
      ...services,
      spool: undefined,
      log,
      collect: {
        registration: nothing,
        callBegan: nothing,
        callWentOn: nothing,
        callSettled: nothing,
        callOver: nothing,
        callOut: nothing,
        ladder: nothing,
        systemEnded: () => {
          ended += 1;
        },
      },
    });
    return phones;
  });
});
afterAll(() => server.stop());

/** The process of the stand-ins: the child of this thread that runs them; other tests have theirs. */
function standins(): number {
  const children = readFileSync('/proc/thread-self/children', 'utf8').trim().split(' ').filter(Boolean);
  const found = children.find((pid) =>
    /standins[-/.]main/.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8')),
  );
  if (found === undefined) throw new Error('the stand-ins do not run');
  return Number(found);
}

test('the stand-ins are killed: what they were at has failed, nothing new is begun, and all phones come again', async () => {
  await until(phones, () => phones.registrations().length > 0);
  const before = phones.place();
  const known = new Set(phones.registrations().map(({ user }) => user));
  const order = { call: workedCalls()[0]!.call, speed: 1, asIf: null } as const;
  const live = await phones.startTry('test', order as never);
  expect(live).toMatchObject({ state: 'running' });
  process.kill(standins(), 'SIGKILL');
  await until(phones, () => phones.place() === null);
  expect(phones.liveTry(live!.id)).toMatchObject({ state: 'failed', why: 'The stand-ins stopped.' });
  expect(ended).toBe(1);
  expect(phones.registrations()).toEqual([]);
  expect(await phones.startTry('test', order as never)).toBeNull();
  expect(
    phones.callBack({
      id: 'one',
      person: 'ines',
      extension: '4101',
      endpoint: 'ines-mobile',
      mobile: '+17785550115',
      number: '+16045550199',
      callerId: null,
      isWithheld: false,
      mostMs: null,
    }),
  ).toBe(false);
  expect(phones.callsBack('ines').filter(({ overMs }) => overMs === null)).toEqual([]);
  // Started again without being asked, with every phone that had been there.
  const users = () => new Set(phones.registrations().map(({ user }) => user));
  await until(phones, () => [...known].every((user) => users().has(user)));
  expect(phones.place()).not.toBeNull();
  expect(phones.place()).not.toBe(before);
}, 60_000);
