import type { LostPhone } from '../../api/phones';
import type { FromStandins, Registration } from '../../standins/messages';
import type { KeepsWhatGoes } from './types';

/** Phones kept as lost, and sources of strangers told of. */
const MOST_LOST = 2000;
/** A registration that has run out is shown for as long as its being taken out may take to be told, in ms. */
const LATE_MS = 2000;

type Told<Kind extends FromStandins['kind']> = Extract<FromStandins, { readonly kind: Kind }>;

/**
 * Who is registered at the phone system, and which phones were lost.
 * @param keeps keeps what cannot be collected afterwards, where this server does
 * @param accounts the endpoint of each account; null: it has none
 */
export function registeredNow(
  keeps: () => KeepsWhatGoes | undefined,
  accounts: ReadonlyMap<string, string | null>,
  say: (what: string, more: object) => void,
) {
  const registrations = new Map<string, Registration>();
  const lost = new Map<string, LostPhone>();
  const keyOf = (user: string, contact: string) => `${user} ${contact}`;
  const isKnown = (of: string) => [...registrations.values()].some(({ user }) => user === of);
  return {
    registered: ({ registration }: Told<'registered'>): void => {
      const key = keyOf(registration.user, registration.contact);
      // A refresh is no change.
      if (!registrations.has(key))
        keeps()?.registration({
          user: registration.user,
          endpoint: registration.endpoint,
          state: 'registered',
          transport: registration.from.transport,
        });
      registrations.set(key, registration);
      lost.delete(registration.user);
    },
    unregistered: ({ user, contact, why }: Told<'unregistered'>): void => {
      const before = registrations.get(keyOf(user, contact));
      if (!before) return;
      registrations.delete(keyOf(user, contact));
      keeps()?.registration({
        user,
        endpoint: before.endpoint,
        state: why,
        transport: before.from.transport,
      });
      if (isKnown(user)) return;
      lost.set(user, {
        user,
        endpoint: before.endpoint,
        lostMs: Date.now(),
        why,
        detail: why === 'expired' ? 'it stopped refreshing its registration' : 'it signed off',
      });
    },
    /** @returns whether it is a phone of ours */
    refused: ({ user, from, why }: Told<'refused'>): boolean => {
      // Of a name that no account has nothing is kept: anybody can make up names.
      if (!accounts.has(user)) {
        say('somebody tried to register with a name that no account has', { from: from.host });
        return false;
      }
      if (!isKnown(user) && (lost.has(user) || lost.size < MOST_LOST))
        lost.set(user, {
          user,
          endpoint: accounts.get(user) ?? null,
          lostMs: lost.get(user)?.lostMs ?? Date.now(),
          why: 'refused',
          detail: why,
        });
      return true;
    },
    /** Phones that were lost before this server came. */
    lostBefore: (phones: readonly LostPhone[]): void => {
      for (const phone of phones) lost.set(phone.user, phone);
    },
    all: (): readonly Registration[] =>
      [...registrations.values()].filter(({ expiresMs }) => expiresMs > Date.now() - LATE_MS),
    lost: (): readonly LostPhone[] => [...lost.values()],
    systemEnded: (): void => {
      for (const { user, endpoint, from } of registrations.values())
        keeps()?.registration({ user, endpoint, state: 'stopped', transport: from.transport });
      registrations.clear();
    },
  };
}
