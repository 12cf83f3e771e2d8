/** @jest-environment jsdom */
import { act, cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { jest } from '@jest/globals';
import { useEffect } from 'react';
import { withoutNext } from '../testing/next';

/** Every act is announced, survives a reload, and is undone in reverse order and done again in order. */
withoutNext();
const { ActsProvider, useActs } = await import('./acts');
const { useAutosave } = await import('../desk/use-autosave');

const turned: string[] = [];
let fails = false;
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
    <ActsProvider collection={collection}>
      <Place />
    </ActsProvider>,
  );
const shown = () => screen.getAllByRole('status').at(-1)!.textContent;
const heard = () => screen.getAllByRole('status')[0]!.textContent;
const saved = (what: string, id: string, href?: string) => ({ what, act: id, ...(href ? { href } : {}) });

beforeEach(() => {
  turned.length = 0;
  fails = false;
  changed.mockReset();
  sessionStorage.clear();
  localStorage.clear();
  globalThis.fetch = (async (address: string, init?: RequestInit) => {
    if (address.startsWith('/api/health')) return { ok: true, json: async () => ({ message: 'The disk is full.' }) };
    const id = address.split('/').pop();
    if (fails) return { ok: false, status: 507, json: async () => ({ error: 'x' }) };
    turned.push(`${(JSON.parse(String(init!.body)) as { turn: string }).turn} ${id}`);
    return { ok: true, json: async () => ({ places: 1 }) };
  }) as never;
});
afterEach(cleanup);

test('the last act is undone first and redone last, and each says what it was and where', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Marked decorative in 2 places.', saved('wave.svg marked decorative', 'a1')));
  act(() => acts.did('Alt text saved.', saved('alt text of puffin.jpg', 'a2', '/c/isle/desk/5')));
  acts.onTurn(changed);
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(shown()).toContain('Undone: alt text of puffin.jpg');
  expect(screen.getByRole('link', { name: 'Show it' }).getAttribute('href')).toBe('/c/isle/desk/5');
  await user.keyboard('{Control>}z{/Control}');
  await user.keyboard('{Control>}{Shift>}z{/Shift}{/Control}');
  expect(shown()).toContain('Redone: wave.svg marked decorative');
  await user.keyboard('{Control>}y{/Control}');
  expect(turned).toEqual(['undo a2', 'undo a1', 'redo a1', 'redo a2']);
  expect(changed.mock.calls).toEqual([['a2'], ['a1'], ['a1'], ['a2']]);
  await user.keyboard('{Control>}y{/Control}');
  expect(shown()).toContain('There is nothing to redo.');
});

test('the button beside a message undoes what the message says, and goes once something else would be undone', () => {
  show();
  act(() => acts.did('Marked decorative in 4 places.', saved('wave.svg marked decorative', 'a1')));
  act(() => acts.remember(saved('wave.svg marked decorative', 'a1')));
  screen.getByRole('button', { name: 'Undo' });
  act(() => acts.remember(saved('alt text of puffin.jpg', 'a2')));
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  expect(shown()).toBe('');
});

test('what is written is saved before an act is undone, so that no save of the same act brings it back', async () => {
  const user = userEvent.setup();
  let write!: (text: string) => void;
  function Field() {
    const { saver } = useAutosave('isle/1/1', { text: '', places: 'all', by: 'person' }, async ({ text }, id) => {
      await new Promise((resolve) => setTimeout(resolve, 5));
      turned.push(`save ${text}`);
      acts.remember(saved('alt text of seal.gif', id));
      return { conflicts: [], revision: 1 };
    });
    useEffect(() => {
      write = (text) => saver.change({ text });
    }, [saver]);
    return <p>{saver.currentAct}</p>;
  }
  const view = render(
    <ActsProvider collection="isle">
      <Place />
      <Field />
    </ActsProvider>,
  );
  act(() => acts.did('Marked decorative.', saved('wave.svg marked decorative', 'a1')));
  act(() => write('A seal'));
  await user.keyboard('{Control>}z{/Control}');
  await waitFor(() => expect(shown()).toContain('Undone'));
  const id = turned[1]!.slice('undo '.length);
  expect(turned).toEqual(['save A seal', `undo ${id}`]);
  expect(id).not.toBe('a1');
  // The button of a message undoes what the message names, also while something is written.
  act(() => acts.did('Marked decorative.', saved('wave.svg marked decorative', 'a1')));
  act(() => write('A seal again'));
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() => expect(shown()).toContain('Undone: wave.svg'));
  expect(turned.slice(2)).toEqual(['save A seal again', 'undo a1']);
  view.unmount();
});

test('a new act leaves nothing to redo', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.remember(saved('alt text of seal.gif', 'b1')));
  await user.keyboard('{Control>}z{/Control}');
  act(() => acts.remember(saved('alt text of boat.jpg', 'b2')));
  await user.keyboard('{Control>}y{/Control}');
  expect(turned).toEqual(['undo b1']);
});

test('in a field that was written in, the browser’s own undo comes first', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.remember(saved('alt text of seal.gif', 'b1')));
  expect(shown()).toBe('');
  const field = screen.getByRole('textbox');
  await user.type(field, 'u{Control>}z{/Control}');
  expect(turned).toEqual([]);
  field.dataset['written'] = 'no';
  await user.keyboard('{Control>}z{/Control}');
  expect(turned).toEqual(['undo b1']);
});

test('acts of a collection outlive a reload of its tab, and belong to it alone', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Purpose set: complex.', saved('purpose of tides.svg', 'c1')));
  cleanup();
  show('other');
  await user.keyboard('{Control>}z{/Control}');
  expect(turned).toEqual([]);
  cleanup();
  show();
  await user.keyboard('{Control>}z{/Control}');
  expect(turned).toEqual(['undo c1']);
});

test('an act under the same id is one act; what cannot be undone offers nothing', () => {
  show();
  act(() => acts.did('Saved in 1 place.', saved('alt text', 'd1')));
  act(() => acts.did('Saved in 2 places.', saved('alt text', 'd1')));
  expect(JSON.parse(sessionStorage.getItem('detto.acts.isle')!)).toEqual({
    done: [{ what: 'alt text', act: 'd1' }],
    undone: [],
  });
  act(() => acts.did('View saved.'));
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
});

test('where undoing fails, it says why, and the act is still there', async () => {
  const user = userEvent.setup();
  show();
  act(() => acts.did('Marked decorative.', saved('wave.svg marked decorative', 'e1')));
  fails = true;
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(shown()).toContain('The disk is full.');
  fails = false;
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(turned).toEqual(['undo e1']);
  await user.click(screen.getByRole('button', { name: 'Dismiss' }));
  expect(shown()).toBe('');
});

test('where the editor is, is said to the ear only; the same words twice are two messages', () => {
  show();
  act(() => acts.say('3 of 43, seal.gif, no alt text, 2 findings'));
  const first = heard();
  expect([first, shown()]).toEqual(['3 of 43, seal.gif, no alt text, 2 findings', '']);
  act(() => acts.say('3 of 43, seal.gif, no alt text, 2 findings'));
  expect(heard()).not.toBe(first);
  expect(heard()!.trim()).toBe(first);
});
