import fc from 'fast-check';
import { deskSchema, faultsOf, readEstate, type Desk } from '../estate';
import { hallOf, shift } from '../tests/rosters';
import { deskPlan, initials, shortNames } from '.';

const desk = (n: number, more: Partial<Desk> = {}): Desk => ({
  id: `d${n}`,
  name: `Hall desk ${n}`,
  device: `p${n}`,
  ...more,
});

test('desks that nobody placed stand row by row, a room for each area in the order of its first desk', () => {
  const rooms = deskPlan([
    ...[1, 2, 3, 4, 5, 6, 7].map((n) => desk(n, { area: 'Window' })),
    desk(8),
    desk(9, { area: 'Window' }),
  ]);
  expect(rooms.map(({ area, columns, rows, desks }) => [area, columns, rows, desks.length])).toEqual([
    ['Window', 6, 2, 8],
    [null, 1, 1, 1],
  ]);
  expect(rooms[0]!.desks.at(-1)).toMatchObject({ desk: { id: 'd9' }, short: '9', column: 2, row: 2 });
});

test('those that were placed stand there, and the others around them; two on one place never', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.option(fc.record({ column: fc.integer({ min: 1, max: 9 }), row: fc.integer({ min: 1, max: 5 }) })),
        { minLength: 1, maxLength: 25 },
      ),
      (spots) => {
        const desks = spots.map((spot, n) => desk(n, spot ? { spot } : {}));
        const [room] = deskPlan(desks);
        const places = room!.desks.map(({ column, row }) => `${column} ${row}`);
        expect(new Set(places).size).toBe(desks.length);
        expect(room!.desks.map((each) => each.desk)).toEqual(desks);
        for (const { column, row } of room!.desks) {
          expect(column).toBeLessThanOrEqual(room!.columns);
          expect(row).toBeLessThanOrEqual(room!.rows);
        }
        const firstThere = new Set<string>();
        room!.desks.forEach(({ desk: { spot }, column, row }) => {
          if (!spot || firstThere.has(`${spot.column} ${spot.row}`)) return;
          firstThere.add(`${spot.column} ${spot.row}`);
          expect({ column, row }).toEqual(spot);
        });
      },
    ),
  );
});

test('names are short by what all of them begin with, and never empty', () => {
  expect(shortNames(['Hall desk 1', 'Hall desk 12'])).toEqual(['1', '12']);
  expect(shortNames(['Hall', 'Hall desk'])).toEqual(['Hall', 'Hall desk']);
  expect(shortNames(['Bridge'])).toEqual(['Bridge']);
  expect(shortNames([])).toEqual([]);
  expect(['Ada Lind Marlowe', 'Ødegaard', '', '𝒳 Y'].map(initials)).toEqual(['AM', 'Ø', '', '𝒳Y']);
});

test('a place is counted from 1 to 40; two desks of one area of a site on one place are told', () => {
  expect(faultsOf(deskSchema, desk(1, { spot: { column: 0, row: 41 } })).map(({ path }) => path)).toEqual([
    'spot.column',
    'spot.row',
  ]);
  const hall = hallOf([], 3, [shift('early', '06:00', '14:00')]);
  const faults = (areas: readonly string[]) => {
    const read = readEstate({
      ...hall,
      desks: hall.desks!.map((each, n) => ({
        ...each,
        ...(areas[n] === undefined ? {} : { area: areas[n], spot: { column: 2, row: 1 } }),
      })),
    });
    return read.ok ? [] : read.faults.map(({ path }) => path);
  };
  expect(faults(['Window', 'Wall'])).toEqual([]);
  expect(faults(['Window', 'Wall', 'Window'])).toEqual(['desks[2].spot']);
});
