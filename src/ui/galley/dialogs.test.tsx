/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { BulkPreview, BulkState, BulkWork } from '@/contract/bulk';
import type { ListPreview } from '@/contract/lists';
import type { Target } from '@/contract/target';
import { withoutNext } from '../testing/next';

/** Acts on many lines: what they would do is shown before they are done, and how far they are while they are. */
withoutNext();
const { ActsProvider, useActs } = await import('../frame/acts');
const { BulkDialog } = await import('./bulk-dialog');
const { ReplaceDialog } = await import('./replace-dialog');
const { SelectionBar } = await import('./selection-bar');
const { UploadDialog } = await import('./upload-dialog');
const { useBulk } = await import('./use-bulk');

const TARGET: Target = { kind: 'pictures', pictures: [5, 6] };
const RULES = [
  { id: 'no-alt', title: 'Missing alt text' },
  { id: 'echo', title: 'Redundant alt text' },
];
const nothing: BulkPreview = { pictures: 0, places: 0, replaced: 0, leftOut: [], changes: [], texts: 0 };
let preview: BulkPreview;
let list: ListPreview | { error: string };
let states: BulkState[];
const asked: { address: string; body: unknown }[] = [];
const done: BulkWork[] = [];
let closed = 0;

beforeEach(() => {
  preview = { ...nothing, pictures: 2, places: 40_000, replaced: 3 };
  states = [];
  asked.length = done.length = closed = 0;
  localStorage.clear();
  sessionStorage.clear();
  globalThis.fetch = (async (address: string, init?: RequestInit) => {
    const body = typeof init?.body === 'string' ? (JSON.parse(init.body) as { act?: string }) : init?.body;
    asked.push({ address, body });
    if (address.includes('/health')) return { ok: true, json: async () => ({ message: null }) };
    const isAct = address.includes('act=') || (typeof body === 'object' && body !== null && 'act' in body);
    if (isAct || /bulk\/./.test(address)) return { ok: true, json: async () => states.shift() };
    const answer = address.includes('/list') ? list : preview;
    return { ok: !('error' in answer), status: 400, json: async () => answer };
  }) as never;
});
afterEach(cleanup);

const around = (children: React.ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider collection="isle">{children}</ActsProvider>
    </QueryClientProvider>,
  );
const bulk = (kind: React.ComponentProps<typeof BulkDialog>['kind']) =>
  around(
    <BulkDialog
      {...{ collection: 'isle', kind, target: TARGET, rules: RULES }}
      perform={(work) => void done.push(work)}
      close={() => closed++}
    />,
  );
const works = () => asked.map((a) => (a.body as { work?: BulkWork } | undefined)?.work).filter(Boolean);
const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>('button', { name });

describe('an act on many lines', () => {
  test('says in how many places it would do what, and what it leaves out', async () => {
    preview.leftOut = [{ why: 'names-control', places: 7 }];
    bulk('decorative');
    await screen.findByText('2 pictures would be decorative in 40,000 places.');
    screen.getByText('Left out in 7 places: the picture is the only name of a link or button.');
    screen.getByText(/A text that is there would be replaced in 3 places\./);
    await userEvent.click(button('Mark decorative'));
    expect([done, closed]).toEqual([[{ kind: 'decorative' }], 1]);
  });

  test('waits for its words, and asks what they would do once the hand rests', async () => {
    const user = userEvent.setup();
    bulk('words');
    const field = screen.getByRole('textbox', { name: 'Alt text' });
    expect([document.activeElement, button('Save alt text').disabled]).toEqual([field, true]);
    await user.type(field, ' The ferry ');
    await screen.findByText(/2 pictures would get this text/);
    expect(works()).toEqual([{ kind: 'words', text: 'The ferry' }]);
    await user.click(button('Save alt text'));
    expect(done).toEqual([{ kind: 'words', text: 'The ferry' }]);
  });

  test('a purpose is chosen', async () => {
    const user = userEvent.setup();
    bulk('purpose');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Purpose' }), 'complex');
    await waitFor(() => expect(works().at(-1)).toEqual({ kind: 'purpose', purpose: 'complex' }));
    await waitFor(() => expect(button('Set purpose').disabled).toBe(false));
    await user.click(button('Set purpose'));
    expect(done).toEqual([{ kind: 'purpose', purpose: 'complex' }]);
  });

  test('nothing is ignored without a reason and a name, which is remembered', async () => {
    const user = userEvent.setup();
    bulk('ignore');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Finding' }), 'echo');
    await user.type(screen.getByRole('textbox', { name: 'Reason' }), 'A series');
    await screen.findByText(/would be ignored in 40,000 places/);
    expect(button('Ignore').disabled).toBe(true);
    await user.type(screen.getByRole('textbox', { name: 'Your name' }), 'Ann{Enter}');
    expect(done).toEqual([{ kind: 'ignore', rule: 'echo', reason: 'A series', by: 'Ann' }]);
    cleanup();
    bulk('ignore');
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Your name' }).value).toBe('Ann');
  });

  test('where it would change nothing, it cannot be done; Escape leaves it', async () => {
    preview = nothing;
    bulk('accept');
    await screen.findByText('It would change nothing.');
    expect(button('Accept drafts').disabled).toBe(true);
    await userEvent.keyboard('{Escape}');
    expect([done, closed]).toEqual([[], 1]);
  });
});

