/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { chordOf, isSingleKey, isTaken } from './chord';
import { COMMANDS, overlaps, type Command } from './commands';
import { KeyMap, keyMap } from './key-map';
import { KeysDialog } from './keys-dialog';
import { useCommands } from './use-commands';

/**
 * Keys: those of the Galley against the keyboard table of the ARIA Authoring Practices' grid pattern (Data Grids, Keyboard
 * Interaction), from memory; that each can be changed; and that none is in another's way.
 */
const event = (key: string, more: Partial<KeyboardEvent> = {}) =>
  ({ key, code: '', ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more }) as KeyboardEvent;
const ALL = Object.keys(COMMANDS) as Command[];

afterEach(() => {
  cleanup();
  keyMap().reset();
});

test('the Galley has the keys of the grid pattern', () => {
  const pattern: Partial<Record<Command, string>> = {
    'galley.right': 'ArrowRight',
    'galley.left': 'ArrowLeft',
    'galley.down': 'ArrowDown',
    'galley.up': 'ArrowUp',
    'galley.page-down': 'PageDown',
    'galley.page-up': 'PageUp',
    'galley.first-cell': 'Home',
    'galley.last-cell': 'End',
    'galley.first': 'Control+Home',
    'galley.last': 'Control+End',
    'galley.select-all': 'Control+A',
    'galley.extend-down': 'Shift+ArrowDown',
    'galley.extend-up': 'Shift+ArrowUp',
    'galley.edit': 'F2',
  };
  for (const [command, chord] of Object.entries(pattern)) expect(COMMANDS[command as Command]).toContain(chord);
});

test('no two commands of one place have one key, none has a letter alone or a key that browsers need', () => {
  for (const a of ALL)
    for (const b of ALL)
      if (a < b && overlaps(a, b))
        expect(COMMANDS[a].filter((c) => (COMMANDS[b] as readonly string[]).includes(c))).toEqual([]);
  for (const chord of ALL.flatMap((c) => [...COMMANDS[c]]))
    expect([chord, isSingleKey(chord), isTaken(chord)]).toEqual([chord, false, false]);
});

test.each<[string, Partial<KeyboardEvent>, string | null]>([
  ['Enter', { ctrlKey: true }, 'Control+Enter'],
  ['Enter', { metaKey: true }, 'Control+Enter'],
  ['ArrowDown', { altKey: true }, 'Alt+ArrowDown'],
  ['z', { ctrlKey: true, shiftKey: true, code: 'KeyZ' }, 'Control+Shift+Z'],
  ['º', { altKey: true, code: 'Digit0' }, 'Alt+0'],
  ['0', { altKey: true, code: 'Digit0' }, 'Alt+0'],
  [' ', {}, 'Space'],
  ['?', { shiftKey: true }, '?'],
  ['a', {}, 'A'],
  ['Shift', { shiftKey: true }, null],
])('%s with %j is %s', (key, more, chord) => expect(chordOf(event(key, more))).toBe(chord));

test('keys are kept in the browser, and what cannot be understood there is as if it were not', () => {
  const stored = new Map<string, string>();
  const storage = {
    getItem: (k: string) => stored.get(k) ?? null,
    setItem: (k: string, v: string) => void stored.set(k, v),
    removeItem: (k: string) => void stored.delete(k),
  };
  const map = new KeyMap(storage);
  map.change('text.hear', 'F9');
  expect(new KeyMap(storage).chordsOf('text.hear')).toEqual(['F9']);
  expect(new KeyMap(storage).takenBy('F9', 'desk.next')).toBe('text.hear');
  expect(new KeyMap(storage).takenBy('F8', 'desk.next')).toBeNull();
  map.reset();
  expect(stored.size).toBe(0);
  stored.set('detto.keys', '{"no.such": "F9"');
  expect(new KeyMap(storage).chordsOf('text.hear')).toEqual(['F8']);
});

function Place({ done }: { done: string[] }) {
  useCommands({
    'text.hear': () => void done.push('hear'),
    'desk.next': () => (done.push('next'), false),
  });
  return <textarea aria-label="Alt text" />;
}

test('a key is changed in the dialog, acts from then on, and is put back with the others', async () => {
  const user = userEvent.setup();
  const done: string[] = [];
  render(
    <>
      <Place done={done} />
      <KeysDialog />
    </>,
  );
  await user.keyboard('{F1}');
  await user.click(screen.getByRole('button', { name: /^Change the key: hear it:/ }));
  await user.keyboard('{Alt>}{Enter}{/Alt}');
  expect(screen.getByRole('status').textContent).toContain('used already: accept the draft');
  await user.keyboard('{F5}');
  expect(screen.getByRole('status').textContent).toContain('Browsers need that key');
  await user.keyboard('h');
  expect(screen.getByRole('status').textContent).toBe('Key changed: hear it.');
  await user.keyboard('{Escape}');
  expect(screen.queryByRole('dialog')).toBeNull();
  await user.keyboard('{F8}h');
  expect(done).toEqual(['hear']);
  // A key that writes does not act in a field, and can be switched off as a whole (WCAG 2.2, 2.1.4).
  await user.type(screen.getByRole('textbox'), 'h');
  expect(done).toEqual(['hear']);
  await user.click(document.body);
  keyMap().switchSingleKeys(false);
  await user.keyboard('h');
  expect(done).toEqual(['hear']);
  keyMap().switchSingleKeys(true);
  await user.keyboard('{F1}');
  await user.click(screen.getByRole('button', { name: 'Reset all keys' }));
  await user.keyboard('{Escape}{F8}');
  expect(done).toEqual(['hear', 'hear']);
});

test('while a dialog is open, keys belong to it', async () => {
  const user = userEvent.setup();
  const done: string[] = [];
  render(
    <>
      <Place done={done} />
      <KeysDialog />
    </>,
  );
  await user.keyboard('{F1}{F8}');
  expect(done).toEqual([]);
});
