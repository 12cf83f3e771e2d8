/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { jest } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Decision, DraftItem, DraftPage, DraftRecord, ReadingList, Service } from '@/contract/drafting';
import { nextFocus } from '../frame/focus';
import { withoutNext } from '../testing/next';

/** Drafts one after the other: what is shown of each, and what each key asks of the server. */
withoutNext();
const { ActsProvider } = await import('../frame/acts');
const { Reading } = await import('./reading');

const record = (more: Partial<DraftRecord> = {}): DraftRecord => ({
  ...{ evidence: [], missing: null, confidence: 0.8, uncertain: [], other: {}, faults: [], doubtful: false },
  ...{ alternatives: [], origin: { service: 'Harbour', model: 'm', prompt: '1.2', cost: 0.002, currency: 'EUR' } },
  ...more,
});
const item = (id: number, text: string, more: Partial<DraftItem> = {}): DraftItem => ({
  ...{ id, ids: [id], picture: id, thumb: null, grade: 0.8, clean: true, text, similarGroup: null },
  ...more,
});
const page = (i: DraftItem, more: Partial<DraftPage> = {}): DraftPage => ({
  ...{ id: i.id, places: [i.id * 10], appearanceId: i.id * 10, kind: 'photo', lang: 'en', before: 'Before it.' },
  picture: { id: i.picture, name: `p${i.id}.jpg`, src: `/found/isle/${i.picture}`, width: 4, height: 3, reach: 2 },
  page: { path: 'a.html', title: 'Puffin week' },
  ...{ after: 'After it.', caption: null, state: 'missing', heard: '', text: i.text, gaps: [], limit: 100 },
  ...{ record: record(), at: '2026-05-14T09:12:00Z', alike: [] },
  ...more,
});
const service = { id: 7, name: 'Harbour', model: 'm', host: 'h' } as Service;

let items: DraftItem[];
let pages: DraftPage[];
let refusal: string | null;
const decided: { ids: number[]; decision: Decision }[] = [];
const asked: { address: string; body: unknown }[] = [];

beforeEach(() => {
  items = [item(1, 'Two puffins'), item(2, 'A boat at sea'), item(3, 'A gull')];
  pages = items.map((i) => page(i));
  refusal = null;
  decided.length = asked.length = 0;
  localStorage.clear();
  sessionStorage.clear();
  globalThis.fetch = (async (address: string, init?: RequestInit) => {
    const body =
      typeof init?.body === 'string' ? (JSON.parse(init.body) as { ids?: number[]; decision?: Decision }) : null;
    asked.push({ address, body });
    const ok = (value: unknown) => ({ ok: true, status: 200, json: async () => value });
    if (address.includes('/health')) return ok({ message: null });
    if (body?.decision) {
      if (refusal) return { ok: false, status: 400, json: async () => ({ error: refusal }) };
      decided.push({ ids: body.ids!, decision: body.decision });
      items = items.filter((i) => !body.ids!.includes(i.id));
      return ok({ places: body.ids!.length });
    }
    if (address.includes('/again')) return ok({ drafted: true });
    const id = /drafts\/(\d+)$/.exec(address)?.[1];
    if (id) return ok(pages.find((p) => p.id === Number(id)));
    return ok(list());
  }) as never;
});
afterEach(cleanup);

const list = (): ReadingList => ({
  items,
  clean: items.filter((i) => i.clean).length,
  decided: { accepted: decided.length, edited: 0, rejected: 0, decorative: 0, acts: decided.length },
});
const show = () => {
  const client = new QueryClient();
  render(
    <QueryClientProvider client={client}>
      <ActsProvider collection="isle">
        <Reading
          collection="isle"
          view={{ round: null, order: 'surest' }}
          opened={{ list: list(), first: pages[0] ?? null, services: [service] }}
        />
      </ActsProvider>
    </QueryClientProvider>,
  );
  return client;
};
const press = (key: string, more: object = {}) =>
  fireEvent.keyDown(document.activeElement ?? document.body, { key, ...more });
