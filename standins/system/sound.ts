import { overIce } from '../media/ice';
import { baseOf, openDatagrams, openPlain, type SoundSocket } from '../media/socket';
import { MACHINE } from '../sip/ground';
import type { ServerManner } from './types';

/** Opens something at the port of a server's sound, or at the next that is free. @throws where none is */
async function atFreePort<T>(
  { mediaPort, soundPorts = 1 }: ServerManner,
  open: (port: number) => Promise<T>,
): Promise<T> {
  for (let nth = 0; ; nth += 1)
    try {
      return await open(mediaPort + 2 * nth);
    } catch (error) {
      const isTaken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
      if (!isTaken || nth + 1 >= soundPorts) throw error;
    }
}

/**
 * Opens the socket of the system's sound towards one phone, as its server treats it.
 * @param places whether the system places the call
 * @throws where the port cannot be had
 */
export async function soundTowards(
  own: string,
  manner: ServerManner | null,
  places: boolean,
): Promise<SoundSocket> {
  if (!manner) return openPlain({ address: own });
  const { latches, ice, writes, soundAt: address = own } = manner;
  if (!ice) {
    const plain = await atFreePort(manner, (port) => openPlain({ address, port, latches, isOpen: true }));
    return { ...plain, written: { address: writes, port: plain.port } };
  }
  const socket = await atFreePort(manner, (port) => openDatagrams(MACHINE, address, port));
  const { port } = socket.address();
  const written = { address: writes, port };
  return overIce({
    port,
    written,
    isControlling: places,
    candidates: [{ type: 'host', socket: written, base: baseOf(socket, MACHINE) }],
    close: () => socket.close(),
  });
}
