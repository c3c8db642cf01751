import { readRecords, recordLine, type CallRecord } from '../../core/records';
import { openLine } from '../tests/line';

const PLAYS = {
  mode: 'by-rank',
  members: [{ seat: 'night' }],
  ending: { kind: 'hang-up', message: '' },
} as const;
const NIGHT = {
  id: 'night',
  name: 'Night',
  extension: '4555',
  unattended: { play: '7', thenMs: 400 },
} as const;

/** Calls the line once; what was carried and what was kept, in turn. */
async function called(
  address: string,
  how: { readonly patienceMs?: number; readonly talkMs?: number },
  fails = false,
) {
  const turn: string[] = [];
  const records: CallRecord[] = [];
  const line = await openLine(address, 4, PLAYS, {
    estate: { seats: [NIGHT] },
    options: {
      keep: async (record) => {
        turn.push('keeping');
        await new Promise((soon) => setImmediate(soon));
        if (fails) throw new Error('the disk is full');
        records.push(record);
        turn.push('kept');
      },
      onCarried: ({ bytes }) => {
        if (/^SIP\/2\.0 200/.test(bytes) && /^CSeq: *\d+ BYE/im.test(bytes)) turn.push('bye answered');
        if (bytes.startsWith('BYE ')) turn.push('bye');
      },
    },
  });
  await line.call(address.replace(/1$/, '3'), how);
  const left = line.callsInProgress();
  await line.close();
  return { turn, records, left };
}

test('a caller who hangs up is answered once the record stands, and it is a call record as the open form has it', async () => {
  const { turn, records, left } = await called('127.0.45.1', { talkMs: 300 });
  expect(left).toBe(0);
  expect(turn.indexOf('kept')).toBeGreaterThan(turn.indexOf('bye'));
  expect(turn.indexOf('bye answered')).toBeGreaterThan(turn.indexOf('kept'));
  expect(records).toHaveLength(1);
  const [record] = records;
  expect(record).toMatchObject({
    from: '+16045550199',
    to: '4990',
    outcome: 'played',
    answeredBy: 'night',
    source: 'live',
  });
  expect(record!.talkMs).toBeGreaterThan(0);
  expect(readRecords([JSON.parse(recordLine(record!)) as unknown])).toMatchObject({ ok: true });
});

test('a record that cannot be kept ends no call’s end: it is answered all the same', async () => {
  const { turn, records, left } = await called('127.0.45.1', { talkMs: 200 }, true);
  expect([records, left]).toEqual([[], 0]);
  expect(turn).toContain('bye answered');
});
