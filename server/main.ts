import { createServer } from 'node:http';
import { resolve } from 'node:path';
import pino from 'pino';
import { createApp } from './app';
import { closePools } from './pool';
import { dbConfig, migrate, openDb } from './db';
import { estateStore } from './estate/store';
import { HTTP_LIMITS, limitServer } from './http/limits';
import { actOnCode } from './own/codes';
import { checkPin } from './own/pin-check';
import { openSwitchboard } from './phones/switchboard';
import { knownPhones } from './provision/settings';
import { openTls, type TlsService } from './provision/tls';
import { openKeyring } from './secrets/keyring';
import { watchDue } from './slates/due';

const log = pino({ level: process.env.HOSTLER_LOG ?? 'info' });
const PORT = Number(process.env.HOSTLER_PORT ?? 4680);
const ADDRESS = '127.0.0.1';
const TLS_PORT = Number(process.env.HOSTLER_TLS_PORT ?? PORT + 1);

async function main(): Promise<void> {
  const config = dbConfig();
  await migrate(config);
  const db = openDb(config);
  const store = estateStore(db);
  const now = () => (process.env.HOSTLER_NOW ? new Date(process.env.HOSTLER_NOW) : new Date());
  const secrets = openKeyring();
  let tls: TlsService | null = null;
  const services = () => ({ db, store, now, secrets, phones, tls: () => tls });
  const phones = openSwitchboard({
    db,
    store,
    secrets,
    log,
    onCode: (dialled) => actOnCode(services(), dialled),
    onPin: (asked) => checkPin(services(), asked),
    selfSet: () => knownPhones({ db, store, secrets }, `http://${ADDRESS}:${PORT}`),
    onPlace: (place) => process.send?.({ phones: place }),
  });
  tls = await openTls(services(), TLS_PORT, log);
  const server = createServer(HTTP_LIMITS, createApp(services(), log, resolve(__dirname, '../dist')));
  limitServer(server, log);
  let stopWatching: () => void = () => undefined;
  server.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE')
      process.stderr.write(`Port ${PORT} is in use. Choose another: HOSTLER_PORT=4681 npm start\n`);
    else process.stderr.write(`${error.message}\n`);
    process.exit(1);
  });
  server.listen(PORT, ADDRESS, () => {
    log.info({ port: PORT }, 'listening');
    stopWatching = watchDue(services(), log);
    process.send?.('listening');
    store
      .judgements(now().getTime())
      .catch((error: unknown) => log.warn({ err: error }, 'nothing to judge yet'));
  });
  const stop = () => {
    stopWatching();
    tls?.close();
    server.close(() => {
      void Promise.all([phones.close(), closePools()])
        .then(() => db.end())
        .finally(() => process.exit(0));
    });
    server.closeAllConnections();
    setTimeout(() => process.exit(0), 5000);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  process.on('disconnect', stop);
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
