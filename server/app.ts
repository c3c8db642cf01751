import { existsSync } from 'node:fs';
import compression from 'compression';
import express, { type NextFunction, type Request, type Response } from 'express';
import expressStaticGzip from 'express-static-gzip';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { maskDeep } from '../core/privacy';
import { authRoutes, openRoutes, sessionToken } from './auth/routes';
import { accountOfSession } from './auth/queries';
import { comparisonRoutes } from './comparison/routes';
import { drillRoutes } from './drills/routes';
import { estateRoutes } from './estate/routes';
import { findingRoutes } from './findings/routes';
import {
  isRefusal,
  refusal,
  type OpenRoute,
  STAFF,
  type Reply,
  type Route,
  type Services,
} from './http/routes';
import { importRoutes } from './imports/routes';
import { objectRoutes } from './objects/routes';
import { diagnosisRoutes } from './people/diagnosis';
import { ownRoutes } from './own/routes';
import { peopleRoutes } from './people/routes';
import { liveRoutes } from './phones/live-routes';
import { phoneRoutes } from './phones/routes';
import { selfSetRoutes } from './provision/routes';
import { stockRoutes } from './provision/stock-routes';
import { provisioning } from './provision/service';
import { probeRoutes } from './probe/routes';
import { promiseRoutes } from './promises/routes';
import { recordRoutes } from './record/routes';
import { restartRoutes } from './restarts/routes';
import { routingRoutes } from './routing/routes';
import { slateRoutes } from './slates/routes';
import { templateRoutes } from './templates/routes';
import { tryRoutes } from './tries/routes';

/** Every route of the server, each with the roles that may use it. */
export const ROUTES: readonly (Route | OpenRoute)[] = [
  ...openRoutes,
  ...authRoutes,
  ...peopleRoutes,
  ...tryRoutes,
  ...importRoutes,
  ...recordRoutes,
  ...routingRoutes,
  ...estateRoutes,
  ...objectRoutes,
  ...promiseRoutes,
  ...templateRoutes,
  ...slateRoutes,
  ...drillRoutes,
  ...findingRoutes,
  ...restartRoutes,
  ...diagnosisRoutes,
  ...comparisonRoutes,
  ...phoneRoutes,
  ...liveRoutes,
  ...ownRoutes,
  ...probeRoutes,
  ...selfSetRoutes,
  ...stockRoutes,
];

const MEBI = 1 << 20;

/** The names under which this server may be called, so that no foreign name can be pointed at it. */
const isOwnHost = (host: string | undefined): boolean => {
  const name = (host ?? '').replace(/:\d+$/, '');
  return ['127.0.0.1', 'localhost', '[::1]', process.env.HOSTLER_HOSTNAME].includes(name);
};

/** Writes must come from a page of our own: a browser sends the origin with each. */
const fromOwnPage = (request: Request): boolean => {
  const { origin, host } = request.headers;
  return origin === `http://${host}` || origin === `https://${host}`;
};

async function run(route: Route | OpenRoute, services: Services, request: Request): Promise<Reply> {
  if (!isOwnHost(request.headers.host)) throw refusal(421, 'This server is not called by that name.');
  if (route.method !== 'GET' && !fromOwnPage(request))
    throw refusal(403, 'This did not come from a page of Hostler.');
  const context = {
    services,
    request,
    params: request.params as Record<string, string>,
    query: request.query as Record<string, string | undefined>,
    body: request.body as unknown,
  };
  if (route.roles === 'everybody') return route.handle(context);
  const token = sessionToken(request);
  const account = token ? await accountOfSession(services.db, token) : null;
  if (!account) throw refusal(401, 'Sign in first.');
  if (!route.roles.includes(account.role)) throw refusal(403, `This is not for the role ${account.role}.`);
  const reply = await route.handle({ ...context, account });
  const open = reply.stream;
  if (account.role === 'specialist' || route.unmasked || (reply.body === undefined && !open)) return reply;
  const { index } = await services.store.current();
  const mask = <T>(value: T): T => maskDeep(value, (number) => index.destinations.has(number));
  if (open)
    return { ...reply, stream: (send, onClosed) => open((name, data) => send(name, mask(data)), onClosed) };
  return { ...reply, body: mask(reply.body) };
}

