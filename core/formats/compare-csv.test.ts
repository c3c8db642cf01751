import { personOf, smallEstate } from '../tests/small';
import { compareTable, matchCompared } from './compare-csv';
import { readCsv } from './csv';

const ada = personOf('ada', 1, {});
const estate = smallEstate([
  ada,
  personOf('ben', 2, {}, { mailbox: { enabled: false } }),
  personOf('cleo', 3, {}),
]);
function compare(text: string, remembered: Record<string, string> = {}) {
  const read = readCsv(text);
  if (!read.ok) throw new Error('unread');
  return compareTable(estate, read.table, matchCompared(read.table.headings, remembered));
}
const HEAD = 'Ext,Name,Mobile,Forward to,Max calls,Voicemail';

test('what differs is told setting by setting, each with the person as the other system has it', () => {
  const { deviations, same } = compare(
    `${HEAD}\n4101,Ada Test,+1 250 555 0121,4102,3,on\n4102,Ben Test,+1 250 555 0122,,1,on\n4103,Cleo Test,,,,\n`,
  );
  expect(same).toBe(1);
  expect(deviations.map(({ id, ours, theirs }) => [id, ours, theirs])).toEqual([
    ['ada/forwardAll', 'none', '4102'],
    ['ada/maxCalls', '1', '3'],
    ['ben/mailbox', 'off', 'on'],
  ]);
  expect(deviations[0]!.take).toEqual({
    ...ada,
    lines: [{ ...ada.lines[0]!, forwardAll: { kind: 'person', person: 'ben' } }],
  });
  expect(deviations[1]!.take).toEqual({ ...ada, maxCalls: 3 });
});

test('who is missing on either side is told; what cannot be taken over says why', () => {
  const { deviations, refused } = compare(
    `${HEAD}\n4101,Ada Test,,elsewhere,many,perhaps\n4190,Zoe New,,,,\n41,Short,,,,\n`,
  );
  expect(deviations.map(({ id, take, why }) => [id, take !== null, why])).toEqual([
    ['ada/forwardAll', false, 'is no number that is known'],
    ['ada/maxCalls', false, 'is no number of calls'],
    ['ada/mailbox', false, 'is neither on nor off'],
    ['new/4190', true, null],
    ['missing/ben', false, expect.any(String)],
    ['missing/cleo', false, expect.any(String)],
  ]);
  expect(refused).toMatchObject([{ line: 4, name: 'Short' }]);
});

test('one setting taken over leaves the others of the row alone', () => {
  const { deviations } = compare(`${HEAD}\n4101,Ada Renamed,+1 250 555 0199,,,\n`);
  const by = new Map(deviations.map((each) => [each.id, each.take]));
  expect(by.get('ada/name')).toEqual({ ...ada, name: 'Ada Renamed' });
  expect(by.get('ada/mobile')).toMatchObject({
    name: 'Ada Test',
    endpoints: [{ id: 'ada-desk' }, { number: '+12505550199' }],
  });
});

test('headings that were matched by hand are remembered', () => {
  const text = 'Nebenstelle,Wer,Weiter\n4101,Ada Test,4103\n';
  expect(
    compare(text, { extension: 'Nebenstelle', name: 'Wer', forwardAll: 'Weiter' }).deviations[0],
  ).toMatchObject({
    id: 'ada/forwardAll',
    theirs: '4103',
  });
});
