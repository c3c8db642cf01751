import {
  endingsOf,
  lastOf,
  type Ending,
  type Group,
  type Menu,
  type Person,
  type ScheduleTest,
  type Stage,
} from '../../estate';

const schedule = (test: ScheduleTest | undefined): readonly string[] => (test ? [`schedule/${test.id}`] : []);

function* ofEnding(each: Ending): Generator<string> {
  const last = lastOf(each);
  if ('person' in last && last.person !== undefined) yield `person/${last.person}`;
  if (last.kind === 'endpoint') yield `endpoint/${last.endpoint}`;
  if (last.kind === 'group') yield `group/${last.group}`;
  if (last.kind === 'menu') yield `menu/${last.menu}`;
}

function* ofStage(each: Stage): Generator<string> {
  if (!('ring' in each)) return;
  for (const target of each.ring) {
    yield* schedule(target.schedule);
    for (const id of [target.endpoint, target.whileRegistered, target.unlessRegistered])
      if (id !== undefined) yield `endpoint/${id}`;
    if (target.onlyQuality !== undefined) yield `quality/${target.endpoint}`;
  }
}

/**
 * What a person, group or menu looks at or leads to, as `kind/id`, each as often as it does; `quality/ENDPOINT` is the
 * line that a softphone is used on.
 */
export function* referencesOf(what: Person | Group | Menu): Generator<string> {
  yield `permission/${what.permission}`;
  for (const each of endingsOf(what)) yield* ofEnding(each);
  if ('plan' in what) {
    for (const { when } of what.plan.rules) yield* schedule(when.schedule);
    for (const { stages } of [...what.plan.rules, what.plan.otherwise])
      for (const each of stages) yield* ofStage(each);
  } else if ('members' in what)
    for (const member of what.members)
      yield 'person' in member
        ? `person/${member.person}`
        : 'seat' in member
          ? `seat/${member.seat}`
          : `endpoint/${member.endpoint}`;
  else for (const { when } of what.rules) yield* schedule(when.schedule);
}
