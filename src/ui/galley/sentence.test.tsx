/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { jest } from '@jest/globals';
import { GalleyView, type FacetChoice, type SavedView } from '@/contract/galley';
import { withoutNext } from '../testing/next';

/** The sentence that says what the Galley shows: its choices, their counts, and the views they lead to. */
withoutNext();
const { ActsProvider } = await import('../frame/acts');
const { Sentence } = await import('./sentence');

const shown: [Partial<GalleyView>, string | undefined][] = [];
const asked: string[] = [];
const facets: Record<string, FacetChoice[]> = {
  state: [
    { value: 'missing', pictures: 12 },
    { value: 'todo', pictures: 44 },
    { value: 'conflict', pictures: 0 },
  ],
  rule: [
    { value: 'echo', pictures: 2 },
    { value: 'no-alt', pictures: 7 },
    { value: 'overlong', pictures: 5 },
  ],
  section: [{ value: 'news', pictures: 9 }],
};
let views: SavedView[] = [];
const RULES = [
  { id: 'echo', title: 'Redundant alt text', outcome: 'advice' as const },
  { id: 'no-alt', title: 'Missing alt text', outcome: 'failed' as const },
  { id: 'overlong', title: 'Alt text too long', outcome: 'advice' as const },
  { id: 'stuffed', title: 'Keyword stuffing', outcome: 'cantTell' as const },
];
const counts = {
  pictures: 71,
  appearances: 119,
  pages: 19,
  todo: 44,
  conflicts: 0,
  drafts: 0,
  delivery: 0,
  revision: 1,
};

const show = (view: Partial<GalleyView> = {}) => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <ActsProvider collection="isle">
        <Sentence
          collection="isle"
          view={GalleyView.parse(view)}
          rules={RULES}
          total={12}
          counts={counts}
          show={(changed, how) => void shown.push([changed, how])}
        />
      </ActsProvider>
    </QueryClientProvider>,
  );
};
const choice = (name: RegExp) => screen.getByRole('button', { name });
const options = () => screen.getAllByRole('option').map((o) => o.textContent);

