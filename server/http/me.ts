import type { Person } from '../../core/estate';
import { refusal } from '../base';
import type { LiveEstate } from '../estate';
import type { SignedIn } from './routes';

/** Whoever is signed in with an account of their own page, as the estate has them. */
export async function me({
  services,
  account,
}: SignedIn): Promise<{ readonly live: LiveEstate; readonly person: Person }> {
  const live = await services.store.current();
  const person = live.finder.person(account.person ?? '');
  if (!person) throw refusal(404, 'You are not in the directory any more. Ask your mobility specialist.');
  return { live, person };
}
