import { NO_MESSAGES, type MessagesWaiting } from '../../core/wire/sip';

/** The mailboxes of the phone system, and the lamps of the phones that were told of them. */
export function mailboxLamps(onChange: () => void) {
  const mailboxes = new Map<string, MessagesWaiting>();
  const lit = new Set<string>();
  return {
    /** Somebody’s mailbox has more or fewer messages than before. */
    changed: (person: string, waiting: MessagesWaiting): void => {
      mailboxes.set(person, waiting);
      onChange();
    },
    /** A phone was told of its mailbox, or is gone. */
    lamp: (endpoint: string, { fresh }: MessagesWaiting): void => {
      if (lit.has(endpoint) === fresh > 0) return;
      if (fresh > 0) lit.add(endpoint);
      else lit.delete(endpoint);
      onChange();
    },
    /** The phone system ended, and its mailboxes with it. */
    ended: (): void => {
      mailboxes.clear();
      lit.clear();
    },
    waiting: (person: string): MessagesWaiting => mailboxes.get(person) ?? NO_MESSAGES,
    isLit: (endpoint: string): boolean => lit.has(endpoint),
  };
}
