import type { MessagesWaiting } from '../../core/wire/sip';

/** How many messages wait, in words. */
export const sayMessages = ({ fresh, old }: MessagesWaiting): string =>
  `${fresh === 0 ? 'No new message' : fresh === 1 ? 'One new message' : `${fresh} new messages`}${
    old === 0 ? '' : `, ${old} heard before`
  }.`;
