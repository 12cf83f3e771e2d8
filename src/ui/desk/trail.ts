/**
 * The pictures that were stepped through at the Desk in this tab. One that has its words drops out of the
 * queue it was in; the way back still leads to it.
 */
const TRAIL = 'detto.desk.trail';

function read(): string[] {
  return JSON.parse(sessionStorage.getItem(TRAIL) ?? '[]') as string[];
}

export function leaveTrail(address: string): void {
  sessionStorage.setItem(TRAIL, JSON.stringify([...read(), address].slice(-200)));
}

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

/** The address that was stepped on from last, which is taken off the trail; null when there is none. */
export function takeTrail(): string | null {
  const trail = read();
  const last = trail.pop() ?? null;
  sessionStorage.setItem(TRAIL, JSON.stringify(trail));
  return last;
}

export const hasTrail = (): boolean => read().length > 0;

export function dropTrail(): void {
  sessionStorage.removeItem(TRAIL);
}
