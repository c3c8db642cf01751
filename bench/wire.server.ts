// What the sender speaks to, in a process as the stand-ins have it: a bare UDP echo, the phone system's registrar, or
// the STUN server.
import { createSocket } from 'node:dgram';
import { compileEstate } from '../core/calls/engine';
import { skerrowSoundFerries } from '../demo/skerrow';
import { clockAt } from '../standins/sip/clock';
import { openSystem } from '../standins/system';
import { openTurn } from '../standins/turn';

/** Told once it listens; `held` answers any message, and says how many devices are registered. */
export type ServerSays = { readonly port: number } | { readonly held: number };

const say = (message: ServerSays) => process.send?.(message);
const [kind = 'echo', address = '127.0.60.2'] = process.argv.slice(2);

function echo(): void {
  const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
  socket.on('message', (data, from) => socket.send(data, from.port, from.address));
  socket.bind(0, address, () => say({ port: socket.address().port }));
}

async function registrar(): Promise<void> {
  const index = compileEstate(skerrowSoundFerries());
  const system = await openSystem({
    address,
    port: 0,
    transports: ['udp'],
    estate: () => index,
    account: (user) => ({ user, password: 'secret', endpoint: user }),
    userOf: (id) => id,
    carrier: null,
    clock: clockAt(),
    at: () => '2026-11-25T10:00:00-08:00',
  });
  process.on('message', () => say({ held: system.allBindings().length }));
  say({ port: system.node.transport.local.udp.port });
}

async function stun(): Promise<void> {
  const { port } = await openTurn({
    address,
    port: 0,
    realm: 'bench',
    relayAddress: address,
    passwordOf: () => null,
  });
  say({ port });
}

process.on('disconnect', () => process.exit(0));
if (kind === 'echo') echo();
else void (kind === 'stun' ? stun() : registrar());
