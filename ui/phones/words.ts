import type { PhoneDoes, Registration } from '../../api/phones';
import { DateTime } from 'luxon';
import { capital, ENDPOINT_KINDS, isNumberKind, PLACE_KINDS, type EndpointKind } from '../../core/estate';

export const KIND_WORDS = Object.fromEntries(
  ENDPOINT_KINDS.map((kind) => [kind, capital(PLACE_KINDS[kind])]),
) as Record<EndpointKind, string>;

/** What a stand-in can be set to do, in the order in which it is offered. */
export const DOES_WORDS: Record<PhoneDoes, string> = {
  ready: 'Nobody there',
  answers: 'Is answered',
  off: 'Switched off',
  asleep: 'Asleep until woken',
  'no-coverage': 'Out of coverage',
  busy: 'Busy',
  'do-not-disturb': 'Do not disturb',
  'answers-by-itself': 'Answers by itself',
  'wrong-password': 'Has a wrong password',
  'old-firmware': 'Has old firmware',
  bare: 'Waits to be set up',
};
const PUBLIC: readonly PhoneDoes[] = ['ready', 'answers', 'no-coverage', 'busy', 'answers-by-itself'];
const DESK: readonly PhoneDoes[] = [
  'ready',
  'answers',
  'off',
  'busy',
  'do-not-disturb',
  'answers-by-itself',
  'wrong-password',
  'old-firmware',
];

export const doesOptions = (kind: EndpointKind): readonly PhoneDoes[] =>
  isNumberKind(kind)
    ? PUBLIC
    : kind === 'mobile-app'
      ? ['ready', 'answers', 'off', 'asleep', 'busy', 'do-not-disturb', 'wrong-password']
      : DESK;

export const clockOf = (ms: number): string => {
  const at = DateTime.fromMillis(ms);
  return at.hasSame(DateTime.now(), 'day')
    ? at.toFormat('HH:mm:ss')
    : at.setLocale('en').toFormat('d LLL HH:mm');
};

/** How a device is registered, in one line. */
/** Where a registration came from. */
export const addressWords = ({ from }: Registration): string =>
  `${from.transport.toUpperCase()} from ${from.host}:${from.port}`;

export const registrationWords = (each: Registration, now = Date.now()): string =>
  [
    addressWords(each),
    ...(each.roundTripMs === null ? [] : [`${each.roundTripMs} ms there and back`]),
    `since ${clockOf(each.sinceMs)}`,
    `runs out in ${Math.max(0, Math.round((each.expiresMs - now) / 1000))} s`,
    ...(each.asleep ? ['asleep, can be woken'] : []),
  ].join(' · ');
