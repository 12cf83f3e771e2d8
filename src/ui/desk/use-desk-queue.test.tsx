/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { GalleyView, type Queue } from '@/contract/galley';
import { storedQueue } from './desk-queue';
import { useDeskQueue } from './use-desk-queue';

/** A pile is what it was when the Desk was opened, until the editor adds to it. */
const view = GalleyView.parse({ state: 'missing' });
let answer: Queue;
const asked: string[] = [];
const fetched = globalThis.fetch;

beforeEach(() => {
  sessionStorage.clear();
  asked.length = 0;
  globalThis.fetch = (async (address: string) => {
    asked.push(address);
    return { ok: true, json: async () => answer };
  }) as never;
});
afterEach(cleanup);
afterAll(() => {
  globalThis.fetch = fetched;
});

function open(initial: Queue, picture: number) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  const hook = renderHook(({ at }: { at: number }) => useDeskQueue('isle', view, at, initial), {
    wrapper,
    initialProps: { at: picture },
  });
  const changed = () => act(() => client.invalidateQueries());
  return { ...hook, changed };
}

test('what comes while one works is counted, and joins only when it is added', async () => {
  answer = { ids: [1, 2, 3], isWhole: true };
  const { result, rerender, changed } = open(answer, 1);
  await waitFor(() => expect(asked).toHaveLength(1));
  expect(result.current).toMatchObject({ step: { position: 1, total: 3, next: 2 }, more: null, isSettled: true });
  // Picture 1 has words by now, and the analysis has found two others that sort in between.
  answer = { ids: [8, 2, 9, 3], isWhole: true };
  rerender({ at: 2 });
  await changed();
  await waitFor(() => expect(result.current.more?.count).toBe(2));
  expect(result.current.step).toMatchObject({ position: 2, total: 3, previous: 1, next: 3 });
  act(() => result.current.more!.add());
  await waitFor(() => expect(result.current.more).toBeNull());
  expect(result.current.step).toMatchObject({ position: 2, total: 5, previous: 1, next: 3 });
  expect(storedQueue('isle', 'state=missing')?.ids).toEqual([1, 2, 3, 8, 9]);
  // What was worded in it is no news when it comes back.
  answer = { ids: [1, 2, 3, 8, 9], isWhole: true };
  await changed();
  await waitFor(() => expect(asked.length).toBeGreaterThan(2));
  expect(result.current.more).toBeNull();
});

test('of a view that is larger than a pile, more is offered at its end', async () => {
  answer = { ids: [2, 3, 4], isWhole: true };
  const { result, rerender, changed } = open({ ids: [1, 2], isWhole: false }, 1);
  expect([result.current.more, asked]).toEqual([null, []]);
  rerender({ at: 2 });
  await waitFor(() => expect(result.current.more).toMatchObject({ count: null }));
  act(() => result.current.more!.add());
  await waitFor(() => expect(result.current.step).toMatchObject({ position: 2, total: 4, next: 3 }));
  // Now it holds the whole view, and what comes later can be counted.
  answer = { ids: [2, 3, 4, 9], isWhole: true };
  await changed();
  await waitFor(() => expect(result.current.more?.count).toBe(1));
});

test('from a similar picture that is not in the pile, the way goes on where one was', () => {
  answer = { ids: [1, 2, 3], isWhole: true };
  const { result, rerender } = open(answer, 2);
  rerender({ at: 40 });
  expect(result.current.step).toMatchObject({ position: null, previous: 2, next: 3 });
  expect([result.current.beside(40, 1), result.current.beside(40, -1)]).toEqual([3, 2]);
});
