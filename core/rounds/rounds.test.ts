import fc from 'fast-check';
import { readCsv } from '../formats';
import { workedEstate } from '../tests/worked';
import {
  afterRoundCall,
  beginningRound,
  CALL_ENDS,
  mayCallAt,
  nextAllowedMs,
  readRoundList,
  roundReport,
  type ListRow,
} from '.';

const estate = workedEstate();
const permission = estate.permissions.find(({ allow }) => allow.includes('national'))!.id;
const judge = { estate, permission, never: new Set(['+12365550177']) };
function read(lines: readonly string[]): readonly ListRow[] {
  const csv = readCsv(lines.join('\n'));
  if (!csv.ok) throw new Error('no table');
  const list = readRoundList(csv.table, judge);
  if (!list.ok) throw new Error(list.faults[0]!.message);
  return list.rows;
}
const ZONE = 'America/Vancouver';

test('each row is taken up with the state it begins in, and why it is not called', () => {
  const rows = read([
    'Passenger,Phone number,Time zone,Cabin',
    `Ona Reef,236 555 0160,${ZONE},12`,
    `Ona again,'+1 (236) 555-0160,${ZONE},13`,
    `Pip Shoal,236 555 0177,${ZONE},`,
    'No Zone,236 555 0161,,',
    'Bad Zone,236 555 0162,Sound time,',
    `Nobody,12,${ZONE},`,
    `Help,911,${ZONE},`,
    `Dear,1 900 555 0100,${ZONE},`,
    `Letters,call me,${ZONE},`,
    'Far Away,+44 20 7946 0000,Europe/London,',
  ]);
  expect(rows.map(({ line, number, state, why }) => [line, number, state, why])).toEqual([
    [2, '+12365550160', 'waiting', ''],
    [3, '+12365550160', 'refused', 'stands in line 2 already'],
    [4, '+12365550177', 'never-call', 'is on the never-call list'],
    [5, '+12365550161', 'refused', 'has no time zone'],
    [6, '+12365550162', 'refused', '"Sound time" is no time zone such as America/Vancouver'],
    [7, null, 'bad-number', 'the numbering plan has no such number; add the area or the country'],
    [8, null, 'bad-number', 'is an emergency number'],
    [9, '+19005550100', 'refused', 'is a premium number, which the fraud guard watches'],
    [10, null, 'bad-number', 'a number is written in digits, not letters'],
    [11, '+442079460000', 'refused', 'the permission does not allow this number'],
  ]);
  expect(rows[0]).toMatchObject({ name: 'Ona Reef', zone: ZONE, fields: { Cabin: '12' } });
});

test.each([
  ['Name,Zone\nA,B', 'no column is headed "number"'],
  ['Number\n236 555 0160', 'no column is headed "zone"'],
])('a list without a column it needs is refused by its name', (text, why) => {
  const csv = readCsv(text);
  if (!csv.ok) throw new Error('no table');
  const list = readRoundList(csv.table, judge);
  expect(list.ok ? '' : list.faults[0]!.message).toContain(why);
});

test('hours are those of the called person’s zone, over summer time too', () => {
  const plan = { hours: { from: '09:00', to: '20:00' } };
  const at = (iso: string) => Date.parse(iso);
  // 09:00 in St John's is half past four in the morning in Vancouver.
  expect(mayCallAt(plan, 'America/St_Johns', at('2026-11-24T12:30:00Z'))).toBe(true);
  expect(mayCallAt(plan, ZONE, at('2026-11-24T12:30:00Z'))).toBe(false);
  expect(mayCallAt(plan, 'Nowhere/Here', at('2026-11-24T20:00:00Z'))).toBe(false);
  expect(nextAllowedMs(plan, [ZONE, 'America/St_Johns'], at('2026-11-24T12:29:00Z'))).toBe(
    at('2026-11-24T12:30:00Z'),
  );
  expect(nextAllowedMs(plan, [ZONE, 'America/St_Johns'], at('2026-11-24T12:31:00Z'))).toBeNull();
  // The clocks of London go back in the night to 2026-10-25.
  expect(nextAllowedMs(plan, ['Europe/London'], at('2026-10-24T19:30:00Z'))).toBe(at('2026-10-25T09:00:00Z'));
  expect(mayCallAt({ hours: { from: '00:00', to: '00:00' } }, ZONE, at('2026-11-24T12:30:00Z'))).toBe(true);
  expect(mayCallAt({ hours: { from: '22:00', to: '02:00' } }, ZONE, at('2026-11-24T08:30:00Z'))).toBe(true);
});

test('whoever was reached, is never to be called or may have been reached is not called again', () => {
  const plan = { ...beginningRound('A round', permission), tries: 3, pauseMinutes: 10 };
  const after = (end: (typeof CALL_ENDS)[number], tries: number) => afterRoundCall(plan, end, tries, 1000);
  expect(after('busy', 1)).toEqual({ state: 'waiting', againMs: 601_000, never: false, why: 'busy' });
  expect(after('busy', 3).state).toBe('busy');
  expect(after('rejected', 3)).toMatchObject({ state: 'refused', why: 'the call was rejected' });
  expect(after('unreachable', 3).state).toBe('no-answer');
  expect(after('key-9', 1)).toMatchObject({ state: 'never-call', never: true });
  expect(after('no-channel', 1)).toMatchObject({ state: 'waiting', againMs: 6000 });
  fc.assert(
    fc.property(fc.constantFrom(...CALL_ENDS), fc.integer({ min: 1, max: 9 }), (end, tries) => {
      const { state, againMs, never } = after(end, tries);
      // It is called again only while it waits, and after the last try never, but where none was placed.
      expect(againMs === null).toBe(state !== 'waiting');
      if (tries >= plan.tries && end !== 'no-channel') expect(againMs).toBeNull();
      if (['key-1', 'key-9', 'listened', 'voicemail', 'lost'].includes(end)) expect(againMs).toBeNull();
      expect(never).toBe(end === 'key-9');
    }),
  );
});

test('the report has a line for each row of the list, with all its columns, and no formulas', () => {
  const [first] = read(['Number,Zone,Result', `236 555 0160,${ZONE},=1+1`]);
  const report = roundReport([
    {
      ...first!,
      state: 'heard',
      why: 'pressed 1',
      tries: 2,
      calledAt: '2026-11-24T10:00:00-08:00',
      playedS: 7,
    },
  ]);
  expect(report.split('\r\n')).toEqual([
    'line,number,name,zone,result,why,tries,last called,seconds played,Result',
    `2,+12365550160,,${ZONE},heard,pressed 1,2,2026-11-24T10:00:00-08:00,7,'=1+1`,
    '',
  ]);
});
