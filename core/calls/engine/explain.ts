import type { Ending, Person } from '../../estate';
import type { EstateIndex, KnownEndpoint } from './compile';
import { seconds } from './state';
import type { LegEnd, Outcome } from './types';

/** `Ines Okafor` is `Ines`: the name used in sentences where the whole name would be heavy. */
export const shortName = (name: string): string => name.trim().split(/\s+/)[0] ?? name;

const possessive = (name: string) => `${name}'s`;

const personName = (index: EstateIndex, id: string | undefined) =>
  (id !== undefined && index.people.get(id)?.name) || id || 'nobody';

/** Whose mailbox, phone or plan: `Ines's`. */
export const whose = (index: EstateIndex, id: string | undefined): string =>
  possessive(shortName(personName(index, id)));

/** `voicemail for Ines`. */
export const voicemailFor = (index: EstateIndex, id: string | undefined): string =>
  `voicemail for ${shortName(personName(index, id))}`;

/** `Softphone` is `softphone` inside a sentence; `VPN phone` stays. */
export const lowerFirst = (text: string) =>
  /^\p{Lu}\p{Ll}/u.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;

/** An endpoint by its label, with whose it is unless it belongs to `speaker`; a bare number or URI is itself. */
export function endpointName(index: EstateIndex, id: string, speaker?: string): string {
  const known = index.endpoints.get(id);
  if (!known) return index.seats.get(id)?.name ?? id;
  const { owner, endpoint } = known;
  return owner && owner.id !== speaker
    ? `${possessive(shortName(owner.name))} ${lowerFirst(endpoint.label)}`
    : endpoint.label;
}

/** An endpoint by itself, with whose it is: `Ruth Adeyemi: Bookings desk`. */
export const endpointTitle = ({ owner, endpoint }: KnownEndpoint): string =>
  owner ? `${owner.name}: ${endpoint.label}` : endpoint.label;

/** An endpoint inside a sentence: `the mobile`, `Tomasz's softphone`. */
export function theEndpoint(index: EstateIndex, id: string, speaker?: string): string {
  const known = index.endpoints.get(id);
  return known?.owner && known.owner.id === speaker
    ? `the ${lowerFirst(known.endpoint.label)}`
    : endpointName(index, id, speaker);
}

/** What an ending does, as a sentence of the trace. */
export function endingText(index: EstateIndex, ending: Ending, owner: Person | null): string {
  return `Then: ${endingPhrase(index, ending, owner?.id)}.`;
}

/** What an ending does, as the end of a sentence. */
export function endingPhrase(index: EstateIndex, ending: Ending, owner: string | undefined): string {
  switch (ending.kind) {
    case 'mailbox':
      return voicemailFor(index, ending.person ?? owner);
    case 'person':
      return `on to ${whose(index, ending.person)} own plan`;
    case 'endpoint':
      return `on to ${theEndpoint(index, ending.endpoint, owner)}`;
    case 'number':
      return `on to ${ending.number}`;
    case 'sip':
      return `on to ${ending.uri}`;
    case 'group':
      return `on to the group ${index.groups.get(ending.group)?.name ?? ending.group}`;
    case 'menu':
      return `on to the menu ${index.menus.get(ending.menu)?.name ?? ending.menu}`;
    case 'hang-up':
      return ending.message ? `the call is ended with "${ending.message}"` : 'the call is ended';
    case 'queue':
      return `the caller waits up to ${seconds(ending.maxMs)}, then ${endingPhrase(index, ending.then, owner)}`;
  }
}

export const FAILURES: Record<string, string> = {
  'no-such-number': 'nobody has this number',
  'no-mailbox': 'the mailbox is switched off',
  'too-many-hops': 'it was passed on too many times',
  'not-permitted': 'the permission does not allow the outside number',
  'bad-number': 'the number is none that can be called',
  'no-route': 'no trunk carries this class of number',
  'no-channel': 'no trunk had a free channel',
  unregistered: 'the phone is not registered',
  unreachable: 'the phone is off and has no voicemail',
};

/** How the call ended, in one sentence. */
export function outcomeText(index: EstateIndex, outcome: Outcome): string {
  const at = outcome.atMs === 0 ? 'at once' : `after ${seconds(outcome.atMs)}`;
  switch (outcome.kind) {
    case 'answered':
      return `Answered at ${endpointName(index, outcome.endpoint)} ${at}.`;
    case 'played':
      return `${index.seats.get(outcome.seat)?.name ?? outcome.seat} played its recording ${at}.`;
    case 'carrier-voicemail':
      return `Lost: the mobile carrier's voicemail of ${endpointName(index, outcome.endpoint)} took the call ${at}.`;
    case 'mailbox':
      return `V${voicemailFor(index, outcome.person).slice(1)} ${at}.`;
    case 'hung-up':
      return outcome.message ? `Ended with "${outcome.message}" ${at}.` : `Ended ${at}.`;
    case 'abandoned':
      return `The caller hung up ${at}.`;
    case 'unanswered':
      return `Lost: nobody answered ${at}, and nothing comes after.`;
    case 'loop':
      return `Lost: the call went round${outcome.person ? ` to ${personName(index, outcome.person)} again` : ''} ${at}.`;
    case 'failed':
      return `Lost: ${FAILURES[outcome.reason] ?? outcome.reason.replaceAll('-', ' ')} ${at}.`;
  }
}

const LEG_ENDS: Record<LegEnd, string> = {
  'bad-number': 'no such number',
  'not-permitted': 'not permitted',
  'no-route': 'no trunk carries it',
  'no-channel': 'no free channel',
  unregistered: 'not registered',
  unreachable: 'unreachable',
  busy: 'busy',
  'do-not-disturb': 'do not disturb',
  rejected: 'rejected',
  'given-up': 'stops ringing',
  'before-guard': 'dropped by the answer guard',
  refused: 'refused by key',
  'not-confirmed': 'not confirmed with a key',
  'no-answer': 'no answer',
  'answered-elsewhere': 'answered elsewhere',
  'caller-gone': 'caller gone',
  connected: 'connected',
};

/** How a leg ended, in two or three words. */
export const legEndText = (end: LegEnd): string => LEG_ENDS[end];
