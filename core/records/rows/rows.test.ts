import { workedEstate } from '../../tests/worked';
import { readRecords, recordLine, type CallRecord } from '..';
import {
  callColumnsFault,
  callHeadings,
  callReader,
  callRows,
  guessOrder,
  isEitherOrder,
  matchCallColumns,
  readLength,
  readMoment,
  type CallChoices,
  type RowFault,
} from '.';

const ZONE = 'America/Vancouver';
/** Reads a small table, as its lines say. */
function read(lines: readonly string[], more: Partial<CallChoices> = {}) {
  const [head = '', ...rows] = lines;
  const calls: CallRecord[] = [];
  const faults: RowFault[] = [];
  const columns = matchCallColumns(head.split(','));
  const reader = callReader({
    choices: {
      columns,
      dates: 'iso',
      timeZone: ZONE,
      isByLeg: columns.leg !== undefined,
      joinWithinS: 3,
      words: {},
      ...more,
    },
    dialling: workedEstate().dialling,
    phoneOf: (text) => (text === '+17785550115' ? 'mobile' : text),
    hashOf: (text) => `h${[...text].reduce((sum, char) => (sum * 31 + char.charCodeAt(0)) % 1_000_003, 7)}`,
    onCall: (call) => calls.push(call),
    onFault: (fault) => faults.push(fault),
  });
  rows.forEach((row, n) => reader.row(row.split(','), n + 2));
  reader.end();
  return { calls, faults, reader };
}

test('columns are matched by their headings, in whatever spelling', () => {
  expect(
    matchCallColumns(['Call-ID', 'callStart', 'Calling number', 'Dialed_Number', 'Disposition', 'billsec']),
  ).toEqual({
    id: 0,
    start: 1,
    from: 2,
    to: 3,
    outcome: 4,
    talk: 5,
  });
  expect(callColumnsFault({ start: 0 }, false)).toContain('what was called');
  expect(callColumnsFault({ to: 0 }, false)).toContain('began');
  expect(callColumnsFault({ to: 0, date: 1 }, true)).toContain('phone rang');
  expect(callColumnsFault({ to: 0, date: 1 }, false)).toBeNull();
});

test.each([
  ['2026-11-24T15:04:05Z', 'iso', '2026-11-24T15:04:05.000Z'],
  ['2026-11-24 15:04:05.250-07:00', 'iso', '2026-11-24T22:04:05.250Z'],
  ['2026/7/1 9:05', 'iso', '2026-07-01T16:05:00.000Z'],
  ['24.11.2026, 15:04', 'dmy', '2026-11-24T22:04:00.000Z'],
  ['11/24/26 3:04:05 PM', 'mdy', '2026-11-24T22:04:05.000Z'],
  ['12/24/2026 12:30 AM', 'mdy', '2026-12-24T07:30:00.000Z'],
  ['1795561445', 'epoch', '2026-11-24T23:04:05.000Z'],
  ['1795561445123', 'epoch', '2026-11-24T23:04:05.123Z'],
] as const)('the moment %s (%s) is %s', (text, order, iso) => {
  const moment = readMoment(text, order, ZONE);
  expect(moment.ok && new Date(moment.ms).toISOString()).toBe(iso);
});

test('a clock put forward never showed some times, and one put back showed some twice', () => {
  const berlin = (text: string) => readMoment(text, 'iso', 'Europe/Berlin');
  expect(berlin('2026-03-29 02:30:00')).toMatchObject({ ok: false });
  expect(berlin('2026-10-25 02:30:00')).toMatchObject({
    ok: true,
    isTwice: true,
    ms: Date.parse('2026-10-25T00:30:00Z'),
  });
  expect(berlin('2026-10-25 03:30:00')).toMatchObject({ ok: true, isTwice: false });
});

test.each([
  '',
  'yesterday',
  '2026-13-01 10:00',
  '2026-02-30 10:00',
  '31.04.2026 10:00',
  '2026-11-24 25:00',
  '2026-11-24 10:61',
  '0026-01-01',
  '=NOW()',
])('“%s” is no moment', (text) => expect(readMoment(text, 'dmy', ZONE)).toMatchObject({ ok: false }));

