import { departures, mergeSlices, sliceFor } from '../../core/editing';
import type { Estate, Person, Template } from '../../core/estate';
import type { LiveEstate } from '../estate';
import type { Route, SignedIn } from '../http';
import { refusal, ROLES } from '../base';
import type { TemplateSummary, Follower } from '../../api/templates';

/** Of a template that hundreds follow, so many are enough to see what it does. */
const MOST_IN_SLICE = 50;

function templateOf(live: LiveEstate, context: SignedIn): Template {
  const template = live.estate.templates?.find(({ id }) => id === context.params.id);
  if (!template) throw refusal(404, 'There is no such template.');
  return template;
}

const followersOf = (live: LiveEstate, id: string): readonly Person[] =>
  live.estate.people.filter((person) => person.template === id);

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
];
