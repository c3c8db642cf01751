import { fork } from 'node:child_process';
import type { CallBack } from '../../../standins/system';
import { STANDINS_YOUNG_MIB } from '../../../standins/room';
import type { FromStandins, ToStandins } from '../../../standins/messages';
import type { LostPhone } from '../../../api/phones';
import { scriptAt } from '../../base';
import type { CallBackNow } from '../backs';
import type { LiveTry } from '../types';

/** What was begun at one server, so that all of them know of it. */
export type Begun =
  | { readonly kind: 'try'; readonly live: LiveTry }
  | { readonly kind: 'back'; readonly order: CallBack };

/** What a server that comes later is told of, beside what the phone system says. */
export interface SharedState {
  readonly lost: readonly LostPhone[];
  readonly tries: readonly LiveTry[];
  readonly backs: readonly CallBackNow[];
}

/** What a server hears of the phone system. */
export interface LinkHears {
  readonly heard: (message: FromStandins) => void;
  /** Something was begun at another server. */
  readonly begun: (begun: Begun) => void;
  /** What whoever comes later is to know; and, coming later, what there is. */
  readonly state: () => SharedState;
  readonly shared: (state: SharedState) => void;
  /** Another server asks that what is live be passed on. */
  readonly refresh: (force: boolean) => Promise<void>;
  /** @param code of its process; `elsewhere`: another server ran it, or runs it now */
  readonly ended: (code: number | null | 'elsewhere') => void;
}

/** The phone system as a server has it: its own, or the one that another server on this machine runs. */
export interface SystemLink {
  /** Whether this server runs it: then it tells it what is live, answers its questions and keeps what goes. */
  readonly isOwn: () => boolean;
  readonly isConnected: () => boolean;
  readonly send: (message: ToStandins) => void;
  /** Tells the other servers of what was begun here. */
  readonly share: (begun: Begun) => void;
  /** Has the server that runs it pass on what is live; nothing where that is this one. */
  readonly refreshThere: (force: boolean) => Promise<void>;
  readonly close: () => Promise<void>;
}

export type OpenSystem = (hears: LinkHears) => SystemLink;

/** A phone system of this server's own, in a process of its own. @param spool where it leaves records of calls */
export const ownSystem =
  (spool: string | undefined): OpenSystem =>
  ({ heard, ended }) => {
    const { file, execArgv } = scriptAt('standins/main.ts');
    const child = fork(file, [], {
      execArgv: [...execArgv, `--max-semi-space-size=${STANDINS_YOUNG_MIB}`],
      env: { ...process.env, HOSTLER_SPOOL: spool ?? '' },
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    let hasEnded = false;
    const over = new Promise<void>((done) => {
      child.once('exit', (code) => {
        hasEnded = true;
        ended(code);
        done();
      });
    });
    child.on('message', heard);
    return {
      isOwn: () => true,
      isConnected: () => child.connected,
      send: (message) => {
        if (child.connected) child.send(message);
      },
      share: () => undefined,
      refreshThere: () => Promise.resolve(),
      close: async () => {
        if (hasEnded) return;
        if (child.connected) child.disconnect();
        await over;
      },
    };
  };
