import { deskEndpoint } from '../core/desks';
import type { Estate } from '../core/estate';
import { parseMessageSummary, writeMessageSummary } from '../core/wire/sip';
import { workedEstate } from '../core/tests/worked';
import type { FromStandins } from './messages';
import { placeCall } from './phones/caller';
import { openPhone } from './phones/phone';
import { clockAt } from './sip/clock';
import { openMailboxes } from './system/mailboxes';
import { until } from './tests/until';
import { openTown, type Town } from './town';

const worked = workedEstate();
const CODE = '*25';
const estate: Estate = {
  ...worked,
  dialling: { ...worked.dialling, codes: [{ code: CODE, does: 'Hear messages', acts: 'messages' }] },
  people: worked.people.map((person) =>
    person.id === 'ines'
      ? {
          ...person,
          endpoints: [...person.endpoints, { id: 'ines-hot', label: 'Shared', kind: 'hot-desk' as const }],
          plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' as const } } },
        }
      : person,
  ),
  devices: [{ id: 'shared', name: 'Hall phone', model: 'gannet-60' }],
  desks: [{ id: 'hall', name: 'Hall desk', device: 'shared' }],
};
const INES = estate.people.find(({ id }) => id === 'ines')!.lines[0]!.extension!;
const OWN = { user: 'ines-desk', password: 'one', endpoint: 'ines-desk' };
const OTHER = { user: 'tomasz-app', password: 'two', endpoint: 'tomasz-app' };
const hall = (endpoint: string) => ({ user: 'hall-phone', password: 'three', desk: 'hall', endpoint });
const BARE = hall(deskEndpoint('hall'));
const TAKEN = hall('ines-hot');

let town: Town;
let told: FromStandins[] = [];
beforeEach(async () => {
  told = [];
  town = await openTown({ port: 0, tell: (message) => told.push(message), restartsForMs: () => 0 });
  await town.setEstate(estate);
  await town.setAccounts([OWN, OTHER, BARE]);
});
afterEach(() => town.close());

const lampOf = (endpoint: string) =>
  told.flatMap((each) => (each.kind === 'lamp' && each.endpoint === endpoint ? [each.waiting] : [])).at(-1) ??
  null;
const lampIs = (endpoint: string, fresh: number, old: number) =>
  until(() => JSON.stringify(lampOf(endpoint)) === JSON.stringify({ fresh, old }));
/** Somebody calls Ines, hears her mailbox, speaks and hangs up. */
async function leaveMessage(): Promise<void> {
  const ready = told.find((each) => each.kind === 'ready');
  if (!ready) throw new Error('no phone system');
  const clock = clockAt();
  const phone = await openPhone({ address: '127.0.49.9', clock, manner: () => null });
  const call = { phone, clock, account: OTHER, server: ready.local.udp, from: OTHER.user, to: INES };
  await (
    await placeCall(call)
  ).over;
  await phone.close();
}
const listenAt = (endpoint: string) => town.press({ endpoint, code: CODE, typed: [] });

test('a message lights the lamp of the phone that its person sits at, and goes with them', async () => {
  await leaveMessage();
  await lampIs(OWN.endpoint, 1, 0);
  expect(told).toContainEqual({ kind: 'messages-waiting', person: 'ines', waiting: { fresh: 1, old: 0 } });
  // Nobody sits at the shared desk: nothing of hers is told there.
  expect(lampOf(BARE.endpoint)).toBeNull();
  expect(await listenAt(BARE.endpoint)).toContain('told Nobody is signed on at this phone.');

  await town.setAccounts([OWN, OTHER, TAKEN]);
  await lampIs(BARE.endpoint, 1, 0);
  const heard = await listenAt(TAKEN.endpoint);
  expect(heard?.[0]).toMatch(/^told One new message\. From \d+\.$/);
  // What was said when it was left is what is played.
  expect(heard).toContain('hello');
  expect(heard?.at(-1)).toBe('told No more messages.');
  await lampIs(BARE.endpoint, 0, 1);
  await lampIs(OWN.endpoint, 0, 1);
  expect(await listenAt(OWN.endpoint)).toEqual(['told No new messages.']);

  await leaveMessage();
  await lampIs(BARE.endpoint, 1, 1);
  await town.setAccounts([OWN, OTHER, BARE]);
  await lampIs(BARE.endpoint, 0, 0);
  expect(await listenAt(BARE.endpoint)).toEqual(['told Nobody is signed on at this phone.']);
});

