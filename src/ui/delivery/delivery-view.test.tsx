/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type {
  Delivery,
  DeliveryChange,
  DeliveryPage,
  DeliveryPreview,
  Rename,
  TargetChoice,
} from '@/contract/delivery';
import { isReadByLine } from '@/core/model/document';
import { ActsProvider } from '../frame/acts';
import { withoutNext } from '../testing/next';

/** What is delivered, what stays behind and why, before anything is taken. */
withoutNext();
const { DeliveryView } = await import('./delivery-view');
afterEach(cleanup);

const change = (more: Partial<DeliveryChange> = {}): DeliveryChange => ({
  order: 0,
  part: 'attributes',
  line: 12,
  before: '<img src="quay.jpg">',
  after: '<img src="quay.jpg" alt="The quay">',
  appearanceId: 3,
  pictureId: 4,
  heard: 'The quay',
  reads: null,
  writtenBy: null,
  ...more,
});
const page = (more: Partial<DeliveryPage> = {}): DeliveryPage => ({
  path: 'fares.html',
  format: 'html',
  title: 'Fares – Isle',
  file: 'fares.html',
  isNew: false,
  changes: [],
  refusals: [],
  waiting: 0,
  conflicts: [],
  aside: [],
  leftOut: null,
  warnings: [],
  ...more,
});
const left: unknown[][] = [];
/** A preview of some documents, counted as the server counts them. */
function previewOf(pages: DeliveryPage[], isPreparing = false): DeliveryPreview {
  const sum = (of: (p: DeliveryPage) => number) => pages.reduce((all, p) => all + of(p), 0);
  const inside = (of: (p: DeliveryPage) => number) => sum((p) => (p.leftOut === null ? of(p) : 0));
  const changed = pages.filter((p) => p.leftOut === null && p.changes.length > 0);
  return {
    sums: {
      ...{ documents: pages.length, prepared: isPreparing ? 0 : pages.length },
      ...{ changes: inside((p) => p.changes.length), changed: changed.length },
      changedTexts: changed.filter((p) => isReadByLine(p.format)).length,
      only: changed.length === 1 ? changed[0]! : null,
      ...{ waiting: sum((p) => p.waiting), leftOutTexts: sum((p) => (p.leftOut === null ? 0 : p.waiting)) },
      leftOut: pages.filter((p) => p.leftOut !== null).length,
      ...{ conflicts: inside((p) => p.conflicts.length), refusals: sum((p) => p.refusals.length) },
      aside: inside((p) => p.aside.length),
    },
    ...{ isPreparing, comparedAt: pages.length === 0 ? null : '2026-12-01T09:30:00Z', pages, next: null },
  };
}
const delivery = (more: Partial<Delivery> = {}): Delivery => ({
  ...{ id: 7, target: 'zip', state: 'done', share: null, pages: 2, total: 2, changes: 3 },
  ...{ refused: { count: 0, first: [] }, reason: null, folder: null, file: null },
  ...{ canUndo: false, canVerify: false, at: '2026-12-01T09:30:00Z' },
  ...more,
});
const FIELD = { name: 'folder', label: 'Folder', kind: 'text' } as const;
const TARGETS: TargetChoice[] = [
  { id: 'zip', fields: [], configuration: {} },
  { id: 'diff', fields: [], configuration: {} },
  { id: 'document', fields: [], configuration: {} },
  { id: 'folder', fields: [FIELD], configuration: { folder: '/srv/site' } },
];
interface Shown {
  drafts?: number;
  renames?: Rename[];
  deliveries?: Delivery[];
  isPreparing?: boolean;
}
/** What is asked of the server, as method, path and body; each is answered with what the test says. */
const asked: [method: string, path: string, body: unknown][] = [];
let answers: Record<string, unknown> = {};
function show(pages: DeliveryPage[], { drafts = 0, renames = [], deliveries = [], isPreparing = false }: Shown = {}) {
  const preview = previewOf(pages, isPreparing);
  answers = { 'GET /delivery': preview, 'GET /deliveries': deliveries, ...answers };
  return render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } })}>
      <ActsProvider collection="isle">
        <DeliveryView
          {...{ collection: 'isle', preview, deliveries, targets: TARGETS, renames, drafts }}
          surveyAgain={async () => {}}
          leaveOut={async (...all) => void left.push(all.slice(0, 3))}
        />
      </ActsProvider>
    </QueryClientProvider>,
  );
}
beforeEach(() => {
  left.length = asked.length = 0;
  answers = {};
  globalThis.fetch = (async (address: string, { method = 'GET', body }: RequestInit = {}) => {
    const path = address.replace('/api/collections/isle', '');
    if (method !== 'GET') asked.push([method, path, body === undefined ? null : JSON.parse(String(body))]);
    return { ok: true, json: async () => answers[`${method} ${path}`] ?? {} };
  }) as unknown as typeof fetch;
});

