/** Whether the editor comes to the next picture to write, or steps on to look. */
let arriving: 'write' | 'look' = 'write';

export function arriveTo(how: typeof arriving): void {
  arriving = how;
}

/** What was typed while the next picture was on its way. */
let typed = '';

export function typeAhead(character: string): void {
  typed += character;
}

export function takeTyped(): string {
  const text = typed;
  typed = '';
  return text;
}

/** How the editor comes to the picture that is shown now; who opens it otherwise comes to write. */
export function takeArrival(): typeof arriving {
  const how = arriving;
  arriving = 'write';
  return how;
}