test('a phone that comes back is told anew of what waits', async () => {
  await leaveMessage();
  await lampIs(OWN.endpoint, 1, 0);
  await town.setPhones([{ endpoint: OWN.endpoint, does: 'off', answerAfterMs: null }]);
  await lampIs(OWN.endpoint, 0, 0);
  await town.setPhones([]);
  await lampIs(OWN.endpoint, 1, 0);
});

test('a caller who leaves a message as a try speaks to the mailbox, and gives up where nobody answers', async () => {
  const call = (number: string) =>
    town.tryAccess({
      number,
      from: null,
      isVerified: false,
      typed: [],
      hangsUp: false,
      stays: { ringMs: 1500, talkMs: 300 },
    });
  expect((await call(INES)).heard).toEqual(['mailbox of Ines']);
  await lampIs(OWN.endpoint, 1, 0);
  // Nobody takes the call there, and what comes after the ringing comes too late for this caller.
  const { extension } = estate.people.find(({ id }) => id === 'tomasz')!.lines[0]!;
  expect((await call(extension)).heard.filter((each) => each.startsWith('mailbox'))).toEqual([]);
  expect(told.filter((each) => each.kind === 'messages-waiting')).toHaveLength(1);
});

test('mailboxes are bounded, and keep what nobody has heard', () => {
  const seen: string[] = [];
  const mailboxes = openMailboxes((person) => seen.push(person));
  const message = (person: string, ms: number) => ({
    person,
    from: null,
    startMs: 0,
    muLaw: new Uint8Array(ms * 8),
  });
  expect(mailboxes.leave(message('ann', 20))).toBe(false);
  for (let nth = 0; nth < 30; nth += 1) expect(mailboxes.leave(message('ann', 1000))).toBe(true);
  expect(mailboxes.leave(message('ann', 1000))).toBe(false);
  expect(mailboxes.waiting('ann')).toEqual({ fresh: 30, old: 0 });
  const first = mailboxes.next('ann')!;
  mailboxes.heard(first);
  mailboxes.heard(first);
  expect(mailboxes.waiting('ann')).toEqual({ fresh: 29, old: 1 });
  for (let next = mailboxes.next('ann'); next; next = mailboxes.next('ann')) mailboxes.heard(next);
  expect(mailboxes.waiting('ann')).toEqual({ fresh: 0, old: 10 });
  // Others have room left, until half an hour is kept of all together.
  let kept = 0;
  for (let who = 0; who < 100; who += 1) if (mailboxes.leave(message(`p${who}`, 60_000))) kept += 1;
  expect(kept).toBe(29);
  expect(mailboxes.waiting('p99')).toEqual({ fresh: 0, old: 0 });
});

test('what a phone is told of a mailbox is written and read as RFC 3842 has it', () => {
  const text = writeMessageSummary({ fresh: 2, old: 8 }, 'sip:4127@hostler');
  expect(text).toBe(
    'Messages-Waiting: yes\r\nMessage-Account: sip:4127@hostler\r\nVoice-Message: 2/8 (0/0)\r\n',
  );
  expect(parseMessageSummary(text)).toEqual({ fresh: 2, old: 8 });
  expect(parseMessageSummary('messages-waiting :\tYES\nFax-Message: 1/0\n')).toEqual({ fresh: 1, old: 0 });
  expect(parseMessageSummary('Messages-Waiting: no')).toEqual({ fresh: 0, old: 0 });
  for (const bad of [
    '',
    'Voice-Message: 1/0',
    'Messages-Waiting: perhaps\r\n',
    `Messages-Waiting: yes\r\n${'x'.repeat(5000)}`,
  ])
    expect(parseMessageSummary(bad)).toBeNull();
});
