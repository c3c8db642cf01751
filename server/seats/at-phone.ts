import type { Person, Seat } from '../../core/estate';
import { codeAsks, codeTells } from '../../standins/messages';
import type { CodeReply } from '../../standins/system';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { checkSeatPassword } from './password';
import { openSeat, openSeats, type StoredSeatOn } from './queries';
import { pauseSeat, seatNamed, signOffSeat, signOnToSeat } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'secrets'>;

const SIGN_OFF = '1';
const PAUSE = '2';
const ANOTHER = '3';
const TAKE_OVER = '1';

/** Who dials the code, and at which phone: calls are then taken there. */
export interface AtPhone {
  readonly live: LiveEstate;
  readonly person: Person;
  readonly endpoint: string;
}

/** Signs on to a seat, off, or pauses, by its code at one’s own phone and what is typed then. */
export async function seatByCode(services: Needs, at: AtPhone, typed: readonly string[]): Promise<CodeReply> {
  const { live, person } = at;
  const mine = (await openSeats(services.db)).find((on) => on.person === person.id);
  const seat = mine && seatNamed(live, mine.seat);
  if (mine && seat) {
    const [choice, ...rest] = typed;
    if (choice === SIGN_OFF)
      return codeTells(
        (await signOffSeat(services, mine, 'by-hand', person.name)) === 'waits'
          ? `You are signed off from ${seat.name} when your call has ended.`
          : `You are signed off from ${seat.name}.`,
      );
    if (choice === PAUSE) return pauseOrGoOn(services, seat, mine, person);
    if (choice === ANOTHER) return signOnBy(services, at, rest);
    const or = mine.pausedWhy === null ? 'pauses' : 'goes on';
    return codeAsks(
      `You are signed on to ${seat.name}. ${SIGN_OFF} signs off, ${PAUSE} ${or}, ${ANOTHER} signs on to another seat. End with the hash key.`,
    );
  }
  return signOnBy(services, at, typed);
}

async function pauseOrGoOn(
  services: Needs,
  seat: Seat,
  mine: StoredSeatOn,
  person: Person,
): Promise<CodeReply> {
  const isPaused = mine.pausedWhy !== null;
  await pauseSeat(services, seat.id, isPaused ? null : 'from the phone', person.name);
  return codeTells(isPaused ? `You take calls again at ${seat.name}.` : `${seat.name} is paused.`);
}

async function signOnBy(
  services: Needs,
  { live, person, endpoint }: AtPhone,
  typed: readonly string[],
): Promise<CodeReply> {
  const [extension, ...after] = typed;
  if (extension === undefined) return codeAsks('The extension of the seat, then the hash key.');
  const seat = live.estate.seats?.find((each) => each.extension === extension);
  if (!seat) return codeTells('There is no such seat.');
  let rest = after;
  // A seat without a password asks for none.
  let credential = await checkSeatPassword(services, seat.id, person.id, undefined);
  if (credential === 'missing') {
    const [password, ...more] = after;
    if (password === undefined) return codeAsks(`The password of ${seat.name}, then the hash key.`);
    credential = await checkSeatPassword(services, seat.id, person.id, password);
    rest = more;
  }
  if (credential === 'missing') return codeTells('There is no such seat.');
  const here = await openSeat(services.db, seat.id);
  const isOthers = here !== null && here.person !== person.id;
  const [choice] = rest;
  if (credential === 'right' && isOthers && choice === undefined)
    return codeAsks(
      `${live.finder.person(here.person)?.name ?? 'Somebody'} is signed on. ${TAKE_OVER} takes over, any other key leaves it. End with the hash key.`,
    );
  if (isOthers && choice !== undefined && choice !== TAKE_OVER) return codeTells('Nothing was changed.');
  const done = await signOnToSeat(services, {
    seat: seat.id,
    person: person.id,
    at: { endpoint },
    credential,
    confirmed: isOthers && choice === TAKE_OVER,
    who: person.name,
  });
  if (!done.ok) return codeTells(done.says);
  return codeTells(
    done.waits
      ? `You are signed on to ${seat.name} when its call has ended.`
      : `You are signed on to ${seat.name}, at this phone.`,
  );
}