beforeEach(() => {
  shown.length = asked.length = 0;
  views = [];
  globalThis.fetch = (async (address: string, init?: RequestInit) => {
    const url = new URL(address, 'http://detto.invalid');
    asked.push(`${init?.method ?? 'GET'} ${url.pathname}${url.search}`);
    const facet = /facets\/(\w+)/.exec(url.pathname)?.[1];
    if (init?.method === 'POST') views.push({ id: 3, ...(JSON.parse(String(init.body)) as object) } as SavedView);
    const answer = facet ? (facets[facet] ?? []) : url.pathname.endsWith('/views') ? views : counts;
    return { ok: true, json: async () => answer };
  }) as never;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

test('it reads as a sentence, and says how much it shows', () => {
  show({ state: 'missing', rule: 'no-alt', weight: 'over-100k', section: 'news' });
  const sentence = document.querySelector('.sentence')!.textContent;
  for (const part of [
    'Pictures that are',
    'missing alt text,with',
    '“Missing alt text”,in the section',
    'news,of',
    'over 100 KB,',
    'most used first',
  ])
    expect(
      sentence!.replace(/(?:State|Finding|Section|Weight|Order): /g, '').replace(/(\w) (?=with|in |of )/g, '$1'),
    ).toContain(part.replace(/^ /, ''));
  screen.getByText('12 of 71 pictures, in 119 appearances on 19 pages');
});

test('a choice opens a list that typing narrows, with what each would show (APG, editable combobox)', async () => {
  const user = userEvent.setup();
  show();
  await user.click(choice(/^State/));
  const field = screen.getByRole('combobox', { name: 'State' });
  expect(document.activeElement).toBe(field);
  await screen.findByRole('option', { name: /^missing alt text 12|missing alt text12/ });
  // Two texts to choose from are no choice where there are none.
  expect(options().some((o) => o!.includes('two texts'))).toBe(false);
  await user.type(field, 'missing alt text or');
  expect(options()).toHaveLength(1);
  await user.keyboard('{Enter}');
  expect(shown).toEqual([[{ state: 'todo' }, undefined]]);
  expect(screen.queryByRole('listbox')).toBeNull();
});

test('the arrow keys move, Escape closes and leaves the view as it was', async () => {
  const user = userEvent.setup();
  show();
  const trigger = choice(/^Order/);
  await user.click(trigger);
  const selected = () =>
    document.getElementById(screen.getByRole('combobox').getAttribute('aria-activedescendant')!)!.textContent;
  const first = selected();
  await user.keyboard('{ArrowDown}');
  expect(selected()).not.toBe(first);
  await user.keyboard('{ArrowUp}');
  expect(selected()).toBe(first);
  await user.keyboard('{Escape}');
  expect(screen.queryByRole('listbox')).toBeNull();
  expect(document.activeElement).toBe(trigger);
  expect(shown).toEqual([]);
});

test('rules stand by their outcome, those that found most first, and only those that found something', async () => {
  const user = userEvent.setup();
  show();
  await user.click(choice(/^Finding/));
  await screen.findByRole('option', { name: /Missing alt text/ });
  expect(options()).toEqual([
    'any finding or none',
    'Fails“Missing alt text”7',
    'Improve“Alt text too long”5',
    '“Redundant alt text”2',
  ]);
});

test('a filter is added to the sentence, and asks for its choices beside the others', async () => {
  const user = userEvent.setup();
  show({ state: 'missing' });
  await user.click(choice(/add a filter/));
  await user.keyboard('secti{Enter}');
  await user.click(choice(/^Section/));
  await user.click(await screen.findByRole('option', { name: /news/ }));
  expect(shown).toEqual([[{ section: 'news' }, undefined]]);
  expect(asked.filter((a) => a.includes('/facets/'))).toEqual([
    'GET /api/collections/isle/facets/section?state=missing',
  ]);
});

test('a search waits for the hand to rest; its letters are one step back', () => {
  jest.useFakeTimers();
  show({ state: 'todo' });
  const field = screen.getByRole('searchbox');
  fireEvent.change(field, { target: { value: 'puf' } });
  jest.advanceTimersByTime(100);
  fireEvent.change(field, { target: { value: 'puffin' } });
  jest.advanceTimersByTime(240);
  expect(shown).toEqual([]);
  jest.advanceTimersByTime(20);
  expect(shown).toEqual([[{ q: 'puffin' }, 'push']]);
  cleanup();
  show({ q: 'puf' });
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'puffin' } });
  jest.advanceTimersByTime(260);
  expect(shown.at(-1)).toEqual([{ q: 'puffin' }, 'replace']);
});

test('a series can be left again; grouped by page, appearances are counted', () => {
  show({ similarGroup: 9, group: 'page' });
  screen.getByText(/12 of 119 appearances, of 71 pictures on 19 pages/);
  fireEvent.click(within(screen.getByText(/appearances, of/)).getByRole('button'));
  expect(shown).toEqual([[{ similarGroup: 0 }, undefined]]);
});

test('a ready view is shown as a whole, and one is saved under a name', async () => {
  const user = userEvent.setup();
  show({ weight: 'over-100k', sort: 'weight' });
  expect(choice(/^View:/).textContent).toContain('Over 100 KB');
  await user.click(choice(/^View:/));
  await user.click(screen.getByRole('option', { name: /Keyword stuffing/ }));
  expect(shown[0]![0]).toMatchObject({ rule: 'stuffed', weight: 'any', sort: 'reach' });
  await user.click(choice(/^View:/));
  await user.click(screen.getByRole('option', { name: /Save this view/ }));
  await user.type(screen.getByLabelText('Name'), 'Heavy ones{Enter}');
  await screen.findByText('View saved as “Heavy ones”.');
  expect(views).toEqual([{ id: 3, name: 'Heavy ones', query: 'weight=over-100k&sort=weight' }]);
});
