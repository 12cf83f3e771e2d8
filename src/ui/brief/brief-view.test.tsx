/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { jest } from '@jest/globals';
import type { Brief } from '@/contract/brief';
import { router, withoutNext } from '../testing/next';

/** The Brief: the state of a collection in one sentence, what to do first, and what the rules found. */
withoutNext();
// A canvas draws nothing here; what a chart says in words does not need one.
jest.unstable_mockModule('./chart', () => ({
  BarChart: ({ says, labels }: { says: string; labels: string[] }) => (
    <figure aria-label={says}>{labels.join('|')}</figure>
  ),
}));
const { BriefView } = await import('./brief-view');
const { ActsProvider } = await import('../frame/acts');
afterEach(cleanup);

const brief = (more: Partial<Brief> = {}): Brief => ({
  ...{ pictures: 71, described: 40, decorative: 10, missing: 12, doubtful: 9, settles: 14, ignored: 2 },
  conflicts: { first: [], total: 0 },
  first: [
    {
      ...{ kind: 'place', place: 'crew card', rules: ['no-alt'], places: 12, pages: 4, appearanceId: 3, reason: null },
      picture: { id: 7, name: 'staff-01.jpg', thumb: null },
    },
    {
      ...{ kind: 'single', place: null, rules: ['file-name', 'unknown-rule'], places: 1, pages: 1, appearanceId: 4 },
      reason: {
        id: 'urgency',
        values: { parts: [{ id: 'urgency.failed' }, { id: 'urgency.pages', values: { reach: 6 } }] },
      },
      picture: { id: 8, name: { id: 'picture.inline' }, thumb: null },
    },
  ],
  rules: [
    { rule: 'no-alt', outcome: 'failed', pictures: 12 },
    { rule: 'file-name', outcome: 'failed', pictures: 3 },
  ],
  widespread: [],
  thumbnails: null,
  outcomes: { failed: 15, cantTell: 8, advice: 20 },
  lengths: null,
  sections: [],
  history: [],
  drafted: { texts: 0, edited: 0, live: 0, of: 0 },
  ...more,
});
const off: string[] = [];
const show = (own: Brief) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider collection="isle">
        <BriefView
          of={{ name: 'Isle', root: 'https://isle.example/' }}
          {...{ collection: 'isle', brief: own, jobs: [], now: '2026-05-14T10:00:00' }}
          titles={{ 'no-alt': 'Missing alt text', 'file-name': 'File name as alt text' }}
          choose={async () => true}
          switchOff={async (_, rule) => void off.push(rule)}
        />
      </ActsProvider>
    </QueryClientProvider>,
  );

test('one sentence says how far it is, and each number leads to its pictures', () => {
  show(brief());
  const lead = screen.getByRole('heading', { level: 1 }).textContent!;
  for (const number of ['71', '40', '10', '12', '9']) expect(lead).toContain(number);
  const links = screen.getAllByRole('link').map((a) => a.getAttribute('href'));
  for (const state of ['described', 'decorative', 'missing', 'doubtful'])
    expect(links).toContain(`/c/isle/galley?state=${state}`);
});

test('a print says of what it is, where that is and when', () => {
  show(brief());
  expect(screen.getByText(/^Isle · https:\/\/isle\.example\/ · /).className).toContain('print-only');
});

test('a round can be started as long as anything is left to do', () => {
  show(brief({ missing: 0 }));
  screen.getByRole('button', { name: /^Start a round/ });
  cleanup();
  show(brief({ missing: 0, doubtful: 0 }));
  expect(screen.queryByRole('button', { name: /^Start a round/ })).toBeNull();
});

test('what to do first says why, and leads to the place where it is done', () => {
  show(brief());
  const [card, drawing] = within(screen.getAllByRole('list').find((l) => l.tagName === 'OL')!).getAllByRole('listitem');
  expect(card!.textContent).toMatch(/crew card/);
  expect(card!.textContent).toMatch(/12 places.*4 pages.*missing alt text/s);
  expect(within(card!).getByRole('link').getAttribute('href')).toBe('/c/isle/desk/7?state=todo&sort=reach&place=3');
  expect(drawing!.textContent).toContain('inline drawing');
  expect(drawing!.textContent).toContain('Failing alt text, on 6 pages: file name as alt text, unknown-rule');
  expect(within(drawing!).getByRole('link').getAttribute('href')).toBe('/c/isle/desk/8?state=todo&sort=first&place=4');
});

