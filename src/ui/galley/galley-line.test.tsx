/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Line } from '@/contract/galley';
import type { Conflict } from '@/contract/conflict';
import { conflict, line } from '../testing/samples';
import { withoutNext } from '../testing/next';

/** A line of the Galley: the picture, its words as heard, what is found, and the acts that change it where it stands. */
withoutNext();
const { GalleyLine } = await import('./line');
afterEach(cleanup);

function show(
  own: Partial<Line> = {},
  more: { editing?: boolean; reasoned?: boolean; current?: boolean; conflict?: Conflict } = {},
) {
  const done: unknown[][] = [];
  const note =
    (name: string) =>
    (...all: unknown[]) =>
      void done.push([name, ...all.map((a) => (typeof a === 'object' && a !== null && 'id' in a ? a.id : a))]);
  render(
    <GalleyLine
      line={line(own)}
      index={2}
      current={more.current ?? false}
      column={1}
      picked={false}
      conflict={more.conflict ?? null}
      entered={() => {}}
      editing={more.editing ?? false}
      reasoned={more.reasoned ?? false}
      desk="/c/isle/desk/5"
      collection="isle"
      acts={{
        say: async (...all) => note('say')(...all),
        fix: note('fix'),
        ignoreFinding: async (...all) => note('ignore')(...all),
        titles: { overlong: 'Alt text too long', 'no-alt': 'Missing alt text' },
        draft: note('draft'),
        accept: note('accept'),
        reject: note('reject'),
        choose: async (...all) => note('choose')(...all),
        edit: note('edit'),
        pick: note('pick'),
      }}
    />,
  );
  return done;
}

test('says its state, its purpose, its reach, its name and its weight', () => {
  show({ worded: true });
  const text = screen.getByRole('row', { name: /puffin\.jpg/ }).textContent!;
  for (const part of ['“Two puffins”', 'Has alt text', 'informative', 'on 3 pages', 'puffin.jpg', '50 KB'])
    expect(text).toContain(part);
  expect(screen.getByRole('link', { name: /Two puffins/ }).getAttribute('href')).toBe('/c/isle/desk/5');
});

test.each<[string, Partial<Line>, string]>([
  ['decorative', { state: 'decorative', heard: '' }, 'Decorative'],
  ['missing', { state: 'missing', heard: '' }, 'No alt text'],
  ['without a file', { name: { id: 'picture.inline' } }, 'inline drawing'],
  ['broken', { broken: { id: 'skip.not-found', values: { status: 404 } } }, 'cannot be shown'],
  ['with two texts', { conflict: true }, 'two texts, choose one'],
])('one that is %s says so', (_, own, words) => {
  show(own);
  expect(screen.getByRole('row').textContent).toContain(words);
});

test('why it comes first is said where that is the order', () => {
  const reason = {
    id: 'urgency',
    values: { parts: [{ id: 'urgency.missing' }, { id: 'urgency.pages', values: { reach: 12 } }] },
  };
  show({ reason }, { reasoned: true });
  screen.getByText('No alt text, on 12 pages');
  cleanup();
  show({ reason });
  expect(screen.queryByText('No alt text, on 12 pages')).toBeNull();
});

test('a finding says in how many places, and what can be done about it at once', async () => {
  const done = show({
    notes: [
      {
        ...{ rule: 'overlong', outcome: 'advice' as const, places: 3, span: null, also: [] },
        message: { id: 'overlong.over', values: { length: 142, over: 42, limit: 100 } },
        fixes: [{ kind: 'use words' as const, text: 'Two puffins at dusk' }],
      },
    ],
  });
  screen.getByText(/142 characters, 42 over this collection’s limit of 100\. .*3 places/);
  await userEvent.click(screen.getByRole('button', { name: /Use “Two puffins at dusk”/ }));
  expect(done[0]!.slice(0, 3)).toEqual(['fix', 5, { kind: 'noted', picture: 5, rule: 'overlong' }]);
});

