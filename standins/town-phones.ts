import { deskEndpoint } from '../core/desks';
import { knownEndpoint, type EndpointBehaviour, type EstateIndex } from '../core/calls/engine';
import type { PhoneSetting, Registration } from './messages';
import type { Binding } from './system';

/** What a stand-in does, by its setting. */
export function behaviourOf(setting: PhoneSetting | undefined): EndpointBehaviour {
  switch (setting?.does) {
    case 'answers':
      return { answerAfterMs: setting.answerAfterMs ?? 4000 };
    case 'no-coverage':
    case 'off':
      return { state: 'off' };
    case 'busy':
    case 'do-not-disturb':
      return { state: setting.does };
    case 'answers-by-itself':
      return { state: 'auto-answer' };
    case 'ready':
    case 'asleep':
    case 'wrong-password':
    case 'old-firmware':
    case 'bare':
    case undefined:
      return {};
  }
}

/** A registration as the server is told of it. */
export const registrationOf = (binding: Binding, endpoint: string | null): Registration => ({
  user: binding.user,
  endpoint,
  contact: binding.contact,
  from: binding.from,
  sinceMs: binding.sinceMs,
  refreshedMs: binding.refreshedMs,
  expiresMs: binding.expiresMs,
  roundTripMs: binding.roundTripMs,
  userAgent: binding.userAgent,
  asleep: binding.pushId !== null,
});

/** A phone that is not there: switched off, or bare until it has set itself up. */
export const isAway = (does: PhoneSetting['does'] | undefined): boolean => does === 'off' || does === 'bare';

/** A shared desk’s phone, by itself nobody’s. */
export const deskPhone = (index: EstateIndex | null, desk: string) =>
  knownEndpoint(
    {
      id: deskEndpoint(desk),
      label: index?.estate.desks?.find(({ id }) => id === desk)?.name ?? desk,
      kind: 'hot-desk',
    },
    null,
  );

/** Loopback addresses of phones, one each. */
export function phoneAddresses() {
  const free: number[] = [];
  const taken = new Map<string, number>();
  return {
    of: (id: string): string => {
      const nth = taken.get(id) ?? free.pop() ?? taken.size;
      taken.set(id, nth);
      return `127.0.${51 + Math.floor(nth / 250)}.${1 + (nth % 250)}`;
    },
    free: (id: string): void => {
      const nth = taken.get(id);
      if (nth !== undefined) free.push(nth);
      taken.delete(id);
    },
  };
}
