import { performance } from 'node:perf_hooks';
import type { NetworkPhone } from '../../core/estate';
import {
  registersEachS,
  SILENCES,
  type Network,
  type Silence,
  type TriedAnswer,
  type TriedWay,
} from '../../core/network';
import { placeCall } from '../phones/caller';
import { clockAt } from '../sip/clock';
import { EXTENSIONS, FAR, USER } from './home-estate';
import { onStage, type Certificate, type Stage } from './home-stage';

/** So often the loop of events has to come round before something that did not come is given up, and how long each takes, ms. */
const TURNS = 24;
const TURN_MS = 50;
/** The same where checks and relays come first. */
const SOUND_TURNS = 44;
/** After a packet was lost what was asked with it is given so many turns still. */
const TURNS_AFTER_LOSS = 5;
/** Keep-alives and registrations of one silence at most. */
const MOST_BEATS = 100;
/** Long enough for nothing to run out while it is tried. */
const EXPIRES_S = 300;

/** What a phone does by itself in a silence: at one second it registers first, then keeps its way open. */
function beatsOf(phone: NetworkPhone, silence: number) {
  const beats: { readonly at: number; readonly does: 'register' | 'keep-alive' }[] = [];
  const each = (step: number, does: 'register' | 'keep-alive') => {
    for (let at = step; at <= silence && beats.length <= 2 * MOST_BEATS; at += step) beats.push({ at, does });
  };
  each(registersEachS(phone), 'register');
  if (phone.keepAliveS !== null) each(phone.keepAliveS, 'keep-alive');
  return beats.sort((a, b) => a.at - b.at || (a.does === b.does ? 0 : a.does === 'register' ? -1 : 1));
}

/**
 * A turn counts if the events had time in it: what is late because this machine is at work, or this process is not let
 * run, has not failed to come. So many turns are waited at most, counted or not.
 */
const BUSY = 0.5;
const LATE_MS = 1.5 * TURN_MS;
const MOST_TURNS = 400;
async function turned(): Promise<boolean> {
  const before = performance.eventLoopUtilization();
  const began = performance.now();
  await new Promise((resolve) => setTimeout(resolve, TURN_MS));
  return performance.now() - began <= LATE_MS && performance.eventLoopUtilization(before).utilization <= BUSY;
}

/**
 * Waits until something has come, or the events have come round often enough for it to have come.
 * @param stage where it is over soon after a router has let go of a packet
 */
async function until(isSo: () => boolean, turns = TURNS, stage?: Stage): Promise<boolean> {
  let losses = stage?.losses() ?? 0;
  let left = turns;
  for (let most = MOST_TURNS; most > 0 && left > 0 && !isSo(); most -= 1) {
    if (await turned()) left -= 1;
    const now = stage?.losses() ?? 0;
    if (now !== losses) left = Math.min(left, TURNS_AFTER_LOSS);
    losses = now;
  }
  return isSo();
}
/** What work gives, or null where it fails or does not end in time. */
async function within<T>(work: Promise<T>, turns = TURNS, stage?: Stage): Promise<T | null> {
  let isOver = false;
  const result = work.catch(() => null).finally(() => (isOver = true));
  return Promise.race([result, until(() => isOver, turns, stage).then(() => (isOver ? result : null))]);
}

async function registered(stage: Stage): Promise<boolean> {
  const { phone, account, server } = stage;
  const done = await within(phone.register(account, server, { expiresS: EXPIRES_S }), TURNS, stage);
  return done?.ok === true;
}

async function tryRinging(stage: Stage, settings: NetworkPhone, silence: number): Promise<TriedAnswer> {
  await registered(stage);
  for (const { at, does } of beatsOf(settings, silence)) {
    stage.setTime(at);
    await within(does === 'register' ? stage.phone.refresh() : stage.phone.keepAlive(), TURNS, stage);
  }
  stage.setTime(silence);
  await stage.far.register(stage.farAccount, stage.farServer, { expiresS: EXPIRES_S });
  const call = await placeCall({
    phone: stage.far,
    clock: clockAt(),
    account: stage.farAccount,
    server: stage.farServer,
    from: EXTENSIONS[FAR],
    to: EXTENSIONS[USER],
  });
  let isOver = false;
  void call.over.then(() => (isOver = true));
  await until(() => stage.seen.rang || isOver, TURNS, stage);
  call.hangUp();
  return { works: stage.seen.rang, lost: stage.seen.rang ? null : stage.lost() };
}

/** Sound both ways in a call that the phone places, and whether its ACK arrives. */
async function trySound(stage: Stage): Promise<Pick<TriedWay, 'soundOut' | 'soundIn' | 'staysUp'>> {
  const { seen, far, phone } = stage;
  await registered(stage);
  await far.register(stage.farAccount, stage.farServer, { expiresS: EXPIRES_S });
  const result = (works: boolean): TriedAnswer => ({ works, lost: works ? null : stage.lost() });
  const call = await within(
    placeCall({
      phone,
      clock: clockAt(),
      account: stage.account,
      server: stage.server,
      from: EXTENSIONS[USER],
      to: EXTENSIONS[FAR],
      talkMs: SOUND_TURNS * TURN_MS,
      onHeard: (text) => {
        if (text === 'hello from far') seen.heardIn = true;
      },
    }),
    SOUND_TURNS,
  );
  if (call) {
    await until(() => seen.heardOut && seen.heardIn && seen.acknowledged, SOUND_TURNS);
    call.hangUp();
  }
  return {
    soundOut: result(seen.heardOut),
    soundIn: result(seen.heardIn),
    staysUp: result(call !== null && seen.acknowledged),
  };
}

/**
 * Tries a phone of a network with real packets, through routers that do what the model says of them: each question in
 * a network where nothing has happened yet, silences by setting the routers' clock forward.
 * @throws where it cannot be tried (`whyNotTried`), or loopback addresses cannot be had
 */
export async function tryHome(network: Network, id: string, tls: Certificate): Promise<TriedWay> {
  const settings = network.phones.find((each) => each.id === id);
  if (!settings) throw new Error(`there is no phone ${id} in this network`);
  const registering = onStage(network, id, tls, async (stage): Promise<TriedAnswer> => {
    const works = await registered(stage);
    return { works, lost: works ? null : stage.lost() };
  });
  const ringing = SILENCES.map((silence) =>
    beatsOf(settings, silence).length > MOST_BEATS
      ? Promise.resolve(null)
      : onStage(network, id, tls, (stage) => tryRinging(stage, settings, silence)),
  );
  const sounding = onStage(network, id, tls, trySound);
  const [registers, rings, sound] = await Promise.all([registering, Promise.all(ringing), sounding]);
  return {
    registers,
    ringsAfter: Object.fromEntries(
      SILENCES.map((silence, at) => [String(silence), rings[at] ?? null]),
    ) as Record<Silence, TriedAnswer | null>,
    ...sound,
  };
}
