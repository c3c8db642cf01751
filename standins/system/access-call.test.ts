import { compileEstate, runCall, type Call } from '../../core/calls/engine';
import { ladderOf } from '../../core/calls/live';
import { workedEstate } from '../../core/tests/worked';
import type { CallRecord } from '../../core/records';
import type { AccessNumber, Estate } from '../../core/estate';
import type { AccessOrder, FromStandins } from '../messages';
import { openTown, type Town } from '../town';
import type { AccessCalled, CallBack, CodeReply } from './types';
import { until } from '../tests/until';

const worked = workedEstate();
const OUT: AccessNumber = { id: 'out', name: 'Out', number: '+12505550199' };
const BACK: AccessNumber = { id: 'back', name: 'Back', number: '+12505550198', hangUp: 'calls-back' };
const estate: Estate = { ...worked, accessNumbers: [OUT, BACK] };
const ines = estate.people.find(({ id }) => id === 'ines')!;
const MOBILE = ines.endpoints.find(({ kind }) => kind === 'mobile')!.number!;
const THEIRS = '+16045550199';
const DIALS = {
  person: 'ines',
  extension: '4101',
  number: THEIRS,
  callerId: '+12505550101',
  isWithheld: false,
  mostMs: null,
};

let town: Town;
let asked: AccessCalled[] = [];
let hungUp: Omit<AccessCalled, 'typed'>[] = [];
let records: CallRecord[] = [];
let messages: FromStandins[] = [];
let reply: (called: AccessCalled) => CodeReply;
beforeEach(async () => {
  [asked, hungUp, records, messages] = [[], [], [], []];
  town = await openTown({
    port: 0,
    tell: (message) => messages.push(message),
    keep: (record) => {
      records.push(record);
      return Promise.resolve();
    },
    onAccess: (called) => {
      asked.push(called);
      return Promise.resolve(reply(called));
    },
    onAccessHungUp: (called) => {
      hungUp.push(called);
    },
  });
  await town.setEstate(estate);
});
afterEach(() => town.close());
const order = (more: Partial<AccessOrder> = {}): AccessOrder => ({
  number: OUT.number,
  from: MOBILE,
  isVerified: true,
  typed: [],
  hangsUp: false,
  ...more,
});
const tone = ({ typed }: AccessCalled): CodeReply =>
  typed === null ? { says: 'tone', asks: true } : { says: '', asks: false, dials: DIALS };

test('a call from outside hears the tone, types a number, and is connected with it, which sees the work number', async () => {
  reply = tone;
  const { heard, called } = await town.tryAccess(order({ typed: ['6045550199'] }));
  expect(heard).toEqual(['ask tone', `calls ${THEIRS}`, `hello from ${THEIRS}`]);
  expect(called).toEqual({ number: THEIRS, saw: '+12505550101' });
  expect(asked).toMatchObject([
    { access: 'out', from: MOBILE, isVerified: true, typed: null },
    { access: 'out', from: MOBILE, typed: '6045550199' },
  ]);
  expect(new Set(asked.map(({ call }) => call)).size).toBe(1);
  expect(records).toMatchObject([
    { from: '4101', to: THEIRS, outcome: 'answered', answeredBy: THEIRS, legs: [{ end: 'connected' }] },
  ]);
  expect(records[0]!.talkMs).toBeGreaterThan(0);
});

/** Whoever else of the worked estate has an extension and a desk phone. */
const colleague = estate.people.find(
  ({ id, endpoints, lines }) =>
    id !== 'ines' && lines.length > 0 && endpoints.some(({ kind }) => kind === 'desk'),
)!;
const inside = { from: '4101', to: colleague.lines[0]!.extension };
const extension = ({ typed }: AccessCalled): CodeReply =>
  typed === null ? { says: 'tone', asks: true } : { says: '', asks: false, dialsIn: inside };

test('an extension is called by the plan of whoever has it, and its record is that of a call inside', async () => {
  reply = extension;
  const { heard, called } = await town.tryAccess(order({ typed: [inside.to] }));
  expect(called).toEqual({ number: inside.to, saw: '4101' });
  expect(heard.slice(0, 2)).toEqual(['ask tone', `calls ${inside.to}`]);
  const [record] = records;
  expect(records).toHaveLength(1);
  const call: Call = {
    from: '4101',
    to: inside.to,
    at: new Date(record!.startMs).toISOString(),
    world: record!.world!,
  };
  expect(record).toMatchObject({
    from: '4101',
    to: inside.to,
    outcome: runCall(compileEstate(estate), call).outcome.kind,
  });
});

test('who is called at an extension answers, and both hear each other until one hangs up', async () => {
  reply = extension;
  const desk = colleague.endpoints.find(({ kind }) => kind === 'desk')!;
  await town.setPhones([{ endpoint: desk.id, does: 'answers', answerAfterMs: 300 }]);
  await town.setAccounts([{ user: desk.id, password: 'a password', endpoint: desk.id }]);
  const { heard } = await town.tryAccess(order({ typed: [inside.to] }));
  expect(heard).toContain(`hello from ${desk.label}`);
  expect(records).toMatchObject([{ from: '4101', to: inside.to, outcome: 'answered', answeredBy: desk.id }]);
  expect(records[0]!.talkMs).toBeGreaterThan(0);
});

