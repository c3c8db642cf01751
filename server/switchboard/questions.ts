import type { Logger } from 'pino';
import type { PinAnswer, PinAsked, ToStandins } from '../../standins/messages';
import type { CodeDialled, CodeReply } from '../../standins/system';

/** What the stand-ins ask of the server, which knows what they must not. */
export interface Questions {
  /** Does what a code of the organisation is for. */
  readonly onCode?: (dialled: CodeDialled) => Promise<CodeReply>;
  /** Says whether somebody's PIN is right. */
  readonly onPin?: (asked: PinAsked) => Promise<PinAnswer>;
}

/** Answers each question, whatever becomes of it: somebody waits at a phone. */
export function answering({ onCode, onPin }: Questions, log: Logger, send: (message: ToStandins) => void) {
  return {
    /** Does what a code is for, and has said what was done. */
    code: async (id: string, dialled: CodeDialled): Promise<void> => {
      let reply: CodeReply = { says: 'This code does nothing here.', asks: false };
      try {
        if (onCode) reply = await onCode(dialled);
      } catch (error) {
        log.warn({ err: error }, 'a code could not be acted on');
        reply = { says: 'This did not work. Try again later.', asks: false };
      }
      send({ kind: 'code-reply', id, reply });
    },
    /** Where a PIN cannot be checked none is taken for right. */
    pin: async (id: string, asked: PinAsked): Promise<void> => {
      let answer: PinAnswer = 'wrong';
      try {
        answer = onPin ? await onPin(asked) : 'none';
      } catch (error) {
        log.warn({ err: error }, 'a PIN could not be checked');
      }
      send({ kind: 'pin-reply', id, answer });
    },
  };
}
