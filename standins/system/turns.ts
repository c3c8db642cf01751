import type { Trace } from '../../core/calls/engine';
import type { CallHost } from './types';

/** Notes whose turn it was, for groups that go round. */
export function noteTurn({ index, groupLast }: CallHost, group: string, endpoint: string): void {
  const owner = index.endpoints.get(endpoint)?.owner?.id;
  const members = index.groups.get(group)?.members ?? [];
  const at = members.findIndex((each) =>
    'person' in each ? each.person === owner : 'endpoint' in each && each.endpoint === endpoint,
  );
  if (at >= 0) groupLast.set(group, at);
}

/** Whether a call came by a group that a seat is in. @param path the way that it has come */
export const isSeatOn =
  ({ index }: CallHost, path: Trace['path']) =>
  (seat: string): boolean =>
    path.some(
      (step) =>
        'group' in step &&
        index.groups.get(step.group)?.members.some((each) => 'seat' in each && each.seat === seat),
    );
