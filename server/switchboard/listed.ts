import type { RoundCall, RoundCallEnded } from '../../standins/system';
import type { ToStandins } from '../../standins/messages';

/** Recordings that the phone system keeps at most: one more, and all are sent anew. */
const MOST_SOUNDS = 32;

/** A recording, under the name by which the phone system keeps it. */
export interface NamedSound {
  readonly id: string;
  readonly muLaw: Uint8Array;
}
/** What a call of a round plays; of keys null: the message again. */
export interface ListedSounds {
  readonly message: NamedSound;
  readonly keys: Readonly<Record<string, NamedSound | null>>;
}

/**
 * The calls of rounds that the phone system has. One that it ended with is lost: nobody knows how it went.
 * @param onEnded told once of each call
 */
export function listedCalls(
  send: (message: ToStandins) => void,
  onEnded: (id: string, ended: RoundCallEnded) => void,
) {
  const open = new Set<string>();
  const sent = new Set<string>();
  const pass = (id: string, muLaw: Uint8Array): void => {
    if (sent.has(id)) return;
    if (sent.size >= MOST_SOUNDS) sent.clear();
    send({ kind: 'round-sound', sound: id, muLaw });
    sent.add(id);
  };
  return {
    /** Passes the sound of a recording on, once. */
    pass,
    has: (id: string): boolean => sent.has(id),
    place: (call: Omit<RoundCall, 'muLaw' | 'keys'>, { message, keys }: ListedSounds): void => {
      const others = Object.values(keys).filter((each) => each !== null);
      // All or none: what is passed on together is not forgotten in the middle.
      if (sent.size + 1 + others.length > MOST_SOUNDS) sent.clear();
      for (const { id, muLaw } of [message, ...others]) pass(id, muLaw);
      open.add(call.id);
      const named = Object.entries(keys).map(([key, sound]) => [key, sound?.id ?? null] as const);
      send({
        kind: 'round-call',
        call,
        sounds: { message: message.id, keys: Object.fromEntries(named) },
      });
    },
    ended: (id: string, ended: RoundCallEnded): void => {
      if (open.delete(id)) onEnded(id, ended);
    },
    systemEnded: (): void => {
      sent.clear();
      for (const id of [...open]) {
        open.delete(id);
        onEnded(id, { end: 'lost', playedMs: 0 });
      }
    },
  };
}
