import { useEffect, useRef, useState } from 'react';
import { proxy } from 'comlink';
import { useQuery } from '@tanstack/react-query';
import type { GroupLoadPage } from '../../api/phones';
import type { GroupLoad, GroupRun, GroupToRun } from '../../core/staffing';
import { api } from './api';
import { ownWorker } from './reach';

/** What came to a group over the last weeks, by the calls that went. */
export const useGroupLoad = (group: string) =>
  useQuery({
    queryKey: ['/api/groups', group, 'load'],
    queryFn: () => api<GroupLoadPage>('GET', `/api/groups/${encodeURIComponent(group)}/load`),
  });

export type GroupTry =
  | { readonly state: 'none' }
  | { readonly state: 'running'; readonly share: number }
  | { readonly state: 'done'; readonly run: GroupRun }
  | { readonly state: 'failed' };

/** Tries a group out beside the page; it can be ended in the middle. */
export function useGroupRun() {
  const [state, setState] = useState<GroupTry>({ state: 'none' });
  const end = useRef<() => void>(() => undefined);
  useEffect(() => () => end.current(), []);
  return {
    state,
    stop: () => {
      end.current();
      setState({ state: 'none' });
    },
    start: (group: GroupToRun, load: GroupLoad) => {
      end.current();
      const own = ownWorker();
      end.current = own.end;
      const isMine = () => end.current === own.end;
      // How far it has come is told by a line of its own, and may come after the result.
      let isOver = false;
      setState({ state: 'running', share: 0 });
      const onProgress = proxy((share: number) => {
        if (isMine() && !isOver) setState({ state: 'running', share });
      });
      own.worker
        .runGroup(group, load, onProgress)
        .then((run) => {
          isOver = true;
          if (isMine()) setState(run ? { state: 'done', run } : { state: 'none' });
        })
        .catch(() => {
          isOver = true;
          if (isMine()) setState({ state: 'failed' });
        })
        .finally(own.end);
    },
  };
}
