import { inForm, mayDialBy, premiumPrefixes, showNumber, watchedAs } from '../../calls/dialling';
import type { E164, Estate, Permission, Person, PersonId, TollGuard } from '../../estate';
import { routesReached, type ExampleCall, type RouteTable } from '../../routes';

/** What a permission lets be called of what is watched. */
export interface OpenTo {
  readonly id: string;
  readonly name: string;
  readonly people: readonly { readonly id: PersonId; readonly name: string }[];
  readonly premium: boolean;
  /** Of the beginnings that are watched, those that can be called. */
  readonly prefixes: readonly E164[];
}
/** Something by which a call can come to a number that is watched, or would if its permission let it. */
export interface TollFinding {
  readonly kind: 'person' | 'group' | 'menu' | 'route' | 'own-targets';
  readonly id: string;
  readonly name: string;
  readonly weight: 'fault' | 'risk';
  readonly says: string;
  readonly number?: E164;
  /** Of a route: a call that shows it. */
  readonly call?: ExampleCall;
}
export interface TollReport {
  readonly guard: TollGuard;
  /** Where premium numbers of the country begin. */
  readonly premium: readonly E164[];
  readonly permissions: readonly OpenTo[];
  readonly findings: readonly TollFinding[];
}

const NUMBER = /^\+[1-9]\d{6,14}$/;

/** Every outside number that a plan, forward, group or menu can lead to; those that are only shown are left out. */
export function outsideNumbers(value: unknown): readonly E164[] {
  const found = new Set<E164>();
  const walk = (each: unknown): void => {
    if (typeof each === 'string') {
      if (NUMBER.test(each)) found.add(each);
    } else if (Array.isArray(each)) each.forEach(walk);
    else if (typeof each === 'object' && each !== null)
      for (const [key, inner] of Object.entries(each))
        if (key !== 'present' && key !== 'numbers' && key !== 'caller') walk(inner);
  };
  walk(value);
  return [...found];
}

/** The outside numbers that a person's own phones, plan and forwards lead to. */
export const ownOutsideNumbers = ({ endpoints, plan, lines }: Person): readonly E164[] =>
  outsideNumbers({ endpoints, plan, lines });

/** Whether some number that begins so can be called with a permission: deny beats allow, both beat the class. */
function isOpen(
  permission: Permission,
  prefix: E164,
  estate: Pick<Estate, 'trunks'>,
  isPremium: boolean,
): boolean {
  const { allow, allowPrefixes = [], denyPrefixes = [] } = permission;
  if (denyPrefixes.some((denied) => prefix.startsWith(denied))) return false;
  const numberClass = isPremium ? 'premium' : 'international';
  if (!estate.trunks.some(({ carries, channels }) => channels > 0 && carries.includes(numberClass)))
    return false;
  return (
    allow.includes(numberClass) ||
    allowPrefixes.some((allowed) => allowed.startsWith(prefix) || prefix.startsWith(allowed))
  );
}

/**
 * The guard against toll fraud: who can call premium numbers and those that the organisation watches, which plans,
 * forwards, groups, menus and routes lead to them, and who has more outside numbers than they may set themselves.
 * @param fromMs from when on schedules of routes are looked at; ms since 1970
 * @param premium where premium numbers begin, where that is known already
 */
export function tollGuard(
  estate: Estate,
  table: RouteTable | null,
  fromMs: number,
  premium: readonly E164[] = premiumPrefixes(estate.dialling.country),
): TollReport {
  const guard = estate.settings?.fraudProtection ?? { prefixes: [] };
  const { permissions, people } = estate;
  const findings: TollFinding[] = [];

  const look = (
    kind: 'person' | 'group' | 'menu',
    thing: { id: string; name: string; permission: string },
  ) => {
    const permission = permissions.find(({ id }) => id === thing.permission);
    for (const number of outsideNumbers(thing)) {
      const watched = watchedAs(number, estate);
      if (!watched) continue;
      const { ok } = mayDialBy(permission, number, estate);
      findings.push({
        kind,
        id: thing.id,
        name: thing.name,
        number,
        weight: ok ? 'fault' : 'risk',
        says: `${thing.name} leads to ${showNumber(number)}, ${watched === 'premium' ? 'a premium number' : 'which is watched'}${ok ? '' : '; the permission does not let it be called'}.`,
      });
    }
  };
  for (const person of people) {
    look('person', person);
    const own = ownOutsideNumbers(person);
    if (guard.ownTargets !== undefined && own.length > guard.ownTargets)
      findings.push({
        kind: 'own-targets',
        id: person.id,
        name: person.name,
        weight: 'risk',
        says: `${person.name} has ${own.length} outside numbers among their phones and endings; ${guard.ownTargets} is the most that a person may set.`,
      });
  }
  for (const group of estate.groups) look('group', group);
  for (const menu of estate.menus) look('menu', menu);
  if (table) findings.push(...routeFindings(table, [...premium, ...guard.prefixes], estate, fromMs));
  return {
    guard,
    premium,
    findings,
    permissions: permissions.map((permission) => ({
      id: permission.id,
      name: permission.name,
      people: people
        .filter((person) => person.permission === permission.id)
        .map(({ id, name }) => ({ id, name })),
      premium: premium.some((prefix) => isOpen(permission, prefix, estate, true)),
      prefixes: guard.prefixes.filter((prefix) => isOpen(permission, prefix, estate, false)),
    })),
  };
}

/** The routes by which watched numbers leave, in E.164 and as our own lines dial them. */
function routeFindings(
  table: RouteTable,
  prefixes: readonly E164[],
  { dialling }: Estate,
  fromMs: number,
): TollFinding[] {
  const lines = table.peers.find(({ id }) => id === table.lines);
  const reached = routesReached(
    table,
    prefixes.map((prefix) => {
      const dialled = lines ? inForm(prefix, lines.expects, dialling) : prefix;
      return [
        { map: `${prefix}xxxxx.` },
        ...(lines && dialled !== prefix ? [{ map: `${dialled}xxxxx.`, from: lines.id }] : []),
      ];
    }),
    fromMs,
  );
  const byWay = new Map<string, { route: string; peer: string; call: ExampleCall; prefixes: E164[] }>();
  reached?.forEach((all, at) =>
    all.forEach(({ route, peer, call }) => {
      const key = `${route} ${peer}`;
      const known = byWay.get(key) ?? { route, peer, call, prefixes: [] };
      byWay.set(key, { ...known, prefixes: [...known.prefixes, prefixes[at]!] });
    }),
  );
  return [...byWay.values()].map(({ route, peer, call, prefixes: open }): TollFinding => {
    const name = table.routes.find(({ id }) => id === route)?.name ?? route;
    return {
      kind: 'route',
      id: route,
      name,
      weight: 'risk',
      call,
      says: `${name} sends numbers that begin with ${open.join(', ')} to ${table.peers.find(({ id }) => id === peer)?.name ?? peer}.`,
    };
  });
}
