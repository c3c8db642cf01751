import { followCall, type Following, type Look, type Todo } from '../../core/calls/live';
import { shortName, type Call, type Outcome } from '../../core/calls/engine';
import { parseSdp } from '../../core/wire/sip';
import { openMedia } from '../media/port';
import type { Answer } from '../sip/node';
import type { CallerSide } from './caller-side';
import { trunkOf } from './channels';
import { confirming } from './confirm';
import { keeping } from './keeping';
import { messageRecorder } from './mailboxes';
import { callOut, contactTargets, NO_LEG } from './leg';
import type { OutLeg } from './leg-types';
import type { CallHost, LiveCall } from './types';
import { soundTowards } from './sound';
import { statusOf } from './status';
import { isSeatOn, noteTurn } from './turns';
import { announcer } from './waiting';

/** The longest that a call may last once it is connected, in real ms. */
const LONGEST_MS = 4 * 3600_000;
const SAID_PACKETS = 3;
/** Whoever gives up is gone after what has been seen before, by a ms at most. */
const GIVEN_UP_MS = 2;

/**
 * Takes a call that has been allowed and steers it to its end: legs are dialled, ended and connected when the reach
 * model says so, told what each far end has done.
 * @param asked the side that calls
 * @param call who calls whom, and when
 * @param by the account that it is placed with
 * @param onGone called when nothing of it is left
 */
