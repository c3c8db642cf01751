import { useEffect } from 'react';
import type { NewsEvent, NewsTopic } from '../../api/news';
import { hearEvents } from './api';
import { queryClient } from './data';
import { useSession } from './session';

/** What is asked for again where it is on the screen, by what changed. */
const PATHS: Readonly<Record<NewsTopic, readonly string[]>> = {
  estate: ['/api/people', '/api/today', '/api/objects', '/api/templates', '/api/findings', '/api/dialling'],
  routing: ['/api/routing'],
  record: ['/api/record', '/api/today'],
  slates: ['/api/slates'],
};
/** Changes may come by the dozen: a page looks again this often at most, in ms. */
const LOOK_EVERY_MS = 500;

/** Keeps what is on the screen in step with what others change, on whichever server; while the page is looked at. */
export function useNews(): void {
  const hears = useSession(({ account }) => account !== null && account.role !== 'staff');
  useEffect(() => {
    if (!hears) return;
    const waiting = new Set<NewsTopic>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    let stop: (() => void) | null = null;
    const look = () => {
      timer = null;
      const paths = [...waiting].flatMap((topic) => PATHS[topic]);
      waiting.clear();
      void queryClient.invalidateQueries({
        predicate: ({ queryKey: [key] }) =>
          typeof key === 'string' && paths.some((path) => key === path || key.startsWith(`${path}/`)),
      });
    };
    const begin = () => {
      stop ??= hearEvents<NewsEvent>('/api/events', 'changed', ({ topics }) => {
        for (const topic of topics) waiting.add(topic);
        if (waiting.size > 0) timer ??= setTimeout(look, LOOK_EVERY_MS);
      });
    };
    const end = () => {
      stop?.();
      stop = null;
    };
    // A page in the background holds no line open; once it is looked at again, it looks at all there is.
    const seen = () => {
      if (document.visibilityState !== 'visible') return end();
      if (stop) return;
      for (const topic of Object.keys(PATHS) as NewsTopic[]) waiting.add(topic);
      timer ??= setTimeout(look, LOOK_EVERY_MS);
      begin();
    };
    document.addEventListener('visibilitychange', seen);
    if (document.visibilityState === 'visible') begin();
    return () => {
      document.removeEventListener('visibilitychange', seen);
      end();
      if (timer) clearTimeout(timer);
    };
  }, [hears]);
}
