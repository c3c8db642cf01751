import { mixed, type AnySchema } from 'yup';
import { NOT_AN_OBJECT } from './plan-schema';
import type { KeptPromise } from './types';
import { choose, closed, field, id, isObject, list, ms, requiredId, requiredList, share } from './yup-parts';

const promiseFields = (kind: unknown): Record<string, AnySchema> | null => {
  switch (kind) {
    case 'own-mailbox':
    case 'no-cut-off':
    case 'rings-within':
      return { withinMs: ms().required('is missing') };
    case 'no-silence':
    case 'wait-at-most':
      return { longestMs: ms().required('is missing') };
    case 'only-inside':
      return { schedule: requiredId() };
    case 'no-carrier-voicemail':
      return { spread: share(0.5) };
    case 'no-leaver':
      return { status: requiredId() };
    case 'no-stranger':
      return { allowed: requiredList(id()) };
    case 'no-loop':
    case 'one-lost':
    case 'may-dial':
      return {};
    default:
      return null;
  }
};
const promise = () =>
  choose((value: unknown): AnySchema => {
    if (!isObject(value)) return NOT_AN_OBJECT;
    const fields = promiseFields(field(value, 'kind'));
    return fields
      ? closed({ kind: mixed(), ...fields })
      : mixed().test('kind', 'must be a kind of promise that is known', () => false);
  });
/** A list of promises by themselves, as a file of promises has them. */
export const promiseListSchema = requiredList(promise());
export const promisesSchema = requiredList(
  closed<KeptPromise>({ id: requiredId(), promise: promise(), people: list(id()) }),
);
