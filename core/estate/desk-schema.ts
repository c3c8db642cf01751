import { DESK_CREDENTIALS, DESK_TAKEN, type Desk, type DeskPromise, type RosterEntry } from './desk-types';
import {
  anything,
  choose,
  clock,
  closed,
  count,
  flag,
  id,
  list,
  maybe,
  oneOf,
  requiredId,
  requiredText,
  share,
  text,
} from './yup-parts';

const DAY_S = 86_400;
/** Columns and rows of a plan. */
export const MOST_PLACES = 40;
const isNothing = (value: unknown) => value === null || value === undefined;

export const deskSchema = closed<Desk>({
  id: requiredId(),
  name: requiredText(),
  device: requiredId(),
  area: text(120),
  spot: maybe(
    closed<NonNullable<Desk['spot']>>({
      column: count(1, MOST_PLACES).required('is missing'),
      row: count(1, MOST_PLACES).required('is missing'),
    }),
  ),
  allowed: maybe(
    closed<NonNullable<Desk['allowed']>>({ people: list(id()), templates: list(id()), statuses: list(id()) }),
  ),
  credential: oneOf(DESK_CREDENTIALS),
  taken: oneOf(DESK_TAKEN),
  signOff: maybe(
    closed<NonNullable<Desk['signOff']>>({
      atShiftEnd: flag(),
      afterIdleS: choose((value) => (isNothing(value) ? anything().nullable() : count(1, DAY_S))),
      dailyAt: choose((value) => (isNothing(value) ? anything().nullable() : clock())),
    }),
  ),
});
/** Promises about the desks of one site. */
const MOST_PROMISES = 20;
export const deskPromisesSchema = list(
  closed<DeskPromise>({
    schedule: id(),
    keeps: share(1)
      .required('is missing')
      .moreThan(0, 'must be over 0, and below 1')
      .lessThan(1, 'must be over 0, and below 1'),
  }),
).max(MOST_PROMISES, `must be ${MOST_PROMISES} or fewer`);
export const rosterSchema = closed<RosterEntry>({
  schedule: requiredId(),
  site: requiredId(),
  share: share(1).moreThan(0, 'must be over 0, and 1 at most'),
});
