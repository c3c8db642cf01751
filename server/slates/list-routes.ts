import { refusal } from '../base';
import type { Route, SignedIn } from '../http';
import type { NumberList } from '../../core/estate';
import { bareList, namedList, sentList } from '../routing';
import { readList } from '../estate';
import { ownSlate, slateBody, SPECIALIST } from './access';
import { putOn } from './entry-routes';

/** Puts a list, or that it is removed, on a slate; what it rests on is the live list. */
async function putList(context: SignedIn, id: string, after: NumberList | null) {
  const slate = await ownSlate(context);
  const found = await readList(context.services.db, id);
  const base = found && bareList(found);
  const name = after?.name ?? base?.name;
  if (name === undefined) throw refusal(404, 'There is no such list.');
  await putOn(context, slate, [{ kind: 'list', id, name, base, after }]);
  return { body: await slateBody(context, slate.id) };
}

/** Lists of numbers on a slate: sent as the file they are, for they are long. */
export const listRoutes: readonly Route[] = [
  {
    method: 'PUT',
    path: '/api/slates/:slate/lists/:id',
    roles: SPECIALIST,
    rawBody: true,
    handle: async (context) => {
      const named = namedList(context);
      const { numbers } = await sentList(context);
      return putList(context, named.id, { ...named, numbers });
    },
  },
  {
    method: 'POST',
    path: '/api/slates/:slate/lists/:id/remove',
    roles: SPECIALIST,
    handle: (context) => putList(context, context.params.id ?? '', null),
  },
];