test('what it says at other places stands below, each with the way there', () => {
  const text = { lang: 'en', places: 2 };
  show({
    ...{ places: 3, textsTotal: 5 },
    texts: [
      { ...text, appearanceId: 21, state: 'described', heard: 'Puffins on a ledge' },
      { ...text, appearanceId: 22, state: 'decorative', heard: '' },
      { ...text, appearanceId: 23, state: 'missing', heard: '' },
    ],
  });
  const texts = screen.getByRole('list', { name: 'What it says elsewhere' });
  expect([...texts.children].map((l) => l.textContent)).toEqual([
    'In 2 places: “Puffins on a ledge”',
    'In 2 places: Decorative',
    'In 2 places: No alt text',
    'and 1 more text',
  ]);
  expect(texts.querySelector('a')!.getAttribute('href')).toBe('/c/isle/desk/5?place=21');
  screen.getByText('this text in 3 of 4 places');
});

test('a draft does not hide whether a text is there', () => {
  show({ draft: 'Puffins at dusk' });
  screen.getByText('Has alt text');
  screen.getByText('Draft', { selector: '.font-semibold' });
});

test('a draft that waits is accepted or rejected where it stands', async () => {
  const done = show({ draft: 'Puffins at dusk', state: 'missing', heard: '' });
  expect(screen.getByRole('row').textContent).toContain('“Puffins at dusk”');
  await userEvent.click(screen.getByRole('button', { name: 'Accept' }));
  await userEvent.click(screen.getByRole('button', { name: 'Reject' }));
  expect(done).toEqual([
    ['accept', 5],
    ['reject', 5],
  ]);
});

describe('writing in the line', () => {
  test('Enter saves for every place of the picture, Escape leaves it as it was', async () => {
    const done = show({}, { editing: true });
    const field = screen.getByRole('textbox');
    expect(document.activeElement).toBe(field);
    await userEvent.clear(field);
    await userEvent.type(field, ' Three puffins {Enter}');
    expect(done).toEqual([
      ['say', 5, 'Three puffins'],
      ['edit', null],
    ]);
    cleanup();
    const left = show({}, { editing: true });
    await userEvent.type(screen.getByRole('textbox'), 'x{Escape}');
    expect(left).toEqual([['edit', null]]);
  });

  test('an empty text, or the same as before, saves nothing', async () => {
    const done = show({}, { editing: true });
    await userEvent.type(screen.getByRole('textbox'), '{Enter}');
    cleanup();
    const emptied = show({}, { editing: true });
    await userEvent.clear(screen.getByRole('textbox'));
    await userEvent.type(screen.getByRole('textbox'), '   {Enter}');
    expect([done, emptied]).toEqual([[['edit', null]], [['edit', null]]]);
  });

  test('Alt with an arrow saves it and goes on to the line beside it', async () => {
    const done = show({}, { editing: true });
    await userEvent.type(screen.getByRole('textbox'), '!{Alt>}{ArrowDown}{/Alt}');
    expect(done).toEqual([
      ['say', 5, 'Two puffins!'],
      ['edit', 5, 1],
    ]);
  });
});

test('the grid is one stop of the Tab key, and the controls of the current line follow it', () => {
  const stops = () =>
    [...document.querySelectorAll<HTMLElement>('[tabindex], a, button, input')].filter((e) => e.tabIndex === 0);
  show({ draft: 'Puffins' });
  expect(stops()).toEqual([]);
  cleanup();
  show({ draft: 'Puffins' }, { current: true });
  expect(stops()[0]!.dataset['cell']).toBe(undefined);
  expect(stops().some((e) => e.dataset['cell'] === '2-1')).toBe(true);
  expect(stops().filter((e) => e.tagName === 'BUTTON').length).toBeGreaterThan(1);
});

test('a line that is one place says its page, and acts there only', async () => {
  const done = show({
    isPlace: true,
    notes: [
      {
        ...{ rule: 'no-alt', outcome: 'failed' as const, places: 1, span: null, also: [] },
        message: { id: 'no-alt.missing' },
        fixes: [{ kind: 'mark decorative' as const }],
      },
    ],
  });
  expect(screen.getByRole('row').textContent).toContain('Bird reserve');
  await userEvent.click(screen.getByRole('button', { name: 'Mark decorative' }));
  expect(done[0]!.slice(1, 3)).toEqual([5, { kind: 'places', places: [11] }]);
});

test('two texts for one place are chosen from where they stand', async () => {
  const done = show({ conflict: true }, { conflict: conflict({ id: 9 }) });
  await userEvent.click(screen.getAllByRole('button', { name: /^Use this text/ })[1]!);
  expect(done).toEqual([['choose', 5, 9, 'ours']]);
});
