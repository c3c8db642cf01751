import type { LiveView } from '../../api/phones';
import { DateTime } from 'luxon';
import { parts } from '../../core/estate';
import { estateAsIf, ladderOf, liveStrip, type CarriedMessage } from '../../core/calls/live';
import { callFaults, compileEstate, type Call, type EstateIndex } from '../../core/calls/engine';
import { tryCall, type Strip } from '../../core/calls/views';
import type { Carried } from '../../standins/sip/node';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { captureOf, mustMask, refusal, shownMessages, STAFF } from '../base';
import { addRecord } from '../record';
import type { LiveTry } from '../switchboard';

const SPEEDS = [1, 2, 5, 10] as const;
const schema = parts.closed({
  call: parts.anything().defined(),
  speed: parts.oneOf(SPEEDS.map(String)),
  asIf: parts.maybe(parts.closed({ person: parts.requiredId(), status: parts.requiredId() })),
});

interface Wanted {
  readonly call: Call;
  readonly speed?: string;
  readonly asIf?: NonNullable<LiveTry['asIf']>;
}

function known({ services, params, account }: SignedIn): LiveTry {
  const live = services.phones.liveTry(params.id ?? '');
  // Staff see their own tries only.
  if (!live || (account.role === STAFF && live.who !== account.name))
    throw refusal(404, 'This try is not kept any more. Place it again.');
  return live;
}

/** What was computed for a try, laid out once. */
const strips = new WeakMap<Call, Strip>();
function predictedStrip(index: EstateIndex, { call, asIf }: LiveTry, speaker: string | undefined): Strip {
  const before = strips.get(call);
  if (before) return before;
  const { strip } = tryCall(asIf ? compileEstate(estateAsIf(index.estate, asIf)) : index, call, speaker);
  strips.set(call, strip);
  return strip;
}

/** A try as the browser draws it: predicted and seen on one scale, and what is different. */
async function shown({ store }: Services, live: LiveTry, speaker: string | undefined): Promise<LiveView> {
  const { index } = await store.current();
  const strip = predictedStrip(index, live, speaker);
  const seen = live.seen;
  return {
    id: live.id,
    state: live.state,
    speed: live.speed,
    why: live.why,
    predicted: strip,
    seen:
      seen && liveStrip(index, strip, seen, live.state === 'done' ? seen.outcome.atMs : live.atMs, speaker),
    departures: live.done?.departures ?? null,
    toleranceMs: live.done?.toleranceMs ?? null,
    sound: live.done?.sound ?? null,
    heard: live.done?.caller.heard ?? null,
    status: live.done?.caller.status ?? null,
    messages: live.done?.carried.length ?? null,
  };
}

const addressOf = ({ host, port }: Carried['from']) => `${host}:${port}`;

/** A try's messages, masked for whom it must be. */
const messagesOf = (live: LiveTry, masked: boolean, index: EstateIndex): readonly CarriedMessage[] =>
  shownMessages(
    (live.done?.carried ?? []).map(({ atMs, from, to, bytes }) => ({
      atMs,
      from: addressOf(from),
      to: addressOf(to),
      bytes,
    })),
    index,
    masked,
  );

export const liveRoutes: readonly Route[] = [
  {
    method: 'POST',
    path: '/api/live',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, phones }, account, body }) => {
      const wanted = checkedBody<Wanted>(body, schema);
      const faults = callFaults(wanted.call, 'call');
      if (faults.length > 0) throw refusal(400, 'This call cannot be placed.', { faults });
      const live = await phones.startTry(account.name, {
        call: wanted.call,
        speed: Number(wanted.speed ?? '1'),
        asIf: wanted.asIf ?? null,
      });
      if (!live)
        throw refusal(503, 'The stand-ins are not running. They start within seconds of the server.');
      const { index } = await store.current();
      const to = index.destinations.get(wanted.call.to);
      await addRecord(db, {
        who: account.name,
        kind: 'tried-live',
        ...(to?.kind === 'line' ? { personId: to.person.id } : {}),
        subject: to
          ? to.kind === 'line'
            ? to.person.name
            : to.kind === 'group'
              ? to.group.name
              : to.menu.name
          : wanted.call.to,
        detail: `from ${wanted.call.from ?? 'a withheld number'}, ${Number(wanted.speed ?? '1')} times real time`,
      });
      return { status: 201, body: { id: live.id } };
    },
  },
  {
    method: 'GET',
    path: '/api/live/:id/events',
    roles: ['specialist', 'help-desk', STAFF],
    handle: async (context) => {
      const live = known(context);
      const { services, query } = context;
      const now = await shown(services, live, query.person);
      return {
        stream: (send, onClosed) => {
          send('live', now);
          const tell = (each: LiveTry) =>
            void shown(services, each, query.person).then((body) => send('live', body));
          // What happened while the first was being drawn.
          const since = services.phones.liveTry(live.id);
          if (since && since !== live) tell(since);
          onClosed(
            services.phones.subscribe((event) => {
              if (event.kind === 'live' && event.live.id === live.id) tell(event.live);
            }),
          );
        },
      };
    },
  },
  {
    method: 'DELETE',
    path: '/api/live/:id',
    roles: ['specialist', 'help-desk'],
    handle: (context) => {
      const live = known(context);
      context.services.phones.stopTry(live.id);
      return Promise.resolve({ status: 204 });
    },
  },
  {
    method: 'GET',
    path: '/api/live/:id/ladder',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const live = known(context);
      const { index } = await context.services.store.current();
      return { body: ladderOf(messagesOf(live, mustMask(context), index), live.done?.names ?? {}) };
    },
  },
  {
    method: 'GET',
    path: '/api/live/:id/capture',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const live = known(context);
      if (!live.done) throw refusal(409, 'The call is still going on: a capture is there when it has ended.');
      const { index } = await context.services.store.current();
      return captureOf(messagesOf(live, mustMask(context), index), {
        beganMs: DateTime.fromISO(live.startedAt).toMillis(),
        speed: live.speed,
        file: `try-${live.id.slice(0, 8)}`,
      });
    },
  },
];
