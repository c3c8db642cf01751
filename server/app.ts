import { existsSync } from 'node:fs';
import compression from 'compression';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { maskDeep } from '../core/privacy';
import { authRoutes, openRoutes, sessionToken } from './account';
import { accountOfSession } from './auth';
import { isLost, notingOutcome, OutcomeUnknown, type Outcome } from './db';
import { sendChunks, readBody, isOwnHost, type OpenRoute, type Route, type Services } from './http';
import {
  aboutError,
  onceAMinute,
  busy,
  isRefusal,
  refusal,
  tracedRequest,
  type Account,
  type Reply,
} from './base';
import { comparisonRoutes } from './comparison';
import { colleagueRoutes, deskRoutes, signOnRoutes } from './desks';
import { rosterRoutes } from './rosters';
import { safetyRoutes } from './safety';
import { seatRoutes } from './seats';
import { drillRoutes } from './drills';
import { estateRoutes, tryRoutes } from './reach';
import { effectRoutes } from './effect';
import { newsRoutes } from './news';
import { findingRoutes } from './findings';
import { importRoutes } from './imports';
import { objectRoutes } from './objects';
import { diagnosisRoutes, peopleRoutes, personPhoneRoutes } from './people';
import { organisationRoutes } from './organisation';
import { ownRoutes } from './own';
import { callImportRoutes, callingRoutes, callRoutes } from './calls';
import { collectedRoutes } from './collected';
import { lineRoutes } from './lines';
import { networkRoutes } from './networks';
import { liveRoutes, phoneRoutes } from './phones';
import { deskPhoneRoutes, provisioningRoutes, stockRoutes, provisioning } from './provisioning';
import { plannedStatusRoutes } from './planned-status';
import { probeRoutes } from './probe';
import { promiseRoutes } from './promises';
import { recordRoutes } from './history';
import { recordingRoutes } from './recordings';
import { restartRoutes } from './restarts';
import { neverCallRoutes, roundNumberRoutes, roundRoutes } from './rounds';
import { routingRoutes } from './route-table';
import { slateRoutes } from './slates';
import { openMetrics, requestId, watchRoutes } from './watch';
import { serveWeb } from './serve-web';
import { sheetRoutes } from './sheets';
import { manyRoutes } from './many';
import { templateRoutes } from './templates';

/** Every route of the server, each with the roles that may use it. */
export const ROUTES: readonly (Route | OpenRoute)[] = [
  ...openRoutes,
  ...authRoutes,
  ...peopleRoutes,
  ...personPhoneRoutes,
  ...plannedStatusRoutes,
  ...tryRoutes,
  ...importRoutes,
  ...recordRoutes,
  ...routingRoutes,
  ...estateRoutes,
  ...objectRoutes,
  ...organisationRoutes,
  ...promiseRoutes,
  ...templateRoutes,
  ...manyRoutes,
  ...sheetRoutes,
  ...watchRoutes,
  ...effectRoutes,
  ...slateRoutes,
  ...drillRoutes,
  ...findingRoutes,
  ...restartRoutes,
  ...diagnosisRoutes,
  ...comparisonRoutes,
  ...newsRoutes,
  ...phoneRoutes,
  ...networkRoutes,
  ...lineRoutes,
  ...deskRoutes,
  ...signOnRoutes,
  ...rosterRoutes,
  ...colleagueRoutes,
  ...seatRoutes,
  ...recordingRoutes,
  ...roundRoutes,
  ...roundNumberRoutes,
  ...neverCallRoutes,
  ...safetyRoutes,
  ...callRoutes,
  ...callImportRoutes,
  ...callingRoutes,
  ...collectedRoutes,
  ...liveRoutes,
  ...ownRoutes,
  ...probeRoutes,
  ...provisioningRoutes,
  ...deskPhoneRoutes,
  ...stockRoutes,
];

/** Writes must come from a page of our own: a browser sends the origin with each. */
const fromOwnPage = (request: Request): boolean => {
  const { origin, host } = request.headers;
  return origin === `http://${host}` || origin === `https://${host}`;
};

/** Requests that are worked on at once; beyond it more are refused early rather than answered late. */
const MOST_AT_ONCE = 300;
/** A request that takes longer is told of in the log, in seconds. */
const SLOW_S = 5;

/**
 * Answers one request: first who asks is looked at, and whether they may, and only then is read what they send.
 */
