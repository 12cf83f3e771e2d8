/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { DeliveryChange, DeliveryPage, Rename } from '@/contract/delivery';
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
const show = (pages: DeliveryPage[], drafts = 0, renames: Rename[] = []) =>
  render(
    <ActsProvider collection="isle">
      <DeliveryView
        {...{ collection: 'isle', pages, renames, drafts, past: [] }}
        surveyAgain={async () => {}}
        leaveOut={async (...all) => void left.push(all.slice(0, 3))}
      />
    </ActsProvider>,
  );
beforeEach(() => {
  left.length = 0;
});

test('nothing waits at first, and it says what would', () => {
  show([], 2);
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

test('both files are asked for by a form, so that a link from elsewhere cannot deliver', () => {
  show([page({ changes: [change()], waiting: 1 })]);
  const forms = screen.getAllByRole<HTMLButtonElement>('button', { name: /^Download/ }).map((b) => b.form!);
  expect(forms.map((f) => [f.method, new URL(f.action).pathname])).toEqual([
    ['post', '/api/collections/isle/delivery/pages.zip'],
    ['post', '/api/collections/isle/delivery/changes.diff'],
  ]);
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
  show([], 0, [rename, { ...rename, pictureId: 5, from: '/p/IMG_2.jpg', isTaken: true }]);
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
  const forms = screen
    .getAllByRole<HTMLButtonElement>('button', { name: /^Download/ })
    .map((b) => new URL(b.form!.action).pathname);
  expect(forms).toEqual(['/api/collections/isle/delivery/pages.zip', '/api/collections/isle/delivery/document']);
  screen.getByRole('button', { name: 'Download talk.pptx' });
});
