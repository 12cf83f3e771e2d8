/** Whether the editor comes to the next picture to write, or steps on to look. */
let arriving: 'write' | 'look' = 'write';

export function arriveTo(how: typeof arriving): void {
  arriving = how;
}

/** How the editor comes to the picture that is shown now; who opens it otherwise comes to write. */
export function takeArrival(): typeof arriving {
  const how = arriving;
  arriving = 'write';
  return how;
}