async function run(
  route: Route | OpenRoute,
  services: Services,
  request: Request,
  response: Response,
): Promise<Reply & { readonly who?: { readonly account: Account; readonly token: string } }> {
  if (!isOwnHost(request.headers.host)) throw refusal(421, 'This server is not called by that name.');
  if (route.method !== 'GET' && !fromOwnPage(request))
    throw refusal(403, 'This did not come from a page of Hostler.');
  const gone = new AbortController();
  response.once('close', () => {
    if (!response.writableFinished) gone.abort();
  });
  const context = {
    services,
    request,
    gone: gone.signal,
    params: request.params as Record<string, string>,
    query: request.query as Record<string, string | undefined>,
  };
  if (route.roles === 'everybody')
    return route.handle({ ...context, body: await readBody(route, request, response) });
  const token = sessionToken(request);
  const account = token ? await accountOfSession(services.db, token) : null;
  if (!token || !account) throw refusal(401, 'Sign in first.');
  if (!route.roles.includes(account.role)) throw refusal(403, `This is not for the role ${account.role}.`);
  const body = await readBody(route, request, response);
  const reply = await route.handle({ ...context, body, account });
  const open = reply.stream;
  const who = { account, token };
  if (account.role === 'specialist' || route.unmasked || (reply.body === undefined && !open))
    return { ...reply, who };
  const { index } = await services.store.current();
  const mask = <T>(value: T): T => maskDeep(value, (number) => index.destinations.has(number));
  if (open)
    return {
      ...reply,
      who,
      stream: (send, onClosed) => open((name, data) => send(name, mask(data)), onClosed),
    };
  return { ...reply, who, body: mask(reply.body) };
}

/**
 * The server as an Express application.
 * @param webFolder the built browser application; left out in tests of the routes alone
 */