/**
 * The server as an Express application.
 * @param webFolder the built browser application; left out in tests of the routes alone
 */
export function createApp(services: Services, log: Logger, webFolder?: string): express.Express {
  const app = express();
  app.disable('x-powered-by');
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
  app.get('/api/health', (_request, response) => {
    response.json({ ok: true });
  });
  app.use('/api', compression(), (_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  app.use('/provisioning', provisioning(services));
  for (const route of ROUTES) {
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    const body = route.rawBody
      ? express.raw({ type: () => true, limit: 16 * MEBI })
      : express.json({ limit: route.isLong ? 16 * MEBI : MEBI, strict: true });
    app[method](route.path, body, async (request: Request, response: Response) => {
      const reply = await run(route, services, request);
      if (reply.stream) return streamTo(response, reply.stream);
      response.status(reply.status ?? 200);
      for (const [name, value] of Object.entries(reply.headers ?? {})) response.setHeader(name, value);
      if (reply.bytes) response.send(reply.bytes);
      else if (reply.text !== undefined) response.send(reply.text);
      else if (reply.body === undefined) response.end();
      else response.json(reply.body);
    });
  }
  app.use('/api', () => {
    throw refusal(404, 'There is nothing here.');
  });
  if (webFolder && existsSync(webFolder)) serveWeb(app, webFolder, services);
  app.use((error: unknown, request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    if (isRefusal(error)) {
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
    log.error({ err: error, method: request.method, path: request.path }, 'a request failed');
    response.status(500).json({ message: 'Something went wrong on the server. Nothing was written.' });
  });
  return app;
}

const KEEP_OPEN_MS = 20_000;

/** Sends events as they come, as the WHATWG's server-sent events have them, until the browser goes. */
function streamTo(response: Response, stream: NonNullable<Reply['stream']>): void {
  // Told not to transform, compression leaves events alone, which it would hold back.
  response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' });
  const keeping = setInterval(() => response.write(': still here\n\n'), KEEP_OPEN_MS);
  const closing: (() => void)[] = [() => clearInterval(keeping)];
  response.on('close', () => {
    for (const close of closing) close();
  });
  stream(
    (name, data) => {
      if (!response.writableEnded) response.write(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
    },
    (then) => closing.push(then),
  );
}

/** What a page asks for as soon as its code runs: named with the page, it is on its way while the code still comes. */
function askedFirst(path: string): readonly string[] {
  if (path === '/people') return ['/api/people'];
  if (path === '/' || path === '/today') return ['/api/today'];
  const [, id] = /^\/people\/([\w%.~-]+)$/.exec(path) ?? [];
  return id === undefined ? [] : [`/api/people/${id}`];
}

/** Files with a hash in their name never change; the page that names them is asked for each time. */
function serveWeb(app: express.Express, folder: string, services: Services): void {
  const index = { enableBrotli: true, orderPreference: ['br', 'gz'] as ['br', 'gz'] };
  app.use(
    expressStaticGzip(folder, {
      ...index,
      index: false,
      serveStatic: {
        setHeaders: (response, path) => {
          const lasting = path.includes('/_expo/') || path.includes('/fonts/') || path.includes('/assets/');
          response.setHeader('Cache-Control', lasting ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      },
    }),
  );
  app.get('/{*page}', async (request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    const token = sessionToken(request);
    // A refusal fetched ahead would be taken for the answer to the first question after signing in.
    const account = token ? await accountOfSession(services.db, token) : null;
    if (account) {
      const first = account.role === STAFF ? ['/api/me'] : askedFirst(request.path);
      const links = ['/api/session', ...first];
      response.setHeader(
        'Link',
        links.map((path) => `<${path}>; rel=preload; as=fetch; crossorigin`),
      );
    }
    response.sendFile('index.html', { root: folder });
  });
}
