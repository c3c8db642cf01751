import { randomBytes } from 'node:crypto';
import { passwordOfShortLived } from './credentials';
import { openTurn, type TurnOptions, type TurnServer } from './server';

/** Where the stand-in relay is, and with what its short-lived credentials are made. */
export interface RelayPlace {
  readonly host: string;
  readonly port: number;
  /** null: it serves no TLS. */
  readonly tlsPort: number | null;
  readonly secret: string;
  /** STUN on two addresses with two ports each, for how a line maps (RFC 5780). */
  readonly stun: readonly { readonly host: string; readonly port: number }[];
}

const RELAY = '127.0.0.1';
const SECOND = '127.0.0.2';
const REALM = 'hostler';
/** The usual one of TURN over TLS. */
const TLS_PORT = 5349;

/** A port that is in use leaves any other. */
async function atPort(port: number, open: (port: number) => Promise<TurnServer>): Promise<TurnServer> {
  try {
    return await open(port);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || port === 0) throw error;
    return open(0);
  }
}

/**
 * Opens the relay: it leads to its own relayed sockets only, which is all that the check of a line needs.
 * @param wanted 0: any
 * @param tls with what it serves TLS (RFC 8656, section 18.7); left out: it does not
 */
export async function openRelay(
  wanted: number,
  tls?: Omit<NonNullable<TurnOptions['tls']>, 'port'>,
): Promise<RelayPlace & { readonly close: () => Promise<void> }> {
  const secret = randomBytes(32).toString('base64url');
  const passwordOf = (user: string) => passwordOfShortLived(user, secret, Date.now());
  const open = (address: string, port: number, isRelay: boolean) =>
    atPort(port, (at) =>
      openTurn({
        address,
        port: at,
        realm: REALM,
        relayAddress: address,
        passwordOf,
        ...(isRelay
          ? {
              allow: [`${RELAY}/32`],
              ...(tls ? { tls: { ...tls, port: at === 0 ? 0 : TLS_PORT } } : {}),
            }
          : { mostAllocations: 0 }),
      }),
    );
  const next = wanted === 0 ? 0 : wanted + 1;
  const opened: TurnServer[] = [];
  try {
    for (const [address, port] of [
      [RELAY, wanted],
      [RELAY, next],
      [SECOND, wanted],
      [SECOND, next],
    ] as const)
      opened.push(await open(address, port, opened.length === 0));
  } catch (error) {
    await Promise.all(opened.map((each) => each.close()));
    throw error;
  }
  return {
    host: RELAY,
    port: opened[0]?.port ?? 0,
    tlsPort: opened[0]?.tlsPort ?? null,
    secret,
    stun: opened.map(({ port }, at) => ({ host: at < 2 ? RELAY : SECOND, port })),
    close: async () => {
      await Promise.all(opened.map((each) => each.close()));
    },
  };
}
