import { workedEstate } from '../../tests/worked';
import { ANY_OUTSIDE_CALLER, compileEstate, runCall } from '../engine';
import { behaviourIn, CIRCUMSTANCES, weekDays, weekEnd, weekMap } from './week';
import { isoIn } from '../time';

const estate = workedEstate();
const index = compileEstate(estate);
const person = (id: string) => index.people.get(id)!;
const at = Date.parse('2026-11-25T18:00:00Z');

test('each cell ends as the traced call of its moment ends', () => {
  for (const id of ['ines', 'jonah', 'amara'])
    for (const circumstance of CIRCUMSTANCES)
      for (const cell of weekMap(index, [person(id)], circumstance, at)
        .flat()
        .filter((_, i) => i % 7 === 0)) {
        const endpoints = Object.fromEntries(
          person(id).endpoints.flatMap((e) => {
            const does = behaviourIn(circumstance, e);
            return does ? [[e.id, does]] : [];
          }),
        );
        const { outcome } = runCall(index, {
          from: ANY_OUTSIDE_CALLER,
          to: person(id).lines[0]!.extension,
          at: isoIn(cell.atMs, estate.timeZone),
          world: { endpoints },
        });
        expect({ at: cell.atMs, outcome: cell.outcome, end: cell.end }).toEqual({
          at: cell.atMs,
          outcome,
          end: weekEnd(outcome, id),
        });
      }
});
test('a week begins on Monday in the organisation’s zone; a day on which clocks change has another length', () => {
  const days = weekDays(Date.parse('2026-11-01T20:00:00Z'), 'America/Vancouver');
  expect(isoIn(days[0]!, 'America/Vancouver')).toBe('2026-10-26T00:00:00-07:00');
  // The last autumn in which Vancouver went back to winter time.
  const autumn = weekMap(index, [person('ines')], 'nobody', Date.parse('2025-11-02T20:00:00Z'));
  expect(autumn.map((day) => day.length)).toEqual([48, 48, 48, 48, 48, 48, 50]);
  const spring = weekMap(index, [person('ines')], 'nobody', Date.parse('2026-03-08T20:00:00Z'));
  expect(spring[6]).toHaveLength(46);
});
test('of several people the worst counts, and is named', () => {
  const cells = weekMap(index, [person('ines'), person('amara')], 'nobody', at).flat();
  expect(new Set(cells.map((cell) => `${cell.person} ${cell.end}`))).toEqual(new Set(['amara lost']));
});
test('a schedule that turns within a half hour shows', () => {
  const quarter = {
    ...estate,
    schedules: estate.schedules.map((s) =>
      s.id === 'night-watch' ? { ...s, weekly: [{ ...s.weekly[0]!, from: '22:15', to: '22:20' }] } : s,
    ),
  };
  const turned = compileEstate(quarter);
  const tuesday = weekMap(turned, [turned.people.get('ines')!], 'nobody', at)[1]!;
  expect(tuesday.flatMap((cell, i) => (cell.mixed ? [i] : []))).toEqual([44]);
  expect(tuesday[44]).toMatchObject({ end: 'other-mailbox' });
});

test('a group: calls to the group itself, whoever of it answers counting as its own', () => {
  const group = index.estate.groups[0]!;
  const members = group.members.flatMap((member) => ('person' in member ? [person(member.person)] : []));
  const own = members.map(({ id }) => id);
  const called = [{ extension: group.extension, own }];
  const days = weekMap(index, members, 'nobody', at, undefined, called);
  expect(days.flat()).toHaveLength(7 * 48);
  for (const cell of [days[1]![20]!, days[5]![4]!]) {
    const { outcome } = runCall(index, {
      from: '+0',
      to: group.extension,
      at: isoIn(cell.atMs, index.estate.timeZone),
    });
    expect(cell).toMatchObject({ outcome: { kind: outcome.kind }, end: weekEnd(outcome, own) });
  }
});
