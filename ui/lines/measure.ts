import type { LineMeasured, LineTools, LineWay } from '../../api/lines';
import { LINE_WAYS } from '../../api/lines';
import { lineOf, mappingOf, type Echoed, type SeenAs } from '../../core/quality';

/**
 * A call sends fifty packets a second. These are shorter than a call's: the channel's congestion control (RFC 9260)
 * counts octets, and would hold longer ones back after a loss, which no call does.
 */
const PACKET_MS = 20;
const PACKET_BYTES = 24;
const LASTS_MS = 20_000;
/** After the last packet so long is waited for those on their way, in ms. */
const LAST_MS = 1500;
const OPENS_WITHIN_MS = 8000;
const SEEN_WITHIN_MS = 8000;

export type MeasureStep =
  | { readonly step: 'address' }
  | { readonly step: 'way'; readonly way: LineWay }
  | { readonly step: 'call'; readonly way: LineWay; readonly leftS: number };

/** Whether this browser can measure at all. */
export const canMeasure = (): boolean => typeof RTCPeerConnection === 'function';

const after = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve) => {
    const timer = setTimeout(resolve, ms);
    signal.addEventListener('abort', () => {
      clearTimeout(timer);
      resolve();
    });
  });

/** `stun:a.b.c.d:port`, as a browser names the server that a candidate came from. */
function serverOf(url: string | null | undefined): SeenAs['server'] | null {
  const [, address, port = '3478'] = /^stun:([^:?]+)(?::(\d+))?/.exec(url ?? '') ?? [];
  return address === undefined ? null : { address, port: Number(port) };
}

/** What STUN servers see of one socket of this browser. */
async function seenAs(stun: readonly string[], signal: AbortSignal): Promise<readonly SeenAs[]> {
  if (stun.length === 0) return [];
  const connection = new RTCPeerConnection({ iceServers: [{ urls: [...stun] }] });
  const seen: SeenAs[] = [];
  try {
    const done = new Promise<void>((resolve) => {
      connection.onicecandidate = (event) => {
        const { candidate } = event;
        if (!candidate) return resolve();
        const server = serverOf(
          (candidate as { url?: string | null }).url ?? (event as { url?: string | null }).url ?? stun[0],
        );
        if (candidate.type === 'srflx' && candidate.address && candidate.port && server)
          seen.push({ server, socket: { address: candidate.address, port: candidate.port } });
      };
    });
    connection.createDataChannel('address');
    await connection.setLocalDescription(await connection.createOffer());
    await Promise.race([done, after(SEEN_WITHIN_MS, signal)]);
  } finally {
    connection.close();
  }
  return seen;
}

interface Opened {
  readonly channel: RTCDataChannel;
  /** The other end of it, in this same page. */
  readonly far: RTCDataChannel;
  readonly close: () => void;
}

/** Two ends in one page, both by way of the relay alone; null: the relay is not reached. */
async function openBy(
  urls: readonly string[],
  tools: LineTools,
  signal: AbortSignal,
): Promise<Opened | null> {
  const { username, credential } = tools;
  const configuration: RTCConfiguration = {
    iceServers: [{ urls: [...urls], username, credential }],
    iceTransportPolicy: 'relay',
  };
  const ends = [new RTCPeerConnection(configuration), new RTCPeerConnection(configuration)] as const;
  const [near, far] = ends;
  const close = () => ends.forEach((each) => each.close());
  const pass = (from: RTCPeerConnection, to: RTCPeerConnection) => {
    from.onicecandidate = ({ candidate }) => {
      if (candidate) void to.addIceCandidate(candidate).catch(() => undefined);
    };
  };
  pass(near, far);
  pass(far, near);
  try {
    const channel = near.createDataChannel('call', { ordered: false, maxRetransmits: 0 });
    const open = new Promise<RTCDataChannel>((resolve) => {
      far.ondatachannel = ({ channel: other }) => {
        other.onopen = () => resolve(other);
        if (other.readyState === 'open') resolve(other);
      };
    });
    await near.setLocalDescription(await near.createOffer());
    await far.setRemoteDescription(near.localDescription!);
    await far.setLocalDescription(await far.createAnswer());
    await near.setRemoteDescription(far.localDescription!);
    const other = await Promise.race([open, after(OPENS_WITHIN_MS, signal).then(() => null)]);
    if (!other || signal.aborted) {
      close();
      return null;
    }
    return { channel, far: other, close };
  } catch (error) {
    close();
    throw error;
  }
}

/** Sends packets as a call does, and notes when each came. */
async function callOver({ channel, far }: Opened, onLeft: (s: number) => void, signal: AbortSignal) {
  const packets: { sentMs: number; gotMs: number | null; held: boolean }[] = [];
  far.binaryType = 'arraybuffer';
  far.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => {
    const packet = packets[new DataView(data).getUint32(0)];
    if (packet) packet.gotMs ??= performance.now();
  };
  const total = LASTS_MS / PACKET_MS;
  let passedOver = 0;
  const beganMs = performance.now();
  await new Promise<void>((resolve) => {
    const timer = setInterval(() => {
      const due = Math.min(total, Math.floor((performance.now() - beganMs) / PACKET_MS) + 1);
      while (packets.length + passedOver < due && channel.readyState === 'open') {
        // What the browser holds back, and what would wait behind it, would be taken for the line's delay.
        if (channel.bufferedAmount > 0) {
          const last = packets.at(-1);
          if (last) last.held = true;
          passedOver += 1;
          continue;
        }
        const bytes = new Uint8Array(PACKET_BYTES);
        new DataView(bytes.buffer).setUint32(0, packets.length);
        packets.push({ sentMs: performance.now(), gotMs: null, held: false });
        channel.send(bytes);
      }
      onLeft(Math.max(0, Math.ceil((LASTS_MS - (performance.now() - beganMs)) / 1000)));
      if (packets.length + passedOver < total && channel.readyState === 'open' && !signal.aborted) return;
      clearInterval(timer);
      resolve();
    }, PACKET_MS);
  });
  await after(LAST_MS, signal);
  far.onmessage = null;
  return packets.filter(({ held }) => !held) satisfies readonly Echoed[];
}

/**
 * Measures the line that this browser is on: two ends in one page, each by way of the relay, with an unordered channel
 * that repeats nothing, at the rate of a call; over UDP if that passes, else over TCP, else over TLS.
 * @param signal stops it; what was measured is then thrown away
 */
export async function measureLine(
  tools: LineTools,
  onStep: (step: MeasureStep) => void,
  signal: AbortSignal,
): Promise<LineMeasured | null> {
  onStep({ step: 'address' });
  const seen = await seenAs(tools.stun, signal);
  const what = { mapping: mappingOf(seen), outside: seen[0]?.socket.address ?? null };
  for (const way of LINE_WAYS) {
    if (signal.aborted) return null;
    if (tools.relays[way].length === 0) continue;
    onStep({ step: 'way', way });
    const opened = await openBy(tools.relays[way], tools, signal);
    if (!opened) continue;
    try {
      const packets = await callOver(opened, (leftS) => onStep({ step: 'call', way, leftS }), signal);
      if (signal.aborted) return null;
      const figures = lineOf(packets);
      if (figures) return { by: way, figures, ...what };
    } finally {
      opened.close();
    }
  }
  return signal.aborted ? null : { by: null, figures: null, ...what };
}
