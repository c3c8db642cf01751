import { createSocket, type Socket } from 'node:dgram';
import { unsafeUniformIntDistribution as draw, xoroshiro128plus } from 'pure-rand';

export interface Roughness {
  /** Each way, ms. */
  readonly delayMs: number;
  /** Evenly spread around the delay by so much at most, ms. */
  readonly spreadMs: number;
  /** Each way, of a hundred. */
  readonly lossPercent: number;
}

/**
 * A line in user space between whoever sends to its port and a server of UDP: it delays, jitters and loses datagrams,
 * each way on its own, by a seeded generator.
 */
export async function openRoughLine(
  to: { readonly host: string; readonly port: number },
  { delayMs, spreadMs, lossPercent }: Roughness,
): Promise<{ readonly port: number; readonly close: () => void }> {
  const random = xoroshiro128plus(7);
  const near = createSocket('udp4');
  const far = new Map<string, Socket>();
  const timers = new Set<ReturnType<typeof setTimeout>>();
  const later = (act: () => void) => {
    if (draw(0, 9999, random) < lossPercent * 100) return;
    const timer = setTimeout(
      () => {
        timers.delete(timer);
        act();
      },
      delayMs + draw(-spreadMs, spreadMs, random),
    );
    timers.add(timer);
  };
  near.on('message', (data, from) => {
    const key = `${from.address}:${from.port}`;
    let socket = far.get(key);
    if (!socket) {
      socket = createSocket('udp4');
      far.set(key, socket);
      socket.on('error', () => undefined);
      socket.on('message', (back) => later(() => near.send(back, from.port, from.address, () => undefined)));
    }
    const out = socket;
    later(() => out.send(data, to.port, to.host, () => undefined));
  });
  await new Promise<void>((resolve) => near.bind(0, '127.0.0.1', resolve));
  return {
    port: near.address().port,
    close: () => {
      for (const timer of timers) clearTimeout(timer);
      for (const socket of far.values()) socket.close();
      near.close();
    },
  };
}
