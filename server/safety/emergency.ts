import { callBackOf, writePidfLo } from '../../core/emergency';
import { isoIn } from '../../core/calls/time';
import type { EmergencyAnswer } from '../../standins/system';
import type { Services } from '../http';
import { locationOf } from './rows';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'secrets'>;

/** The location of a phone as it is sent (PIDF-LO); null: its place is not known. */
export async function pidfOf(services: Needs, endpoint: string): Promise<string | null> {
  const found = await locationOf(services, endpoint);
  if (!found) return null;
  const { estate } = await services.store.current();
  return writePidfLo({
    entity: `pres:${encodeURIComponent(found.person.id)}@organisation.invalid`,
    device: `phone-${found.endpoint.id.replace(/[^\w.-]/g, '-')}`,
    civic: found.civic,
    at: isoIn(services.now().getTime(), estate.timeZone),
  });
}

/** What goes out with an emergency call from a phone: the number to call back, and the phone's place as it is now. */
export async function emergencyAnswer(services: Needs, endpoint: string): Promise<EmergencyAnswer> {
  const { finder } = await services.store.current();
  const person = finder.ownerOf(endpoint);
  return { callerId: person ? callBackOf(person) : null, pidf: await pidfOf(services, endpoint) };
}