test('the messages of all legs are told once the record is kept, with the ways of each and no proof of a password', async () => {
  reply = tone;
  await town.tryAccess(order({ typed: ['6045550199'] }));
  await town.close();
  const told = messages.flatMap((each) => (each.kind === 'call-ladder' ? [each] : []));
  expect(told).toHaveLength(1);
  const { ladder, names } = told[0]!;
  expect([ladder.id, ladder.startMs]).toEqual([records[0]!.id, records[0]!.startMs]);
  const { parties, rows } = ladderOf(
    ladder.messages.map(({ atMs, from, to, bytes }) => ({
      atMs,
      bytes,
      from: `${from.host}:${from.port}`,
      to: `${to.host}:${to.port}`,
    })),
    names,
  );
  expect(parties.map(({ name }) => name)).toEqual(['Caller', 'Phone system', 'Carrier']);
  const invites = rows.filter(({ label }) => label === 'INVITE').map(({ from, to }) => `${from} ${to}`);
  // Asked for its password first, the caller comes twice; then the carrier is called.
  expect(invites).toEqual(['0 1', '0 1', '1 2']);
  expect(rows.map(({ label }) => label)).toContain('BYE');
  const all = rows.map(({ text }) => text).join('');
  expect(all).toMatch(/Authorization: .*response="not kept"/);
  expect(all).not.toMatch(/response="[0-9a-f]{32}"/);
});

test('one whose carrier does not vouch for the number is told so, as is one that is withheld', async () => {
  reply = () => ({ says: 'no', asks: false });
  await town.tryAccess(order({ isVerified: false }));
  await town.tryAccess(order({ from: null }));
  expect(asked).toMatchObject([
    { from: MOBILE, isVerified: false },
    { from: null, isVerified: false },
  ]);
  expect(records).toMatchObject([
    { from: MOBILE, to: OUT.number, outcome: 'abandoned' },
    { from: null, to: OUT.number, outcome: 'abandoned' },
  ]);
});

test('who shows an extension from outside is taken for nobody', async () => {
  reply = () => ({ says: 'no', asks: false });
  await town.tryAccess(order({ from: '4101' }));
  expect(asked).toMatchObject([{ from: null }]);
});

test('a number that is withheld is not seen by whoever is called', async () => {
  reply = (called) =>
    called.typed === null
      ? { says: 'tone', asks: true }
      : { says: '', asks: false, dials: { ...DIALS, isWithheld: true } };
  const { called } = await town.tryAccess(order({ typed: ['6045550199'] }));
  expect(called).toEqual({ number: THEIRS, saw: null });
});

test('a call that may last no longer is ended, with a word to both', async () => {
  reply = (called) =>
    called.typed === null
      ? { says: 'tone', asks: true }
      : { says: '', asks: false, dials: { ...DIALS, mostMs: 400 } };
  const { heard } = await town.tryAccess(order({ typed: ['6045550199'] }));
  expect(heard.at(-1)).toBe('told You have called as much today as your permission allows.');
  expect(records[0]!.talkMs).toBeLessThan(2000);
});

test('who is known and hangs up while it rings is called back, and types the number there', async () => {
  reply = tone;
  const back: CallBack = {
    ...DIALS,
    id: 'one',
    endpoint: 'ines-mobile',
    mobile: MOBILE,
    number: null,
    access: 'back',
  };
  const trying = town.tryAccess(order({ number: BACK.number, hangsUp: true, typed: ['6045550199'] }));
  await until(() => hungUp.length > 0);
  town.callBack(back);
  const { heard, called } = await trying;
  expect([heard, called]).toEqual([[], { number: THEIRS, saw: '+12505550101' }]);
  expect(hungUp).toMatchObject([{ access: 'back', from: MOBILE, isVerified: true }]);
  expect(asked.map(({ call, typed }) => [call, typed])).toEqual([
    ['one', null],
    ['one', '6045550199'],
  ]);
});

test('whoever is called back types an extension there too, and it is one call inside', async () => {
  reply = extension;
  const trying = town.tryAccess(order({ number: BACK.number, hangsUp: true, typed: [inside.to] }));
  await until(() => hungUp.length > 0);
  town.callBack({
    ...DIALS,
    id: 'in',
    endpoint: 'ines-mobile',
    mobile: MOBILE,
    number: null,
    access: 'back',
  });
  expect((await trying).called).toEqual({ number: inside.to, saw: '4101' });
  await town.close();
  expect(records).toMatchObject([
    // The call that was hung up, and the one that was typed.
    { to: BACK.number, outcome: 'abandoned' },
    { id: 'in', from: '4101', to: inside.to },
  ]);
  const ended = messages.flatMap((each) =>
    each.kind === 'call-back' && each.at.step === 'over' ? [each.id] : [],
  );
  expect(ended).toEqual(['in']);
});

test('who is not known, or hangs up at a number that calls nobody back, hears nothing more', async () => {
  reply = tone;
  await Promise.race([
    town.tryAccess(order({ number: BACK.number, from: '+17785550999', typed: [] })),
    town.tryAccess(order({ typed: [] })),
  ]);
  expect(hungUp).toEqual([]);
});
