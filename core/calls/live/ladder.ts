import { parseSip, shownText } from '../../wire/sip';
import type { Ms } from '../../estate';

/** One message as it went over the wire; text is a byte string. */
export interface CarriedMessage {
  readonly atMs: Ms;
  /** `address:port` of either end. */
  readonly from: string;
  readonly to: string;
  readonly bytes: string;
}

export interface LadderRow {
  readonly atMs: Ms;
  /** Which columns it goes from and to. */
  readonly from: number;
  readonly to: number;
  /** "INVITE", "180 Ringing". */
  readonly label: string;
  readonly isRequest: boolean;
  /** Whole, for reading. */
  readonly text: string;
}

/** Signalling as a ladder: a column for each party, a row for each message. */
export interface Ladder {
  readonly parties: readonly { readonly address: string; readonly name: string }[];
  readonly rows: readonly LadderRow[];
}

/** Who is at which address: by host, or by `host:port` where several are at one host. */
export type PartyNames = Readonly<Record<string, string>>;

const hostOf = (address: string) => address.slice(0, address.lastIndexOf(':'));

/**
 * Puts messages in the order of time under the parties that sent them, parties in the order in which they come in.
 * @param names who each address is: of a party that is named by address and port its other ports count as its own,
 *   where they have the same name
 */
export function ladderOf(messages: readonly CarriedMessage[], names: PartyNames): Ladder {
  const parties: { address: string; name: string }[] = [];
  const column = (address: string): number => {
    const named = names[address];
    const host = hostOf(address);
    const at = parties.findIndex((each) =>
      named === undefined ? each.address === host : each.name === named,
    );
    if (at >= 0) return at;
    parties.push(
      named === undefined ? { address: host, name: names[host] ?? host } : { address, name: named },
    );
    return parties.length - 1;
  };
  const rows = messages.map(({ atMs, from, to, bytes }) => {
    const parsed = parseSip(bytes);
    const isRequest = parsed.ok && parsed.message.kind === 'request';
    const label = !parsed.ok
      ? 'not readable'
      : parsed.message.kind === 'request'
        ? parsed.message.method
        : `${parsed.message.status} ${parsed.message.reason}`;
    return { atMs, from: column(from), to: column(to), label, isRequest, text: shownText(bytes) };
  });
  return { parties, rows };
}
