/** @jest-environment jsdom */
import { useQuery } from '@tanstack/react-query';
import { act, cleanup, render, screen } from '@testing-library/react';
import { DataProvider, useConnection } from './data-provider';
import { queries } from './queries';

/** What the browser keeps is brought up to date by events, and after a break by a number. */
class Events {
  static open: Events[] = [];
  onmessage: (message: { data: string }) => void = () => {};
  onerror: () => void = () => {};
  constructor(readonly address: string) {
    Events.open.push(this);
  }
  close() {
    Events.open = Events.open.filter((e) => e !== this);
  }
}
const asked: string[] = [];
let changed = 0;
const count = () => void changed++;

function Kept() {
  useQuery(queries.counts('isle'));
  useQuery(queries.desk('isle', 5, null));
  const connected = useConnection();
  return <p>{String(connected)}</p>;
}
const say = (pictures: number[] | null, state: number) =>
  act(async () => Events.open[0]!.onmessage({ data: JSON.stringify({ pictures, state }) }));
const seen = (visibility: 'visible' | 'hidden') =>
  act(async () => {
    Object.defineProperty(document, 'visibilityState', { value: visibility, configurable: true });
    document.dispatchEvent(new Event('visibilitychange'));
  });
const since = async (work: () => Promise<unknown>) => {
  asked.length = changed = 0;
  await work();
  return [...asked].sort();
};
const COUNTS = '/api/collections/isle/counts';
const DESK = '/api/collections/isle/desk/5';

beforeEach(async () => {
  Events.open = [];
  globalThis.EventSource = Events as never;
  globalThis.fetch = (async (address: string) => {
    asked.push(address);
    return { ok: true, json: async () => ({ places: [] }) };
  }) as never;
  window.addEventListener('detto:changed', count);
  await seen('visible');
  await act(async () => {
    render(
      <DataProvider collection="isle" state={7}>
        <Kept />
      </DataProvider>,
    );
  });
  await say([], 7);
});
afterEach(() => {
  cleanup();
  window.removeEventListener('detto:changed', count);
  expect(Events.open).toEqual([]);
});

test('what a change touches is asked for again, and nothing else', async () => {
  expect(screen.getByText('true')).toBeTruthy();
  expect(await since(() => say([4], 8))).toEqual([COUNTS]);
  expect(changed).toBe(1);
  expect(await since(() => say([5], 9))).toEqual([COUNTS, DESK]);
  expect(await since(() => say(null, 10))).toEqual([COUNTS, DESK]);
});

test('a page that the server makes hears of what touches no picture', async () => {
  expect(await since(() => say([], 7))).toEqual([]);
  expect(changed).toBe(1);
});

test('a window that was not seen closes its connection, and asks for what it missed', async () => {
  await seen('hidden');
  expect(Events.open).toEqual([]);
  await seen('visible');
  expect(Events.open.map((e) => e.address)).toEqual(['/api/collections/isle/events']);
  expect(await since(() => say([], 7))).toEqual([]);
  await seen('hidden');
  await seen('visible');
  expect(await since(() => say([], 12))).toEqual([COUNTS, DESK]);
});

test('what was saved while the page was on its way is asked for once it listens', async () => {
  cleanup();
  Events.open = [];
  await act(async () => {
    render(
      <DataProvider collection="isle" state={7}>
        <Kept />
      </DataProvider>,
    );
  });
  expect(await since(() => say([], 8))).toEqual([COUNTS, DESK]);
  expect(changed).toBe(1);
});

test('where Detto cannot be heard, that is known', async () => {
  await act(async () => Events.open[0]!.onerror());
  expect(screen.getByText('false')).toBeTruthy();
});
