/** Messages that wait in a mailbox: those nobody has heard yet, and those that were. */
export interface MessagesWaiting {
  readonly fresh: number;
  readonly old: number;
}
export const NO_MESSAGES: MessagesWaiting = { fresh: 0, old: 0 };
export const MESSAGE_SUMMARY = 'application/simple-message-summary';

const MOST_TEXT = 4000;

/** What a phone is told of a mailbox (RFC 3842, section 5.2). @param account whose mailbox it is, as a SIP address */
export const writeMessageSummary = ({ fresh, old }: MessagesWaiting, account: string): string =>
  [
    `Messages-Waiting: ${fresh > 0 ? 'yes' : 'no'}`,
    `Message-Account: ${account}`,
    `Voice-Message: ${fresh}/${old} (0/0)`,
    '',
  ].join('\r\n');

/**
 * Reads what a phone is told of a mailbox (RFC 3842, section 5.2). Where voice messages are not counted, one is taken
 * to wait if any does. @returns null: it is no such text
 */
export function parseMessageSummary(text: string): MessagesWaiting | null {
  if (text.length > MOST_TEXT) return null;
  const waiting = /^messages-waiting[ \t]*:[ \t]*(yes|no)[ \t]*(?:\r?\n|$)/i.exec(text);
  if (!waiting) return null;
  const counted = /^voice-message[ \t]*:[ \t]*(\d{1,9})\/(\d{1,9})/im.exec(text);
  if (counted) return { fresh: Number(counted[1]), old: Number(counted[2]) };
  return { fresh: waiting[1]!.toLowerCase() === 'yes' ? 1 : 0, old: 0 };
}
