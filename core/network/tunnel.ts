import type { NetworkPhone, Server, Socket } from '../estate';
import { send } from './carry';
import { type Host, reachedAt } from './topology';
import { type Delivery, listen, type Tunnel, type World } from './world';

const TUNNEL_PORT = 1194;

/** Digs the tunnel to the VPN server: its packets must get there and back. */
export function digTunnel(
  world: World,
  phone: NetworkPhone,
  host: Host,
  inside: Host,
  vpn: Server,
): Tunnel & {
  readonly keepAlive: (t: number) => Delivery;
} {
  const { topology } = world;
  listen(world, host.id, TUNNEL_PORT);
  listen(world, vpn.id, vpn.port);
  const to = reachedAt(topology, phone.in, vpn, vpn.port);
  let seen: Socket | null = null;
  let vpnHost: Host | null = null;
  const outward = (t: number) => {
    const there = send(world, {
      kind: 'tunnel',
      proto: 'udp',
      sender: host,
      port: TUNNEL_PORT,
      to,
      meant: [vpn.id],
      t,
    });
    if (there.ok) {
      const before = seen;
      seen = there.source;
      vpnHost = there.host;
      world.ledger.undo?.push(() => {
        seen = before;
      });
    }
    return there;
  };
  const inward = (t: number): Delivery =>
    seen && vpnHost
      ? send(world, {
          kind: 'tunnel',
          proto: 'udp',
          sender: vpnHost,
          port: vpn.port,
          to: seen,
          meant: [host.id],
          t,
        })
      : { ok: false, reason: 'no-mapping', at: vpn.id };
  const tunnel = {
    outward,
    inward,
    keepAlive: (t: number) => {
      const there = outward(t);
      return there.ok ? inward(t) : there;
    },
  };
  world.tunnels.set(inside.id, tunnel);
  return tunnel;
}
