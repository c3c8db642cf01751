import type { Ms } from '../../core/estate';
import type { CallEnd } from '../../core/rounds';
import { beepReader, parseRtp, SAMPLES_PER_S } from '../../core/wire/rtp';
import { takeChannel } from './channels';
import { callOut } from './leg';
import type { OutLeg } from './leg-types';
import type { CallHost, LiveCall, RoundCall, RoundCallEnded } from './types';

/** A voicemail that is known as one is given so long for its greeting. */
const GREETING_MS = 20_000;
/** A beep after which nothing comes has ended. */
const BEEP_OVER_MS = 300;
/** After the end of the recording keys are heard for so long. */
const KEYS_AFTER_MS = 4000;
/** What a call may last beyond ringing and two times the recording. */
const SPARE_MS = 60_000;
/** Keys of one call that play something. */
const MOST_KEYS = 10;

const lengthMs = (muLaw: Uint8Array): Ms => (muLaw.length / SAMPLES_PER_S) * 1000;
const NO_SUCH: readonly number[] = [404, 484, 485, 604];

/**
 * Calls one number of a round, plays it the recording over RTP, and hears the keys (RFC 4733) and the tone of a
 * voicemail. @returns null: it was not placed, and `onEnd` has been told
 */
export function placeRoundCall(
  host: CallHost,
  order: RoundCall,
  onEnd: (ended: RoundCallEnded) => void,
): LiveCall | null {
  const { clock, carrier } = host.options;
  const giveBack = carrier ? takeChannel(host, order.number, order.keepFree) : null;
  if (giveBack === null || !carrier) {
    onEnd({ end: 'no-channel', playedMs: 0 });
    return null;
  }
  let leg: OutLeg | null = null;
  let over = false;
  let isMachine = false;
  let isPlayed = false;
  let keys = '';
  let keptMs = 0;
  let stopPlaying: (() => Ms) | null = null;
  const callOffs = new Map<string, () => void>();
  /** One timer of each kind: a new one calls off the one before. */
  const later = (what: string, ms: Ms, act: () => void) => {
    callOffs.get(what)?.();
    callOffs.set(
      what,
      clock.after(ms, () => {
        callOffs.delete(what);
        if (!over) act();
      }),
    );
  };
  const finish = (end: CallEnd): void => {
    if (over) return;
    over = true;
    for (const callOff of callOffs.values()) callOff();
    const playedMs = stopPlaying?.() ?? 0;
    leg?.end();
    giveBack();
    onEnd({ end, playedMs, ...(keys === '' ? {} : { keys }) });
  };
  /** Plays what a key is for, and goes on with the message where that was not heard to its end. */
  const playKey = (key: string) => {
    const sound = order.keys?.[key];
    if (sound === undefined || isMachine || keys.length >= MOST_KEYS) return;
    keys += key;
    callOffs.get('keys')?.();
    if (sound === null) return play();
    keptMs = Math.max(keptMs, stopPlaying?.() ?? 0);
    later('longest', lengthMs(sound) + SPARE_MS + 2 * soundMs, () => finish('hung-up'));
    const then = () => {
      stopPlaying = () => keptMs;
      if (!isPlayed) return play();
      later('keys', KEYS_AFTER_MS, () => finish('listened'));
    };
    const stop = leg?.play(sound, then, clock.speed);
    // How much was played is told of the message alone.
    stopPlaying = stop ? () => (stop(), keptMs) : null;
  };
  const play = () => {
    stopPlaying?.();
    isPlayed = false;
    callOffs.get('greeting')?.();
    stopPlaying =
      leg?.play(
        order.muLaw,
        () => {
          isPlayed = true;
          if (isMachine) finish('voicemail');
          else later('keys', KEYS_AFTER_MS, () => finish('listened'));
        },
        clock.speed,
      ) ?? null;
  };
  let beeped = false;
  const afterBeep = () => {
    if (beeped) return;
    beeped = true;
    callOffs.get('keys')?.();
    isMachine = true;
    play();
  };
  const hear = beepReader();
  const soundMs = lengthMs(order.muLaw);
  const from =
    order.callerId === null
      ? '"Anonymous" <sip:anonymous@anonymous.invalid>'
      : `<sip:${order.callerId}@${host.options.realm ?? host.options.address}>`;
  later('ring', order.ringMs, () => finish('no-answer'));
  later('longest', order.ringMs + GREETING_MS + 2 * soundMs + SPARE_MS, () => finish('hung-up'));
  callOut(
    host,
    [{ uri: `sip:${order.number}@${carrier.host}:${carrier.port};user=phone`, to: carrier }],
    from,
    {
      onAlert: () => undefined,
      onAnswer: (byMachine) => {
        if (over) return;
        callOffs.get('ring')?.();
        isMachine = byMachine;
        if (byMachine) later('greeting', GREETING_MS, play);
        else play();
      },
      onFail: (how, status) =>
        finish(
          NO_SUCH.includes(status)
            ? 'no-such-number'
            : how === 'busy' || how === 'rejected'
              ? how
              : how === 'do-not-disturb'
                ? 'busy'
                : 'unreachable',
        ),
      onKey: (key) => {
        if (key === '1') finish('key-1');
        else if (key === '9') finish('key-9');
        else playKey(key);
      },
      onPacket: (bytes) => {
        const packet = over ? null : parseRtp(bytes);
        if (packet?.payloadType !== 0) return;
        const beep = hear(packet.payload);
        if (beep === 'on') later('beep', BEEP_OVER_MS, afterBeep);
        else if (beep === 'ended') {
          callOffs.get('beep')?.();
          afterBeep();
        }
      },
      onBye: () => finish(isPlayed ? (isMachine ? 'voicemail' : 'listened') : 'hung-up'),
    },
  ).then(
    (placed) => {
      leg = placed;
      if (over) placed.end();
    },
    () => finish('no-channel'),
  );
  return {
    id: order.id,
    takesBye: (bye, peer) => leg?.isBye(bye, peer) ?? false,
    close: () => finish('lost'),
  };
}