describe('find and replace', () => {
  const changes = [
    { before: 'The ferry', after: 'The boat', places: 3, picture: 'a.jpg' },
    { before: 'A ferry at dawn', after: 'A boat at dawn', places: 1, picture: 'b.jpg' },
  ];
  const open = (selected = 0) =>
    around(
      <ReplaceDialog
        {...{ collection: 'isle', target: TARGET, selected }}
        perform={(work) => void done.push(work)}
        close={() => closed++}
      />,
    );

  test('shows every change as what goes and what comes, and leaves out what is taken out', async () => {
    const user = userEvent.setup();
    preview = { ...nothing, places: 4, pictures: 2, changes, texts: 2 };
    open();
    await user.type(screen.getByLabelText('Find'), 'ferry');
    await user.type(screen.getByLabelText('Replace with'), 'boat');
    await screen.findByText('2 different texts, 4 places.');
    const first = screen.getAllByRole('listitem')[0]!;
    expect([first.querySelector('del')!.textContent, first.querySelector('ins')!.textContent]).toEqual([
      'ferry',
      'boat',
    ]);
    await user.click(screen.getByRole('checkbox', { name: 'Change “The ferry”' }));
    await user.click(button('Replace in 1 place'));
    expect(done).toEqual([
      { kind: 'replace', find: 'ferry', put: 'boat', matchCase: false, wholeWords: true, except: ['The ferry'] },
    ]);
  });

  test('says so when no text has it, or when more change than it lists', async () => {
    const user = userEvent.setup();
    preview = nothing;
    open(3);
    screen.getByRole('dialog', { name: /of 3 selected lines$/ });
    await user.type(screen.getByLabelText('Find'), 'x');
    await screen.findByText('No text has it.');
    preview = { ...nothing, places: 900, pictures: 9, changes, texts: 500 };
    await user.click(screen.getByRole('checkbox', { name: 'Match case' }));
    await screen.findByText('And 498 more texts, which change in the same way.');
  });
});

describe('a list that comes back', () => {
  const file = new File(['x'], 'list.csv', { type: 'text/csv' });
  const change = (row: number, more: object = {}) => ({
    ...{
      row,
      picture: 'img/a.jpg',
      page: 'a.html',
      before: 'Old',
      after: 'New',
      madeWith: null,
      places: 1,
      others: [],
    },
    ...more,
  });
  const open = () => around(<UploadDialog collection="isle" close={() => closed++} />);

  test('shows what would change; conflicts are only taken where they are chosen', async () => {
    const user = userEvent.setup();
    list = {
      changes: [change(2, { madeWith: 'Older' }), change(3, { after: '' }), change(4)],
      ...{ total: 2, conflicts: 1, same: 5, unknownTotal: 1, places: 2, encoding: null, editedInAlt: 0 },
      unknown: [{ row: 9, why: 'not-found' }],
    };
    states = [{ state: 'done', done: 2, total: 2, places: 2 }];
    open();
    await user.upload(screen.getByLabelText(/^List/), file);
    await screen.findByText(
      /2 texts for 2 places; 5 rows without a change\. 1 text changed here since the list was made/,
    );
    screen.getByText('Row 9: there is no such appearance in this collection');
    const boxes = within(screen.getByRole('list', { name: 'Texts that would change' })).getAllByRole<HTMLInputElement>(
      'checkbox',
    );
    expect(boxes.map((b) => b.checked)).toEqual([false, true, true]);
    await user.click(boxes[0]!);
    await user.click(boxes[1]!);
    await user.click(button('Save 2 changes'));
    expect(closed).toBe(1);
    await screen.findByText('The list is saved: 2 places changed.');
    const query = new URL(asked.find((a) => a.address.includes('act='))!.address, 'http://x').searchParams;
    expect([query.get('take'), query.get('leave')]).toEqual(['2', '3']);
    screen.getByRole('button', { name: 'Undo', hidden: true });
  });

  test('what is no list says why, and nothing can be saved', async () => {
    list = { error: 'There is no column “New alt text” in this table.' };
    open();
    await userEvent.upload(screen.getByLabelText(/^List/), file);
    expect((await screen.findByRole('alert')).textContent).toContain('no column');
    expect(button('Save 0 changes').disabled).toBe(true);
  });
});

describe('while it is done', () => {
  function Place() {
    const { perform, share } = useBulk('isle');
    const acts = useActs();
    return (
      <>
        <SelectionBar
          {...{ selected: 3, total: 40_000, share }}
          ask={(kind) => void perform(TARGET, { kind: kind as 'decorative' })}
          draft={() => acts.say('draft')}
          all={() => acts.say('all')}
          none={() => acts.say('none')}
        />
      </>
    );
  }

  test('it says how far it is, can be undone from its beginning, and says what was done', async () => {
    states = [
      { state: 'running', done: 0, total: 40_000, places: 0 },
      { state: 'running', done: 20_000, total: 40_000, places: 20_000 },
      { state: 'done', done: 40_000, total: 40_000, places: 39_990 },
    ];
    around(<Place />);
    await userEvent.click(button(/^Mark decorative/));
    await screen.findByText('50 % done. You can go on working.');
    expect(button(/^Mark decorative/).getAttribute('aria-disabled')).toBe('true');
    expect(sessionStorage.getItem('detto.acts.isle')).toContain('many pictures marked decorative');
    await screen.findByText('Marked decorative in 39,990 places.');
    screen.getByRole('button', { name: 'Undo' });
    expect(button(/^Mark decorative/).getAttribute('aria-disabled')).toBeNull();
  });

  test('one that is given up says what it has done', async () => {
    states = [{ state: 'failed', done: 250, total: 600, places: 250 }];
    around(<Place />);
    await userEvent.click(button(/^Mark decorative/));
    await screen.findByText('It stopped before its end. Marked decorative in 250 places.');
  });
});
