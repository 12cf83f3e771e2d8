/**
 * A key with its modifiers, as `KeyboardEvent.key` names it (UI Events KeyboardEvent key Values): "Control+Enter",
 * "Alt+ArrowDown", "F8", "Shift+Space". On a Mac, the command key counts as Control.
 */
export type Chord = string;

type KeyEvent = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>;

const MODIFIERS = new Set(['Control', 'Meta', 'Alt', 'Shift', 'AltGraph', 'CapsLock']);

/** The chord of a key event; null while only modifiers are held. */
export function chordOf(event: KeyEvent): Chord | null {
  if (MODIFIERS.has(event.key)) return null;
  // With a modifier, letters and digits are known by their place on the keyboard: a Mac writes other signs with Alt.
  const onKey = /^(?:Key([A-Z])|Digit(\d))$/.exec(event.code);
  const modified = event.ctrlKey || event.metaKey || event.altKey;
  const key =
    event.key === ' '
      ? 'Space'
      : modified && onKey && (event.altKey || event.key.length > 1)
        ? (onKey[1] ?? onKey[2]!)
        : event.key.length === 1
          ? event.key.toUpperCase()
          : event.key;
  // Signs that need Shift on some keyboards are named without it.
  const shift = event.shiftKey && (key.length > 1 || /[A-Z0-9]/.test(key));
  return [event.ctrlKey || event.metaKey ? 'Control' : '', event.altKey ? 'Alt' : '', shift ? 'Shift' : '', key]
    .filter(Boolean)
    .join('+');
}

/** Whether a chord writes a character, so that it cannot act while a field has the cursor (WCAG 2.2, 2.1.4). */
export const isSingleKey = (chord: Chord): boolean => /^(?:Shift\+)?.$/u.test(chord);

/** Chords that every browser keeps for itself, or that nobody could do without. */
const TAKEN = new Set([
  'Tab',
  'Shift+Tab',
  'Escape',
  'Control+W',
  'Control+T',
  'Control+N',
  'Control+R',
  'Control+L',
  'F5',
  'F11',
  'F12',
  'Alt+F4',
  'Alt+ArrowLeft',
  'Alt+ArrowRight',
  'Control+C',
  'Control+V',
  'Control+X',

  'Control+F',
]);

export const isTaken = (chord: Chord): boolean => TAKEN.has(chord);
