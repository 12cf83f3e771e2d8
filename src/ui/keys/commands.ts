import type { Chord } from './chord';

/**
 * What keys do, with the keys that they have at first. Those of the Galley are the grid pattern of the ARIA Authoring
 * Practices; those that no pattern knows are chords that neither browsers nor screen readers use.
 */
export const COMMANDS = {
  'galley.up': ['ArrowUp'],
  'galley.down': ['ArrowDown'],
  'galley.left': ['ArrowLeft'],
  'galley.right': ['ArrowRight'],
  'galley.page-up': ['PageUp'],
  'galley.page-down': ['PageDown'],
  'galley.first-cell': ['Home'],
  'galley.last-cell': ['End'],
  'galley.first': ['Control+Home'],
  'galley.last': ['Control+End'],
  'galley.select': ['Space'],
  'galley.extend-up': ['Shift+ArrowUp'],
  'galley.extend-down': ['Shift+ArrowDown'],
  'galley.select-all': ['Control+A'],
  'galley.edit': ['F2'],
  'galley.open': ['Enter'],
  'galley.print': ['Control+P'],
  'desk.next': ['Alt+ArrowDown'],
  'desk.previous': ['Alt+ArrowUp'],
  'desk.save-and-next': ['Control+Enter'],
  'desk.write': ['F2'],
  'reading.accept': ['Enter'],
  'reading.edit': ['F2'],
  'reading.reject': ['Delete', 'Backspace'],
  'reading.again': ['F4'],
  'reading.page': ['F9'],
  'reading.skip': ['ArrowRight'],
  'reading.back': ['ArrowLeft'],
  'text.decorative': ['Alt+0'],
  'text.accept-draft': ['Alt+Enter'],
  'text.hear': ['F8'],
  'all.undo': ['Control+Z'],
  'all.redo': ['Control+Shift+Z', 'Control+Y'],
  'all.help': ['F1'],
} as const satisfies Record<string, readonly Chord[]>;

export type Command = keyof typeof COMMANDS;

/** Where a command acts: in the Galley, at the Desk, where drafts are read, wherever a text is worded, everywhere. */
export type CommandPlace = 'galley' | 'desk' | 'reading' | 'text' | 'all';
export const PLACES: readonly CommandPlace[] = ['desk', 'text', 'reading', 'all', 'galley'];

export const placeOf = (command: Command): CommandPlace => command.split('.')[0] as CommandPlace;

/** Places whose commands are heard at the same time, so that one chord cannot mean two things. */
export function overlaps(a: Command, b: Command): boolean {
  const [one, other] = [placeOf(a), placeOf(b)];
  return one === other || one === 'all' || other === 'all' || one === 'text' || other === 'text';
}