test('the order of dates is told by the dates themselves, and where it cannot be, it is said', () => {
  expect(guessOrder(['2026-11-24 10:00', '2026-01-02'])).toBe('iso');
  expect(guessOrder(['24.11.2026', '01.02.2026'])).toBe('dmy');
  expect(guessOrder(['11/24/2026', '01/02/2026'])).toBe('mdy');
  expect(guessOrder(['1795561445'])).toBe('epoch');
  expect(guessOrder(['13/13/2026'])).toBeNull();
  expect(isEitherOrder(['01/02/2026', '03/04/2026'])).toBe(true);
  expect(isEitherOrder(['01/02/2026', '13/04/2026'])).toBe(false);
});

test.each([
  ['75', 75_000],
  ['1:15', 75_000],
  ['0:01:15', 75_000],
  ['12,5 s', 12_500],
  ['250 ms', 250],
  ['24:00:00', 86_400_000],
] as const)('the length %s is %s ms', (text, ms) => expect(readLength(text)).toEqual({ ok: true, ms }));
test.each(['-5', '−1:00', '30:00:00', 'long', '=1+1'])('“%s” is no length', (text) =>
  expect(readLength(text)).toMatchObject({ ok: false }),
);

test('one row a call: outcomes in words, as SIP statuses and as causes; numbers in any form; withheld', () => {
  const { calls, faults } = read([
    'start,from,to,result,wait,talk,answered by',
    '2026-11-24 15:00:00,(604) 555-0199,4101,ANSWERED,8,60,+17785550115',
    '2026-11-24 15:01:00,anonymous,4101,NO ANSWER,30,,',
    '2026-11-24 15:02:00,4102,4101,487,12,,',
    '2026-11-24 15:03:00,+16045550199,4101,16,9,0:30,4101',
  ]);
  expect(faults).toEqual([]);
  expect(
    calls.map(({ from, outcome, atMs, talkMs, answeredBy }) => [from, outcome, atMs, talkMs, answeredBy]),
  ).toEqual([
    ['+16045550199', 'answered', 8000, 60_000, 'mobile'],
    [null, 'unanswered', 30_000, 0, undefined],
    ['4102', 'abandoned', 12_000, 0, undefined],
    ['+16045550199', 'answered', 9000, 30_000, '4101'],
  ]);
  // What was read is a call record as the open form has it.
  expect(readRecords(calls.map((call) => JSON.parse(recordLine(call)) as unknown))).toMatchObject({
    ok: true,
  });
});

test('one row a phone: rows join by the call’s id, wherever they stand, or by who called whom when', () => {
  const byId = read([
    'call id,start,from,to,phone,phone dialled,ring,leg result,talk',
    'a,2026-11-24 15:00:00,4102,4101,desk,2026-11-24 15:00:00,20,no answer,',
    'b,2026-11-24 15:00:01,4103,4101,desk,2026-11-24 15:00:01,5,answered,9',
    'a,2026-11-24 15:00:00,4102,4101,+17785550115,2026-11-24 15:00:05,7,answered,61',
  ]);
  expect(byId.faults).toEqual([]);
  expect(
    byId.calls.map(({ to, outcome, atMs, talkMs, answeredBy, legs }) => ({
      to,
      outcome,
      atMs,
      talkMs,
      answeredBy,
      legs,
    })),
  ).toEqual([
    {
      to: '4101',
      outcome: 'answered',
      atMs: 12_000,
      talkMs: 61_000,
      answeredBy: 'mobile',
      legs: [
        { endpoint: 'desk', dialledMs: 0, alertMs: 0, endMs: 20_000, end: 'no-answer' },
        {
          endpoint: 'mobile',
          dialledMs: 5000,
          alertMs: 5000,
          endMs: 12_000,
          end: 'connected',
          answerMs: 12_000,
        },
      ],
    },
    expect.objectContaining({ answeredBy: 'desk', atMs: 5000 }),
  ]);
  const rows = [
    'start,from,to,phone,ring,leg result',
    '2026-11-24 15:00:00,4102,4101,desk,20,no answer',
    '2026-11-24 15:00:02,4102,4101,app,18,no answer',
    '2026-11-24 15:01:00,4102,4101,desk,20,no answer',
  ];
  expect(read(rows).calls.map(({ legs }) => legs.length)).toEqual([2, 1]);
  expect(read(rows, { joinWithinS: 1 }).calls.map(({ legs }) => legs.length)).toEqual([1, 1, 1]);
});

