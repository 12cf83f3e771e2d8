/** @jest-environment jsdom */
import { act, cleanup, render, screen } from '@testing-library/react';
import { jest } from '@jest/globals';
import { withoutNext } from '../testing/next';

/** What is said when Detto is away, and what becomes of texts that an earlier window could not send. */
withoutNext();
let connected: boolean | null = true;
jest.unstable_mockModule('../data/data-provider', () => ({ useConnection: () => connected }));
const { ActsProvider } = await import('./acts');
const { Connection } = await import('./connection');
const { backupKey, noteUnsaved } = await import('./unsaved');

const sent: Record<string, unknown>[] = [];
const left = (key: string, more: object = {}) =>
  localStorage.setItem(
    backupKey(key),
    JSON.stringify({ text: 'A boat', act: 'act-left-1', base: '', since: 4, places: [11], at: 0, ...more }),
  );
const show = async () => {
  await act(async () => {
    render(
      <ActsProvider collection="isle">
        <Connection collection="isle" />
      </ActsProvider>,
    );
  });
  await act(async () => {
    await jest.advanceTimersByTimeAsync(1_500);
  });
};

beforeEach(() => {
  jest.useFakeTimers({ now: 1_000_000 });
  connected = true;
  sent.length = 0;
  localStorage.clear();
  sessionStorage.clear();
  globalThis.fetch = (async (_: string, init: RequestInit) => {
    sent.push({ ...(JSON.parse(String(init.body)) as object), keepalive: init.keepalive });
    return { ok: true, status: 200, json: async () => ({ places: 1, conflicts: [], revision: 5, theirs: null }) };
  }) as never;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

test('a text that was left behind is sent under its act, from the state it was written from', async () => {
  left('isle/5/11');
  await show();
  expect(sent).toEqual([
    {
      ...{ target: { kind: 'places', places: [11] }, text: 'A boat', act: 'act-left-1', by: 'person', since: 4 },
      after: [],
      keepalive: true,
    },
  ]);
  screen.getByText('1 text from before is saved now.');
  expect(localStorage.length).toBe(0);
});

test('a title that was left behind is sent as a title; where somebody else saved another, that is said', async () => {
  left('isle/5/title@11', { base: 'Old' });
  await show();
  expect(sent).toMatchObject([{ field: 'title', picture: 5, places: [11], text: 'A boat', base: 'Old' }]);
  // It names what this window has saved before, so that none of it is taken for somebody else's.
  expect(sent[0]!['after']).toEqual(['act-left-1']);
  cleanup();
  globalThis.fetch = (async () => ({
    ...{ ok: false, status: 409 },
    json: async () => ({ theirs: 'Theirs', places: 0 }),
  })) as never;
  left('isle/5/long-description', { places: 'all' });
  await show();
  screen.getByText(/^“A boat” from before is in the history only/);
  expect(localStorage.length).toBe(0);
});

test.each<[string, string, object]>([
  ['somebody may still be writing', 'isle/5/11', { at: 990_000 }],
  ['belongs to another collection', 'other/5/11', {}],
  ['does not say where it goes', 'isle/5/11', { places: undefined }],
])('one that %s is left alone', async (_, key, more) => {
  left(key, more);
  await show();
  expect([sent, localStorage.length]).toEqual([[], 1]);
});

test('what the browser keeps and nobody understands does no harm', async () => {
  localStorage.setItem(backupKey('isle/5/11'), '{"text":');
  left('isle/6/12', { places: 'all', text: '  ' });
  await show();
  expect(sent).toMatchObject([{ target: { kind: 'pictures', pictures: [6] }, text: null }]);
});

test('while Detto is away, that is said, and how many texts wait', async () => {
  connected = false;
  left('isle/5/11');
  await show();
  expect(sent).toEqual([]);
  screen.getByText(/^Detto cannot be reached\. What you write is kept in this browser/);
  act(() => noteUnsaved('isle/7/1', true));
  act(() => noteUnsaved('isle/8/1', true));
  screen.getByText(/^2 texts are not saved yet/);
  act(() => noteUnsaved('isle/8/1', false));
  screen.getByText(/^1 text is not saved yet/);
  act(() => noteUnsaved('isle/7/1', false));
});
