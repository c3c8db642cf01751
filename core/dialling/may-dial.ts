import type { E164, Estate, NumberClass, Permission, Person } from '../estate';
import { classOf } from './classes';
import { permits, trunksFor } from './permissions';

/** Whether a person's line may call a number, and else why not and what the one who calls notices. */
export interface MayDial {
  readonly ok: boolean;
  readonly class: NumberClass | 'bad-number';
  /** The first trunk that carries it. */
  readonly trunk?: string;
  readonly reason?: 'bad-number' | 'not-permitted' | 'no-route' | 'no-channel';
  readonly heard?: string;
}

const HEARD: Record<NonNullable<MayDial['reason']>, string> = {
  'bad-number': 'The call is refused at once: the number does not exist (SIP 404).',
  'not-permitted': 'The call is refused at once: it is not allowed (SIP 403).',
  'no-route': 'The call is refused at once: nothing carries it (SIP 404).',
  'no-channel': 'The call is refused at once: every channel is taken (SIP 503).',
};

/** Whether a permission allows a number, and which trunk carries it. @param e164 with its leading + */
export function mayDialBy(
  permission: Permission | undefined,
  e164: E164,
  estate: Pick<Estate, 'dialling' | 'trunks'>,
): MayDial {
  const numberClass = classOf(e164, estate.dialling);
  const refused = (reason: NonNullable<MayDial['reason']>): MayDial => ({
    ok: false,
    class: numberClass,
    reason,
    heard: HEARD[reason],
  });
  if (numberClass === 'bad-number') return refused('bad-number');
  if (!permission || !permits(permission, e164, numberClass)) return refused('not-permitted');
  const trunks = trunksFor(estate.trunks, numberClass);
  const free = trunks.find(({ channels }) => channels > 0);
  if (trunks.length === 0) return refused('no-route');
  return free ? { ok: true, class: numberClass, trunk: free.id } : refused('no-channel');
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