test('what cannot be read is told by line and column, and the rest is read all the same', () => {
  const { calls, faults, reader } = read([
    'start,from,to,result,talk',
    '2026-11-24 15:00:00,4102,4101,answered,60',
    'soon,4102,4101,answered,60',
    '2026-11-24 15:00:00,nobody,4101,answered,60',
    '2026-11-24 15:00:00,4102,,answered,60',
    '2026-11-24 15:00:00,4102,4101,sort of,60',
    '2026-11-24 15:00:00,4102,4101,answered,-3',
    '2026-11-24 15:00:00,4102,4101,answered,30:00:00',
    '2026-11-24 15:00:00,=CMD(),4101,answered,1',
  ]);
  expect(calls).toHaveLength(1);
  expect(faults.map(({ line, column }) => [line, column])).toEqual([
    [3, 1],
    [4, 2],
    [5, 3],
    [6, 4],
    [7, 5],
    [8, 5],
    [9, 2],
  ]);
  expect(reader.read()).toEqual({ rows: 8, calls: 1, leftOut: 7, twice: 0 });
  expect(reader.words().find(({ key }) => key === 'sortof')).toMatchObject({ count: 1, means: null });
  // Once it was said what the word means, it is read.
  const again = read(['start,to,result', '2026-11-24 15:00:00,4101,sort of'], {
    words: { sortof: 'mailbox' },
  });
  expect(again.calls).toMatchObject([{ outcome: 'mailbox' }]);
});

test('the nth equal row is the nth call: the same file again has the same ids, and no two calls one', () => {
  const rows = [
    'start,from,to',
    '2026-11-24 15:00:00,4102,4101',
    '2026-11-24 15:00:00,4102,4101',
    '2026-11-24 15:00:01,4102,4101',
  ];
  const [once, again] = [read(rows), read(rows)].map(({ calls }) => calls.map(({ id }) => id));
  expect(new Set(once).size).toBe(3);
  expect(again).toEqual(once);
  // A file that has one of them more adds that one alone.
  const more = read([...rows, rows[1]!]).calls.map(({ id }) => id);
  expect(more.filter((id) => !once!.includes(id))).toHaveLength(1);
});

describe('calls written as a table are read back', () => {
  const legs = [
    { endpoint: 'desk', dialledMs: 0, alertMs: 200, endMs: 12_345, end: 'caller-gone' },
    {
      endpoint: '+17785550115',
      dialledMs: 5000,
      alertMs: null,
      endMs: 9000,
      end: 'unreachable',
      trunk: 'coast',
    },
  ] as const;
  const calls: readonly CallRecord[] = [
    {
      id: 'c-1',
      startMs: Date.parse('2026-11-24T22:04:05.250Z'),
      from: '+16045550199',
      to: '+12505550101',
      outcome: 'answered',
      answeredBy: 'desk',
      atMs: 12_345,
      talkMs: 61_500,
      legs: [...legs],
      trunkIn: 'terminal',
      system: 'yard',
    },
    {
      id: 'c-2',
      // Twenty past one, the second time that night.
      startMs: Date.parse('2026-11-01T09:20:00Z'),
      from: null,
      to: '4101',
      outcome: 'abandoned',
      atMs: 4000,
      talkMs: 0,
      legs: [],
    },
  ];
  const back = (kind: 'call' | 'phone') =>
    read(
      [
        callHeadings(kind).join(','),
        ...calls.flatMap((call) => callRows(call, kind, ZONE)).map((row) => row.join(',')),
      ],
      { isByLeg: kind === 'phone' },
    );

  test('one row a call: all but the phones that rang', () => {
    const { calls: read1, faults } = back('call');
    expect(faults).toEqual([]);
    expect(
      read1.map(({ startMs, from, to, outcome, atMs, talkMs }) => [startMs, from, to, outcome, atMs, talkMs]),
    ).toEqual(
      calls.map(({ startMs, from, to, outcome, atMs, talkMs }) => [startMs, from, to, outcome, atMs, talkMs]),
    );
  });

  test('one row a phone: the phones too, with how their ringing ended', () => {
    const { calls: read1, faults } = back('phone');
    expect(faults).toEqual([]);
    const first = read1.find(({ to }) => to === '+12505550101')!;
    expect(first.legs.map(({ endpoint, dialledMs, end }) => [endpoint, dialledMs, end])).toEqual([
      ['desk', 0, 'caller-gone'],
      ['mobile', 5000, 'unreachable'],
    ]);
    expect(first.legs[1]!.trunk).toBe('coast');
  });
});
