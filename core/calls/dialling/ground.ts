import type { E164, Estate, NumberClass, Person } from '../../estate';
import { mayDial, type MayDial } from './may-dial';
import { trunksFor } from './permissions';

/** Whether a person's line can call out at all, and the outside numbers of their own phones. */
export interface GroundCheck {
  /** The classes of numbers that the line may call and that a trunk with channels carries. */
  readonly classes: readonly { readonly class: NumberClass; readonly trunk: string }[];
  readonly targets: readonly {
    readonly endpoint: string;
    readonly label: string;
    readonly e164: E164;
    readonly may: MayDial;
  }[];
  readonly ok: boolean;
}

/**
 * The ground on which twinning stands: a line that cannot call an outside number fails its outside phones silently.
 */
export function groundCheck(
  person: Person,
  estate: Pick<Estate, 'dialling' | 'trunks' | 'permissions'>,
): GroundCheck {
  const permission = estate.permissions.find(({ id }) => id === person.permission);
  const classes = (permission?.allow ?? []).flatMap((each) => {
    const trunk = trunksFor(estate.trunks, each).find(({ channels }) => channels > 0);
    return trunk ? [{ class: each, trunk: trunk.name }] : [];
  });
  const targets = person.endpoints.flatMap(({ id, label, number }) =>
    number === undefined ? [] : [{ endpoint: id, label, e164: number, may: mayDial(person, number, estate) }],
  );
  return {
    classes,
    targets,
    ok: targets.every(({ may }) => may.ok) && (targets.length === 0 || classes.length > 0),
  };
}
