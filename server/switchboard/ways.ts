import type { WayLost } from '../../core/network';

const MOST_PHONES = 1000;

/** What the routers of phones let go of last, one packet a phone. */
export function lostOnTheirWay(onChange: () => void) {
  const last = new Map<string, WayLost>();
  return {
    lost: (way: WayLost): void => {
      last.delete(way.endpoint);
      last.set(way.endpoint, way);
      const [oldest] = last.keys();
      if (last.size > MOST_PHONES && oldest !== undefined) last.delete(oldest);
      onChange();
    },
    all: (): readonly WayLost[] => [...last.values()],
    systemEnded: (): void => last.clear(),
  };
}
