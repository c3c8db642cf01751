import { compileEstate } from '../../core/calls/engine';
import { readRecords, recordLine, type CallRecord } from '../../core/records';
import { workedEstate } from '../../core/tests/worked';
import type { Manner } from '../phones/answering';
import { openPhone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import { endpointTimes } from '../../core/estate';
import { header } from '../../core/wire/sip';
import { openSystem, type CallBackAt } from '.';

const MINE = '+17785550115';
const THEIRS = '+16045550199';
const times = { ...endpointTimes({ kind: 'mobile' }), setupMs: 200, mailboxAfterMs: null };
const manner = (behaviour: Manner['behaviour'], more: Partial<Manner> = {}): Manner => ({
  behaviour: { mailboxAfterMs: null, ...behaviour },
  times,
  isPublic: true,
  says: 'hello',
  ...more,
});

/** One call back, with how the phones at both ends do. */
async function calledBack(address: string, mine: Manner, theirs: Manner, channels = 4, isWithheld = false) {
  const shown: Record<string, string | null>[] = [];
  const clock = clockAt(4);
  const estate = workedEstate();
  const index = compileEstate({
    ...estate,
    trunks: estate.trunks.map((trunk) => ({ ...trunk, channels })),
  });
  const carrier = await openPhone({
    address: address.replace(/\d+$/, '9'),
    clock,
    manner: (number, { request }) => {
      shown.push({
        number,
        from: header(request, 'From')?.replace(/;tag=.*/, '') ?? null,
        asserted: header(request, 'P-Asserted-Identity') ?? null,
        privacy: header(request, 'Privacy') ?? null,
      });
      return number === MINE ? mine : theirs;
    },
  });
  const records: CallRecord[] = [];
  const system = await openSystem({
    address,
    port: 0,
    transports: ['udp', 'tcp'],
    estate: () => index,
    account: () => null,
    userOf: (endpoint) => endpoint,
    carrier: carrier.node.transport.local.udp,
    clock,
    at: () => '2026-11-24T14:20:00-07:00',
    keep: (record) => {
      records.push(record);
      return Promise.resolve();
    },
  });
  const steps: CallBackAt[] = [];
  await new Promise<void>((over) => {
    system.callBack(
      {
        id: 'one',
        person: 'ines',
        extension: '4101',
        endpoint: 'ines-mobile',
        mobile: MINE,
        number: THEIRS,
        callerId: '+12505550101',
        isWithheld,
        mostMs: null,
      },
      (at) => {
        steps.push(at);
        if (at.step === 'over') over();
      },
    );
  });
  const left = system.callsInProgress();
  await system.close();
  await carrier.close();
  return { steps: steps.map(({ step }) => step), why: steps.at(-1)?.why, records, left, shown };
}

test('the mobile rings, a key takes the call, the number is called, both talk, and it leaves one record', async () => {
  const { steps, why, records, left } = await calledBack(
    '127.0.44.1',
    manner({ answerAfterMs: 400, pressAfterMs: 800 }),
    manner({ answerAfterMs: 400 }, { onMessage: { afterMs: 600, press: null } }),
  );
  expect(steps).toEqual(['rings-you', 'asks-key', 'calls-them', 'talks', 'over']);
  expect([why, left]).toEqual([null, 0]);
  expect(records).toHaveLength(1);
  const [record] = records;
  expect(record).toMatchObject({
    from: '4101',
    to: THEIRS,
    outcome: 'answered',
    answeredBy: THEIRS,
    source: 'live',
  });
  expect(record?.legs.map(({ endpoint, end }) => [endpoint, end])).toEqual([
    ['ines-mobile', 'connected'],
    [THEIRS, 'connected'],
  ]);
  expect(record!.talkMs).toBeGreaterThan(0);
  expect(readRecords([JSON.parse(recordLine(record!)) as unknown])).toMatchObject({ ok: true });
});

test.each([
  [false, `<sip:+12505550101@`, null, null],
  [true, '"Anonymous" <sip:anonymous@anonymous.invalid>', '<sip:+12505550101@', 'id'],
] as const)('withheld: %s, for whoever is called alone', async (isWithheld, from, asserted, privacy) => {
  const { shown, records } = await calledBack(
    '127.0.44.4',
    manner({ answerAfterMs: 200, pressAfterMs: 400 }),
    manner({ answerAfterMs: 200 }, { onMessage: { afterMs: 300, press: null } }),
    4,
    isWithheld,
  );
  const [mine, theirs] = shown;
  // One's own phone shows the number of the organisation: one knows who calls.
  expect(mine).toMatchObject({ number: MINE, asserted: null, privacy: null });
  expect(mine?.from).toContain('+12505550101');
  expect(theirs?.number).toBe(THEIRS);
  expect(theirs?.from?.startsWith(from)).toBe(true);
  expect(theirs?.from?.includes('+12505550101')).toBe(!isWithheld);
  expect([theirs?.asserted?.slice(0, 18) ?? null, theirs?.privacy]).toEqual([asserted, privacy]);
  // The record has who called, whatever the far end saw.
  expect(records).toMatchObject([{ from: '4101', to: THEIRS }]);
});

test.each([
  ['nobody answers there', manner({}), 'Your phone was not answered.', ['rings-you', 'over']],
  ['it is busy', manner({ state: 'busy' }), 'Your phone is busy.', ['rings-you', 'over']],
  [
    'a voicemail answers there',
    manner({ state: 'off', mailboxAfterMs: 5000, offAnswerMs: 300 }),
    'A voicemail answered at your phone.',
    ['rings-you', 'over'],
  ],
  [
    'no key is pressed',
    manner({ answerAfterMs: 200, pressAfterMs: null }),
    'No key was pressed at your phone.',
    ['rings-you', 'asks-key', 'over'],
  ],
  [
    'the key that refuses is pressed',
    manner({ answerAfterMs: 200, pressAfterMs: null, refuseAfterMs: 300 }),
    'You did not take the call.',
    ['rings-you', 'asks-key', 'over'],
  ],
] as const)('the number is never called where %s', async (_how, mine, says, steps) => {
  const seen = await calledBack('127.0.44.2', mine, manner({ answerAfterMs: 100 }));
  expect(seen.why).toBe(says);
  expect(seen.steps).toEqual(steps);
  expect(seen.records.every(({ legs }) => legs.length === 1)).toBe(true);
});

test.each([
  ['is busy', manner({ state: 'busy' }), 'The number is busy.'],
  ['rejects', manner({ rejectAfterMs: 200, answerAfterMs: null }), 'The call was rejected.'],
] as const)(
  'a number that %s ends it, and the record says that it was not answered',
  async (_how, theirs, says) => {
    const seen = await calledBack('127.0.44.3', manner({ answerAfterMs: 200, pressAfterMs: 400 }), theirs);
    expect(seen.why).toBe(says);
    expect(seen.records).toMatchObject([{ outcome: 'unanswered', talkMs: 0 }]);
  },
);

test('two channels are needed: with none free nothing rings, with one the number is not called', async () => {
  const takes = manner({ answerAfterMs: 200, pressAfterMs: 400 });
  const none = await calledBack('127.0.44.4', takes, manner({ answerAfterMs: 100 }), 0);
  expect([none.why, none.records]).toEqual(['No channel was free.', []]);
  const one = await calledBack('127.0.44.5', takes, manner({ answerAfterMs: 100 }), 1);
  expect(one.why).toBe('No channel was free.');
  expect(one.steps).toContain('calls-them');
});
