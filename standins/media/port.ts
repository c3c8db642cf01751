import { performance } from 'node:perf_hooks';
import { keyPackets, keyReader, parseRtp, writeRtp } from '../../core/wire/rtp';
import { TELEPHONE_EVENT, writeSdp, type Sound } from '../../core/wire/sip';
import type { Timer } from '../sip/clock';
import { openPlain, type SoundSocket } from './socket';

/**
 * A stream of sound at one end of a call: real RTP, whose sound is 20 ms of µ-law that spells out what is said, so
 * that a test can tell who was heard.
 */
export interface MediaPort {
  readonly port: number;
  /** What it offers: where it hears sound, in µ-law or A-law, and keys (RFC 3264, RFC 4733). */
  readonly sdp: string;
  /** Where to send; null: nowhere yet. */
  readonly aim: (to: Sound | null) => void;
  /** Says something: so many packets, 20 ms apart. */
  readonly say: (text: string, packets: number) => void;
  /**
   * Plays sound, 20 ms after 20 ms.
   * @param muLaw 8000 samples a second
   * @returns a function that stops it, and says how much was played, in ms
   */
  readonly play: (muLaw: Uint8Array, onEnd: () => void, speed?: number) => () => number;
  readonly press: (keys: string) => void;
  /** Passes on a packet as it came, as a media relay does. */
  readonly relay: (bytes: Uint8Array) => void;
  readonly close: () => void;
}

export interface MediaOptions {
  readonly address: string;
  /** What it sends from and hears at; left out: a socket of the machine, at the address. */
  readonly socket?: SoundSocket;
  /** Each packet, before it is looked into. */
  readonly onPacket?: (bytes: Uint8Array) => void;
  /** What was said, once for each packet. */
  readonly onSaid?: (text: string) => void;
  readonly onKey?: (key: string) => void;
}

const PACKET_MS = 20;
const SAMPLES = 160;
/** µ-law silence, which fills the rest of a packet. */
const SILENCE = 0xff;
/** Packets taken from one far end in one call; what comes beyond it is not looked at. */
const MOST_PACKETS = 20_000;

const spelt = (text: string): Uint8Array => {
  const bytes = new Uint8Array(SAMPLES).fill(SILENCE);
  bytes.set(new TextEncoder().encode(text).subarray(0, SAMPLES - 1));
  return bytes;
};
const heard = (payload: Uint8Array): string => {
  const end = payload.indexOf(SILENCE);
  return new TextDecoder().decode(end < 0 ? payload : payload.subarray(0, end));
};

/** Opens a port for one call. @throws where the address has no free one */
export async function openMedia(options: MediaOptions): Promise<MediaPort> {
  const { address, onPacket, onSaid, onKey } = options;
  const socket = options.socket ?? (await openPlain({ address }));
  let to: Sound | null = null;
  let sequence = 1;
  let timestamp = 1;
  let taken = 0;
  let closed = false;
  const source = socket.port;
  const timers = new Set<Timer>();
  const readKey = keyReader();

  /** The port that the far end is heard from, once it was. */
  let latched: number | null = null;
  socket.hear((bytes, from) => {
    // Sound and keys are the far end's only: from the address agreed on, and from one port of it.
    if (!to) return;
    if (!socket.isOpen) {
      if (from.address !== to.address) return;
      if (from.port === to.port) latched = from.port;
      latched ??= from.port;
      if (from.port !== latched) return;
    }
    taken += 1;
    if (taken > MOST_PACKETS) return;
    onPacket?.(bytes);
    const packet = parseRtp(bytes);
    if (!packet) return;
    if (packet.payloadType === TELEPHONE_EVENT) {
      const key = readKey(packet);
      if (key !== null) onKey?.(key);
    } else onSaid?.(heard(packet.payload));
  });
  const send = (bytes: Uint8Array) => {
    if (!closed && to) socket.send(bytes, to);
  };
  const next = () => {
    sequence += 1;
    timestamp += SAMPLES;
    return { sequence, timestamp, source };
  };
  return {
    port: source,
    sdp: writeSdp(
      {
        ...socket.written,
        codecs: [0, 8],
        eventType: TELEPHONE_EVENT,
        ...(socket.ice ? { ice: socket.ice } : {}),
      },
      source,
    ),
    aim: (where) => {
      to = where;
      if (where) socket.aim(where);
    },
    say: (text, packets) => {
      const payload = spelt(text);
      for (let i = 0; i < packets; i += 1) {
        const speak = () => send(writeRtp({ ...next(), payloadType: 0, marker: i === 0, payload }));
        if (i === 0) speak();
        else {
          const timer = setTimeout(() => {
            timers.delete(timer);
            speak();
          }, i * PACKET_MS);
          timers.add(timer);
        }
      }
    },
    play: (muLaw, onEnd, speed = 1) => {
      const began = performance.now();
      let sent = 0;
      let timer: Timer | null = null;
      const packets = Math.ceil(muLaw.length / SAMPLES);
      const step = () => {
        if (timer) timers.delete(timer);
        // A timer that comes late is made up for, so that sound keeps to the clock.
        const due = Math.min(packets, 1 + Math.floor(((performance.now() - began) * speed) / PACKET_MS));
        for (; sent < due; sent += 1) {
          const payload = new Uint8Array(SAMPLES).fill(SILENCE);
          payload.set(muLaw.subarray(sent * SAMPLES, (sent + 1) * SAMPLES));
          send(writeRtp({ ...next(), payloadType: 0, marker: sent === 0, payload }));
        }
        if (closed) return;
        if (sent >= packets) return onEnd();
        timer = setTimeout(step, Math.max(1, PACKET_MS / speed));
        timers.add(timer);
      };
      timer = setTimeout(step, 0);
      timers.add(timer);
      return () => {
        if (timer) {
          clearTimeout(timer);
          timers.delete(timer);
        }
        return Math.min(sent * PACKET_MS, Math.round((muLaw.length / SAMPLES) * PACKET_MS));
      };
    },
    press: (keys) => {
      for (const key of keys) {
        const from = next();
        for (const packet of keyPackets(key, from, to?.eventType ?? TELEPHONE_EVENT)) {
          sequence += 1;
          send(packet);
        }
      }
    },
    relay: send,
    close: () => {
      if (closed) return;
      closed = true;
      for (const timer of timers) clearTimeout(timer);
      socket.close();
    },
  };
}
