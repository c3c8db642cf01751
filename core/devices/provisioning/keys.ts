import { showNumber } from '../../calls/dialling';
import type { Device, Endpoint, Estate, KeyUse, Person, PhoneKey, Plan, ServiceCode } from '../../estate';
import type { PhoneModel } from '../phones';
import { shortName } from '../../calls/engine';

export const KEY_USE_NAMES: Record<KeyUse, string> = {
  line: 'Line',
  watch: 'Watch a colleague',
  call: 'Call a number',
  twinning: 'Twinning on or off',
  'sign-on': 'Sign on or off',
};

/** What stands beside a key. @param person a person's name by id */
export function sayKey(key: PhoneKey, person: (id: string) => string | undefined): string {
  if (key.label !== undefined && key.label !== '') return key.label;
  switch (key.use) {
    case 'line':
      return key.extension ?? 'Line';
    case 'watch':
      return key.person === undefined ? 'Watch' : shortName(person(key.person) ?? key.person);
    case 'call':
      return key.number === undefined ? 'Call' : showNumber(key.number);
    case 'twinning':
      return 'Twinning';
    case 'sign-on':
      return 'Sign on';
  }
}

/** Something wrong with a key of a phone, beside what no phone can have. */
export interface KeyFault {
  readonly at: number;
  readonly says: string;
}

/** Whose phone a device is, and as what; neither where it is nobody's. */
export interface UsedAs {
  readonly person: Person | undefined;
  readonly endpoint: Endpoint | undefined;
  /** It is the phone of a shared desk: of whoever signs on. */
  readonly isShared?: boolean;
}

/**
 * What is wrong with how a phone's keys are laid out: keys that it has not, or that would do nothing on it.
 * @param codes those of the organisation
 */
export function keyFaults(
  { keys = [] }: Pick<Device, 'keys'>,
  model: Pick<PhoneModel, 'name' | 'keys'> | undefined,
  { person, endpoint, isShared = false }: UsedAs,
  codes: readonly ServiceCode[] = [],
): readonly KeyFault[] {
  return keys.flatMap((key): KeyFault[] => {
    const fault = (says: string): KeyFault[] => [{ at: key.at, says }];
    if (model && key.at > model.keys)
      return fault(
        model.keys === 0
          ? `A ${model.name} has no such keys.`
          : `A ${model.name} has ${model.keys} keys only.`,
      );
    if (isShared && (key.use === 'line' || key.use === 'twinning'))
      return fault('A shared desk has the lines and the twinning of whoever signs on: this key is left out.');
    if (key.use === 'line' && person && !person.lines.some(({ extension }) => extension === key.extension))
      return fault(`${key.extension ?? 'This line'} is none of ${person.name}’s lines.`);
    if (key.use === 'watch' && person && key.person === person.id)
      return fault(`It would watch ${person.name}’s own phone.`);
    if ((key.use === 'twinning' || key.use === 'sign-on') && !codes.some(({ acts }) => acts === key.use))
      return fault('No code of the organisation does this, so the key has nothing to dial.');
    if (key.use === 'sign-on' && endpoint && endpoint.kind !== 'hot-desk')
      return fault('Nobody signs on at a phone that is not a shared desk.');
    if (key.use === 'twinning' && endpoint?.kind === 'hot-desk')
      return fault('On a shared desk it would switch the twinning of whoever signs on.');
    return [];
  });
}

const endpointsOf = ({ rules, otherwise }: Plan): readonly string[] =>
  [...rules, otherwise].flatMap(({ stages }) =>
    stages.flatMap((stage) => ('ring' in stage ? stage.ring.map(({ endpoint }) => endpoint) : [])),
  );

/**
 * A lay-out to begin with: the person's lines, the twinning switch where they have a mobile that rings, then those
 * whom their plan and groups have them deal with, as far as there are keys.
 */
export function usualKeys(
  { keys }: Pick<PhoneModel, 'keys'>,
  { person, endpoint }: UsedAs,
  estate: Pick<Estate, 'groups'>,
): readonly PhoneKey[] {
  const wanted: Omit<PhoneKey, 'at'>[] = [];
  if (endpoint?.kind === 'hot-desk') wanted.push({ use: 'sign-on' });
  else if (person) {
    for (const { extension } of person.lines) wanted.push({ use: 'line', extension });
    const rung = new Set(endpointsOf(person.plan));
    if (person.endpoints.some(({ id, kind }) => kind === 'mobile' && rung.has(id)))
      wanted.push({ use: 'twinning' });
    const colleagues = estate.groups
      .filter(({ members }) => members.some((each) => 'person' in each && each.person === person.id))
      .flatMap(({ members }) => members.flatMap((each) => ('person' in each ? [each.person] : [])));
    for (const id of new Set(colleagues)) if (id !== person.id) wanted.push({ use: 'watch', person: id });
  }
  return wanted.slice(0, keys).map((key, i) => ({ at: i + 1, ...key }));
}