const draft = () => screen.getByRole('region', { name: 'Draft' });
const shows = (text: string) => waitFor(() => expect(draft().textContent).toContain(text));

test('a draft stands with its place, what is there now, who made it and for how much', async () => {
  show();
  await shows('“Two puffins”');
  expect(screen.getByRole('heading', { level: 1 }).textContent).toContain('1 of 3 drafts');
  expect(draft().textContent).toContain('Draft by Harbour, €0.002, prompt 1.2');
  expect(draft().textContent).toContain('No alt text p1.jpg in Puffin week');
  screen.getByText(/Before it\./);
  expect(screen.getByRole('img', { name: 'p1.jpg' }).getAttribute('src')).toBe('/found/isle/1');
});

test('Enter accepts and the next one is there; the arrow goes on without deciding', async () => {
  show();
  await shows('Two puffins');
  press('Enter');
  await shows('A boat at sea');
  await waitFor(() => expect(decided).toEqual([{ ids: [1], decision: { kind: 'accept', by: null } }]));
  press('ArrowRight');
  await shows('A gull');
  press('ArrowLeft');
  await shows('A boat at sea');
  expect(decided).toHaveLength(1);
});

test('when others have decided, one reads on with what came next, not with another draft of the same picture', async () => {
  items.push(item(4, 'Two puffins again', { picture: 1, clean: false }));
  pages.push(page(items[3]!));
  const client = show();
  await shows('Two puffins');
  items = items.filter((i) => i.id !== 1);
  await act(() => client.invalidateQueries());
  await shows('A boat at sea');
  expect(screen.getByRole('heading', { level: 1 }).textContent).toContain('1 of 3 drafts');
  // What was asked for once more is new, and takes the place of the one before.
  press('ArrowRight');
  await shows('A gull');
  items = [items[0]!, item(5, 'A gull on a post', { picture: 3 }), items[2]!];
  pages.push(page(items[1]!));
  await act(() => client.invalidateQueries());
  await shows('A gull on a post');
});

test('the button for all without findings leaves the focus to the draft when it goes', async () => {
  show();
  await shows('Two puffins');
  const button = screen.getByRole('button', { name: /^Accept the 3 without findings/ });
  // jsdom lays nothing out, so that everything would be out of sight.
  const laidOut = jest.spyOn(Element.prototype, 'getClientRects').mockReturnValue([{}] as unknown as DOMRectList);
  const around: Element[] = [];
  for (let at = button.parentElement; at; at = at.parentElement) around.push(at);
  expect(nextFocus(around)).toBe(draft());
  laidOut.mockRestore();
});

test('edited, it is accepted as it was edited; Escape keeps it', async () => {
  show();
  await shows('Two puffins');
  press('F2');
  const field = screen.getByRole('textbox', { name: 'Alt text' });
  await userEvent.type(field, ' on a ledge');
  await userEvent.keyboard('{Escape}');
  expect(screen.queryByRole('textbox', { name: 'Alt text' })).toBeNull();
  press('F2');
  await userEvent.type(screen.getByRole('textbox', { name: 'Alt text' }), ' on a ledge{Enter}');
  await waitFor(() =>
    expect(decided).toEqual([{ ids: [1], decision: { kind: 'accept', text: 'Two puffins on a ledge', by: null } }]),
  );
});

test('rejected by a key and the number of a reason; marked decorative by another', async () => {
  show();
  await shows('Two puffins');
  press('Delete');
  fireEvent.keyDown(within(screen.getByRole('dialog')).getByRole('group'), { key: '2' });
  await waitFor(() => expect(decided).toEqual([{ ids: [1], decision: { kind: 'reject', reason: 'too-vague' } }]));
  await shows('A boat at sea');
  press('0', { altKey: true, code: 'Digit0' });
  await waitFor(() => expect(decided[1]).toEqual({ ids: [2], decision: { kind: 'decorative', by: null } }));
});

