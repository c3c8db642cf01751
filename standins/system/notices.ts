import {
  MESSAGE_SUMMARY,
  writeMessageSummary,
  type Headers,
  type MessagesWaiting,
} from '../../core/wire/sip';
import type { SipNode } from '../sip/node';
import type { Binding } from './registrar';

export interface NoticeOptions {
  readonly address: string;
  readonly realm: string;
  readonly request: SipNode['request'];
  readonly bindings: () => readonly Binding[];
  /** What waits for whoever’s phone it is; nobody’s: nothing. */
  readonly waitingAt: (user: string) => MessagesWaiting;
  readonly log: ((line: string) => void) | undefined;
}

/** What phones are told of without having asked: that their settings have changed, and that messages wait. */
export function openNotices({ address, realm, request, bindings, waitingAt, log }: NoticeOptions) {
  let nth = 0;
  /** What each was told last of its mailbox. */
  const told = new Map<string, string>();

  function notify(
    { user, contact, callId, from }: Binding,
    what: string,
    event: string,
    more: { readonly headers?: Headers; readonly body?: string } = {},
  ): void {
    nth += 1;
    request(
      {
        method: 'NOTIFY',
        uri: contact,
        headers: [
          ['Max-Forwards', '70'],
          ['From', `<sip:${user}@${realm}>;tag=notice${nth}`],
          ['To', `<${contact}>`],
          ['Call-ID', `${callId}-notice-${nth}`],
          ['CSeq', '1 NOTIFY'],
          ['Contact', `<sip:${address}>`],
          ['Event', event],
          ['Subscription-State', 'terminated;reason=noresource'],
          ...(more.headers ?? []),
        ],
        ...(more.body === undefined ? {} : { body: more.body }),
      },
      from,
      (answer) => {
        // A phone without a lamp says that it knows no such event (RFC 6665).
        if (answer.status >= 300 && answer.status !== 489)
          log?.(`${user} did not take ${what}: ${answer.status}`);
      },
    );
  }

  function tellMessages(binding: Binding): void {
    const waiting = waitingAt(binding.user);
    const says = `${waiting.fresh}/${waiting.old}`;
    if (binding.pushId !== null || (told.get(binding.contact) ?? '0/0') === says) return;
    told.set(binding.contact, says);
    notify(binding, 'that messages wait', 'message-summary', {
      headers: [['Content-Type', MESSAGE_SUMMARY]],
      body: writeMessageSummary(waiting, `sip:${binding.user}@${realm}`),
    });
  }

  return {
    /** Tells devices that their settings have changed (RFC 6080, section 6.7), without a subscription. */
    profile: (to: readonly Binding[]): void => {
      for (const binding of to)
        if (binding.pushId === null)
          notify(binding, 'that its settings have changed', 'ua-profile;effective-by=0');
    },
    /** Tells every phone whose mailbox is another than it was told, without a subscription (RFC 3842). */
    messages: (): void => {
      for (const binding of bindings()) tellMessages(binding);
    },
    /** A phone that has just come knows of nothing. */
    registered: (binding: Binding): void => {
      told.delete(binding.contact);
      tellMessages(binding);
    },
    gone: (binding: Binding): void => void told.delete(binding.contact),
  };
}
