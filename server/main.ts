import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join, resolve } from 'node:path';
import { createApp } from './app';
import { closePools, onceAMinute, openLog } from './base';
import { dbConfig, migrate, openDb, openKeeper, rightsTooWide } from './db';
import { estateStore } from './estate';
import { endGently, HTTP_LIMITS, limitServer, openNews, openStreams, type Services } from './http';
import { takeUpImports } from './imports';
import { mustOpenSecrets, openKeyring } from './secrets';
import { actOnCode } from './own';
import { checkPin } from './pins';
import { knownPhones, openTls, type TlsService } from './provisioning';
import { answerAccess, callOver, hungUpAtAccess, takeUpCallImports, watchNights } from './calls';
import { keepMonths, openCollector } from './collected';
import { beginIdleAnew, noteCalls, whoIsSignedOn } from './desks';
import { soundOf } from './recordings';
import { emergencyAnswer } from './safety';
import { runRounds } from './rounds';
import { followSeats, whoIsAtSeats } from './seats';
import { openSwitchboard, sharedSystem } from './switchboard';
import { watchDue } from './slates';
import { beginRun, openTraces } from './watch';

const log = openLog(process.env.HOSTLER_LOG ?? 'info');
const PORT = Number(process.env.HOSTLER_PORT ?? 4680);
const ADDRESS = '127.0.0.1';
const TLS_PORT = Number(process.env.HOSTLER_TLS_PORT ?? PORT + 1);

/**
 * How long a server behind a proxy goes on to take requests in once it is told to end, in ms: until the proxy has
 * asked twice whether it is ready, and sends nobody there any more.
 */
const STILL_TAKES_MS = process.env.HOSTLER_BEHIND_PROXY === '1' ? 3000 : 0;
/** How long requests that are worked on have to be answered once the server is told to end, in ms. */
const ANSWER_WITHIN_MS = 3000;
const { version: VERSION } = JSON.parse(readFileSync(resolve(__dirname, '../package.json'), 'utf8')) as {
  version: string;
};

/** How often the database is asked whether it answers, in ms. */
const ASK_DATABASE_MS = 1000;

