import type { ReactNode } from 'react';
import { QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react-native';
import type { PersonSummary } from '../../api/people';
import { queryClient } from './data';
import { stillComing, usePeople, usePeopleFound } from './people';

const wrapper = ({ children }: { readonly children: ReactNode }) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
);
const row = (n: number, name = `Person ${n}`): PersonSummary => ({
  id: `p${n}`,
  name,
  extension: String(4000 + n),
  numbers: [],
  status: 'on',
  permission: 'inside',
  phones: 1,
  reach: 'reached',
});
const hash = (text: string) => text.padEnd(24, '0');

/** A server with a list in parts; what it is asked is noted, and `parts` can be held back. */
function serverOf(parts: Map<string, readonly PersonSummary[]>) {
  const asked: string[] = [];
  const held: (() => void)[] = [];
  /** How many questions for parts are still answered at once. */
  let left = Infinity;
  const answer = (path: string): unknown => {
    const url = new URL(path, 'http://localhost');
    if (url.pathname === '/api/people') {
      const [first] = parts.keys();
      return {
        revision: 1,
        parts: [...parts].map(([name, rows]) => ({ hash: name, count: rows.length })),
        people: url.searchParams.get('have') === first ? null : parts.get(first!),
        statuses: [],
        permissions: [],
        templates: [],
      };
    }
    if (url.pathname === '/api/people-found') return { people: [row(900, 'Found There')], count: 250 };
    return {
      parts: url.searchParams
        .get('names')!
        .split(',')
        .map((name) => parts.get(name) ?? null),
    };
  };
  globalThis.fetch = jest.fn(async (path: string, { signal }: RequestInit) => {
    asked.push(path);
    if (path.startsWith('/api/people-parts') && left-- <= 0)
      await new Promise<void>((go, fail) => {
        held.push(go);
        signal?.addEventListener('abort', () => fail(new Error('given up')));
      });
    return { ok: true, status: 200, text: async () => JSON.stringify(answer(path)) };
  }) as never;
  return {
    asked,
    hold: (after = 0) => (left = after),
    letGo: () => {
      left = Infinity;
      for (const go of held.splice(0)) go();
    },
  };
}

const partsNamed = (...names: readonly string[]) =>
  new Map(names.map((name, n) => [hash(name), [row(2 * n), row(2 * n + 1)]]));

beforeEach(() => queryClient.clear());

test('a list of one part is one question, and is not sent again while it stays', async () => {
  const server = serverOf(partsNamed('a'));
  const { result } = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(result.current.data?.people).toHaveLength(2));
  const before = result.current.data!.people;
  await act(() => result.current.refetch());
  expect(server.asked).toEqual(['/api/people', `/api/people?have=${hash('a')}`]);
  expect(result.current.data!.people).toBe(before);
});

test('of a list of many parts the first is shown while the others come; then only what is new is fetched', async () => {
  const parts = partsNamed('a', 'b', 'c');
  const server = serverOf(parts);
  server.hold();
  const { result } = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(stillComing(result.current.data)).toEqual({ here: 2, count: 6 }));
  await act(async () => server.letGo());
  await waitFor(() => expect(stillComing(result.current.data)).toBeNull());
  expect(result.current.data!.people.map(({ id }) => id)).toEqual(['p0', 'p1', 'p2', 'p3', 'p4', 'p5']);
  const kept = result.current.data!.people[0];
  parts.delete(hash('b'));
  parts.set(hash('d'), [row(7)]);
  server.asked.length = 0;
  await act(() => result.current.refetch());
  await waitFor(() =>
    expect(result.current.data!.people.map(({ id }) => id)).toEqual(['p0', 'p1', 'p4', 'p5', 'p7']),
  );
  expect(server.asked).toEqual([`/api/people?have=${hash('a')}`, `/api/people-parts?names=${hash('d')}`]);
  expect(result.current.data!.people[0]).toBe(kept);
});

test('a part that went away while it was fetched makes the list begin anew', async () => {
  const parts = partsNamed('a', 'b');
  const server = serverOf(parts);
  server.hold();
  const { result } = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(server.asked).toHaveLength(2));
  parts.delete(hash('b'));
  parts.set(hash('e'), [row(8)]);
  await act(async () => server.letGo());
  await waitFor(() => expect(stillComing(result.current.data)).toBeNull());
  expect(result.current.data!.people.map(({ id }) => id)).toEqual(['p0', 'p1', 'p8']);
});

test('what is searched for is found here once all are here, and by the server until then', async () => {
  const server = serverOf(partsNamed('a', 'b'));
  server.hold();
  const { result } = await renderHook(() => usePeopleFound({ query: 'person', status: null, reach: null }), {
    wrapper,
  });
  await waitFor(() => expect(result.current).toMatchObject({ count: 250, isLooking: false }));
  expect(result.current.people.map(({ name }) => name)).toEqual(['Found There']);
  await act(async () => server.letGo());
  await waitFor(() => expect(result.current.count).toBe(4));
  expect(result.current.people.map(({ id }) => id)).toEqual(['p0', 'p1', 'p2', 'p3']);
});

test('what came before the page was left half way is not asked for again', async () => {
  const parts = new Map([...'abcdefghijkl'].map((name, n) => [hash(name), [row(n)]]));
  const server = serverOf(parts);
  server.hold(1);
  const first = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(server.asked).toHaveLength(3));
  await first.unmount();
  server.asked.length = 0;
  await act(async () => server.letGo());
  const { result } = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(result.current.data?.people).toHaveLength(12));
  expect(server.asked).toEqual([`/api/people?have=${hash('a')}`, `/api/people-parts?names=${hash('l')}`]);
});

test('whoever signs in next is sent the whole list', async () => {
  const server = serverOf(partsNamed('a'));
  const first = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(first.result.current.data?.people).toHaveLength(2));
  await first.unmount();
  queryClient.clear();
  server.asked.length = 0;
  const { result } = await renderHook(() => usePeople(), { wrapper });
  await waitFor(() => expect(result.current.data?.people).toHaveLength(2));
  expect(server.asked).toEqual(['/api/people']);
});
