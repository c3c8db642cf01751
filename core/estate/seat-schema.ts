import { mixed, type AnySchema } from 'yup';
import { NOT_AN_OBJECT, digits, sipUri } from './plan-schema';
import type { Seat, SeatPassing, SeatPlaying } from './seat-types';
import { CONFIRMS } from './confirm';
import {
  anything,
  choose,
  closed,
  count,
  e164,
  field,
  flag,
  isObject,
  ms,
  oneOf,
  requiredId,
  requiredText,
} from './yup-parts';

const passTo = () =>
  choose((value: unknown): AnySchema => {
    if (!isObject(value)) return NOT_AN_OBJECT;
    return 'sip' in value
      ? closed({ sip: sipUri().required('is missing') })
      : closed({ number: e164().required('is missing') });
  });

/** A phone that a seat is at: a phone of the estate, a number or a SIP address. */
export const seatPhone = () =>
  choose((value: unknown): AnySchema => {
    if (value === undefined) return mixed();
    if (!isObject(value)) return NOT_AN_OBJECT;
    if ('sip' in value) return closed({ sip: sipUri().required('is missing') });
    if ('number' in value) return closed({ number: e164().required('is missing') });
    return closed({ endpoint: requiredId() });
  });

const unattended = () =>
  choose((value: unknown): AnySchema => {
    if (value === undefined || value === null) return anything().nullable();
    if (!isObject(value)) return NOT_AN_OBJECT;
    if (field(value, 'play') !== undefined) return closed<SeatPlaying>({ play: requiredId(), thenMs: ms() });
    return closed<SeatPassing>({ passTo: passTo(), confirm: oneOf(CONFIRMS) });
  });

export const seatSchema = closed<Seat>({
  id: requiredId(),
  name: requiredText(),
  extension: digits('an extension'),
  callsAtOnce: count(1, 100),
  ringMs: ms(1),
  wrapUpMs: ms(),
  missesUntilPaused: count(1, 1000),
  holdOpen: flag(),
  unattended: unattended(),
});
