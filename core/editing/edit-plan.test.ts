import fc from 'fast-check';
import { workedEstate } from '../tests/worked';
import {
  addRule,
  addStage,
  addTarget,
  begunRule,
  editRule,
  editWhen,
  moveRule,
  moveStage,
  NEW_RULE,
  placeOfSetting,
  putStage,
  removeRule,
  removeStage,
  removeTarget,
  setBusy,
  setEnding,
} from './edit-plan';
import { coverLines, coverOf, endCover, treatmentAt } from './edit';
import { finderOf, mergeSlices, sliceFor } from './slice';
import { settingOf, forwardAt, readEstate, type Person } from '../estate';

const estate = workedEstate();
const ines = estate.people[0]!;
const ruleIds = (person: Person) => person.plan.rules.map((rule) => rule.id);
const valid = (person: Person) =>
  readEstate({ ...estate, people: estate.people.map((p) => (p.id === person.id ? person : p)) });

describe('rules', () => {
  test('moved, added before all others with what the last treatment does, changed, removed', () => {
    expect(ruleIds(moveRule(ines, 2, 0))).toEqual(['r-office', 'r-night', 'r-leave']);
    expect(ruleIds(moveRule(ines, 0, 9))).toEqual(['r-leave', 'r-office', 'r-night']);
    const { person, id } = addRule(ines, 'Away');
    expect(ruleIds(person)).toEqual([id, 'r-night', 'r-leave', 'r-office']);
    expect(treatmentAt(person.plan, id).stages).toEqual(ines.plan.otherwise.stages);
    const named = editRule(person, id, { name: 'Out', when: editWhen({}, 'status', ['on-leave']) });
    expect(named.plan.rules[0]).toMatchObject({ name: 'Out', when: { status: ['on-leave'] } });
    expect(valid(named)).toMatchObject({ ok: true });
    expect(removeRule(named, id)).toEqual(ines);
    expect(editWhen({ status: ['x'], line: ['y'] }, 'status', undefined)).toEqual({ line: ['y'] });
  });
  test('an added rule never takes the id of another', () => {
    let person = ines;
    for (let i = 0; i < 5; i += 1) person = addRule(person, `Rule ${i}`).person;
    expect(new Set(ruleIds(person)).size).toBe(8);
  });
});

describe('stages and targets', () => {
  const at = 'r-office';
  const stages = (person: Person) => treatmentAt(person.plan, at).stages;
  test('added, moved, put in place, removed; other rules stay as they are', () => {
    const two = addStage(ines, at, { ring: [{ endpoint: 'ruth-desk' }], forMs: 9000 });
    expect(stages(moveStage(two, at, 1, 0))[0]).toMatchObject({ forMs: 9000 });
    const code = { code: { digits: '12', withinMs: 1, wrong: { kind: 'mailbox' } } } as const;
    expect(stages(putStage(two, at, 1, code))[1]).toEqual(code);
    expect(removeStage(two, at, 1)).toEqual(ines);
    const more = addTarget(ines, at, 0, { endpoint: 'tomasz-app' });
    expect(stages(more)[0]).toMatchObject({ ring: [{}, {}, { endpoint: 'tomasz-app' }] });
    expect(removeTarget(more, at, 0, 2)).toEqual(ines);
    expect(two.plan.rules[0]).toBe(ines.plan.rules[0]);
  });
  test('the ending when busy can be as the ending again', () => {
    const busy = setBusy(setEnding(ines, at, { kind: 'person', person: 'ruth' }), at, {
      kind: 'hang-up',
      message: 'busy',
    });
    expect(treatmentAt(busy.plan, at)).toMatchObject({
      ending: { kind: 'person' },
      busy: { kind: 'hang-up' },
    });
    expect(treatmentAt(setBusy(busy, at, undefined).plan, at)).not.toHaveProperty('busy');
    expect(valid(busy)).toMatchObject({ ok: true });
  });
  test('the path of a setting leads back to its place', () => {
    expect(
      placeOfSetting(settingOf('people', 'ines', 'plan', ['rules', 'r-office'], ['stages', 0], ['ring', 1])),
    ).toEqual({
      person: 'ines',
      treatment: 'r-office',
      stage: 0,
      target: 1,
    });
    expect(
      placeOfSetting(settingOf('people', 'a', 'plan', 'otherwise', ['stages', 2], ['ring', 0])),
    ).toMatchObject({
      treatment: 'otherwise',
      stage: 2,
    });
    expect(placeOfSetting(settingOf('groups', 'bookings', ['members', 0]))).toBeNull();
  });
});

