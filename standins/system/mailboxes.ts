import type { Ms } from '../../core/estate';
import { NO_MESSAGES, type MessagesWaiting } from '../../core/wire/sip';
import { parseRtp } from '../../core/wire/rtp';

/** One message that a caller has left. */
export interface Message {
  readonly person: string;
  /** null: the number was withheld. */
  readonly from: string | null;
  /** When the call began, ms since 1970. */
  readonly startMs: number;
  /** What was said, as µ-law, 8000 samples a second. */
  readonly muLaw: Uint8Array;
}

/** The mailboxes of the phone system: they are kept as long as it runs. */
export interface Mailboxes {
  /** @returns false: it is not kept, for it is too short, or the mailbox is full */
  readonly leave: (message: Message) => boolean;
  /** The oldest message that was not heard yet. */
  readonly next: (person: string) => Message | null;
  readonly heard: (message: Message) => void;
  readonly waiting: (person: string) => MessagesWaiting;
}

/** Shorter than this nobody has said anything, and longer no message is, ms. */
const LEAST_MS: Ms = 60;
const MOST_MS: Ms = 60_000;
const SAMPLES_PER_MS = 8;
const MOST_MESSAGES = 30;
const MOST_HEARD = 10;
/** Of all mailboxes together: half an hour. */
const MOST_BYTES = 30 * 60_000 * SAMPLES_PER_MS;

/** @param onChange told whose mailbox has more or fewer messages than before */
export function openMailboxes(onChange: (person: string) => void): Mailboxes {
  const boxes = new Map<string, { readonly fresh: Message[]; readonly old: Message[] }>();
  let bytes = 0;
  const boxOf = (person: string) => {
    const box = boxes.get(person) ?? { fresh: [], old: [] };
    boxes.set(person, box);
    return box;
  };
  return {
    leave: (message) => {
      const box = boxOf(message.person);
      const size = message.muLaw.length;
      if (size < LEAST_MS * SAMPLES_PER_MS || box.fresh.length >= MOST_MESSAGES || bytes + size > MOST_BYTES)
        return false;
      bytes += size;
      box.fresh.push(message);
      onChange(message.person);
      return true;
    },
    next: (person) => boxes.get(person)?.fresh[0] ?? null,
    heard: (message) => {
      const { fresh, old } = boxOf(message.person);
      const at = fresh.indexOf(message);
      if (at < 0) return;
      fresh.splice(at, 1);
      old.push(message);
      if (old.length > MOST_HEARD) bytes -= old.shift()!.muLaw.length;
      onChange(message.person);
    },
    waiting: (person) => {
      const box = boxes.get(person);
      return box ? { fresh: box.fresh.length, old: box.old.length } : NO_MESSAGES;
    },
  };
}

/** Takes up what a caller says after the tone. */
export function messageRecorder() {
  const parts: Uint8Array[] = [];
  let size = 0;
  return {
    take: (bytes: Uint8Array): void => {
      const packet = parseRtp(bytes);
      if (packet?.payloadType !== 0 || size >= MOST_MS * SAMPLES_PER_MS) return;
      parts.push(Uint8Array.from(packet.payload));
      size += packet.payload.length;
    },
    sound: (): Uint8Array => Buffer.concat(parts),
  };
}
