/** @jest-environment jsdom */
import { act, cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { jest } from '@jest/globals';
import { useEffect } from 'react';
import { ActsProvider, useActs } from './acts';

/** Every act is announced, survives a reload, and is undone in reverse order. */
const undone: string[] = [];
let fails = false;
const undo = async (id: string) => {
  if (fails) throw new Error('no answer');
  undone.push(id);
};
const changed = jest.fn();
let acts: ReturnType<typeof useActs>;
function Place() {
  const own = useActs();
  useEffect(() => {
    acts = own;
  }, [own]);
  return <input aria-label="Alt text" />;
}
const show = (collection = 'isle') =>
  render(
    <ActsProvider collection={collection} undo={undo}>
      <Place />
    </ActsProvider>,
  );
const told = () => screen.getByRole('status').textContent;

beforeEach(() => {
  undone.length = 0;
  fails = false;
  changed.mockReset();
  sessionStorage.clear();
  localStorage.clear();
  globalThis.fetch = (async () => ({ json: async () => ({ message: 'The disk is full.' }) })) as never;
});
afterEach(cleanup);

test('the last act is undone first, and each says what it was', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Marked decorative in 2 places.', 'a1'));
  act(() => acts.did('Alt text of puffin.jpg saved.', 'a2'));
  expect(told()).toContain('Alt text of puffin.jpg saved.');
  acts.onUndo(changed);
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(told()).toContain('Undone: Alt text of puffin.jpg saved.');
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(undone).toEqual(['a2', 'a1']);
  expect(changed.mock.calls).toEqual([['a2'], ['a1']]);
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
});

test('the key undoes what was remembered without being told, but not while somebody writes', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.remember('Alt text of seal.gif saved.', 'b1'));
  expect(told()).toBe('');
  await user.type(screen.getByRole('textbox'), 'u');
  expect(undone).toEqual([]);
  await user.click(document.body);
  await user.keyboard('u');
  expect(undone).toEqual(['b1']);
  await user.keyboard('u');
  expect(told()).toContain('There is nothing to undo.');
});

test('acts of a collection outlive a reload of its tab, and belong to it alone', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Purpose set: complex.', 'c1'));
  cleanup();
  show('other');
  await user.keyboard('u');
  expect(undone).toEqual([]);
  cleanup();
  show();
  await user.keyboard('u');
  expect(undone).toEqual(['c1']);
});

test('an act under the same id is one act; what cannot be undone offers nothing', () => {
  show();
  act(() => acts.did('Alt text saved in 1 place.', 'd1'));
  act(() => acts.did('Alt text saved in 2 places.', 'd1'));
  expect(JSON.parse(sessionStorage.getItem('detto.acts.isle')!)).toEqual([
    { message: 'Alt text saved in 2 places.', act: 'd1' },
  ]);
  act(() => acts.did('House style saved.', null));
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
});

test('where undoing fails, it says why, and the act is still there', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Marked decorative in 2 places.', 'e1'));
  fails = true;
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(told()).toContain('The disk is full.');
  fails = false;
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(undone).toEqual(['e1']);
  await user.click(screen.getByRole('button', { name: 'Dismiss' }));
  expect(told()).toBe('');
});
