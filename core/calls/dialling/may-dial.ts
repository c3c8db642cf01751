import type { E164, Estate, NumberClass, Permission, Person } from '../../estate';
import { classOf } from './classes';
import { wayOut, type NoWayOut } from './permissions';

/** Whether a person's line may call a number, and else why not and what the one who calls notices. */
export interface MayDial {
  readonly ok: boolean;
  readonly class: NumberClass | 'bad-number';
  /** The first trunk that carries it. */
  readonly trunk?: string;
  readonly reason?: NoWayOut;
  readonly heard?: string;
}

const HEARD: Record<NoWayOut, string> = {
  'bad-number': 'The call is refused at once: the number does not exist (SIP 404).',
  'not-permitted': 'The call is refused at once: it is not allowed (SIP 403).',
  'no-route': 'The call is refused at once: nothing carries it (SIP 404).',
  'no-channel': 'The call is refused at once: every channel is taken (SIP 503).',
};

/** Why somebody cannot call a number, in a sentence to them. */
export const REFUSED_WORDS: Readonly<Record<NoWayOut, string>> = {
  'bad-number': 'There is no such number.',
  'not-permitted': 'Your permission does not allow this number.',
  'no-route': 'No trunk carries such numbers.',
  'no-channel': 'Every channel of the trunks is taken.',
};

/** Whether a permission allows a number, and which trunk carries it. @param e164 with its leading + */
export function mayDialBy(
  permission: Permission | undefined,
  e164: E164,
  estate: Pick<Estate, 'dialling' | 'trunks'>,
): MayDial {
  const numberClass = classOf(e164, estate.dialling);
  const way = wayOut(permission, e164, numberClass, estate.trunks, ({ channels }) => channels > 0);
  return 'trunk' in way
    ? { ok: true, class: numberClass, trunk: way.trunk.id }
    : { ok: false, class: numberClass, reason: way.reason, heard: HEARD[way.reason] };
}

/** Whether a person's line may call a number. @param e164 with its leading + */
export const mayDial = (
  person: Pick<Person, 'permission'>,
  e164: E164,
  estate: Pick<Estate, 'dialling' | 'trunks' | 'permissions'>,
): MayDial =>
  mayDialBy(
    estate.permissions.find(({ id }) => id === person.permission),
    e164,
    estate,
  );

/** Permissions of the estate with which a number may be called, those that allow the fewest classes first. */
export const permissionsFor = (
  e164: E164,
  estate: Pick<Estate, 'dialling' | 'trunks' | 'permissions'>,
): readonly Permission[] =>
  estate.permissions
    .filter((permission) => mayDialBy(permission, e164, estate).ok)
    .sort((a, b) => a.allow.length - b.allow.length);
