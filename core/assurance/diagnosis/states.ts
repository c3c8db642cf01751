import type { Endpoint, Person } from '../../estate';
import { lowerFirst, type EstateIndex, type World } from '../../calls/engine';
import { asRun, sayBehind, shouldRun, type Behind } from '../../changes/restarts';

/** A way in which things can stand that is not set, and how likely it is beside the others. */
export interface State {
  readonly id: string;
  readonly says: string;
  /** 0 to 1: how often it is the reason, by the trade's experience; only the order counts. */
  readonly likely: number;
  readonly world: World;
  readonly status: string | null;
  /** The quickest way to tell it from the others. */
  readonly tell: string;
  readonly mend: string;
}

const one = (id: string, does: NonNullable<World['endpoints']>[string]): World => ({
  endpoints: { [id]: does },
});
const lower = ({ label }: Endpoint) => lowerFirst(label);

function statesOfPhone(endpoint: Endpoint): State[] {
  const { id, number, kind } = endpoint;
  const label = lower(endpoint);
  const state = (
    key: string,
    says: string,
    likely: number,
    does: NonNullable<World['endpoints']>[string],
    tell: string,
    mend: string,
  ): State => ({ id: `${key}/${id}`, says, likely, world: one(id, does), status: null, tell, mend });
  if (number !== undefined)
    return [
      state(
        'off',
        `The ${label} is off or out of coverage`,
        0.6,
        { state: 'off' },
        `Call the ${label} itself from another phone: its voicemail answers at once.`,
        'Have it switched on; where coverage is missing, ring a softphone as well.',
      ),
      state(
        'busy',
        `The ${label} is in another call`,
        0.35,
        { state: 'busy' },
        `Call the ${label} itself: it is busy.`,
        'Try again later.',
      ),
      state(
        'answers-itself',
        `Something at the ${label} answers by itself: a voicemail, a machine, a carrier’s screening`,
        0.3,
        { state: 'auto-answer' },
        `Call the ${label} itself and do not answer: something picks up sooner than its voicemail should.`,
        'Let whoever answers confirm with a key.',
      ),
      state(
        'rejected',
        `The person, or a filter on the ${label}, rejects the call`,
        0.25,
        { rejectAfterMs: 2000 },
        `Look at the list of calls on the ${label}: it was rejected there.`,
        'Add the number that shows to the contacts, and take it out of the blocked ones.',
      ),
      state(
        'slow',
        `The carrier takes twice as long as expected to set up the call to the ${label}`,
        0.2,
        { setupMs: 11_000 },
        'Measure it: call from inside and count the seconds until it rings.',
        'Set the time that was measured at the phone, and take the safe times that follow.',
      ),
      state(
        'late-off-answer',
        `With the ${label} off, its voicemail answers later than expected`,
        0.25,
        { state: 'off', offAnswerMs: 5000 },
        `Switch the ${label} off, call it and count the seconds until the voicemail answers.`,
        'Set the time that was measured at the phone, and take the safe times that follow.',
      ),
    ];
  const isApp = kind === 'mobile-app';
  return [
    state(
      'signed-out',
      isApp || kind === 'desktop-app'
        ? `The ${label} is not registered, or its app was ended`
        : `The ${label} is not registered: no power, no network, a wrong password`,
      kind === 'remote-desk' ? 0.7 : 0.5,
      { state: 'unregistered' },
      isApp
        ? 'Open the app: it asks to sign in.'
        : `Look at the ${label}: no line is shown. Pick it up: there is no tone.`,
      kind === 'remote-desk'
        ? 'Restart it. If it comes back for a minute only, the router at home forgets it: a shorter time between registrations keeps the way open.'
        : isApp
          ? 'Sign in again, and allow it to run in the background.'
          : 'Check power, network and its settings, then restart it.',
    ),
    ...(isApp
      ? [
          state(
            'asleep',
            `The ${label} sleeps, and is woken late or not at all`,
            0.65,
            { state: 'asleep' },
            'Open the app and call again: open it rings at once, closed it does not.',
            'Allow notifications and background activity, and take battery saving off for it.',
          ),
        ]
      : []),
    state(
      'dnd',
      `“Do not disturb” is on at the ${label}`,
      0.4,
      { state: 'do-not-disturb' },
      `Look at the ${label}: it shows a sign for it.`,
      'Switch it off there.',
    ),
  ];
}

/** Everything that can be otherwise than it is set for one person, the likeliest first. */
export function statesOf(person: Person, index: EstateIndex, behind: readonly Behind[]): readonly State[] {
  const extension = person.lines[0]?.extension ?? '';
  const own = behind.filter(({ endpoint }) => person.endpoints.some(({ id }) => id === endpoint));
  const restarts = own.flatMap((each): State[] => {
    const endpoint = person.endpoints.find(({ id }) => id === each.endpoint)!;
    const should = shouldRun(person, endpoint);
    const endpoints = asRun([each], () => person, extension);
    if (!should || Object.keys(endpoints).length === 0) return [];
    return [
      {
        id: `restart/${endpoint.id}`,
        says: `The ${lower(endpoint)} has not been restarted since it was changed: ${sayBehind(each.running, should)}`,
        likely: 0.95,
        world: { endpoints },
        status: null,
        tell: 'Today lists it among the restarts owed.',
        mend: 'Restart it.',
      },
    ];
  });
  const trunks = index.estate.trunks.filter(({ channels }) => channels > 0);
  const asked = [...new Set(person.plan.rules.flatMap(({ when }) => when.status ?? []))].filter(
    (status) => status !== person.status,
  );
  const states: State[] = [
    ...restarts,
    ...person.endpoints.flatMap(statesOfPhone),
    {
      id: 'engaged',
      says: `${person.name} is in another call`,
      likely: 0.45,
      world: { activeCalls: { [person.id]: person.maxCalls } },
      status: null,
      tell: 'It happens only while a call is going on.',
      mend: 'Allow one call more at once, or set what happens while busy.',
    },
    ...(trunks.length > 0
      ? [
          {
            id: 'trunk-full',
            says: 'Every channel of the trunks is taken',
            likely: 0.2,
            world: { trunkUse: Object.fromEntries(trunks.map(({ id, channels }) => [id, channels])) },
            status: null,
            tell: 'It happens in the busiest hours, and to several people at once.',
            mend: 'More channels: a twinned call takes two.',
          },
        ]
      : []),
    ...asked.map((status): State => ({
      id: `status/${status}`,
      says: `The status was “${index.statuses.get(status) ?? status}” then`,
      likely: 0.5,
      world: {},
      status,
      tell: 'The record says when the status was set.',
      mend: 'Set the status that is right.',
    })),
  ];
  return states.sort((a, b) => b.likely - a.likely);
}
