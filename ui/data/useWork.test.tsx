import type { ReactNode } from 'react';
import { QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react-native';
import { queryClient } from './data';
import { useWork } from './objects';
import { forgetWorks, useWorks } from './works';

interface Thing {
  readonly name: string;
  readonly size: number;
}
const page = (version: number, object: Thing) => ({ version, object });
const FIRST = page(1, { name: 'Quay', size: 1 });
const wrapper = ({ children }: { readonly children: ReactNode }) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
);
const refused = (status: number, body: object) => ({
  apiError: true,
  status,
  message: 'refused',
  faults: [],
  body,
});
const size = (n: number) => (thing: Thing) => ({ ...thing, size: n });

type Write = (version: number, object: Thing) => Promise<ReturnType<typeof page>>;
const begin = (write: Write, shown = FIRST) =>
  renderHook(() => useWork(shown, write, () => undefined, { kind: 'group', id: 'quay' }), { wrapper });

beforeEach(forgetWorks);

test('each edit can be taken back, and all of them outlast leaving the page', async () => {
  const write = jest.fn<ReturnType<Write>, Parameters<Write>>();
  const { result, unmount } = await begin(write);
  await act(() => result.current.edit(size(2)));
  await act(() => result.current.edit(size(3)));
  await act(() => result.current.undo());
  expect(result.current).toMatchObject({ object: { size: 2 }, changed: true });
  await unmount();
  const again = await begin(write);
  expect(again.result.current).toMatchObject({ object: { size: 2 }, changed: true });
  await act(() => again.result.current.undo());
  expect(again.result.current).toMatchObject({ object: FIRST.object, changed: false });
  expect(useWorks.getState().works).toEqual({});
  expect(write).not.toHaveBeenCalled();
});

test('what is put live rests on what was read when it was begun, and is gone afterwards', async () => {
  const write = jest.fn<ReturnType<Write>, Parameters<Write>>(async (version, object) =>
    Promise.resolve(page(version + 1, object)),
  );
  const { result } = await begin(write);
  await act(() => result.current.edit(size(5)));
  await act(() => result.current.apply());
  await waitFor(() => expect(result.current.changed).toBe(false));
  expect(write).toHaveBeenCalledWith(1, { name: 'Quay', size: 5 });
});

test('what somebody else put live meanwhile is shown beside it: mine goes on from theirs, or theirs is taken', async () => {
  const theirs = page(4, { name: 'Theirs', size: 9 });
  let refuses = true;
  const write = jest.fn<ReturnType<Write>, Parameters<Write>>(async (version, object) =>
    refuses
      ? Promise.reject(refused(409, { theirs }) as unknown as Error)
      : Promise.resolve(page(version + 1, object)),
  );
  const { result } = await begin(write);
  await act(() => result.current.edit(size(5)));
  await act(() => result.current.apply());
  await waitFor(() =>
    expect(result.current.conflict).toEqual({
      base: FIRST.object,
      mine: { name: 'Quay', size: 5 },
      theirs: theirs.object,
    }),
  );
  await act(() => result.current.keepMine());
  refuses = false;
  await act(() => result.current.apply());
  await waitFor(() => expect(result.current.changed).toBe(false));
  expect(write).toHaveBeenLastCalledWith(4, { name: 'Quay', size: 5 });
  refuses = true;
  await act(() => result.current.edit(size(6)));
  await act(() => result.current.apply());
  await waitFor(() => expect(result.current.conflict).not.toBeNull());
  await act(() => result.current.takeTheirs());
  expect(result.current).toMatchObject({ changed: false, conflict: null });
});

test('faults stand by themselves, another refusal as a sentence; neither loses the edits', async () => {
  const faults = [{ path: 'size', message: 'must be less' }];
  let answer: object = { ...refused(400, {}), faults };
  const { result } = await begin(async () => Promise.reject(answer as unknown as Error));
  await act(() => result.current.edit(size(99)));
  await act(() => result.current.apply());
  await waitFor(() => expect(result.current.faults).toEqual(faults));
  expect(result.current).toMatchObject({ trouble: null, object: { size: 99 } });
  answer = refused(503, {});
  await act(() => result.current.apply());
  await waitFor(() => expect(result.current.trouble).toBe('refused'));
  expect(result.current.object.size).toBe(99);
});
