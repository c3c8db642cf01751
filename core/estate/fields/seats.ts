import { NAMED, choice, count, flag, id, ms, object, text, type FieldsOf } from './kinds';
import type { Seat } from '../seat-types';

const passTo = { number: text('number'), sip: text('SIP address') };
export const unattended = {
  passTo: object('passed to', () => passTo),
  confirm: choice('accepted by'),
  play: id('recording'),
  thenMs: ms('listen for keys for'),
};
export const seat: FieldsOf<Seat> = {
  ...NAMED,
  extension: text('extension'),
  callsAtOnce: count('calls at once'),
  ringMs: ms('ring for'),
  wrapUpMs: ms('wrap-up'),
  missesUntilPaused: count('paused after missed calls in a row'),
  holdOpen: flag('outside phone stays connected'),
  unattended: object('unattended', () => unattended),
};
