import type { Line, Lines } from '@/contract/galley';

const WINDOW = 100;

interface State {
  total: number;
  lines: ReadonlyMap<number, Line>;
}

/** The lines of a view by their position, fetched in windows as they are needed. */
export class LineStore {
  private state: State;
  private asked = new Set([0]);
  private readonly listeners = new Set<() => void>();

  /** @param fetchLines lines from an offset on, as many as asked for at most */
  constructor(
    first: Lines,
    private readonly fetchLines: (offset: number, limit: number) => Promise<Lines>,
  ) {
    this.state = { total: first.total, lines: indexed(first.lines, 0) };
  }

  readonly get = (): State => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The first window as it is now; everything else is asked for again when it is needed. */
  replace({ total, lines }: Lines): void {
    this.asked = new Set([0]);
    this.state = { total, lines: new Map([...this.state.lines, ...indexed(lines, 0)]) };
    this.tell();
  }

  /** Asks for what stands between two positions, where it is not there yet. */
  need(from: number, to: number): void {
    for (let w = Math.floor(from / WINDOW); w <= Math.floor(to / WINDOW); w++) {
      if (this.asked.has(w)) continue;
      this.asked.add(w);
      this.load(w).catch(() => this.asked.delete(w));
    }
  }

  /** Draws what stands between two positions again, after an act; the rest when it is needed. */
  async reload(from: number, to: number): Promise<void> {
    this.asked = new Set([Math.floor(from / WINDOW), Math.floor(to / WINDOW)]);
    await Promise.all([...this.asked].map((w) => this.load(w)));
  }

  private async load(w: number): Promise<void> {
    const { total, lines } = await this.fetchLines(w * WINDOW, WINDOW);
    this.state = { total, lines: new Map([...this.state.lines, ...indexed(lines, w * WINDOW)]) };
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

function indexed(lines: readonly Line[], offset: number): Map<number, Line> {
  return new Map(lines.map((line, i) => [offset + i, line]));
}
