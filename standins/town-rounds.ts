import type { FromStandins, RoundSounds } from './messages';
import type { PhoneSystem, RoundCall, RoundCallEnded } from './system';

/** Recordings kept at once, some hundred kibibytes each: what several servers have passed on. */
export const MOST_SOUNDS = 128;

/** The recordings that are played, and the numbers that rounds call now. */
export function townRounds(tell: (message: FromStandins) => void) {
  const listed = new Set<string>();
  const sounds = new Map<string, Uint8Array>();
  return {
    isListed: (number: string): boolean => listed.has(number),
    soundOf: (id: string): Uint8Array | null => sounds.get(id) ?? null,
    setSound: (id: string, muLaw: Uint8Array): void => {
      // What comes again is as new: the oldest goes first.
      sounds.delete(id);
      for (const old of sounds.keys()) if (sounds.size >= MOST_SOUNDS) sounds.delete(old);
      sounds.set(id, muLaw);
    },
    call: (
      system: PhoneSystem,
      call: Omit<RoundCall, 'muLaw' | 'keys'>,
      { message, keys }: RoundSounds,
    ): void => {
      const muLaw = sounds.get(message);
      const played = Object.entries(keys).map(
        ([key, sound]) => [key, sound === null ? null : sounds.get(sound)] as const,
      );
      const isWhole = played.every(([, sound]) => sound !== undefined);
      const ended = (told: RoundCallEnded) => {
        listed.delete(call.number);
        tell({ kind: 'round-called', id: call.id, ended: told });
      };
      if (!muLaw || !isWhole) return ended({ end: 'no-channel', playedMs: 0 });
      listed.add(call.number);
      system.callListed(
        { ...call, muLaw, keys: Object.fromEntries(played) as Record<string, Uint8Array | null> },
        ended,
      );
    },
  };
}
