import type { Mailboxes } from './mailboxes';
import type { CodeReply } from './types';

/**
 * What is said and played to whoever dials the code of the mailbox: how many messages wait, each of them, and that there
 * are no more. One that was played to its end is heard.
 * @param person whose phone it is; null: nobody’s
 */
export function toldOfMailbox(mailboxes: Mailboxes, person: string | null): () => Promise<CodeReply> {
  let isBegun = false;
  const told = (says: string): CodeReply => ({ says, asks: false });
  return () => {
    if (person === null) return Promise.resolve(told('Nobody is signed on at this phone.'));
    const next = mailboxes.next(person);
    const { fresh } = mailboxes.waiting(person);
    const count = isBegun ? '' : `${fresh === 1 ? 'One new message' : `${fresh} new messages`}. `;
    if (!next) return Promise.resolve(told(isBegun ? 'No more messages.' : 'No new messages.'));
    isBegun = true;
    return Promise.resolve({
      ...told(`${count}From ${next.from ?? 'a withheld number'}.`),
      plays: { muLaw: next.muLaw, onHeard: () => mailboxes.heard(next) },
    });
  };
}
