import { dialledMaps, dialString, extensionsOf, inForm, premiumPrefixes } from '../calls/dialling';
import { CANADA as canada } from '../tests/dial-plans';
import { applyMend } from './mends';
import { compileTable } from './trace';
import { matchesMap, readDigitMap } from './digit-map';
import { readEstateFile } from './estate-file';
import { wayOfNumber } from './way';
import type { RouteTable } from './types';
import { workedEstate } from '../tests/worked';

const estate = workedEstate();
const extensions = extensionsOf(estate);
const person = estate.people[0]!;
const AT = Date.parse('2026-11-25T20:00:00Z');
const table: RouteTable = {
  peers: [
    { id: 'ours', name: 'Ours', expects: 'dialled' },
    { id: 'carrier', name: 'Carrier', expects: 'e164', trunk: 'by-table' },
  ],
  lines: 'ours',
  lists: [],
  routes: [
    {
      id: 'home',
      name: 'Home',
      enabled: true,
      when: { dialled: { map: '(91xxxxxxxxxx|9xxxxxxxxxx)' } },
      then: { send: { peer: 'carrier' } },
    },
  ],
};
const way = (typed: string, given: RouteTable | null = null) =>
  wayOfNumber(typed, person, estate, extensions, given ? compileTable(given) : null, AT);

describe('the way of what somebody types', () => {
  test('without a table the trunk of the estate takes it', () => {
    expect(way('+1 604 555 0101')).toMatchObject({
      end: 'outside',
      permission: { ok: true },
      sent: dialString('+16045550101', estate.dialling),
    });
    expect(way('+1 604 555 0101').trace).toBeUndefined();
  });
  test('with a table it enters from the peer of our lines, and leaves by the trunk of the peer it is sent to', () => {
    const entered = dialString('+16045550101', estate.dialling);
    expect(way('604-555-0101', table)).toMatchObject({
      end: 'outside',
      enters: { peer: 'ours', number: entered },
      trace: { route: 'home', end: { kind: 'peer', peer: 'carrier' } },
      trunk: 'by-table',
      sent: entered,
    });
    expect(way('604-555-0101', { ...table, routes: [] })).toMatchObject({ end: 'not-routed' });
  });
  test('it ends inside, or where it is not understood', () => {
    const [extension] = [...extensions];
    expect(way(extension!, table)).toMatchObject({ end: 'inside' });
    expect(way('', table)).toMatchObject({ end: 'not-understood', understood: { faults: ['empty'] } });
  });
});

describe('numbers in the forms of systems', () => {
  test('one number in each form', () => {
    expect(inForm('+16045550101', 'e164', canada)).toBe('+16045550101');
    expect(inForm('+16045550101', 'national', canada)).toBe('6045550101');
    expect(inForm('+16045550101', 'dialled', canada)).toBe('916045550101');
    expect(inForm('+442079460000', 'national', canada)).toBe('9011442079460000');
  });
  test('what may be dialled fits one of the maps, in every form', () => {
    const all = ['local', 'national', 'mobile', 'international'] as const;
    for (const form of ['e164', 'national', 'dialled'] as const) {
      const maps = dialledMaps(new Set(all), form, canada).map((text) => {
        const read = readDigitMap(text);
        if (!read.ok) throw new Error(text);
        return read.map;
      });
      for (const number of [
        '+12505550101',
        '+16045550101',
        '+17785550101',
        ...(form === 'national' ? [] : ['+442079460000']),
      ]) {
        const sent = inForm(number, form, canada);
        expect([form, sent, maps.some((map) => matchesMap(map, sent))]).toEqual([form, sent, true]);
      }
    }
    expect(dialledMaps(new Set(['local']), 'dialled', canada)).toEqual(['9250[2-9]xxxxxx']);
  });
  test('where premium numbers begin, by the numbering plan', () => {
    expect(premiumPrefixes('CA')).toContain('+1900');
    expect(premiumPrefixes('CA')).not.toContain('+1604');
    expect(premiumPrefixes('GB').some((prefix) => prefix.startsWith('+4490'))).toBe(true);
  });
});

test('mends that speak of what is gone change nothing', () => {
  expect(applyMend(table, { kind: 'move', route: 'home', before: 'gone' })).toBe(table);
  expect(applyMend(table, { kind: 'remove', route: 'gone' }).routes).toEqual(table.routes);
  expect(
    applyMend(table, { kind: 'rewrite', route: 'home', rewrite: { drop: 1, prepend: '+' } }).routes[0]?.then,
  ).toEqual({
    send: { peer: 'carrier', rewrite: { drop: 1, prepend: '+' } },
  });
});

test('the route table of an estate file is checked with it, with paths of its own', () => {
  const whole = { ...estate, routing: table };
  expect(readEstateFile(whole).ok).toBe(true);
  const wrong = readEstateFile({ ...whole, routing: { ...table, lines: 'nobody' } });
  expect(wrong).toEqual({
    ok: false,
    faults: [{ path: 'routing.lines', message: 'there is no peer "nobody"' }],
  });
  const scheduled = {
    ...table,
    routes: [{ ...table.routes[0]!, when: { schedule: { id: 'no-hours', inside: true } } }],
  };
  expect(readEstateFile({ ...whole, routing: scheduled })).toMatchObject({
    faults: [{ path: 'routing.routes[0].when.schedule.id' }],
  });
});