describe('cover', () => {
  const until = '2026-11-24T17:00:00-07:00';
  const untilMs = Date.parse(until);
  const ruth = { kind: 'person', person: 'ruth' } as const;
  test('holds until its time, and then what was set before holds again', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1000, max: 1000 }), fc.constantFrom(...estate.people), (off, person) => {
        const covered = coverLines(person, ruth, until, untilMs - 5000);
        expect(valid(covered)).toMatchObject({ ok: true });
        covered.lines.forEach((line, i) => {
          const before = forwardAt(person.lines[i]!, untilMs);
          expect(forwardAt(line, untilMs + off)).toEqual(off < 0 ? ruth : before);
          expect(coverOf(line, untilMs + off) !== null).toBe(off < 0);
        });
      }),
    );
  });
  test('without an end it is an always-forward like any, and goes when it is ended', () => {
    for (const person of estate.people.filter(({ lines }) => lines.length > 0)) {
      const always = coverLines(person, ruth, null, untilMs);
      expect(valid(always)).toMatchObject({ ok: true });
      expect(always.lines.every((line) => coverOf(line, untilMs) === null)).toBe(true);
      expect(always.lines.map((line) => forwardAt(line, untilMs + 1e12))).toEqual(
        person.lines.map(() => ruth),
      );
      const over = coverLines(always, { kind: 'mailbox' }, until, untilMs - 5000);
      expect(endCover(over, untilMs - 1).lines).toEqual(always.lines);
      expect(endCover(always, untilMs).lines.every((line) => forwardAt(line, untilMs) === null)).toBe(true);
    }
  });
  test('ended before its time, or after it, it leaves what was before; a cover of a cover too', () => {
    for (const person of estate.people) {
      const covered = coverLines(person, ruth, until, untilMs - 5000);
      const again = coverLines(covered, { kind: 'mailbox' }, until, untilMs - 4000);
      for (const each of [covered, again])
        for (const now of [untilMs - 1, untilMs + 1])
          expect(endCover(each, now).lines.map((line) => forwardAt(line, untilMs))).toEqual(
            person.lines.map((line) => forwardAt(line, untilMs)),
          );
    }
  });
});

test('slices put together have what either has, once', () => {
  const finder = finderOf(estate);
  const both = mergeSlices(
    sliceFor(estate, finder, 'tomasz'),
    sliceFor(estate, finder, { group: 'bookings' }),
  );
  const ids = both.people.map(({ id }) => id);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids).toEqual(expect.arrayContaining(['tomasz', 'ruth', 'ines']));
  expect(both.groups.map(({ id }) => id)).toContain('bookings');
});

describe('a rule that was begun', () => {
  const one = workedEstate().people.find(({ plan }) => plan.otherwise.stages.length > 0)!;
  const person: Person = { ...one, plan: { ...one.plan, rules: [] } };
  const begun = addRule(person, NEW_RULE);
  test('changes nothing while it does what the default rule does, and no other rule is there', () => {
    expect(begunRule(begun.person, begun.id)).toBe('nothing');
  });
  test('takes every call once it does something else', () => {
    expect(begunRule(removeStage(begun.person, begun.id, 0), begun.id)).toBe('all');
  });
  test('takes every call from the rules below it, though it does what the default rule does', () => {
    const below = addRule(person, 'Nights', { status: [person.status] });
    const above = addRule(below.person, NEW_RULE);
    expect(begunRule(above.person, above.id)).toBe('all');
    // Moved below them, it changes nothing again.
    expect(begunRule(moveRule(above.person, 0, 1), above.id)).toBe('nothing');
  });
  test('is a rule like any other with a condition or a name', () => {
    const named = editRule(begun.person, begun.id, { name: 'Nights' });
    const bound = editRule(begun.person, begun.id, { when: { status: [person.status] } });
    expect([
      begunRule(named, begun.id),
      begunRule(bound, begun.id),
      begunRule(begun.person, 'otherwise'),
    ]).toEqual([null, null, null]);
  });
});
