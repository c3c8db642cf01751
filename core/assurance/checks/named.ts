import { endingsOf, lastOf, type Greeting, type Group, type Menu, type Person } from '../../estate';

const ofGreeting = (greeting: Greeting | undefined): readonly string[] =>
  greeting?.says.flatMap(({ whom }) => (whom === undefined ? [] : [`person/${whom}`])) ?? [];

/**
 * What checks look at beside what calls look at or lead to (`referencesOf`), as `kind/id`: whom greetings name, who gets
 * copies of messages, and numbers that can be somebody's own, as `number/E164`.
 */
export function* alsoNamedBy(what: Person | Group | Menu): Generator<string> {
  for (const each of endingsOf(what)) {
    const last = lastOf(each);
    if (last.kind === 'number') yield `number/${last.number}`;
  }
  if ('members' in what) return;
  if (!('plan' in what)) {
    for (const { greeting } of what.rules) yield* ofGreeting(greeting);
    return;
  }
  for (const { number } of what.endpoints) if (number !== undefined) yield `number/${number}`;
  yield* ofGreeting(what.mailbox?.greeting);
  for (const id of what.mailbox?.copyTo ?? []) yield `person/${id}`;
  for (const { stages } of [...what.plan.rules, what.plan.otherwise])
    for (const stage of stages) {
      if ('offer' in stage) yield* ofGreeting(stage.offer.greeting);
      if ('ring' in stage)
        for (const { present } of stage.ring)
          if (present !== undefined && present !== 'caller') yield `number/${present}`;
    }
}
