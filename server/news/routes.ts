import { ROLES } from '../base';
import type { Route } from '../http';

export const newsRoutes: readonly Route[] = [
  {
    /** What changes, as it changes, on whichever server: a page looks again at what it shows. */
    method: 'GET',
    path: '/api/events',
    roles: ROLES,
    handle: ({ services: { news } }) =>
      Promise.resolve({
        stream: (send, onClosed) => {
          send('changed', { topics: [] });
          onClosed(news.subscribe((topics) => send('changed', { topics })));
        },
      }),
  },
];