async function main(): Promise<void> {
  let stop: () => void = () => process.exit(0);
  // Before anything else: a start may take a while, and whoever started it may be gone by then.
  process.on('SIGTERM', () => stop());
  process.on('SIGINT', () => stop());
  process.on('disconnect', () => stop());
  const say = onceAMinute(log);
  const collectorUrl = process.env.HOSTLER_TRACES_URL;
  const traces = collectorUrl
    ? await openTraces(collectorUrl, VERSION, (why) => say('traces could not be delivered', { why }))
    : null;
  const config = dbConfig();
  await migrate(config);
  // From here on the account that owns the tables is not needed.
  delete process.env.HOSTLER_DB_OWNER_PASSWORD;
  const db = openDb(config);
  const keeper = openKeeper(config);
  delete process.env.HOSTLER_DB_KEEPER_PASSWORD;
  const wide = await rightsTooWide(db, config.database);
  if (wide.length > 0) {
    const what = `the application's own account of the database may more than it needs: ${wide.join('; ')}`;
    if (config.owner) throw new Error(what);
    log.warn(`${what}. Name another account as HOSTLER_DB_OWNER for the tables.`);
  }
  const store = estateStore(db);
  const now = () => (process.env.HOSTLER_NOW ? new Date(process.env.HOSTLER_NOW) : new Date());
  const secrets = openKeyring();
  await mustOpenSecrets(db, secrets);
  await beginIdleAnew(db, now());
  const streams = openStreams();
  const news = openNews(db);
  let tls: TlsService | null = null;
  const self: { run: number | null; spool: string | null; isEnding: boolean } = {
    run: null,
    spool: null,
    isEnding: false,
  };
  const services = (): Services => ({
    db,
    keeper,
    calls: collector.inProgress,
    store,
    now,
    secrets,
    phones,
    streams,
    news,
    tls: () => tls,
    self,
  });
  const spool = resolve(process.env.HOSTLER_SPOOL ?? join(__dirname, '../var/spool', config.database));
  self.spool = spool;
  const collector = openCollector({ db, keeper, log, spool });
  const seats = followSeats(services, log);
  const rounds = runRounds(services, log);
  const endCalls = (which: Parameters<typeof callOver>[1]) =>
    void callOver(services(), which).catch((error: unknown) =>
      log.warn({ err: error }, 'what calls have used of a day could not be noted'),
    );
  const phones = openSwitchboard({
    collect: {
      ...collector,
      callSettled: (id, trace) => {
        collector.callSettled(id, trace);
        seats.callSettled(id, trace);
      },
      callOver: (id) => {
        collector.callOver(id);
        seats.callOver(id);
      },
      systemEnded: () => {
        collector.systemEnded();
        seats.systemEnded();
        endCalls({ run: self.run });
      },
    },
    watch: collector.watching,
    open: sharedSystem({ db, log, spool }),
    db,
    store,
    secrets,
    log,
    onCode: (dialled) => actOnCode(services(), dialled),
    onAccess: (called) => answerAccess(services(), called),
    onAccessHungUp: (called) => hungUpAtAccess(services(), called),
    onPin: (asked) => checkPin(services(), asked),
    onEmergency: (endpoint) => emergencyAnswer(services(), endpoint),
    signedOn: whoIsSignedOn(db),
    atSeats: whoIsAtSeats(db),
    onListed: rounds.ended,
    onBackOver: (id) => endCalls({ id }),
    soundOf: (recording) => soundOf(db, Number(recording)),
    onUsed: (endpoints) =>
      void noteCalls(services(), endpoints).catch((error: unknown) =>
        log.warn({ err: error }, 'the use of shared desks could not be noted'),
      ),
    provisioning: () => knownPhones({ db, store, secrets }, `http://${ADDRESS}:${PORT}`),
    onPlace: (place) => {
      if (process.connected) process.send?.({ phones: place });
    },
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
  const asking = setInterval(() => void db.query('SELECT 1').catch(() => undefined), ASK_DATABASE_MS);
  const run = await beginRun(db, PORT, VERSION);
  self.run = run.id;
  server.listen(PORT, ADDRESS, () => {
    log.info({ port: PORT, run: run.id, version: VERSION }, 'listening');
    const [stopDue, stopNights] = [watchDue(services(), log), watchNights(services, log)];
    stopWatching = () => {
      stopDue();
      stopNights();
    };
    if (process.connected) process.send?.('listening');
    void takeUpImports(services(), log);
    void takeUpCallImports(services()).catch((error: unknown) =>
      log.warn({ err: error }, 'files of calls that were left could not be taken up'),
    );
    void keepMonths(db, keeper, now().getTime()).catch((error: unknown) =>
      log.warn({ err: error }, 'months of calls could not be parted off'),
    );
    store
      .judgements(now().getTime())
      .catch((error: unknown) => log.warn({ err: error }, 'nothing to judge yet'));
  });
  let stopping = false;
  stop = () => {
    if (stopping) return;
    stopping = true;
    // From here on a proxy that asks whether it is ready sends nobody here any more.
    self.isEnding = true;
    stopWatching();
    seats.close();
    clearInterval(asking);
    setTimeout(() => void end(), STILL_TAKES_MS);
    setTimeout(() => process.exit(0), STILL_TAKES_MS + 5000);
  };
  const end = async () => {
    tls?.close();
    // The stand-ins end with the server, whatever else keeps it.
    const rest = rounds
      .close()
      .then(() => phones.close())
      .then(() => collector.close());
    // Pages that follow what happens open their streams again, elsewhere.
    streams.endAll();
    news.close();
    await endGently(server, ANSWER_WITHIN_MS)
      // What is answered until then may be worked out in a thread.
      .then(closePools)
      .then(() => rest)
      .then(() => run.end())
      .then(() => Promise.all([db.end(), keeper.end(), traces?.close()]))
      .catch(() => undefined);
    process.exit(0);
  };
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
