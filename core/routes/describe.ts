import type { Form, Rewrite, Route, RouteTable } from './types';

/** What a route's sentences call things by. */
export interface RouteNames {
  readonly peer: (id: string) => string;
  readonly list: (id: string) => string;
  readonly schedule: (id: string) => string;
}

/** The names that a table gives. @param schedules those that routes ask for */
export function namesIn(
  { peers }: Pick<RouteTable, 'peers'>,
  lists: readonly { readonly id: string; readonly name: string }[],
  schedules: readonly { readonly id: string; readonly name: string }[],
): RouteNames {
  const of = (all: readonly { readonly id: string; readonly name: string }[]) => (id: string) =>
    all.find((each) => each.id === id)?.name ?? id;
  return { peer: of(peers), list: of(lists), schedule: of(schedules) };
}

export const FORM_NAMES: Readonly<Record<Form, string>> = {
  e164: 'E.164, with +',
  national: 'national, without +',
  dialled: 'as dialled, with the outside code',
  any: 'any form',
};

/** Reasons for refusing a call, by their SIP status codes (RFC 3261, section 21; RFC 5079, RFC 8197). */
export const CAUSES: readonly { readonly cause: number; readonly says: string }[] = [
  { cause: 403, says: 'forbidden' },
  { cause: 404, says: 'not found' },
  { cause: 480, says: 'not available now' },
  { cause: 484, says: 'number incomplete' },
  { cause: 486, says: 'busy' },
  { cause: 503, says: 'service unavailable' },
  { cause: 603, says: 'declined' },
  { cause: 607, says: 'unwanted' },
];
export const sayCause = (cause: number): string => {
  const known = CAUSES.find((each) => each.cause === cause);
  return known ? `${cause}, ${known.says}` : String(cause);
};

const either = (all: readonly string[], word = 'or'): string =>
  all.length < 2 ? (all[0] ?? 'none') : `${all.slice(0, -1).join(', ')} ${word} ${all.at(-1)!}`;

/** A rewriting in words: `without the first 2 characters and with +1 before`. */
export function sayRewrite(rewrite: Rewrite | undefined, what = 'the'): string {
  if (!rewrite || (rewrite.drop === 0 && rewrite.prepend === '')) return '';
  const off =
    rewrite.drop === 0
      ? ''
      : rewrite.drop === 1
        ? `without ${what} first character`
        : `without ${what} first ${rewrite.drop} characters`;
  const put = rewrite.prepend === '' ? '' : `with ${rewrite.prepend} before`;
  return off && put ? `${off} and ${put}` : off || put;
}

const digitsOf = (least: number | undefined, most: number | undefined): string =>
  least !== undefined && most !== undefined
    ? least === most
      ? `of ${least} digits`
      : `of ${least} to ${most} digits`
    : least !== undefined
      ? `of at least ${least} digits`
      : most !== undefined
        ? `of ${most} digits at most`
        : '';

/** When a route acts, as the beginning of a sentence. */
export function sayRouteWhen({ when }: Pick<Route, 'when'>, names: RouteNames): string {
  const { from, dialled, caller, list, schedule } = when;
  const number = [
    dialled?.prefixes ? `beginning with ${either(dialled.prefixes)}` : '',
    dialled?.map === undefined ? '' : `that fit ${dialled.map}`,
    digitsOf(dialled?.minDigits, dialled?.maxDigits),
    list?.of === 'dialled' ? `on the list ${names.list(list.id)}` : '',
  ].filter(Boolean);
  const callers = [
    caller ? `beginning with ${either(caller.prefixes)}` : '',
    list?.of === 'caller' ? `on the list ${names.list(list.id)}` : '',
  ].filter(Boolean);
  const parts = [
    'Calls',
    from ? `from ${either(from.map(names.peer))}` : '',
    number.length > 0 ? `to numbers ${number.join(', ')}` : '',
    callers.length > 0 ? `by callers ${callers.join(', ')}` : '',
    schedule ? `${schedule.inside ? 'inside' : 'outside'} ${names.schedule(schedule.id)}` : '',
  ].filter(Boolean);
  return parts.length === 1 ? 'All calls' : parts.join(' ');
}

/** What a route does with the calls that it takes, as the end of a sentence. */
export function sayRouteThen({ then }: Pick<Route, 'then'>, names: RouteNames): string {
  if ('refuse' in then) return `are refused: ${sayCause(then.refuse.cause)}`;
  if ('rewrite' in then) {
    const { rewrite, caller } = then.rewrite;
    const changes = [sayRewrite(rewrite), caller ? `their caller ${sayRewrite(caller)}` : ''].filter(Boolean);
    return `go on below${changes.length > 0 ? ` ${changes.join(', ')}` : ''}`;
  }
  if ('fork' in then)
    return `ring ${either(
      then.fork.branches.map(({ peer, rewrite, delayMs }) =>
        [`at ${names.peer(peer)}`, delayMs ? `${delayMs / 1000} s later` : '', sayRewrite(rewrite)]
          .filter(Boolean)
          .join(' '),
      ),
      'and',
    )}`;
  const { peer, rewrite, orElse = [] } = then.send;
  return [
    `go to ${names.peer(peer)}`,
    orElse.length > 0 ? `, or else to ${orElse.map(names.peer).join(', then ')}` : '',
    rewrite && sayRewrite(rewrite) ? `${orElse.length > 0 ? ',' : ''} ${sayRewrite(rewrite)}` : '',
  ].join('');
}

/** A route as one sentence. */
export const sayRoute = (route: Route, names: RouteNames): string =>
  `${sayRouteWhen(route, names)} ${sayRouteThen(route, names)}.`;
