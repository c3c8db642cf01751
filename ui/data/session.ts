import { Settings } from 'luxon';
import { create } from 'zustand';
import { zoneNamed } from '../../core/zones';
import { api, isApiError, whenSignedOut } from './api';
import { queryClient } from './data';
import type { Role, Account } from '../../api/account';

/** Where drafts lie in the tab's storage; here, so that they can be emptied where their code was never fetched. */
export const DRAFTS_KEY = 'hostler-drafts';
export const WORKS_KEY = 'hostler-works';

interface SessionState {
  /** Signed out by hand, not by the session's end. */
  readonly hasLeft: boolean;
  readonly state: 'asking' | 'out' | 'in' | 'unreachable';
  readonly account: Account | null;
  readonly ask: () => Promise<void>;
  /** @param code of the second factor, where the account has one */
  readonly signIn: (name: string, password: string, code?: string) => Promise<void>;
  readonly signOut: () => Promise<void>;
}

function begin(account: Account) {
  Settings.defaultZone = zoneNamed(account.timeZone);
  return { state: 'in' as const, account, hasLeft: false };
}

/** Who is signed in. The server decides; this only remembers what it said. */
export const useSession = create<SessionState>((set) => ({
  state: 'asking',
  account: null,
  hasLeft: false,
  ask: async () => {
    try {
      set(begin(await api<Account>('GET', '/api/session')));
    } catch (error) {
      set({ state: isApiError(error) && error.status === 401 ? 'out' : 'unreachable', account: null });
    }
  },
  signIn: async (name, password, code) => {
    const account = await api<Account>('POST', '/api/session', {
      name,
      password,
      ...(code ? { code } : {}),
    });
    queryClient.clear();
    set(begin(account));
  },
  signOut: async () => {
    await api('DELETE', '/api/session').catch(() => undefined);
    queryClient.clear();
    // Whoever signs in next in this tab finds nothing of what was worked on here.
    globalThis.sessionStorage?.clear();
    set({ state: 'out', account: null, hasLeft: true });
  },
}));

whenSignedOut(() => {
  queryClient.clear();
  useSession.setState({ state: 'out', account: null });
});

export const useRole = (): Role => useSession((session) => session.account?.role ?? 'manager');
export const useCanEdit = (): boolean => useRole() === 'specialist';
/** The organisation's time zone. */
export const useZone = (): string => useSession((session) => session.account?.timeZone ?? 'UTC');