test('nothing waits at first, and it says what would', () => {
  show([], { drafts: 2 });
  screen.getByRole('heading', { name: 'Nothing to deliver yet.' });
  screen.getByText(/2 pictures have a draft to review; drafts are not included/);
  expect(screen.queryByRole('button')).toBeNull();
});

test('every change is shown as the line before and after, with what Screen reader says', () => {
  const { container } = show([
    page({ changes: [change(), change({ order: 1, heard: '', after: '<img src="quay.jpg" alt="">' })], waiting: 2 }),
  ]);
  screen.getByRole('heading', { name: '2 changes on 1 page to deliver.' });
  expect(container.querySelector('ins')!.textContent).toBe(' alt="The quay"');
  expect(container.querySelector('del')).toBeNull();
  screen.getByText(
    (_, element) => element?.tagName === 'P' && element.textContent!.startsWith('Screen reader says “The quay”'),
  );
  screen.getByText(/^will be decorative/);
  expect(screen.getAllByRole('link', { name: 'line 12' })[0]!.getAttribute('href')).toBe('/c/isle/desk/4?place=3');
});

test('a file is made in the background, and downloaded once it is there; a link from elsewhere delivers nothing', async () => {
  const pressed: string[] = [];
  const click = HTMLAnchorElement.prototype.click;
  HTMLAnchorElement.prototype.click = function () {
    pressed.push(new URL(this.href).pathname);
  };
  try {
    answers['POST /deliveries'] = delivery({ state: 'waiting', pages: 0 });
    show([page({ changes: [change()], waiting: 1 })]);
    answers['GET /deliveries'] = [delivery({ file: { name: 'pages.zip', bytes: 2048 } })];
    await userEvent.setup().click(screen.getByRole('button', { name: 'Download changed files (ZIP)' }));
    expect(asked).toEqual([['POST', '/deliveries', { target: 'zip', configuration: {} }]]);
    await screen.findByRole('link', { name: 'Download pages.zip (2 KB)' });
    await waitFor(() => expect(pressed).toEqual(['/api/collections/isle/deliveries/7/file']));
  } finally {
    HTMLAnchorElement.prototype.click = click;
  }
});

test('before it writes into a folder, it says what it would do, and what it would refuse', async () => {
  const user = userEvent.setup();
  answers['POST /deliveries/plan'] = {
    ...{ writes: 2, creates: 1 },
    refused: { count: 1, first: [{ path: 'crew.html', reason: { id: 'target.changed' } }] },
  };
  show([page({ changes: [change()], waiting: 1 })]);
  await user.click(screen.getByRole('button', { name: 'Write into a folder …' }));
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Folder' }).value).toBe('/srv/site');
  await screen.findByText('2 files would be written, 1 of them new.');
  screen.getByText(/^crew\.html: It has changed since the survey/);
  answers['POST /deliveries'] = delivery({ target: 'folder', state: 'waiting' });
  await user.click(screen.getByRole('button', { name: 'Write 2 files' }));
  expect(asked.at(-1)).toEqual(['POST', '/deliveries', { target: 'folder', configuration: { folder: '/srv/site' } }]);
});

