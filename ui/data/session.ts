import { Settings } from 'luxon';
import { create } from 'zustand';
import { zoneNamed } from '../../core/zones';
import { api, isApiError, whenSignedOut } from './api';
import { queryClient } from './data';
import { inTab } from './tabStorage';
import type { Role, Account } from '../../api/account';

/** Whose work this tab keeps; noted in its storage too, which outlasts a reload. */
let tabOf: string | null = null;
const TAB_OF_KEY = 'hostler-tab-of';
const forgetters = new Set<() => void>();

/** Has something forgotten when somebody signs out by hand, and when somebody else signs in here than before. */
export function forgetWithAccount(forget: () => void): void {
  forgetters.add(forget);
}

/** Whoever comes next in this tab finds nothing of what was worked on here; nor of that whose code was never fetched. */
function forgetAll(): void {
  tabOf = null;
  for (const forget of forgetters) forget();
  globalThis.sessionStorage?.clear();
}

interface SessionState {
  readonly state: 'asking' | 'out' | 'in' | 'unreachable';
  readonly account: Account | null;
  readonly ask: () => Promise<void>;
  /** @param code of the second factor, where the account has one */
  readonly signIn: (name: string, password: string, code?: string) => Promise<void>;
  readonly signOut: () => Promise<void>;
}

function begin(account: Account) {
  // A session may have ended by itself, or another tab have signed somebody else in.
  const before = tabOf ?? inTab.getItem(TAB_OF_KEY);
  if (before && before !== account.name) forgetAll();
  tabOf = account.name;
  inTab.setItem(TAB_OF_KEY, tabOf);
  Settings.defaultZone = zoneNamed(account.timeZone);
  return { state: 'in' as const, account };
}

/** Who is signed in. The server decides; this only remembers what it said. */
export const useSession = create<SessionState>((set) => ({
  state: 'asking',
  account: null,
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
    set({ state: 'out', account: null });
    forgetAll();
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
