import type { Device, Estate, NatMethod, Server, ServerKind } from '../estate';
import { networkOf, type NoNetwork } from './assemble';
import { wholeServer } from './read';
import { recommend, type Way } from './recommend';

type Parts = Pick<Estate, 'sites' | 'devices' | 'servers' | 'people'>;

/** The best way for a phone at a place that it is taken to, or why none is known. */
export type WayHome =
  | { readonly ok: true; readonly way: Way }
  /** `no-way`: nothing that the phone can do works from there. */
  | { readonly ok: false; readonly why: NoNetwork | 'no-way' };

/**
 * How a phone that is taken to a site gets out there.
 * @param methods what its model can do
 */
export function wayHome(estate: Parts, device: Device, site: string, methods: readonly NatMethod[]): WayHome {
  const { path, natMethod: _method, ...rest } = device;
  // What was for where it stood before is not taken along.
  const { in: _in, address: _address, manual: _manual, ...kept } = path ?? {};
  const there: Device = { ...rest, site, path: kept };
  const others = (estate.devices ?? []).filter(({ id }) => id !== device.id);
  const of = networkOf({ ...estate, devices: [...others, there] }, site);
  if (typeof of === 'string') return { ok: false, why: of };
  const phone = of.network.phones.find(({ id }) => id === `device:${device.id}`);
  const way = phone
    ? recommend(of.network, phone).ways.find(
        ({ method, opens }) => methods.includes(method) && opens.length === 0,
      )
    : undefined;
  return way ? { ok: true, way } : { ok: false, why: 'no-way' };
}

/** The kinds of server that a method wants to be told of beside the system, the first that is there. */
const HELPERS: Readonly<Record<NatMethod, readonly ServerKind[]>> = {
  direct: [],
  'manual-public-address': [],
  stun: ['stun', 'turn'],
  ice: ['stun', 'turn'],
  turn: ['turn'],
  'border-controller': ['border-controller'],
  'branch-relay': [],
  vpn: ['vpn'],
};

/** The server of the organisation that a method wants to be told of; null: none, or it is not described. */
export function helperOf({ servers = [] }: Pick<Estate, 'servers'>, method: NatMethod): Server | null {
  for (const kind of HELPERS[method]) {
    const found = servers.find((server) => server.kind === kind);
    if (found) return wholeServer(found);
  }
  return null;
}
