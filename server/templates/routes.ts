import { departures, differences, fillTemplate, mergeSlices, sliceFor, startFrom } from '../../core/editing';
import { parts, type Estate, type Person, type Template } from '../../core/estate';
import { dropOuts, schedulesOf } from '../../core/assurance/impact';
import { compileEstate } from '../../core/calls/engine';
import { judgeReach } from '../../core/calls/views';
import { changeEstate, type LiveEstate, loadPerson, updatePeople } from '../estate';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { addRecord } from '../record';
import { noteRunning } from '../restarts';
import type { TemplateSummary, Follower, TemplatePreview } from '../../api/templates';

/** Of a template that hundreds follow, so many are enough to see what it does. */
const MOST_IN_SLICE = 50;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

function templateOf(live: LiveEstate, context: SignedIn): Template {
  const template = live.estate.templates?.find(({ id }) => id === context.params.id);
  if (!template) throw refusal(404, 'There is no such template.');
  return template;
}

const followersOf = (live: LiveEstate, id: string): readonly Person[] =>
  live.estate.people.filter((person) => person.template === id);

/** The chosen people as they are, or a refusal that names the first who is not there. */
function chosen(live: LiveEstate, ids: readonly string[]): readonly Person[] {
  return [...new Set(ids)].map((id) => {
    const person = live.finder.person(id);
    if (!person) throw notRight([missing(id)]);
    return person;
  });
}
const missing = (id: string) => ({ path: 'people', message: `there is no person "${id}"` });

async function preview(
  live: LiveEstate,
  template: Template,
  people: readonly Person[],
  atMs: number,
): Promise<readonly TemplatePreview[]> {
  const changed = new Map(people.map((person) => [person.id, startFrom(person, template)]));
  const then = compileEstate({
    ...live.estate,
    people: live.estate.people.map((person) => changed.get(person.id) ?? person),
  });
  const rows: TemplatePreview[] = [];
  for (const person of people) {
    await pause();
    const after = changed.get(person.id) ?? person;
    const judged = judgeReach(then, after, atMs);
    rows.push({
      id: person.id,
      name: person.name,
      version: live.versions.get(person.id) ?? 1,
      changes: differences(person.plan, after.plan).length,
      follows: person.template === template.id,
      left: fillTemplate(template.plan, person).left,
      drops: dropOuts(
        live.index,
        then,
        person,
        schedulesOf([{ ...live.estate, menus: [], people: [person, after] }]),
        atMs,
      ),
      before: judgeReach(live.index, person, atMs).state,
      after: judged.state,
      why: judged.why,
    });
  }
  return rows;
}

const previewSchema = parts.closed({ people: parts.requiredList(parts.requiredId()) });
const applySchema = parts.closed({
  people: parts.requiredList(
    parts.closed({ id: parts.requiredId(), version: parts.count(1).required('is missing') }),
  ),
});

export const templateRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/templates',
    roles: ROLES,
    handle: async ({ services }) => {
      const live = await services.store.current();
      const templates = (live.estate.templates ?? []).map((template): TemplateSummary => {
        const followers = followersOf(live, template.id);
        return {
          id: template.id,
          name: template.name,
          note: template.note ?? '',
          followers: followers.length,
          departed: followers.filter((person) => departures(template, person).length > 0).length,
        };
      });
      return { body: { templates } };
    },
  },
  {
    method: 'GET',
    path: '/api/templates/:id/people',
    roles: ROLES,
    handle: async (context) => {
      const live = await context.services.store.current();
      const template = templateOf(live, context);
      const people = followersOf(live, template.id).map((person): Follower => ({
        id: person.id,
        name: person.name,
        extension: person.lines[0]?.extension ?? '',
        departures: departures(template, person).map(({ path }) => path),
      }));
      const slice = people
        .slice(0, MOST_IN_SLICE)
        .map(({ id }) => sliceFor(live.estate, live.finder, id))
        .reduce<Estate | null>((all, each) => (all ? mergeSlices(all, each) : each), null);
      return { body: { people, slice } };
    },
  },
  {
    method: 'POST',
    path: '/api/templates/:id/preview',
    roles: ['specialist'],
    handle: async (context) => {
      const { people } = checkedBody<{ people: readonly string[] }>(context.body, previewSchema);
      const live = await context.services.store.current();
      const template = templateOf(live, context);
      const at = context.services.now().getTime();
      return { body: { rows: await preview(live, template, chosen(live, people), at) } };
    },
  },
  {
    method: 'PUT',
    path: '/api/templates/:id/people',
    roles: ['specialist'],
    handle: async (context) => {
      const { people } = checkedBody<{ people: readonly { id: string; version: number }[] }>(
        context.body,
        applySchema,
      );
      const entries = await changeEstate(context.services, async (tx, { live, countUp }) => {
        const made: number[] = [];
        const template = templateOf(live, context);
        chosen(
          live,
          people.map(({ id }) => id),
        );
        const changed: Person[] = [];
        const pairs: [Person, Person][] = [];
        const others: string[] = [];
        for (const { id, version } of people) {
          const stored = await loadPerson(tx, id);
          if (stored?.version !== version) {
            others.push(stored?.person.name ?? id);
            continue;
          }
          const before = stored.person;
          const after = startFrom(before, template);
          if (differences(before, after).length === 0) continue;
          changed.push(after);
          pairs.push([before, after]);
          made.push(
            await addRecord(tx, {
              who: context.account.name,
              kind: 'template-applied',
              personId: id,
              subject: before.name,
              detail: template.name,
              before,
              after,
            }),
          );
        }
        if (others.length > 0)
          throw refusal(
            409,
            `Somebody else has changed ${others.join(', ')} since the preview. Nothing was written; look again.`,
          );
        if (changed.length === 0) return made;
        await updatePeople(tx, changed, await countUp(false));
        await noteRunning(tx, pairs, context.services.now());
        return made;
      });
      return { body: { changed: entries.length, entries } };
    },
  },
];
