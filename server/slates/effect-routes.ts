import { finderOf } from '../../core/editing';
import { parts, type Estate } from '../../core/estate';
import { compileEstate, type Call } from '../../core/calls/engine';
import { tryCall } from '../../core/calls/views';
import { extensionOwners, sliceAt, type Start } from '../../core/changes/slate';
import { checkedBody, type Route } from '../http';
import { refusal, ROLES } from '../base';
import { slateId, slateOf, withSlate } from './access';
import { drillsOf } from './apply';
import { slateEstate } from './estate';
import { readEntries } from './queries';
import { beginImpact, cancelImpact, impactState } from './impact';

const stripSchema = parts.closed({
  kind: parts.oneOf(['person', 'group', 'menu']).required('is missing'),
  id: parts.requiredId(),
  call: parts.anything(),
  status: parts.id(),
});

/** What a slate does: the calls that end differently, and the drills that fail. */
export const effectRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/slates/:slate/impact',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { db, store, now } = context.services;
      const slate = await slateOf(context);
      const live = await slateEstate({ db, store });
      const entries = await readEntries(db, slate.id);
      return { status: 202, body: beginImpact(store, slate, live, entries, now().getTime()) };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/impact',
    roles: ROLES,
    handle: async (context) => {
      const state = impactState(context.services.store, slateId(context));
      if (!state) throw refusal(404, 'No ripple has been asked for.');
      return { body: state };
    },
  },
  {
    method: 'DELETE',
    path: '/api/slates/:slate/impact',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      cancelImpact(context.services.store, slateId(context));
      return { status: 204 };
    },
  },
  {
    /** One call before and after, each as a strip. */
    method: 'POST',
    path: '/api/slates/:slate/strips',
    roles: ROLES,
    handle: async (context) => {
      const { kind, id, call, status } = checkedBody<Start & { call: Call; status?: string }>(
        context.body,
        stripSchema,
      );
      const slate = await slateOf(context);
      const live = await context.services.store.current();
      const strip = (estate: Estate) => {
        // A line may be somebody else's in the other version.
        const owner = extensionOwners(estate).get(call.to);
        const slice = owner ? sliceAt(estate, finderOf(estate), owner) : null;
        if (!slice) return null;
        const people = slice.people.map((each) =>
          status !== undefined && kind === 'person' && each.id === id ? { ...each, status } : each,
        );
        return tryCall(compileEstate({ ...slice, people }), call, kind === 'person' ? id : '').strip;
      };
      return {
        body: { before: strip(live.estate), after: strip(await withSlate(context, live, slate.id)) },
      };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/drills',
    roles: ROLES,
    handle: async (context) => {
      const slate = await slateOf(context);
      const live = await context.services.store.current();
      const { drills, made, already } = await drillsOf(
        context.services.db,
        live.estate,
        await withSlate(context, live, slate.id),
      );
      return { body: { drills, failed: made, already: already.length } };
    },
  },
];
