export { openTurn, type TurnOptions, type TurnServer } from './server';
export { hmacSha1, passwordOfShortLived, shortLived, type ShortLived } from './credentials';
export { onPieces } from './stream';
export { openRelay, type RelayPlace } from './relay';
export { openStunClient, type RelayedPort, type StunClient } from './client';
