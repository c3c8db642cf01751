import type { Seat } from '../../core/estate';
import type { SeatLine, SeatOn } from '../../core/seats';
import { soundName, type ToStandins } from '../../standins/messages';
import { aboutError } from '../base';
import type { listedCalls } from './listed';

/** Where what the phone system knows of seats comes from. */
export interface SeatSources {
  /** Who is at which seat, and what changes whenever that does. */
  readonly atSeats?: {
    readonly read: () => Promise<readonly SeatOn[]>;
    readonly stamp: () => Promise<string>;
  };
  /** The sound of a recording as µ-law, for what seats play; null: there is none. */
  readonly soundOf?: (recording: string) => Promise<Uint8Array | null>;
}

/** Tells the phone system who is at which seat, and what seats play that need nobody. */
export function tellingSeats({
  atSeats,
  soundOf,
  send,
  listed,
  isUp,
  say,
}: {
  readonly atSeats: SeatSources['atSeats'] | undefined;
  readonly soundOf: SeatSources['soundOf'] | undefined;
  readonly send: (message: ToStandins) => void;
  readonly listed: Pick<ReturnType<typeof listedCalls>, 'has' | 'pass'>;
  readonly isUp: () => boolean;
  readonly say: (what: string, more: object) => void;
}) {
  let sent = '';
  const held = new Map<string, SeatLine>();
  let isComing = false;
  async function tell(force: boolean): Promise<void> {
    if (!atSeats || !isUp()) return;
    const stamp = await atSeats.stamp();
    if (stamp === sent && !force) return;
    send({ kind: 'seats', seats: await atSeats.read() });
    sent = stamp;
  }
  return {
    tell,
    /** How the phone of a seat stands that is to stay connected; null: it is not to. */
    heldAt: (seat: string): SeatLine | null => held.get(seat) ?? null,
    heldChanged: (seat: string, at: SeatLine | null): void => {
      if (at) held.set(seat, at);
      else held.delete(seat);
    },
    systemEnded: (): void => held.clear(),
    /** Somebody signed on or off, or a state changed: of many at once the last is enough. */
    changed: (): void => {
      if (isComing) return;
      isComing = true;
      setImmediate(() => {
        isComing = false;
        tell(true).catch((error: unknown) =>
          say('who is at which seat could not be told to the phone system', { err: aboutError(error) }),
        );
      });
    },
    passSounds: async (seats: readonly Seat[]): Promise<void> => {
      for (const { unattended } of seats) {
        const play = unattended && 'play' in unattended ? unattended.play : null;
        if (play === null || !soundOf || listed.has(soundName(play))) continue;
        const muLaw = await soundOf(play);
        if (muLaw) listed.pass(soundName(play), muLaw);
      }
    },
  };
}
