import { overIce } from '../media/ice';
import { baseOf, openDatagrams, openPlain, type SoundSocket } from '../media/socket';
import { MACHINE } from '../sip/ground';
import type { ServerManner } from './types';

/**
 * Opens the socket of the system's sound towards one phone, as its server treats it.
 * @param places whether the system places the call
 * @throws where the port cannot be had
 */
export async function soundTowards(
  address: string,
  manner: ServerManner | null,
  places: boolean,
): Promise<SoundSocket> {
  if (!manner) return openPlain({ address });
  const { latches, ice, writes, mediaPort } = manner;
  if (!ice) {
    const plain = await openPlain({ address, port: mediaPort, latches, isOpen: true });
    return { ...plain, written: { address: writes, port: plain.port } };
  }
  const socket = await openDatagrams(MACHINE, address, mediaPort);
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
