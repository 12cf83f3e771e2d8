/** @jest-environment jsdom */
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { conflict } from '../testing/samples';
import { router, withoutNext } from '../testing/next';

/** Two texts for one place: both are shown whole, and a person chooses. */
withoutNext();
const { ConflictView } = await import('./conflict-view');
const { ConflictList } = await import('./conflict-list');
const { ActsProvider } = await import('../frame/acts');
beforeEach(() => sessionStorage.clear());
afterEach(cleanup);

test('both texts stand there in quotation marks, each with the button that chooses it', async () => {
  const chosen: unknown[] = [];
  render(<ConflictView conflict={conflict()} level={2} choose={async (...all) => void chosen.push(all)} />);
  screen.getByRole('heading', { level: 2, name: /^Two texts for one place: puffin\.jpg ?, Bird reserve/ });
  expect(screen.getByText(/Two puffins/).textContent).toBe('“Two puffins”');
  const buttons = screen.getAllByRole('button', { name: /^Use this text/ });
  expect(buttons).toHaveLength(2);
  await userEvent.click(screen.getByRole('button', { name: /Saved later/ }));
  expect(chosen).toEqual([['ours', 'Puffins on a ledge']]);
});

test('nothing can be chosen twice while the first choice is on its way', async () => {
  let arrive = () => {};
  const wait = new Promise<void>((resolve) => (arrive = resolve));
  render(<ConflictView conflict={conflict()} level={3} choose={() => wait} />);
  await userEvent.click(screen.getAllByRole('button')[0]!);
  expect(screen.getAllByRole<HTMLButtonElement>('button').map((b) => b.disabled || b.ariaDisabled === 'true')).toEqual([
    true,
    true,
    true,
  ]);
  arrive();
  await screen.findAllByRole('button');
});

test('where the page changed, what it said first is shown as well; missing and decorative read differently', () => {
  const changed = conflict({ kind: 'page', first: 'A puffin', theirs: null, ours: '', places: 3 });
  render(<ConflictView conflict={changed} level={3} choose={async () => {}} />);
  const terms = screen.getAllByRole('definition').map((d) => d.textContent);
  expect(terms).toContain('“A puffin”');
  expect(terms).toContain('no alt text');
  expect(terms).toContain('decorative');
  expect(screen.getByRole('heading', { level: 3 }).textContent).toContain('2');
});

test('both texts can be edited into one, which is then chosen', async () => {
  const chosen: unknown[][] = [];
  const user = userEvent.setup();
  render(<ConflictView conflict={conflict()} level={2} isMine choose={async (...all) => void chosen.push(all)} />);
  expect(screen.getAllByRole('term').map((t) => t.textContent)).toEqual(['Theirs', 'Mine']);
  await user.click(screen.getByRole('button', { name: /^Edit both together/ }));
  const field = screen.getByRole<HTMLTextAreaElement>('textbox');
  expect(document.activeElement).toBe(field);
  for (const word of ['Two', 'puffins', 'on a ledge']) expect(field.value).toContain(word);
  await user.clear(field);
  await user.type(field, 'Two puffins on a ledge{Control>}{Enter}{/Control}');
  expect(chosen).toEqual([[{ text: 'Two puffins on a ledge' }, 'Two puffins on a ledge']]);
});

test('editing both is left by Escape, and nothing is chosen', async () => {
  const chosen: unknown[] = [];
  const user = userEvent.setup();
  render(<ConflictView conflict={conflict()} level={2} choose={async (choice) => void chosen.push(choice)} />);
  await user.click(screen.getByRole('button', { name: /^Edit both together/ }));
  await user.keyboard('{Escape}');
  expect(screen.queryByRole('textbox')).toBeNull();
  expect(chosen).toEqual([]);
});

describe('the list of all', () => {
  const list = (total: number, answer = true, first = [conflict(), conflict({ id: 2, picture: 'seal.gif' })]) => {
    const asked: unknown[][] = [];
    render(
      <ActsProvider collection="isle">
        <ConflictList
          collection="isle"
          conflicts={{ first: total === 0 ? [] : first, total }}
          choose={async (...all) => {
            asked.push(all);
            return answer;
          }}
        />
      </ActsProvider>,
    );
    return asked;
  };

  test('is not there where nothing waits', () => {
    list(0);
    expect(screen.queryByRole('heading')).toBeNull();
  });

  test('says what was chosen for which picture, offers to undo it, and asks the server for the rest', async () => {
    const asked = list(2);
    const before = router.refreshed;
    const second = screen.getByRole('region', { name: /seal\.gif/ });
    await userEvent.click(within(second).getAllByRole('button')[0]!);
    expect(asked[0]!.slice(0, 3)).toEqual(['isle', 2, 'theirs']);
    expect(screen.getAllByRole('status').at(-1)!.textContent).toContain('seal.gif');
    screen.getByRole('button', { name: 'Undo' });
    expect(router.refreshed).toBe(before + 1);
  });

  test('says so when somebody else was first, and there is nothing to undo', async () => {
    list(2, false);
    await userEvent.click(screen.getAllByRole('button')[0]!);
    expect(screen.getAllByRole('status').at(-1)!.textContent).not.toBe('');
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  });

  test('leads to all of them when there are more than it shows', () => {
    list(9);
    const link = screen.getByRole('link');
    expect(link.getAttribute('href')).toBe('/c/isle/galley?state=conflict');
  });
});
