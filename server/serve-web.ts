import type express from 'express';
import expressStaticGzip from 'express-static-gzip';
import { sessionToken } from './account';
import { accountOfSession } from './auth';
import { STAFF } from './base';
import type { Services } from './http';

/** What a page asks for as soon as its code runs: named with the page, it is on its way while the code still comes. */
function askedFirst(path: string): readonly string[] {
  if (path === '/people') return ['/api/people'];
  if (path === '/' || path === '/today') return ['/api/today'];
  const [, id] = /^\/people\/([\w%.~-]+)$/.exec(path) ?? [];
  return id === undefined ? [] : [`/api/people/${id}`];
}

/** Files with a hash in their name never change; the page that names them is asked for each time. */
export function serveWeb(app: express.Express, folder: string, services: Services): void {
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