test('what could not be saved comes back, with the reason', async () => {
  refusal = 'The disk is full.';
  show();
  await shows('Two puffins');
  press('Enter');
  await screen.findByText(/draft of p1\.jpg accepted: The disk is full\./);
  await shows('Two puffins');
});

test('a gap is filled before it is accepted: Enter opens the text with the gap selected', async () => {
  items[0] = item(1, '‹who?› in a cap', { clean: false });
  pages[0] = page(items[0]);
  show();
  await shows('Fill the gaps before you accept it.');
  press('Enter');
  const field = screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'Alt text' });
  expect([field.selectionStart, field.selectionEnd]).toEqual([0, 6]);
  expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Save and accept/ }).disabled).toBe(true);
  await userEvent.type(field, 'Isla', { initialSelectionStart: 0, initialSelectionEnd: 6 });
  await userEvent.click(screen.getByRole('button', { name: /^Save and accept/ }));
  await waitFor(() => expect(decided[0]!.decision).toMatchObject({ text: 'Isla in a cap' }));
});

test('what was found, what is unsure and what agrees with nothing stands beside the text', async () => {
  const faults = [
    { rule: 'x', outcome: 'failed' as const, message: { id: 'plain', values: { text: 'Too long.' } }, span: null },
  ];
  pages[0] = page(items[0]!, {
    record: record({
      faults,
      uncertain: ['puffins'],
      doubtful: true,
      evidence: [{ from: 'caption', text: 'Two' }],
      alternatives: ['A pair'],
    }),
    places: [10, 11, 12],
  });
  show();
  await shows('Too long.');
  const text = draft().textContent!;
  expect(text).toContain('The service was not sure: “puffins”.');
  expect(text).toContain('It shares no word with the page');
  expect(text).toContain('The same draft for 2 more places of this picture.');
  expect(text).toContain('caption “Two”');
  await userEvent.click(screen.getByRole('button', { name: 'Use “A pair”' }));
  await waitFor(() => expect(decided[0]!.decision).toMatchObject({ kind: 'accept', text: 'A pair' }));
});

test('another draft is asked for with a hint', async () => {
  show();
  await shows('Two puffins');
  press('F4');
  await userEvent.type(screen.getByLabelText(/What should it do differently/), 'Say where');
  await userEvent.click(screen.getByRole('button', { name: 'Ask again' }));
  await screen.findByText('New draft ready.');
  expect(asked.find((a) => a.address.includes('/again'))!.body).toMatchObject({ service: 7, hint: 'Say where' });
});

test('those without findings are accepted together only after a sample', async () => {
  show();
  await userEvent.click(await screen.findByRole('button', { name: /^Accept the 3 without findings/ }));
  const dialog = screen.getByRole('dialog');
  within(dialog).getByText(/^Read 5 more drafts first/);
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: /^Accept/ }).disabled).toBe(true);
});

test('look-alikes are decided together with every text shown', async () => {
  const alike = [item(2, 'A boat at sea'), item(3, '‹what?› at sea', { clean: false })];
  items = [items[0]!, ...alike];
  pages = items.map((i) => page(i, i.id === 1 ? { alike } : {}));
  show();
  await userEvent.click(await screen.findByRole('button', { name: /^Decide together/ }));
  const boxes = within(screen.getByRole('dialog')).getAllByRole<HTMLInputElement>('checkbox');
  expect(boxes.map((b) => [b.checked, b.disabled])).toEqual([
    [true, false],
    [true, false],
    [false, true],
  ]);
  await userEvent.click(screen.getByRole('button', { name: 'Accept 2 drafts' }));
  await waitFor(() => expect(decided).toEqual([{ ids: [1, 2], decision: { kind: 'accept', by: null } }]));
});

test('once all are read, it says what comes next', async () => {
  items = [];
  pages = [];
  show();
  expect(screen.getAllByText('All drafts are read.').length).toBeGreaterThan(0);
  expect(screen.getByRole('link', { name: 'Go to the Delivery' }).getAttribute('href')).toBe('/c/isle/delivery');
});