export async function takeCall(
  host: CallHost,
  asked: CallerSide,
  call: Call,
  by: string,
  onGone: () => void,
): Promise<LiveCall> {
  const { options } = host;
  const { clock } = options;
  const { id } = asked;
  const beganMs = clock.now();
  const startMs = Date.now();
  const record = keeping(id, call, startMs, options.keep);
  const since = () => clock.now() - beganMs;
  const legs = new Map<number, Promise<OutLeg>>();
  const open = new Map<number, OutLeg>();
  const channelOf = new Map<number, string>();
  let connected: { readonly nth: number; readonly leg: OutLeg } | null = null;
  let settled: Outcome | null = null;
  let over = false;
  let heard = '';
  let early = false;
  let callOff: () => void = () => undefined;
  const sound = { fromCaller: 0, fromCalled: 0 };
  const message = messageRecorder();
  const counted = new Set<string>();
  /** What hears the keys at each leg that was answered and is not accepted yet. */
  const keysOf = new Map<number, (key: string) => void>();

  const media = await openMedia({
    address: options.address,
    socket: await soundTowards(options.address, options.mannerTo?.(by) ?? null, false),
    onPacket: (bytes) => {
      if (settled) sound.fromCaller += 1;
      if (settled?.kind === 'mailbox') message.take(bytes);
      connected?.leg.relay(bytes);
    },
    onKey: (key) => {
      following.pressed(key, since());
      tick();
    },
  });
  media.aim(parseSdp(asked.offer));
  const withSound = (tags = ''): Answer => ({
    headers: [
      ['Contact', `${asked.contact}${tags}`],
      ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS'],
      ['Content-Type', 'application/sdp'],
    ],
    body: media.sdp,
  });

  const announced = announcer(host.waiting, id, clock, (text) => {
    if (!settled) media.say(text, SAID_PACKETS);
  });
  const { world } = options;
  const following: Following = followCall(
    host.index,
    {
      ...call,
      world: {
        groupLast: Object.fromEntries(host.groupLast),
        ...(options.seats ? { seats: options.seats() } : {}),
        ...world,
      },
    },
    {
      // What a phone of the public network is doing is not known here: it is called, and then it shows.
      isRegistered: (endpoint) =>
        (host.index.endpoints.get(endpoint)?.number ?? null) !== null || host.bindingsOf(endpoint).length > 0,
      channelsInUse: (trunk) => {
        const own = [...channelOf.values()].filter((each) => each === trunk).length;
        return (world?.trunkUse?.[trunk] ?? 0) + (host.channels.get(trunk) ?? 0) - own;
      },
      activeCalls: (person) =>
        (world?.activeCalls?.[person] ?? 0) + (host.active.get(person) ?? 0) - (counted.has(person) ? 1 : 0),
    },
  );

  /** The caller gives up: what becomes of the call is settled at once, for nobody may be there a moment later. */
  const giveUp = () => {
    following.callerGone(since());
    tick(GIVEN_UP_MS);
  };
  asked.whenGivenUp(giveUp);

  /** Does what the model says is due, or is so soon, and comes back when the next thing is. */
  function tick(aheadMs = 0): void {
    if (settled) return;
    callOff();
    const look = following.look(since() + aheadMs);
    for (const each of look.todo) act(each);
    hear(look);
    announced.waits(settled ? null : look.waits);
    if (look.todo.length > 0)
      host.tell({ kind: 'call-went-on', id, trace: following.trace(), atMs: Math.round(since()) });
    if (look.nextMs !== null) callOff = clock.after(Math.max(look.nextMs - since(), clock.speed), tick);
  }

  function act(each: Todo): void {
    switch (each.todo) {
      case 'dial':
        // A seat that plays something rings no phone.
        if (isPlaying(each.endpoint)) return;
        legs.set(each.leg, dial(each));
        return;
      case 'refuse':
        return;
      case 'end':
        freeChannel(each.leg);
        keysOf.delete(each.leg);
        if (each.why === 'connected') return;
        void legs
          .get(each.leg)
          ?.then((leg) => leg.end(each.why === 'answered-elsewhere' ? ELSEWHERE : undefined));
        return;
      case 'finish':
        settle(each.outcome);
    }
  }

  /** What is said to the caller: once for each thing that is asked. */
  function hear({ heard: { kind, sinceMs, menu } }: Look): void {
    const now = `${kind}/${sinceMs}`;
    if (settled || now === heard) return;
    heard = now;
    if (kind === 'ring') {
      if (!early) asked.respond(180);
      return;
    }
    if (kind === 'nothing') return;
    if (!early) {
      early = true;
      asked.respond(183, withSound());
    }
    media.say(`${kind}${menu === null ? '' : ` ${menu}`} ${Math.round(sinceMs)}`, SAID_PACKETS);
  }

  const isPlaying = (endpoint: string) =>
    host.index.seats.has(endpoint) && !host.index.endpoints.has(endpoint);

  function count(nth: number, number: string): void {
    const trunk = trunkOf(host, number);
    if (trunk === null) return;
    channelOf.set(nth, trunk);
    record.carried(nth, trunk);
    host.channels.set(trunk, (host.channels.get(trunk) ?? 0) + 1);
  }
  function freeChannel(nth: number): void {
    const trunk = channelOf.get(nth);
    if (trunk === undefined || connected?.nth === nth) return;
    channelOf.delete(nth);
    host.channels.set(trunk, (host.channels.get(trunk) ?? 1) - 1);
  }
  async function dial({ leg: nth, endpoint, number }: Extract<Todo, { todo: 'dial' }>): Promise<OutLeg> {
    const held = host.held.take(endpoint, isSeatOn(host, following.trace().path), {
      onAlert: alerted(nth),
      onAnswer: () => {
        following.answered(nth, since(), false);
        // Whoever stays on the line has pressed the key before.
        if (following.confirms(nth) !== 'none') following.accepted(nth, since());
        record.answered(nth, since());
        tick();
      },
      onPacket: heardFrom(nth),
      onBye: goneAt(nth),
    });
    if (held) {
      open.set(nth, held);
      return held;
    }
    if (number !== null) count(nth, number);
    const bindings = number === null ? host.bindingsOf(endpoint) : [];
    const asleep = bindings.filter(({ pushId }) => pushId !== null);
    // An app that can be woken is woken first, and called when it has registered again.
    if (asleep.length > 0 && asleep.length === bindings.length) await Promise.race(asleep.map(host.woken));
    const carrier = options.carrier;
    const targets =
      number === null
        ? contactTargets(host.bindingsOf(endpoint), options.mannerTo)
        : carrier
          ? [{ uri: `sip:${number}@${carrier.host}:${carrier.port};user=phone`, to: carrier }]
          : [];
    const shown = following.presents(nth);
    const as = shown === 'caller' ? call.from : shown;
    const from =
      as === null
        ? '"Anonymous" <sip:anonymous@anonymous.invalid>'
        : `<sip:${as}@${options.realm ?? options.address}>`;
    let own: OutLeg | null = null;
    if (targets.length === 0) {
      following.failed(nth, since(), 'unreachable');
      queueMicrotask(tick);
      return NO_LEG;
    }
    own = await callOut(host, targets, from, {
      onAlert: alerted(nth),
      onAnswer: (byMachine) => {
        following.answered(nth, since(), byMachine);
        record.answered(nth, since());
        if (!byMachine && following.confirms(nth) !== 'none') askToConfirm(nth, endpoint, () => own);
        tick();
      },
      onFail: (how) => {
        following.failed(nth, since(), how);
        tick();
      },
      onKey: (key) => keysOf.get(nth)?.(key),
      onPacket: heardFrom(nth),
      onBye: goneAt(nth),
    });
    open.set(nth, own);
    return own;
  }

  const alerted = (nth: number) => () => {
    following.alerted(nth, since());
    if (!early) asked.respond(180);
    tick();
  };
  const heardFrom = (nth: number) => (bytes: Uint8Array) => {
    if (connected?.nth !== nth) return;
    sound.fromCalled += 1;
    media.relay(bytes);
  };
  const goneAt = (nth: number) => () => {
    if (connected?.nth === nth) return hangUp('called');
    following.refused(nth, since());
    tick();
  };

  /** Asks the called person to take the call on purpose, and hears the keys they press. */
  function askToConfirm(nth: number, endpoint: string, leg: () => OutLeg | null): void {
    const then = (tell: (leg: number, atMs: number) => void) => () => {
      keysOf.delete(nth);
      tell(nth, since());
      tick();
    };
    keysOf.set(
      nth,
      confirming({
        how: following.confirms(nth),
        person: host.index.endpoints.get(endpoint)?.owner?.id ?? null,
        at: endpoint,
        pins: options.pins,
        isOpen: () => !settled && keysOf.has(nth),
        caller: call.from ?? 'a withheld number',
        say: (text) => leg()?.say(text, SAID_PACKETS),
        onAccept: then(following.accepted),
        onRefuse: then(following.refused),
      }),
    );
  }

  function settle(outcome: Outcome): void {
    settled = outcome;
    announced.over(outcome.kind === 'answered');
    const trace = following.trace();
    record.settled(trace, since(), following.around());
    const last = trace.legs.findIndex(({ end }) => end === 'connected');
    if (outcome.kind === 'played') {
      host.tell({ kind: 'call-settled', id, trace });
      asked.respond(200, withSound(';automata'));
      playSeat(outcome.seat);
    } else if (last >= 0) {
      void legs.get(last)?.then((leg) => {
        connected = { nth: last, leg };
        host.tell({ kind: 'call-settled', id, trace });
        asked.respond(200, withSound(outcome.kind === 'carrier-voicemail' ? ';automata' : ''));
      });
      for (const step of trace.path)
        if ('group' in step) noteTurn(host, step.group, trace.legs[last]!.endpoint);
      if ('person' in outcome && outcome.person !== undefined) {
        counted.add(outcome.person);
        host.active.set(outcome.person, (host.active.get(outcome.person) ?? 0) + 1);
      }
    } else {
      host.tell({ kind: 'call-settled', id, trace });
      if (outcome.kind === 'mailbox') {
        asked.respond(200, withSound(';automata'));
        const name = host.index.people.get(outcome.person)?.name ?? outcome.person;
        media.say(`mailbox of ${shortName(name)}`, SAID_PACKETS);
      } else {
        if (outcome.kind === 'hung-up' && outcome.message) {
          asked.respond(183, withSound());
          media.say(outcome.message, SAID_PACKETS);
        }
        finish();
        record.afterKept(() => asked.respond(statusOf(outcome)));
        return;
      }
    }
    asked.whenUnheard(() => hangUp('caller'));
    callOff();
    const limit = setTimeout(() => hangUp('system'), LONGEST_MS);
    callOff = () => clearTimeout(limit);
  }

  /** Plays what a seat without anybody plays, hears keys for a while, and ends. */
  function playSeat(id: string): void {
    const seat = host.index.seats.get(id);
    const plays = seat?.unattended && 'play' in seat.unattended ? seat.unattended : null;
    const muLaw = plays && options.soundOf?.(plays.play);
    if (!muLaw) return media.say(`recording of ${seat?.name ?? id}`, SAID_PACKETS);
    media.play(muLaw, () => clock.after(plays.thenMs ?? 0, () => hangUp('system')), clock.speed);
  }

  /** Ends a call that was connected, by whichever side. */
  function hangUp(by: 'caller' | 'called' | 'system'): void {
    if (over) return;
    const called = by === 'called' ? null : (connected?.leg ?? null);
    finish();
    record.afterKept(() => {
      called?.end();
      if (by !== 'caller') asked.end();
    });
  }

  function finish(): void {
    if (over) return;
    over = true;
    callOff();
    announced.over(false);
    media.close();
    const was = connected;
    connected = null;
    if (was) freeChannel(was.nth);
    record.over(since());
    if (settled?.kind === 'mailbox')
      host.mailboxes.leave({ person: settled.person, from: call.from, startMs, muLaw: message.sound() });
    for (const [nth, leg] of legs) {
      freeChannel(nth);
      void leg.then((each) => {
        if (each !== was?.leg) each.end();
      });
    }
    for (const person of counted) host.active.set(person, (host.active.get(person) ?? 1) - 1);
    host.tell({ kind: 'call-over', id, sound });
    onGone();
  }

  host.tell({ kind: 'call-began', id, call, by, startMs });
  tick();
  return {
    id,
    afterKept: record.afterKept,
    takesBye: (bye, from) => {
      if (asked.isBye(bye, from)) {
        hangUp('caller');
        return true;
      }
      return [...open.values()].some((leg) => leg.isBye(bye, from));
    },
    close: () => {
      if (!settled) giveUp();
      hangUp('system');
    },
  };
}

/** Why a phone stops ringing, so that it lists no missed call (RFC 3326). */
const ELSEWHERE = 'SIP;cause=200;text="Call completed elsewhere"';