test('a folder that cannot be written into is refused in words, and nothing begins', async () => {
  const user = userEvent.setup();
  show([page({ changes: [change()], waiting: 1 })]);
  globalThis.fetch = (async () => ({
    ...{ ok: false, status: 400 },
    json: async () => ({ error: 'There is no folder at /srv.' }),
  })) as unknown as typeof fetch;
  await user.click(screen.getByRole('button', { name: 'Write into a folder …' }));
  await screen.findByText('There is no folder at /srv.');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Write the files' }).disabled).toBe(true);
});

test('a delivery can be stopped, taken up again, undone and checked; what was refused is said', async () => {
  const user = userEvent.setup();
  const refused = { count: 1, first: [{ path: 'a.html', reason: { id: 'target.not-writable' } }] };
  show([], {
    deliveries: [
      delivery({ id: 9, state: 'running', share: 0.4 }),
      delivery({ id: 8, state: 'stopped' }),
      delivery({ id: 7, target: 'folder', folder: '/srv/site', canUndo: true, canVerify: true, refused }),
    ],
  });
  expect(screen.getByRole<HTMLProgressElement>('progressbar').value).toBe(0.4);
  screen.getByText('a.html: Detto may not write this file.');
  answers['POST /deliveries/7/verify'] = {
    counts: { 'as-written': 1, different: 1, gone: 0 },
    first: [{ address: '/srv/site/b.html', found: 'different' }],
  };
  for (const name of [/^Stop/, /^Resume/, /^Undo.*folder/, /^Check the files/])
    await user.click(screen.getByRole('button', { name }));
  expect(asked.map(([, path]) => path)).toEqual([
    ...['/deliveries/9/stop', '/deliveries/8/resume', '/deliveries/7/undo', '/deliveries/7/verify'],
  ]);
  await screen.findByText(/^1 as delivered, 1 changed since, 0 gone\./);
});

test('while pages are compared it says how far that is; it can be asked for once more', async () => {
  show([page({ changes: [change()], waiting: 1 })], { isPreparing: true });
  screen.getByText('0 of 1 page or document');
  // The button that asked for it stays, and with it the focus.
  expect(screen.getByRole('button', { name: 'Compare again' }).getAttribute('aria-disabled')).toBe('true');
  cleanup();
  answers = {};
  show([page({ changes: [change()], waiting: 1 })]);
  await userEvent.setup().click(screen.getByRole('button', { name: 'Compare again' }));
  expect(asked).toEqual([['POST', '/delivery/compare', null]]);
});

test('the head says what stays behind: changed pages, two texts, and what cannot be put in', () => {
  show([
    page({ changes: [change()], waiting: 1 }),
    page({ path: 'crew.html', title: 'Crew', waiting: 3, leftOut: { id: 'left-out.changed' } }),
    page({ path: 'boats.html', title: 'Boats', waiting: 1, conflicts: [{ appearanceId: 8, pictureId: 9, line: 40 }] }),
    page({
      ...{ path: 'app.html', title: '', waiting: 1 },
      refusals: [
        { order: 0, part: 'attributes', line: 7, reason: { id: 'refusal.template' }, appearanceId: 5, pictureId: 6 },
      ],
    }),
  ]);
  const lead = screen.getByText(/^1 of 6 changes\./).textContent!;
  expect(lead).toContain('3 texts on 1 page wait; the reason stands with each page.');
  expect(lead).toContain('1 text waits until you choose between two.');
  expect(lead).toContain('1 text cannot be put into the page');
  screen.getByText(/It has changed since the survey/);
  screen.getByRole('button', { name: 'Survey again' });
  screen.getByText(/The tag holds template syntax/);
  expect(screen.getByRole('link', { name: 'Choose at the Desk' }).getAttribute('href')).toBe('/c/isle/desk/9?place=8');
  // A page without a title goes by its path.
  screen.getByRole('heading', { name: /app\.html/ });
});

test('a change can be left out and put back, each said and undoable', async () => {
  const user = userEvent.setup();
  const aside = [{ appearanceId: 8, pictureId: 4, line: 20, text: 'The pier' }];
  show([page({ changes: [change()], waiting: 2, aside })]);
  screen.getByText(/1 text is left out by you\./);
  await user.click(screen.getByRole('button', { name: /^Leave out/ }));
  await user.click(screen.getByRole('button', { name: /^Put back/ }));
  expect(left).toEqual([
    ['isle', 3, true],
    ['isle', 8, false],
  ]);
  screen.getByRole('button', { name: 'Undo' });
});

