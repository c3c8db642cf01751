import { useQuery } from '@tanstack/react-query';
import type { ServerPage } from '../../api/server';
import { api } from './api';

/** Looked at again so often while the page is open. */
const AGAIN_MS = 5000;

/** What the servers are doing. @param follow looks again every few seconds */
export const useServerPage = (follow = false) =>
  useQuery({
    queryKey: ['/api/server'],
    queryFn: () => api<ServerPage>('GET', '/api/server'),
    ...(follow ? { refetchInterval: AGAIN_MS } : {}),
  });
