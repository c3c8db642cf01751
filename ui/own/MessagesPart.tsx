import type { OwnPage } from '../../api/own';
import { Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { sayMessages } from '../desks/messages';

/** Messages that wait in one’s mailbox, and how they are heard. */
export function MessagesPart({ messages }: { readonly messages: OwnPage['messages'] }) {
  if (messages.fresh + messages.old === 0) return null;
  return (
    <Section title="Messages">
      <Words live>{sayMessages(messages)}</Words>
      {messages.fresh > 0 && messages.code !== null ? (
        <Words tone="soft">{`Dial ${messages.code} at the phone you sit at, or in your app, to hear ${messages.fresh === 1 ? 'it' : 'them'}.`}</Words>
      ) : null}
    </Section>
  );
}
