import { create } from 'zustand';
import { api, isApiError, whenSignedOut } from '../hooks/api';
import { queryClient } from '../hooks/data';
import { claimDrafts, forgetDrafts } from './draft';

export type Role = 'specialist' | 'help-desk' | 'manager';
export interface Account {
  readonly name: string;
  readonly role: Role;
}

interface SessionState {
  readonly state: 'asking' | 'out' | 'in' | 'unreachable';
  readonly account: Account | null;
  readonly ask: () => Promise<void>;
  readonly signIn: (name: string, password: string) => Promise<void>;
  readonly signOut: () => Promise<void>;
}

/** Who is signed in. The server decides; this only remembers what it said. */
export const useSession = create<SessionState>((set) => ({
  state: 'asking',
  account: null,
  ask: async () => {
    try {
      const account = await api<Account>('GET', '/api/session');
      claimDrafts(account.name);
      set({ state: 'in', account });
    } catch (error) {
      set({ state: isApiError(error) && error.status === 401 ? 'out' : 'unreachable', account: null });
    }
  },
  signIn: async (name, password) => {
    const account = await api<Account>('POST', '/api/session', { name, password });
    queryClient.clear();
    claimDrafts(account.name);
    set({ state: 'in', account });
  },
  signOut: async () => {
    await api('DELETE', '/api/session').catch(() => undefined);
    queryClient.clear();
    forgetDrafts();
    set({ state: 'out', account: null });
  },
}));

whenSignedOut(() => {
  queryClient.clear();
  useSession.setState({ state: 'out', account: null });
});

export const useRole = (): Role => useSession((session) => session.account?.role ?? 'manager');
export const useCanEdit = (): boolean => useRole() === 'specialist';
