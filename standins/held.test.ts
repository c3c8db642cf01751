import { workedEstate } from '../core/tests/worked';
import { endpointTimes, type E164, type Estate } from '../core/estate';
import type { SeatOn } from '../core/seats';
import type { FromStandins, PhoneSetting } from './messages';
import { placeCall } from './phones/caller';
import { openPhone } from './phones/phone';
import { clockAt } from './sip/clock';
import { openLine } from './tests/line';
import { until } from './tests/until';
import { openTown, type Town } from './town';

const worked = workedEstate();
const EXTENSION = '4280';
const estate: Estate = {
  ...worked,
  seats: [{ id: 'north', name: 'North', extension: '4551', holdOpen: true }],
  groups: [
    {
      id: 'dispatch',
      name: 'Dispatch',
      extension: EXTENSION,
      mode: 'by-rank',
      members: [{ seat: 'north' }],
      ringMs: 10_000,
      permission: 'coast',
      ending: { kind: 'hang-up', message: 'nobody' },
    },
  ],
};
const mobile = worked.people
  .flatMap(({ endpoints }) => endpoints)
  .find((each) => each.kind === 'mobile' && each.number !== undefined)!;
const NUMBER: E164 = mobile.number!;
const CALLER = { user: 'ines-desk', password: 'one', endpoint: 'ines-desk' };
const sitting = (sinceMs: number): SeatOn => ({
  seat: 'north',
  person: 'ines',
  at: { number: NUMBER },
  sinceMs,
  pausedWhy: null,
  misses: 0,
  idleSinceMs: sinceMs,
  wrapUntilMs: null,
  calls: 0,
});

let town: Town;
let told: FromStandins[] = [];
beforeEach(async () => {
  told = [];
  town = await openTown({ port: 0, tell: (message) => told.push(message) });
  await town.setEstate(estate);
  await town.setAccounts([CALLER]);
});
afterEach(() => town.close());

const lines = () => told.flatMap((each) => (each.kind === 'seat-held' ? [each.at] : []));
const heldIs = (state: string) => until(() => lines().at(-1)?.state === state);
async function call() {
  const ready = await until(() => told.find((each) => each.kind === 'ready'));
  const clock = clockAt();
  const phone = await openPhone({ address: '127.0.49.8', clock, manner: () => null });
  const placed = await placeCall({
    phone,
    clock,
    account: CALLER,
    server: ready.local.udp,
    from: CALLER.user,
    to: EXTENSION,
    talkMs: 600,
  });
  const saw = await placed.over;
  await phone.close();
  return saw;
}
const set = (...settings: readonly PhoneSetting[]) => town.setPhones(settings);

test('a phone outside is called once at signing on, and callers come to it by a tone, without ringing', async () => {
  town.setSeats([sitting(1)]);
  expect(lines()).toEqual([{ state: 'calling', why: null }]);
  await heldIs('held');
  for (let nth = 0; nth < 2; nth += 1) {
    told = told.filter(({ kind }) => kind === 'ready' || kind === 'seat-held');
    const saw = await call();
    expect(saw.status).toBe(200);
    // Whoever is on the line is heard, and no further call went to their phone.
    expect(saw.heard).toContain(`hello from ${NUMBER}`);
    const settled = told.find((each) => each.kind === 'call-settled');
    expect(settled?.trace.outcome).toMatchObject({ kind: 'answered' });
    expect(settled?.trace.legs.map(({ end }) => end)).toEqual(['connected']);
    expect(told.some((each) => each.kind === 'call-over' && each.sound.fromCaller > 0)).toBe(true);
  }
  // The same sign-on told again is no other one; signing off ends the call.
  town.setSeats([{ ...sitting(1), calls: 1 }]);
  expect(lines()).toEqual([
    { state: 'calling', why: null },
    { state: 'held', why: null },
  ]);
  town.setSeats([]);
  expect(lines().at(-1)).toBeNull();
  town.setSeats([sitting(2)]);
  expect(lines().at(-1)).toEqual({ state: 'calling', why: null });
});

test('a phone that does not stay connected says why, and rings for each call', async () => {
  await set({ endpoint: mobile.id, does: 'off', answerAfterMs: null });
  town.setSeats([sitting(1)]);
  await heldIs('rings');
  expect(lines().at(-1)?.why).toMatch(/^(it could not be reached|a voicemail answered)$/);
  await set({ endpoint: mobile.id, does: 'answers', answerAfterMs: 100 });
  const saw = await call();
  expect(saw.status).toBe(200);
  expect(saw.heard).toContain(`hello from ${NUMBER}`);
});

test('with no channel free nobody is called, and that is said', async () => {
  await town.setEstate({ ...estate, trunks: estate.trunks.map((each) => ({ ...each, channels: 0 })) });
  town.setSeats([sitting(1)]);
  expect(lines()).toEqual([{ state: 'rings', why: 'no channel was free' }]);
});

test('the hash key twice lets go of the caller, and the phone stays connected', async () => {
  const clock = clockAt();
  const calledTimes: string[] = [];
  const carrier = await openPhone({
    address: '127.0.49.7',
    clock,
    manner: (number) => {
      calledTimes.push(number);
      return {
        behaviour: { answerAfterMs: 50, pressAfterMs: 100, setupMs: 20 },
        times: endpointTimes({ kind: 'mobile' }),
        isPublic: true,
        says: 'hello from outside',
        // Long after the key that accepts, in the middle of the first call.
        onMessage: { afterMs: 2500, press: '##' },
      };
    },
  });
  const states: unknown[] = [];
  const { mode, members, ending } = estate.groups[0]!;
  const line = await openLine(
    '127.0.49.6',
    1,
    { mode, members, ending },
    {
      estate: { seats: estate.seats!, trunks: estate.trunks },
      options: {
        carrier: carrier.node.transport.local.udp,
        seats: () => ({
          north: { person: 'ines', at: { number: NUMBER }, state: 'ready', calls: 0, idleMs: 0 },
        }),
        onEvent: (event) => void (event.kind === 'seat-held' && states.push(event.at?.state)),
      },
    },
  );
  line.holdPhones([
    { seat: 'north', name: 'North', extension: '4551', phone: NUMBER, number: NUMBER, sinceMs: 1 },
  ]);
  await until(() => states.at(-1) === 'held');
  // The caller would talk for a minute; they are let go, and hear nothing of who is next.
  const first = await line.call('127.0.49.5', { talkMs: 60_000 });
  expect(first.heard).toContain('hello from outside');
  const second = await line.call('127.0.49.5', { talkMs: 300 });
  expect(second.heard).toContain('hello from outside');
  expect(states).toEqual(['calling', 'held']);
  expect(calledTimes).toEqual([NUMBER]);
  await line.close();
  await carrier.close();
});