export function createApp(services: Services, log: Logger, webFolder?: string): express.Express {
  const app = express();
  const say = onceAMinute(log);
  const metrics = openMetrics(services);
  app.disable('x-powered-by');
  // Behind a proxy of one's own on this machine the far end is who the proxy says it is.
  if (process.env.HOSTLER_BEHIND_PROXY === '1') app.set('trust proxy', 'loopback');
  app.set('etag', 'strong');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          // The bundler starts a worker by a blob that does nothing but load the worker's file from here.
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          mediaSrc: ["'self'"],
          manifestSrc: ["'self'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: true,
    }),
  );
  // Answered from what is known already, so that it is answered whatever else goes on.
  app.get('/api/health', (_request, response) => {
    const { ok, sinceMs } = services.db.health();
    response.setHeader('Cache-Control', 'no-store');
    response.status(ok ? 200 : 503).json({
      ok,
      database: ok ? 'answers' : `does not answer since ${new Date(sinceMs ?? 0).toISOString()}`,
    });
  });
  // Whether the process is to be started anew, and whether it should get requests.
  app.get('/api/health/live', (_request, response) => {
    response.setHeader('Cache-Control', 'no-store');
    response.json({ live: true });
  });
  app.get('/api/health/ready', (_request, response) => {
    const { ok } = services.db.health();
    const ready = ok && !services.self.isEnding;
    response.setHeader('Cache-Control', 'no-store');
    response
      .status(ready ? 200 : 503)
      .json({ ready, why: services.self.isEnding ? 'it ends' : ok ? null : 'the database does not answer' });
  });
  app.use((request, response, next) => {
    const id = requestId(request.headers['x-request-id']);
    response.locals.requestId = id;
    response.setHeader('X-Request-Id', id);
    if (!request.path.startsWith('/api/')) return next();
    const begun = process.hrtime.bigint();
    metrics.begun();
    response.on('close', () => {
      const seconds = Number(process.hrtime.bigint() - begun) / 1e9;
      const route = String((request.route as { path?: string } | undefined)?.path ?? 'none');
      const status = response.statusCode;
      if (!response.locals.isStream) {
        metrics.ended();
        metrics.answered(request.method, route, status, seconds);
      }
      const line = { request: id, method: request.method, route, status, ms: Math.round(seconds * 1000) };
      if (seconds > SLOW_S && !response.locals.isStream) log.warn(line, 'a request took long');
      else log.debug(line, 'answered');
    });
    next();
  });
  app.get('/api/metrics', (request, response, next) => {
    const answer = async () => {
      const token = sessionToken(request);
      const account = token ? await accountOfSession(services.db, token) : null;
      if (account?.role !== 'specialist' && !metrics.mayAsk(request.headers.authorization))
        throw refusal(401, 'Metrics are given to specialists, or for the word in HOSTLER_METRICS_TOKEN.');
      response.setHeader('Cache-Control', 'no-store');
      response.type(metrics.contentType).send(await metrics.text());
    };
    answer().catch(next);
  });
  app.use((request, _response, next) => {
    // Which of two would count is nowhere said: parts of a system that read them differently could be played off.
    for (const [name, value] of Object.entries(request.query))
      if (typeof value !== 'string') throw refusal(400, `“${name.slice(0, 40)}” is given more than once.`);
    next();
  });
  let working = 0;
  app.use('/api', compression(), (_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    if (working >= MOST_AT_ONCE) throw busy('Too much is asked of the server at this moment. Try again.', 2);
    working += 1;
    let over = false;
    const done = () => {
      if (!over) working -= 1;
      over = true;
    };
    // A stream of events stays open for hours, and is counted by itself.
    response.on('close', done);
    response.locals.done = done;
    next();
  });
  const phones = provisioning(services);
  // Phones ask for what lies below; the address itself is a page.
  app.use('/provisioning', (request, response, next) =>
    request.path === '/' ? next() : phones(request, response, next),
  );
  for (const route of ROUTES) {
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    app[method](route.path, (request: Request, response: Response) => {
      const outcome: Outcome = { kept: false, unknown: false };
      response.locals.outcome = outcome;
      const traceable = {
        method: request.method,
        route: route.path,
        id: response.locals.requestId as string,
        headers: request.headers,
      };
      let end: (status: number) => void = () => undefined;
      const over = (status: number) => {
        end(status);
        end = () => undefined;
      };
      response.once('close', () => over(response.statusCode));
      const answer = async () => {
        const { who, ...reply } = await run(route, services, request, response);
        if (reply.stream && who) {
          (response.locals.done as () => void)();
          // It is open for hours, and is no work.
          response.locals.isStream = true;
          metrics.ended();
          over(response.statusCode);
          return services.streams.open(response, services.db, who, reply.stream);
        }
        response.status(reply.status ?? 200);
        for (const [name, value] of Object.entries(reply.headers ?? {})) response.setHeader(name, value);
        if (reply.chunks) await sendChunks(response, reply.chunks);
        else if (reply.bytes) response.send(reply.bytes);
        else if (reply.text !== undefined) response.send(reply.text);
        else if (reply.body === undefined) response.end();
        else response.json(reply.body);
      };
      return tracedRequest(
        traceable,
        (then) => (end = then),
        () => notingOutcome(outcome, answer),
      );
    });
  }
  app.use('/api', () => {
    throw refusal(404, 'There is nothing here.');
  });
  if (webFolder && existsSync(webFolder)) serveWeb(app, webFolder, services);
  app.use((error: unknown, request: Request, response: Response, _next: NextFunction) => {
    if (response.headersSent) {
      say('an answer broke off', {
        err: aboutError(error),
        request: response.locals.requestId as string,
        path: request.path,
      });
      return void response.destroy();
    }
    if (isRefusal(error)) {
      for (const [name, value] of Object.entries(error.headers ?? {})) response.setHeader(name, value);
      response.status(error.status).json({ message: error.message, faults: error.faults, ...error.extra });
      return;
    }
    const status = (error as { status?: number }).status;
    if (typeof status === 'number' && status >= 400 && status < 500) {
      const message =
        status === 413 ? 'This is larger than what is taken at once.' : 'This request could not be read.';
      response.status(status).json({ message });
      return;
    }
    const isAway = isLost(error) || error instanceof OutcomeUnknown;
    say(isAway ? 'the database does not answer' : 'a request failed', {
      err: aboutError(error),
      request: response.locals.requestId as string,
      method: request.method,
      path: request.path,
    });
    if (isAway) response.setHeader('Retry-After', '2');
    const outcome = response.locals.outcome as Outcome | undefined;
    response.status(isAway ? 503 : 500).json({
      message: `${isAway ? 'The database does not answer at this moment.' : 'Something went wrong on the server.'}${sayOutcome(request.method, outcome)}`,
      outcome: outcome?.unknown ? 'unknown' : outcome?.kept ? 'written' : 'not-written',
    });
  });
  return app;
}

/** What is known of whether a request that failed has written something. */
function sayOutcome(method: string, outcome: Outcome | undefined): string {
  if (method === 'GET') return ' Try again.';
  if (outcome?.unknown) return ' Whether this was written is not known: look again before you repeat it.';
  if (outcome?.kept) return ' What you did was written before that: look again.';
  return ' Nothing was written.';
}