test('files to rename are listed with where they go; two that would get one name are pointed out', () => {
  const rename = { pictureId: 4, from: '/p/IMG_1.jpg', to: '/p/boats.jpg', uses: 2, isTaken: false };
  show([], { renames: [rename, { ...rename, pictureId: 5, from: '/p/IMG_2.jpg', isTaken: true }] });
  screen.getByRole('heading', { name: '2 files to rename' });
  expect(document.querySelectorAll('del')[0]!.textContent).toBe('/p/IMG_1.jpg');
  expect(screen.getAllByText(/Another file would get the same name/)).toHaveLength(1);
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Redirects for nginx' }).form!.action).toContain(
    '/delivery/redirects-nginx.conf',
  );
});

test('a change beside a picture is named, and told from a new one', () => {
  const block = '<details id="d" class="long-description">x</details>';
  show([
    page({
      waiting: 3,
      changes: [
        change({ part: 'caption', before: 'Old', after: 'New', heard: null }),
        change({ part: 'long-description', before: '<img src=a>', after: `<img src=a>${block}`, heard: null }),
        change({ order: 1, part: 'long-description', before: block, after: '', heard: null }),
      ],
    }),
  ]);
  for (const what of ['Caption: changed', 'Long description: added', 'Long description: removed'])
    screen.getByText((_, e) => e?.tagName === 'P' && e.textContent!.startsWith(what));
});

test('a long description is shown as it reads, its source folded away', () => {
  const { container } = show([
    page({
      waiting: 1,
      changes: [
        change({ part: 'long-description', after: '<p>…', reads: '# Tides\n\n- High at 7\n\n<b>x', heard: null }),
      ],
    }),
  ]);
  screen.getByRole('heading', { level: 3, name: 'Tides' });
  expect(container.querySelector('.long-text li')!.textContent).toBe('High at 7');
  expect(container.querySelector('.long-text b')).toBeNull();
  expect(container.querySelector('details .source-line')).not.toBeNull();
});

test('a file that stands in an attribute is shortened', () => {
  const src = `data:image/png;base64,${'A'.repeat(5000)}`;
  const { container } = show([
    page({
      waiting: 1,
      changes: [change({ before: `<img src="${src}">`, after: `<img src="${src}" alt="The quay">` })],
    }),
  ]);
  for (const line of container.querySelectorAll('.source-line')) expect(line.textContent!.length).toBeLessThan(120);
  expect(container.querySelector('ins')!.textContent).toBe(' alt="The quay"');
});

test('a document is shown by its words, its part and its place; the markup is folded away; it can be taken alone', () => {
  const { container } = show([
    page({
      ...{ path: 'talk.pptx', file: 'talks/talk.pptx', title: 'Summer', format: 'pptx', waiting: 2 },
      warnings: [{ id: 'document.dkim-broken' }],
      changes: [
        change({
          ...{ line: 0, file: 'ppt/slides/slide4.xml', heard: 'A boat' },
          words: { before: '', after: 'A boat' },
          where: { fragment: 'slide=4', spot: { id: 'spot.left' }, place: 'slide > picture 5' },
        }),
        change({
          ...{ line: 0, order: 1, file: 'word/document.xml', heard: '' },
          words: { before: 'Wave', after: '' },
          where: { fragment: null, spot: null, place: 'body > picture 2' },
        }),
      ],
    }),
  ]);
  screen.getByRole('link', { name: 'slide 4, left' });
  screen.getByRole('link', { name: 'body > picture 2' });
  screen.getByText('slide > picture 5 in ppt/slides/slide4.xml');
  screen.getByText('No alt text');
  expect(container.querySelectorAll('details:not([open]) ins').length).toBeGreaterThan(0);
  screen.getByText(/DKIM signature of this message does not hold/);
  // No line of it can be read.
  expect(screen.queryByRole('button', { name: /unified diff/ })).toBeNull();
  screen.getByRole('button', { name: 'Download talk.pptx' });
});
