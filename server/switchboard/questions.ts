import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { PinAnswer, PinAsked, ToStandins } from '../../standins/messages';
import type { AccessCalled, CodeDialled, CodeReply, EmergencyAnswer } from '../../standins/system';

/** What the stand-ins ask of the server, which knows what they must not. */
export interface Questions {
  /** Does what a code of the organisation is for. */
  readonly onCode?: (dialled: CodeDialled) => Promise<CodeReply>;
  /** What is asked next of a call to an access number. */
  readonly onAccess?: (called: AccessCalled) => Promise<CodeReply>;
  /** Somebody hung up at an access number before it was answered. */
  readonly onAccessHungUp?: (called: Omit<AccessCalled, 'typed'>) => Promise<void>;
  /** What goes out with an emergency call from a phone. */
  readonly onEmergency?: (endpoint: string) => Promise<EmergencyAnswer>;
  /** Says whether somebody's PIN is right. */
  readonly onPin?: (asked: PinAsked) => Promise<PinAnswer>;
}

/** Answers each question, whatever becomes of it: somebody waits at a phone. */
export function answering(
  { onCode, onPin, onEmergency, onAccess, onAccessHungUp }: Questions,
  log: Logger,
  send: (message: ToStandins) => void,
) {
  /** Answers whoever waits at a phone, whatever becomes of it. @param nothing what is said where nobody deals with it */
  const answer = async <T>(
    id: string,
    asked: T,
    act: ((asked: T) => Promise<CodeReply>) | undefined,
    nothing: string,
  ): Promise<void> => {
    let reply: CodeReply = { says: nothing, asks: false };
    try {
      if (act) reply = await act(asked);
    } catch (error) {
      log.warn({ err: error }, 'what was dialled or typed at a phone could not be acted on');
      reply = { says: 'This did not work. Try again later.', asks: false };
    }
    send({ kind: 'code-reply', id, reply });
  };
  return {
    /** Does what a code is for, and has said what was done. */
    code: (id: string, dialled: CodeDialled) => answer(id, dialled, onCode, 'This code does nothing here.'),
    /** Asks on at an access number; where that does not work, nothing is called. */
    access: (id: string, called: AccessCalled) =>
      answer(id, called, onAccess, 'This number does nothing here.'),
    accessHungUp: async (called: Omit<AccessCalled, 'typed'>): Promise<void> => {
      try {
        await onAccessHungUp?.(called);
      } catch (error) {
        log.warn({ err: error }, 'somebody who hung up at an access number could not be called back');
      }
    },
    /** A call for help goes out whatever is known. */
    emergency: async (id: string, endpoint: string): Promise<void> => {
      let reply: EmergencyAnswer = { callerId: null, pidf: null };
      try {
        if (onEmergency) reply = await onEmergency(endpoint);
      } catch (error) {
        log.warn({ err: error }, 'the place of an emergency call could not be looked up');
      }
      send({ kind: 'emergency-reply', id, reply });
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

/** What the server asks of the stand-ins, each answered once. */
export function waitingFor<T>() {
  const waiting = new Map<string, (answer: T) => void>();
  return {
    /** @param put asks, by an id that the answer bears */
    ask: (put: (id: string) => void): Promise<T> =>
      new Promise((resolve) => {
        const id = randomUUID();
        waiting.set(id, resolve);
        put(id);
      }),
    /** How many wait for their answer. */
    count: (): number => waiting.size,
    answered: (id: string, answer: T): void => {
      waiting.get(id)?.(answer);
      waiting.delete(id);
    },
    /** Nobody answers any more: all are told so. */
    all: (answer: T): void => {
      for (const resolve of waiting.values()) resolve(answer);
      waiting.clear();
    },
  };
}
