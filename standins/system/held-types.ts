import type { E164 } from '../../core/estate';
import type { LegWatch, OutLeg } from './leg-types';

/** Somebody at a seat whose phone outside is to stay connected. */
export interface HeldWish {
  readonly seat: string;
  readonly name: string;
  /** As whom the seat calls. */
  readonly extension: string;
  /** The phone, as legs of calls name it. */
  readonly phone: string;
  readonly number: E164;
  /** When they signed on, ms since 1970. */
  readonly sinceMs: number;
}

/** The phones outside that stay connected from signing on to signing off. */
export interface HeldPhones {
  /** Calls those that are new, once, and lets go of those that are not named any more. */
  readonly set: (wishes: readonly HeldWish[]) => void;
  /**
   * Takes a connected phone for a call: a tone is heard there, and then the caller.
   * @param isFor whether the call came for that seat
   * @returns null: there is none that is free, and the phone is to be rung
   */
  readonly take: (
    phone: string,
    isFor: (seat: string) => boolean,
    watch: Pick<LegWatch, 'onAlert' | 'onAnswer' | 'onPacket' | 'onBye'>,
  ) => OutLeg | null;
}