test('findings are counted by rule; what is ignored is said beside them', () => {
  show(brief());
  const found = screen.getByRole('region', { name: /found/i });
  expect(within(found).getByRole('link', { name: 'Missing alt text' }).getAttribute('href')).toBe(
    '/c/isle/galley?rule=no-alt',
  );
  expect(found.textContent).toMatch(/15.*8.*20/s);
  expect(found.textContent).toMatch(/2 .*ignored/);
});

test('charts are there where there is something to draw', () => {
  const past = (at: string, described: number) => ({ at, described, decorative: 10, missing: 12 });
  show(
    brief({
      lengths: { steps: [1, 4, 9], quartiles: [20, 60], over: 3, limit: 100 },
      sections: [
        { name: '', failed: 9, cantTell: 2, advice: 1 },
        { name: 'news', failed: 3, cantTell: 0, advice: 4 },
      ],
      history: [past('2026-05-01T10:00:00', 30), past('2026-05-14T09:00:00', 40)],
    }),
  );
  expect(screen.getAllByRole('figure')).toHaveLength(3);
  expect(screen.getAllByRole('figure').map((f) => f.textContent)[1]).toMatch(/\|news$/);
  cleanup();
  show(brief({ history: [past('2026-05-14T09:00:00', 40)] }));
  expect(screen.queryByRole('figure')).toBeNull();
});

test('an empty collection, and one where nothing is to be done, say so', () => {
  show(brief({ pictures: 0, described: 0, decorative: 0, missing: 0, doubtful: 0, first: [], rules: [] }));
  expect(screen.queryByText(/^0 of/)).toBeNull();
  const regions = screen.getAllByRole('region').map((r) => r.textContent!);
  expect(regions.every((text) => text.length > 10)).toBe(true);
});

test('what is found nearly everywhere is one line with one decision, which can be undone', async () => {
  show(brief({ widespread: [{ rule: 'file-name', outcome: 'failed', places: 406, of: 1_200 }] }));
  const section = screen.getByRole('region', { name: 'Found in many places' });
  expect(section.textContent).toContain('File name as alt text in 406 of 1,200 places');
  expect(within(section).getByRole('link').getAttribute('href')).toBe('/c/isle/galley?rule=file-name');
  fireEvent.click(within(section).getByRole('button', { name: /^Switch the rule off/ }));
  await screen.findByText('“File name as alt text” is switched off in the house style.');
  expect(off).toEqual(['file-name']);
  screen.getByRole('button', { name: 'Undo' });
});

test('thumbnails are one line, and named by their pages once every change was shown', async () => {
  const asked: unknown[] = [];
  const fetched = globalThis.fetch;
  globalThis.fetch = (async (_: string, init: RequestInit) => {
    const body = JSON.parse(String(init.body)) as { act?: string };
    asked.push(body);
    const change = { before: '', after: 'Puffin', places: 3, picture: 'puffin_thumb.png' };
    const answer = body.act
      ? { state: 'done', done: 3, total: 3, places: 3 }
      : { pictures: 1, places: 3, replaced: 0, leftOut: [], changes: [change], texts: 1 };
    return { ok: true, json: async () => answer };
  }) as never;
  show(brief({ thumbnails: { places: [5, 6, 7], pages: 2, of: 40 } }));
  const section = screen.getByRole('region', { name: 'Thumbnails' });
  expect(section.textContent).toContain('3 thumbnails need better alt text on 2 pages; 40 thumbnails in all');
  fireEvent.click(within(section).getByRole('button', { name: 'Name them by their pages …' }));
  const save = await screen.findByRole('button', { name: 'Save alt text in 3 places' });
  expect(screen.getByRole('list', { name: 'Texts that would change' }).textContent).toContain('Puffin');
  fireEvent.click(save);
  await screen.findByText('Thumbnails named by their pages in 3 places.');
  expect(asked.at(-1)).toMatchObject({ target: { kind: 'places', places: [5, 6, 7] }, work: { kind: 'page-title' } });
  await waitFor(() => expect(router.refreshed).toBeGreaterThan(0));
  const before = router.refreshed;
  fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() => expect(router.refreshed).toBeGreaterThan(before));
  globalThis.fetch = fetched;
});
