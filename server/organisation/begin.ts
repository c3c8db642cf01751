import { begunEstate, isUnbegun, type OrganisationBeginning } from '../../core/editing';
import type { Estate } from '../../core/estate';
import { refusal } from '../base';
import { changeEstate, writeEstate } from '../estate';
import type { Services } from '../http';

/** Puts an estate in the place of one in which nothing was begun, once. @throws a refusal where something was */
export const putWhereUnbegun = (
  services: Pick<Services, 'db' | 'store'>,
  who: string,
  estate: Estate,
): Promise<void> =>
  changeEstate(services, async (tx, { live }) => {
    if (!isUnbegun(live.estate)) throw refusal(409, 'This organisation has begun already.');
    await writeEstate(tx, estate, who);
  });

/** Begins an organisation: what people need before the first of them is added. */
export const beginOrganisation = (
  services: Pick<Services, 'db' | 'store'>,
  who: string,
  given: OrganisationBeginning,
): Promise<void> => putWhereUnbegun(services, who, begunEstate({ ...given, name: given.name.trim() }));
