import { INTERNET, type BoxFile } from './network-types';

/** An IPv4 address in dotted form. */
export const isIpv4 = (text: string): boolean =>
  /^(25[0-5]|2[0-4]\d|1\d\d|[1-9]?\d)(\.(25[0-5]|2[0-4]\d|1\d\d|[1-9]?\d)){3}$/.test(text);

/** The first and last port of "5060" or "10000-10100". */
export function portSpan(text: string): readonly [from: number, to: number] {
  const [from = 0, to = from] = text.split('-').map(Number);
  return [from, to];
}
export function isPortSpan(text: string): boolean {
  const [from, to] = portSpan(text);
  return /^\d{1,5}(-\d{1,5})?$/.test(text) && from >= 1 && to <= 65_535 && from <= to;
}
/** What a box may block: "udp", "tcp", "udp:5060" or "udp:10000-20000". */
export function isBlockRule(text: string): boolean {
  const [proto, ports, more] = text.split(':');
  return (
    (proto === 'udp' || proto === 'tcp') && more === undefined && (ports === undefined || isPortSpan(ports))
  );
}

/** The boxes from which no way leads to the internet, for it goes round. */
export function goingRound(boxes: readonly Pick<BoxFile, 'id' | 'in'>[]): ReadonlySet<string> {
  const byId = new Map(boxes.map((box) => [box.id, box]));
  const leadsOut = new Set<string>([INTERNET]);
  const round = new Set<string>();
  for (const { id } of boxes) {
    const way = new Set<string>();
    let here: string | undefined = id;
    while (here !== undefined && !leadsOut.has(here) && !way.has(here)) {
      way.add(here);
      here = byId.get(here)?.in;
    }
    if (here !== undefined && way.has(here)) round.add(id);
    else for (const each of way) leadsOut.add(each);
  }
  return round;
}

/** The addresses that stand in each network: whose second use of one is told, with the first. */
export function addressBook(): (network: string, address: string, whose: string) => string | null {
  const taken = new Map<string, string>();
  return (network, address, whose) => {
    const key = `${network} ${address}`;
    const before = taken.get(key);
    if (before === undefined) taken.set(key, whose);
    return before ?? null;
  };
}
